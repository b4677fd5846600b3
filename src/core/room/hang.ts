import type { ChangeSet, Document } from '../document/change.ts';
import { recordsOf } from '../document/change.ts';
import type { ThingId } from '../ids.ts';
import { tidyPlace } from '../plot/paper.ts';
import { inOwn, inRoom, product, rotationOf, transposed, turnsOf, type Standing } from '../plot/rotation.ts';
import { isSame, minus, plus } from '../plot/vector.ts';
import type { ThingRecord, UnitRecord } from '../records/index.ts';

/** The units that hang on a thing. */
export const hungOn = (document: Document, id: ThingId): UnitRecord[] =>
  recordsOf(document, 'unit').filter((unit) => unit.hungOn === id);

/** A unit on a thing that was at `before` and is at `after`: it keeps its place and its turn on the thing. */
export function carried(unit: UnitRecord, before: Standing, after: Standing): UnitRecord {
  if (isSame(before.rotation, after.rotation))
    return { ...unit, position: tidyPlace(plus(unit.position, minus(after.position, before.position))) };
  const turn = product(rotationOf(after.rotation), transposed(rotationOf(before.rotation)));
  return {
    ...unit,
    position: tidyPlace(inRoom(after, inOwn(before, unit.position))),
    rotation: turnsOf(product(turn, rotationOf(unit.rotation)), unit.rotation),
  };
}

/** The change set that stores things, with the units that hang on those that were moved or turned. */
export function storedThings(document: Document, things: readonly ThingRecord[]): ChangeSet {
  const put: (ThingRecord | UnitRecord)[] = [];
  for (const thing of things) {
    const before = document.get(thing.id);
    if (before === thing) continue;
    put.push(thing);
    if (before?.kind !== 'thing') continue;
    const stays = isSame(before.position, thing.position) && isSame(before.rotation, thing.rotation);
    if (!stays) put.push(...hungOn(document, thing.id).map((unit) => carried(unit, before, thing)));
  }
  return { put, remove: [] };
}
