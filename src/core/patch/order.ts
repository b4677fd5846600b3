import { recordsOf, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import type { UnitRecord } from '../records/index.ts';
import type { UnitOrder } from '../records/group.ts';
import { patchOf, placeOf } from './of-document.ts';

/** Units hang in one row when they are no further apart up-stage than this. */
export const ROW_M = 0.5;

const byNumber = (a: UnitRecord, b: UnitRecord): number => a.number - b.number || (a.id < b.id ? -1 : 1);
const collator = new Intl.Collator('en', { numeric: true });

/**
 * Units in an order people think in. `plot`: left to right as the plan is drawn (x ascending). `serpentine`: row by
 * row from up-stage, the first from left to right, the next back. `line`: line by line in cable order, those on no
 * line last. Equal ones by number.
 */
export function orderUnits(document: Document, units: readonly UnitRecord[], order: UnitOrder): UnitRecord[] {
  const list = [...units].sort(byNumber);
  switch (order) {
    case 'number':
      return list;
    case 'name':
      return list.sort((a, b) => collator.compare(a.name, b.name) || byNumber(a, b));
    case 'address':
      return byKey(list, addressKey(document));
    case 'plot':
      return list.sort((a, b) => a.position.x - b.position.x || b.position.y - a.position.y || byNumber(a, b));
    case 'serpentine':
      return serpentine(list);
    case 'line':
      return byKey(list, cableKey(document));
  }
}

const byKey = (list: UnitRecord[], key: (unit: UnitRecord) => number): UnitRecord[] =>
  list
    .map((unit) => ({ unit, key: key(unit) }))
    .sort((a, b) => a.key - b.key || byNumber(a.unit, b.unit))
    .map((e) => e.unit);

function addressKey(document: Document): (unit: UnitRecord) => number {
  const patch = patchOf(document);
  return (unit) => {
    const place = placeOf(patch.get(unit.id));
    return place ? place.universe * 1024 + place.address : Number.MAX_SAFE_INTEGER;
  };
}

function cableKey(document: Document): (unit: UnitRecord) => number {
  const at = new Map<UnitId, number>();
  const lines = recordsOf(document, 'line').toSorted((a, b) => a.number - b.number || (a.id < b.id ? -1 : 1));
  lines.forEach((line, l) => line.unitIds.forEach((id, i) => at.set(id, l * 100_000 + i)));
  return (unit) => at.get(unit.id) ?? Number.MAX_SAFE_INTEGER;
}

function serpentine(list: readonly UnitRecord[]): UnitRecord[] {
  const rows: UnitRecord[][] = [];
  for (const unit of [...list].sort((a, b) => b.position.y - a.position.y || byNumber(a, b))) {
    const row = rows.at(-1);
    if (row && row[0]!.position.y - unit.position.y <= ROW_M) row.push(unit);
    else rows.push([unit]);
  }
  return rows.flatMap((row, i) => {
    row.sort((a, b) => a.position.x - b.position.x || byNumber(a, b));
    return i % 2 === 0 ? row : row.reverse();
  });
}
