import { readCsv } from '$core/format/csv.ts';
import type { Fault } from '$core/faults.ts';
import { aboutFoot, readCoordinates } from '$core/format/coordinates.ts';
import { packPlaces } from '$core/plot/places.ts';
import type { UnitRecord } from '$core/records/index.ts';
import type { App } from '../app.svelte.ts';

function complain(app: App, file: string, faults: readonly Fault[]): void {
  const [first, ...more] = faults;
  if (!first) return;
  app.live.tell(
    'error',
    `${file}: ${first.path}: ${first.message}`,
    [first.remedy, more.length > 0 ? `(and ${more.length} more)` : ''].filter(Boolean).join(' '),
  );
}

/** Gives a prop the places of its cells from a CSV file, its middle foot where the prop stands. */
export async function importCoordinates(app: App, unit: UnitRecord, file: File): Promise<void> {
  const { grid, faults } = readCsv(new Uint8Array(await file.arrayBuffer()));
  if (!grid || faults.length > 0) return complain(app, file.name, faults);
  const read = readCoordinates(grid.rows);
  if (read.faults.length > 0) return complain(app, file.name, read.faults);
  const shape = { shape: 'given' as const, count: read.places.length };
  const put = { ...unit, prop: { ...unit.prop!, shape }, cellPlaces: packPlaces(aboutFoot(read.places)) };
  app.live.edit(`Places of ${unit.name}`, { put: [put], remove: [] });
}
