import type { LineId, UnitId } from '../ids.ts';
import { MAX_UNIVERSE } from '../units.ts';
import { formatSpan, type Span } from './address.ts';
import type { PatchedUnit } from './of-document.ts';

/**
 * Something wrong with the patch, at one unit. `OVERLAP`, `OVERRUN`, `WIRE_TWICE` and `PORT_LIMIT` fail tonight; the
 * rest is worth a look (`isSevere`).
 */
export type Clash =
  | {
      readonly code: 'OVERLAP';
      readonly unitId: UnitId;
      readonly otherId: UnitId;
      readonly span: Span;
      readonly message: string;
    }
  | { readonly code: 'OVERRUN'; readonly unitId: UnitId; readonly by: number; readonly message: string }
  | { readonly code: 'NUMBER_TWICE'; readonly unitId: UnitId; readonly otherId: UnitId; readonly message: string }
  | { readonly code: 'NO_ADDRESS'; readonly unitId: UnitId; readonly message: string }
  | {
      readonly code: 'EXPECTED_END';
      readonly unitId: UnitId;
      /** Slots further on (positive) or short of (negative) what was expected. */
      readonly by: number;
      readonly message: string;
    }
  | { readonly code: 'NO_ROUTE'; readonly unitId: UnitId; readonly universe: number; readonly message: string }
  | { readonly code: 'WIRE_TWICE'; readonly unitId: UnitId; readonly universe: number; readonly message: string }
  | { readonly code: 'PORT_LIMIT'; readonly unitId: UnitId; readonly lineId: LineId; readonly message: string }
  | { readonly code: 'TWIN_DIFFERS'; readonly unitId: UnitId; readonly otherId: UnitId; readonly message: string };

const SEVERE: ReadonlySet<Clash['code']> = new Set(['OVERLAP', 'OVERRUN', 'WIRE_TWICE', 'PORT_LIMIT']);
/** True for what fails tonight, false for what is worth a look. */
export const isSevere = (clash: Clash): boolean => SEVERE.has(clash.code);

interface Occupied extends Span {
  readonly unit: PatchedUnit;
}

const label = (unit: PatchedUnit): string => `${unit.number} ${unit.name}`;
/** `1 slot`, `3 slots`. */
export const slotWords = (count: number): string => `${count} ${count === 1 ? 'slot' : 'slots'}`;

/** Most clashes listed for one unit: a unit laid over hundreds of others says so without a page of text. */
const MOST_PER_UNIT = 8;

/**
 * What clashes among the units themselves, in both directions (each of two overlapping units names the other). Sorts
 * the spans and sweeps: O(n log n) in the number of units, plus the overlaps that are reported. Units that share their
 * slots on purpose (`wire`) do not clash with one another.
 */
export function findClashes(units: readonly PatchedUnit[]): Clash[] {
  const clashes: Clash[] = [];
  const spans: Occupied[] = [];
  for (const unit of units) {
    if (unit.spans.length === 0) {
      clashes.push({ code: 'NO_ADDRESS', unitId: unit.id, message: `${label(unit)} has no address yet` });
      continue;
    }
    for (const { universe, from, to } of unit.spans) spans.push({ universe, from, to, unit });
    overrun(unit, clashes);
  }
  overlaps(inOrder(spans), clashes);
  numbersTwice(units, clashes);
  return clashes;
}

function overrun(unit: PatchedUnit, clashes: Clash[]): void {
  const last = unit.spans.at(-1)!;
  const by = last.to - unit.slotsPerUniverse;
  if (by > 0) {
    const message = `runs ${slotWords(by)} past the end of universe ${last.universe} (${unit.slotsPerUniverse})`;
    clashes.push({ code: 'OVERRUN', unitId: unit.id, by, message });
  } else if (last.universe > MAX_UNIVERSE) {
    const message = `runs past the last universe (${MAX_UNIVERSE})`;
    clashes.push({ code: 'OVERRUN', unitId: unit.id, by: last.to, message });
  }
}

/** By universe and first slot. A typed array of numbers sorts several times faster than a list with a comparison. */
function inOrder(spans: readonly Occupied[]): Occupied[] {
  const SPREAD = 2 ** 24;
  const keys = new Float64Array(spans.length);
  spans.forEach((span, i) => (keys[i] = (span.universe * 1024 + Math.min(1023, span.from)) * SPREAD + i));
  keys.sort();
  return Array.from(keys, (key) => spans[key % SPREAD]!);
}

function overlaps(spans: readonly Occupied[], clashes: Clash[]): void {
  const listed = new Map<UnitId, number>();
  const report = (a: Occupied, b: Occupied, span: Span): void => {
    const count = listed.get(a.unit.id) ?? 0;
    if (count >= MOST_PER_UNIT) return;
    listed.set(a.unit.id, count + 1);
    const message = `shares ${slotWords(span.to - span.from + 1)} (${formatSpan(span)}) with ${label(b.unit)}`;
    clashes.push({ code: 'OVERLAP', unitId: a.unit.id, otherId: b.unit.id, span, message });
  };
  let active: Occupied[] = [];
  let universe = 0;
  let end = 0;
  for (const span of spans) {
    if (span.universe !== universe || span.from > end) {
      // Nothing before reaches into this one: the usual case costs nothing.
      active.length = 0;
      universe = span.universe;
      end = 0;
    } else if (active.length > 1) active = active.filter((a) => a.to >= span.from);
    for (const other of active) {
      if (other.to < span.from || other.unit.wire === span.unit.wire) continue;
      if ((listed.get(other.unit.id) ?? 0) >= MOST_PER_UNIT && (listed.get(span.unit.id) ?? 0) >= MOST_PER_UNIT) break;
      const shared = { universe: span.universe, from: span.from, to: Math.min(span.to, other.to) };
      report(other, span, shared);
      report(span, other, shared);
    }
    if (active.length <= MOST_PER_UNIT * 4) active.push(span);
    end = Math.max(end, span.to);
  }
}

function numbersTwice(units: readonly PatchedUnit[], clashes: Clash[]): void {
  const first = new Map<number, PatchedUnit>();
  for (const unit of units) {
    const other = first.get(unit.number);
    if (!other) {
      first.set(unit.number, unit);
      continue;
    }
    const say = (a: PatchedUnit, b: PatchedUnit): void => {
      const message = `number ${unit.number} is also ${b.name}`;
      clashes.push({ code: 'NUMBER_TWICE', unitId: a.id, otherId: b.id, message });
    };
    say(unit, other);
    say(other, unit);
  }
}

/** Which slots of each universe are taken, merged and sorted. */
export function takenSpans(units: Iterable<PatchedUnit>): Map<number, { from: number; to: number }[]> {
  const byUniverse = new Map<number, { from: number; to: number }[]>();
  for (const unit of units) {
    for (const span of unit.spans) {
      const list = byUniverse.get(span.universe);
      if (list) list.push({ from: span.from, to: span.to });
      else byUniverse.set(span.universe, [{ from: span.from, to: span.to }]);
    }
  }
  for (const [universe, list] of byUniverse) {
    list.sort((a, b) => a.from - b.from);
    const merged: { from: number; to: number }[] = [];
    for (const span of list) {
      const last = merged.at(-1);
      if (last && span.from <= last.to + 1) last.to = Math.max(last.to, span.to);
      else merged.push({ ...span });
    }
    byUniverse.set(universe, merged);
  }
  return byUniverse;
}

/** The runs of slots of a universe that nobody has. */
export function gapsOf(
  taken: readonly { from: number; to: number }[] | undefined,
  slots: number,
): { from: number; to: number }[] {
  const gaps: { from: number; to: number }[] = [];
  let next = 1;
  for (const { from, to } of taken ?? []) {
    if (from > next) gaps.push({ from: next, to: Math.min(slots, from - 1) });
    next = Math.max(next, to + 1);
  }
  if (next <= slots) gaps.push({ from: next, to: slots });
  return gaps.filter((g) => g.from <= g.to);
}
