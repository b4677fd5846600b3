import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { PartId, UnitId } from '../ids.ts';
import type { PartRecord, UnitRecord } from '../records/index.ts';
import { boxAround, boxOfUnit, freeOffset } from '../plot/free-place.ts';
import { tidyPlace } from '../plot/paper.ts';
import { lastOf, slotAfter } from '../patch/address.ts';
import { takenSpans } from '../patch/clash.ts';
import { freeNumbers } from '../naming.ts';
import { cellOf, patchOf, relatedTo, slotsPerUniverseOf, spansAt } from '../patch/of-document.ts';
import { orderUnits } from '../patch/order.ts';
import { placeRun } from '../patch/place.ts';

/**
 * Copies of units that go on where the originals end: the next free addresses after their last slot, the next free
 * numbers, names counted on (`Arch 3` -> `Arch 4`), beside the originals where nothing stands yet. What followed another copied unit
 * follows its copy; a twin of one outside stays its twin. Programming is not copied. In the order of number.
 */
export function duplicateUnits(document: Document, ids: Iterable<UnitId>, newId: () => UnitId): UnitRecord[] {
  const chosen = chosenIn(document, ids);
  const patch = patchOf(document);
  const slotsOf = slotsPerUniverseOf(document);
  const all = recordsOf(document, 'unit');
  const numbers = freeNumbers(
    all.map((u) => u.number),
    chosen.length,
    Math.max(0, ...chosen.map((u) => u.number)),
  );
  const names = new Set(all.map((u) => u.name));
  const copies = new Map(chosen.map((u) => [u.id, newId()]));
  const last = lastOf(chosen.flatMap((u) => patch.get(u.id)?.spans ?? []));
  const free = chosen.filter((u) => (patch.get(u.id)?.spans.length ?? 0) > 0 && !u.relation);
  const places = placeRun(
    free.map((unit) => ({
      spans: (place) => spansAt(document, unit, place, slotsOf(place.universe)),
      cell: cellOf(getRecord(document, 'profile', unit.profileId), unit),
    })),
    { ...(last ? { start: slotAfter(last, 0, slotsOf) } : {}), slotsOf, taken: takenSpans(patch.units) },
  );
  const block = boxAround(chosen.map((unit) => boxOfUnit(document, unit)));
  const by = block ? freeOffset(document, block, true) : { x: 0, y: 0, z: 0 };
  const placeFor = new Map(free.map((u, i) => [u.id, places[i]!]));
  return chosen.map((unit, i) => {
    const leader = unit.relation && copies.get(relatedTo(unit.relation));
    return {
      ...unit,
      id: copies.get(unit.id)!,
      number: numbers[i]!,
      name: nextName(unit.name, names),
      patch: (placeFor.get(unit.id) ?? null) as UnitRecord['patch'],
      relation: unit.relation && leader ? withLeader(unit.relation, leader) : unit.relation,
      expectedEnd: null,
      walk: null,
      position: tidyPlace({ x: unit.position.x + by.x, y: unit.position.y + by.y, z: unit.position.z + by.z }),
    };
  });
}

const chosenIn = (document: Document, ids: Iterable<UnitId>): UnitRecord[] =>
  orderUnits(
    document,
    [...new Set(ids)].flatMap((id) => getRecord(document, 'unit', id) ?? []),
    'number',
  );

/** Copies of units (`duplicateUnits`) and of all parts of them, which are numbered on after the last part there is. */
export function duplicateWithParts(
  document: Document,
  ids: Iterable<UnitId>,
  newId: { unit(): UnitId; part(): PartId },
): { units: UnitRecord[]; parts: PartRecord[] } {
  const originals = chosenIn(document, ids);
  const units = duplicateUnits(
    document,
    originals.map((u) => u.id),
    () => newId.unit(),
  );
  const copyOf = new Map(originals.map((u, i) => [u.id, units[i]!.id]));
  const all = recordsOf(document, 'part').toSorted((a, b) => a.number - b.number);
  const last = Math.max(0, ...all.map((p) => p.number));
  const parts = all
    .filter((p) => copyOf.has(p.unitId))
    .map((p, i) => ({ ...p, id: newId.part(), unitId: copyOf.get(p.unitId)!, number: last + 1 + i }));
  return { units, parts };
}

const withLeader = (relation: NonNullable<UnitRecord['relation']>, leader: UnitId): UnitRecord['relation'] =>
  'twinOf' in relation ? { twinOf: leader } : { ...relation, after: leader };

/** The name counted on until nobody has it; notes it as taken. A name without a number gets ` 2`. */
export function nextName(name: string, taken: Set<string>): string {
  const found = /^(.*?)(\d+)(\D{0,2})$/.exec(name);
  const [head, digits, tail] = found ? [found[1]!, found[2]!, found[3]!] : [`${name} `, '1', ''];
  for (let n = Number(digits) + 1; ; n++) {
    const number = String(n).padStart(digits.length, '0');
    const next = `${head.slice(0, 100 - number.length - tail.length)}${number}${tail}`;
    if (taken.has(next)) continue;
    taken.add(next);
    return next;
  }
}
