import { getRecord, type Document } from '../document/change.ts';
import { bad, good, shorten, type Fault, type Result } from '../faults.ts';
import type { UnitId } from '../ids.ts';
import type { UnitRecord } from '../records/index.ts';
import type { Relation } from '../records/unit.ts';
import { fromAbsolute, parseAddress, type Place, type SlotsPerUniverse } from './address.ts';
import { relatedTo } from './of-document.ts';

/** What a person can write where an address is wanted: nothing, a place, or what it follows. */
export type AddressEntry =
  | { readonly kind: 'none' }
  | { readonly kind: 'place'; readonly place: Place }
  | { readonly kind: 'relation'; readonly relation: Relation };

const AFTER = /^after\s+(.+?)(?:\s*\+\s*(\d+))?$/i;
const TWIN = /^(?:twin of|twin|same as)\s+(.+)$/i;

/**
 * Reads what stands in an address field: `3.145` in any notation, an absolute channel counted through the universes as
 * they are (510 or 512 slots), `after 12` or `after Arch 1 +3` (three slots left free), `twin of 12`, or nothing.
 * `self` is the unit the field belongs to; it can follow neither itself nor what follows it.
 */
export function parseAddressEntry(
  text: string,
  document: Document,
  slotsOf: (universe: number) => SlotsPerUniverse,
  self?: UnitRecord,
): Result<AddressEntry> {
  const trimmed = text.trim();
  if (trimmed === '') return good({ kind: 'none' });
  const twin = TWIN.exec(trimmed);
  const after = twin ? null : AFTER.exec(trimmed);
  const wanted = twin?.[1] ?? after?.[1];
  if (wanted !== undefined) {
    const found = findUnit(document, wanted);
    if (!found.ok) return found;
    if (twin) return twinEntry(document, found.value, self);
    const gap = Number(after?.[2] ?? 0);
    if (gap > 511) return bad(entryFault('GAP_RANGE', `a gap of ${gap} slots`, text, 'Leave 0 to 511 slots free.'));
    return checked(document, { after: found.value.id, gap }, self);
  }
  const single = /^\d[\d ]*$/.test(trimmed) ? fromAbsoluteAcross(Number(trimmed.replace(/ /g, '')), slotsOf) : null;
  if (single) return good({ kind: 'place', place: single });
  const parsed = parseAddress(trimmed);
  if (!parsed.ok) return parsed;
  const { universe, address } = parsed.value;
  const slots = slotsOf(universe);
  if (address > slots)
    return bad(
      entryFault(
        'ADDRESS_RANGE',
        `address ${address} does not exist in universe ${universe}, which has ${slots} slots`,
        text,
        `Give an address from 1 to ${slots}.`,
      ),
    );
  return good({ kind: 'place', place: parsed.value });
}

/**
 * The place of an absolute channel. Where some universes have 510 slots and others 512, the count that agrees with the
 * universe it leads to is taken, 512 first.
 */
export function fromAbsoluteAcross(absolute: number, slotsOf: (universe: number) => SlotsPerUniverse): Place | null {
  for (const slots of [512, 510] as const) {
    const place = fromAbsolute(absolute, slots);
    if (place && slotsOf(place.universe) === slots) return place;
  }
  return fromAbsolute(absolute, 512);
}

const entryFault = (code: string, message: string, received: string, remedy: string): Fault => ({
  code,
  message,
  path: 'address',
  received: shorten(received),
  remedy,
});

/** A unit by number or by name; a name that several have is refused. */
export function findUnit(document: Document, text: string): Result<UnitRecord> {
  const wanted = text.trim();
  const found: UnitRecord[] = [];
  const number = /^\d+$/.test(wanted) ? Number(wanted) : null;
  for (const record of document.values()) {
    if (record.kind !== 'unit') continue;
    if (number === null ? record.name.toLowerCase() === wanted.toLowerCase() : record.number === number)
      found.push(record);
  }
  if (found.length === 1) return good(found[0]!);
  const quoted = `“${String(shorten(wanted))}”`;
  return found.length === 0
    ? bad(entryFault('NO_SUCH_UNIT', `there is no unit ${quoted}`, text, 'Give a unit’s number or its whole name.'))
    : bad(entryFault('UNIT_NOT_CLEAR', `${found.length} units are called ${quoted}`, text, 'Give its number.'));
}

function twinEntry(document: Document, other: UnitRecord, self: UnitRecord | undefined): Result<AddressEntry> {
  if (self && (self.profileId !== other.profileId || self.mode !== other.mode))
    return bad(
      entryFault(
        'TWIN_DIFFERS',
        `${other.name} has another profile or mode than ${self.name}`,
        other.name,
        'Twins are of the same profile and mode: change that first.',
      ),
    );
  return checked(document, { twinOf: other.id }, self);
}

function checked(document: Document, relation: Relation, self: UnitRecord | undefined): Result<AddressEntry> {
  const seen = new Set<UnitId>();
  for (let id: UnitId | null = relatedTo(relation); id !== null && !seen.has(id);) {
    if (id === self?.id)
      return bad(
        entryFault(
          'RELATION_CIRCLE',
          `${self.name} would follow itself`,
          self.name,
          'Name a unit that does not follow this one.',
        ),
      );
    seen.add(id);
    const next: Relation | null = getRecord(document, 'unit', id)?.relation ?? null;
    id = next && relatedTo(next);
  }
  return good({ kind: 'relation', relation });
}

/** The relation of a unit as it is written: `after 12 +3`, `twin of 12`; empty without one. */
export function relationText(document: Document, unit: UnitRecord): string {
  if (!unit.relation) return '';
  const other = getRecord(document, 'unit', relatedTo(unit.relation));
  const name = other ? String(other.number) : '?';
  if ('twinOf' in unit.relation) return `twin of ${name}`;
  return unit.relation.gap > 0 ? `after ${name} +${unit.relation.gap}` : `after ${name}`;
}
