import { roomOf } from '../plot/room-of.ts';
import { applyChange, getRecord, recordsOf, type Document } from '../document/change.ts';
import type { Fault } from '../faults.ts';
import type { UnitId } from '../ids.ts';
import { boxAround, boxOfUnit, freeOffset } from '../plot/free-place.ts';
import { tidyPlace } from '../plot/paper.ts';
import type { Prop } from '../records/prop.ts';
import { make, type ProfileRecord, type UnitRecord } from '../records/index.ts';
import { formatAddress, formatSpan, type Span } from '../patch/address.ts';
import { slotWords, takenSpans } from '../patch/clash.ts';
import { namesCountedOn } from '../naming.ts';
import { cellOf, modeSpans, patchedUnit, patchOf, slotsPerUniverseOf } from '../patch/of-document.ts';
import { placeRun, type SlotPlace } from '../patch/place.ts';

export interface NewUnits {
  readonly profile: ProfileRecord;
  readonly mode: string;
  /** Shape and wiring of each, where they are props. */
  readonly prop?: Prop | null;
  readonly count: number;
  readonly names: string;
  readonly firstNumber: number;
  /** First address to look from (the lowest gap of all where absent), or the unit that they follow, in a chain. */
  readonly start?: SlotPlace | { readonly after: UnitId; readonly gap: number };
  /** Slots left free after each. */
  readonly gap?: number;
  /** Every address begins a block of so many slots (`placeRun`). */
  readonly block?: number;
}

/**
 * Makes units of one mode, numbered in a row, with names that count on from those there are, each at the next free
 * address that takes it whole, standing in a row across the middle of the plan where nothing stands yet. Units for
 * which no address is left come without one.
 */
export function newUnits(document: Document, wanted: NewUnits, newId: () => UnitId): UnitRecord[] {
  const { profile, start } = wanted;
  const slotsOf = slotsPerUniverseOf(document);
  const form = { mode: wanted.mode, prop: wanted.prop ?? null };
  const leader = start && 'after' in start ? start : null;
  const spans = (place: SlotPlace): Span[] => modeSpans(profile, form, place, slotsOf(place.universe));
  const places = leader
    ? []
    : placeRun(
        Array.from({ length: wanted.count }, () => ({ spans, cell: cellOf(profile, form) })),
        {
          ...(start && !('after' in start) ? { start } : {}),
          gap: wanted.gap,
          block: wanted.block,
          slotsOf,
          taken: takenSpans(patchOf(document).units),
        },
      );
  const names = namesCountedOn(
    wanted.names,
    wanted.count,
    recordsOf(document, 'unit').map((u) => u.name),
  );
  const ids = names.map(() => newId());
  const units = names.map((name, i) =>
    make('unit', {
      id: ids[i]!,
      number: wanted.firstNumber + i,
      name,
      profileId: profile.id,
      ...form,
      patch: places[i] ?? null,
      relation: leader
        ? { after: i === 0 ? leader.after : ids[i - 1]!, gap: i === 0 ? leader.gap : (wanted.gap ?? 0) }
        : null,
      position: { x: 0, y: 0, z: form.prop ? 0 : 3 },
    }),
  );
  return inRow(document, profile, units);
}

/** Puts new units in a row across the room, as near to each other as they must, where nothing stands yet. */
function inRow(document: Document, profile: ProfileRecord, units: readonly UnitRecord[]): UnitRecord[] {
  const [first] = units;
  if (!first) return [];
  const seen = getRecord(document, 'profile', profile.id)
    ? document
    : applyChange(document, { put: [profile], remove: [] });
  const one = boxOfUnit(seen, first);
  const spacing = rowSpacing(document, units.length, one.max.x - one.min.x);
  const row = units.map((unit, i) => {
    const x = (i - (units.length - 1) / 2) * spacing;
    return { ...unit, position: { ...unit.position, x } };
  });
  const ends = [row[0]!, row.at(-1)!].map((unit) => boxOfUnit(seen, unit));
  const by = freeOffset(document, boxAround(ends)!);
  return row.map((unit) => {
    const { x, y, z } = unit.position;
    return { ...unit, position: tidyPlace({ x: x + by.x, y: y + by.y, z: z + by.z }) };
  });
}

/** A metre between neighbours, or as wide as they are and a little; less where the room is too narrow for it. */
function rowSpacing(document: Document, count: number, width: number): number {
  const { widthM } = roomOf(document);
  if (count <= 1) return 0;
  return width > 0.8 ? width + 0.2 : Math.min(1, (widthM * 0.9) / (count - 1));
}

/** Why the first of new units does not stand where it was asked to, and where the next place is. */
export interface NotThere extends Fault {
  /** Null where no place is left. */
  readonly next: SlotPlace | null;
}

/**
 * Says why new units cannot stand at the address that was asked for (`made`: what `newUnits` gave): somebody lives
 * there, it is too near to the end of its universe, a pixel would be parted, or no block begins there. Null where the
 * first stands as asked.
 */
export function whyNotThere(document: Document, wanted: NewUnits, made: readonly UnitRecord[]): NotThere | null {
  const { start, profile, mode } = wanted;
  const [first] = made;
  if (!start || !first) return null;
  const seen = applyChange(document, { put: [profile, ...made], remove: [] });
  const slotsOf = slotsPerUniverseOf(document);
  const stands = patchedUnit(seen, first).spans;
  const at = 'after' in start ? stands[0] && { universe: stands[0].universe, address: stands[0].from } : start;
  if (!at) return say('NO_ADDRESS', 'what they would follow has no address', 'Give that one an address first.', null);
  const text = formatAddress(at.universe, at.address);
  const spans = modeSpans(profile, { mode, prop: wanted.prop ?? null }, at, slotsOf(at.universe));
  const living = livingThere(document, 'after' in start ? made.flatMap((u) => patchedUnit(seen, u).spans) : spans);
  const next =
    'after' in start ? (newUnits(document, { ...wanted, start: at }, placeholderIds())[0]?.patch ?? null) : first.patch;
  const remedy = next
    ? `The next place that takes ${wanted.count > 1 ? 'the first' : 'it'} is ${formatAddress(next.universe, next.address)}.`
    : 'No address is left after it.';
  if (living.length > 0) {
    const [who, ...more] = living;
    const others = more.length > 0 ? ` and ${more.length} more` : '';
    return say('ADDRESS_TAKEN', `${text}: ${who!.number} ${who!.name} lives at ${who!.span}${others}`, remedy, next);
  }
  if ('after' in start || (first.patch?.universe === at.universe && first.patch.address === at.address)) return null;
  const slots = slotsOf(at.universe);
  const over = spans.find((s) => s.to > slotsOf(s.universe));
  if (over)
    return say(
      'PAST_THE_END',
      `from ${text} the ${slotWords(over.to - over.from + 1)} run past the end of universe ${over.universe} (${slots})`,
      remedy,
      next,
    );
  if (wanted.block && (at.address - 1) % wanted.block !== 0)
    return say('NO_BLOCK', `no block of ${wanted.block} begins at ${text}`, remedy, next);
  return say('PIXEL_PARTED', `from ${text} a pixel would lie half in one universe and half in the next`, remedy, next);
}

function say(code: string, message: string, remedy: string, next: SlotPlace | null): NotThere {
  return { code, path: 'start', message, remedy, next };
}

function placeholderIds(): () => UnitId {
  let n = 0;
  return () => `unit:placeholder${n++}`;
}

/** Units that have slots of the spans, in the order of their addresses. */
function livingThere(
  document: Document,
  spans: readonly Span[],
): { readonly number: number; readonly name: string; readonly span: string }[] {
  return patchOf(document)
    .units.flatMap((unit) => {
      const meets = unit.spans.find((own) =>
        spans.some((s) => s.universe === own.universe && s.from <= own.to && own.from <= s.to),
      );
      return meets ? [{ unit, meets }] : [];
    })
    .sort((a, b) => a.meets.universe - b.meets.universe || a.meets.from - b.meets.from)
    .map(({ unit, meets }) => ({ number: unit.number, name: unit.name, span: formatSpan(meets) }));
}
