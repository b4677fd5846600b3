import type { ChangeSet, Document } from '$core/document/change.ts';
import { getRecord } from '$core/document/change.ts';
import type { UnitId } from '$core/ids.ts';
import { parseAddress, type SlotsPerUniverse } from '$core/patch/address.ts';
import type { UnitRecord } from '$core/records/index.ts';

/** Changes of units from what a person typed. Each returns what is wrong in words, or a change set. */
export type Edited = { readonly fault: string } | { readonly change: ChangeSet };

const unitsOf = (document: Document, ids: readonly UnitId[]): UnitRecord[] =>
  ids.flatMap((id) => getRecord(document, 'unit', id) ?? []);

const putAll = (units: readonly UnitRecord[], patch: (unit: UnitRecord, i: number) => Partial<UnitRecord>): Edited => ({
  change: { put: units.map((unit, i) => ({ ...unit, ...patch(unit, i) })), remove: [] },
});

/**
 * An address for one unit; for several, the first takes it and the others follow one after the other. Empty text
 * takes the address away.
 */
export function editAddress(
  document: Document,
  ids: readonly UnitId[],
  text: string,
  slotsOf: (universe: number) => SlotsPerUniverse,
  footprintOf: (unit: UnitRecord) => number,
): Edited {
  const units = unitsOf(document, ids);
  if (text.trim() === '') return putAll(units, () => ({ patch: null }));
  const place = parseAddress(text);
  if (!place.ok) return { fault: `${place.fault.message}. ${place.fault.remedy}` };
  let universe: number = place.value.universe;
  let address: number = place.value.address;
  const patches = units.map((unit, i) => {
    const footprint = footprintOf(unit);
    if (i > 0 && address + footprint - 1 > slotsOf(universe)) {
      universe++;
      address = 1;
    }
    const patch = { universe, address };
    address += footprint;
    return patch;
  });
  if (universe > 63_999) return { fault: 'The last unit would lie beyond universe 63999. Start lower.' };
  return putAll(units, (_, i) => ({ patch: patches[i]! }));
}

export function editNumber(document: Document, ids: readonly UnitId[], text: string): Edited {
  const first = /^\s*\d+\s*$/.test(text) ? Number(text) : NaN;
  const units = unitsOf(document, ids);
  if (!(first >= 1 && first + units.length - 1 <= 99_999))
    return { fault: `“${text.slice(0, 20)}” is not a number from 1 to 99999.` };
  return putAll(units, (_, i) => ({ number: first + i }));
}

export function editName(document: Document, ids: readonly UnitId[], text: string): Edited {
  const name = text.trim();
  if (name === '') return { fault: 'A unit needs a name.' };
  if (name.length > 100) return { fault: `A name has at most 100 characters; this has ${name.length}.` };
  return putAll(unitsOf(document, ids), () => ({ name }));
}

/** A number with a point or a comma, within limits, set on every unit through `apply`. */
export function editMeasure(
  document: Document,
  ids: readonly UnitId[],
  text: string,
  limits: readonly [low: number, high: number],
  apply: (unit: UnitRecord, value: number) => Partial<UnitRecord>,
): Edited {
  const value = parseNumber(text);
  if (value === null) return { fault: `“${text.slice(0, 20)}” is not a number.` };
  if (value < limits[0] || value > limits[1]) return { fault: `Give ${limits[0]} to ${limits[1]}.` };
  return putAll(unitsOf(document, ids), (unit) => apply(unit, value));
}

export function parseNumber(text: string): number | null {
  const cleaned = text.trim().replace(',', '.');
  return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(cleaned) ? Number(cleaned) : null;
}
