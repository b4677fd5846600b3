import type { ChangeSet, Document } from '../document/change.ts';
import { recordsOf } from '../document/change.ts';
import type { ThingId } from '../ids.ts';
import { tidyPlace, type Place3 } from '../plot/paper.ts';
import { product, rotationOf, transposed, turnsOf, applied } from '../plot/rotation.ts';
import type { ThingRecord, UnitRecord } from '../records/index.ts';

/** The units that hang on a thing. */
export const hungOn = (document: Document, id: ThingId): UnitRecord[] =>
  recordsOf(document, 'unit').filter((unit) => unit.hungOn === id);

/** A unit on a thing that was at `before` and is at `after`: it keeps its place and its turn on the thing. */
export function carried(
  unit: UnitRecord,
  before: Pick<ThingRecord, 'position' | 'rotation'>,
  after: Pick<ThingRecord, 'position' | 'rotation'>,
): UnitRecord {
  const same = (['x', 'y', 'z'] as const).every((axis) => before.rotation[axis] === after.rotation[axis]);
  const from = rotationOf(before.rotation);
  const turn = same ? null : product(rotationOf(after.rotation), transposed(from));
  const apart = minus(unit.position, before.position);
  const position = tidyPlace(plus(after.position, turn ? applied(turn, apart) : apart));
  const rotation = turn ? turnsOf(product(turn, rotationOf(unit.rotation)), unit.rotation) : unit.rotation;
  return { ...unit, position, rotation };
}

const minus = (a: Place3, b: Place3): Place3 => ({ x: a.x - b.x, y: a.y - b.y, z: a.z - b.z });
const plus = (a: Place3, b: Place3): Place3 => ({ x: a.x + b.x, y: a.y + b.y, z: a.z + b.z });

/** The change set that stores things, with the units that hang on those that were moved or turned. */
export function storedThings(document: Document, things: readonly ThingRecord[]): ChangeSet {
  const put: (ThingRecord | UnitRecord)[] = [];
  for (const thing of things) {
    const before = document.get(thing.id);
    if (before === thing) continue;
    put.push(thing);
    if (before?.kind !== 'thing') continue;
    const moved = (['position', 'rotation'] as const).some((part) =>
      (['x', 'y', 'z'] as const).some((axis) => before[part][axis] !== thing[part][axis]),
    );
    if (moved) put.push(...hungOn(document, thing.id).map((unit) => carried(unit, before, thing)));
  }
  return { put, remove: [] };
}
