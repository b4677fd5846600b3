import { recordsOf, type Document } from '../document/change.ts';
import { FaultError, type Fault } from '../faults.ts';
import { readMesh } from '../format/mesh.ts';
import type { Blobs } from '../records/blob.ts';

/** Models that cannot be drawn: their file is not there, or is not what was kept. */
export function modelFaults(document: Document, blobs: Blobs): Fault[] {
  return recordsOf(document, 'thing').flatMap((thing): Fault[] => {
    if (!thing.model) return [];
    const path = `${thing.id}.model`;
    const bytes = blobs.get(thing.model.blob);
    const remedy = 'Bring the model in again from its own file.';
    if (!bytes)
      return [
        {
          code: 'MODEL_LOST',
          path,
          message: `the file of ${thing.name} is missing`,
          received: thing.model.blob,
          remedy,
        },
      ];
    try {
      readMesh(bytes);
      return [];
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      return error.faults.map((fault) => ({ ...fault, path, message: `${thing.name}: ${fault.message}` }));
    }
  });
}
