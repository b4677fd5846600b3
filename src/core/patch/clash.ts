import type { LineId, UnitId } from '../ids.ts';
import { differing } from '../lists.ts';
import { MAX_UNIVERSE } from '../units.ts';
import { formatSpan, type Span } from './address.ts';
import { FEW_UNITS, type PatchedUnit } from './of-document.ts';

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

/** A unit and one of its spans. */
interface Occupied {
  readonly unit: PatchedUnit;
  readonly span: Span;
}

const label = (unit: PatchedUnit): string => `${unit.number} ${unit.name}`;
/** `1 slot`, `3 slots`. */
export const slotWords = (count: number): string => `${count} ${count === 1 ? 'slot' : 'slots'}`;

/** Most clashes listed for one unit in a universe: one laid over hundreds of others says so without a page of text. */
const MOST_PER_UNIT = 8;

/**
 * What clashes among the units themselves, in both directions (each of two overlapping units names the other). Looks
 * at universe after universe, sorts and sweeps; a universe in which nothing changed since it was looked at last is not
 * looked at again. Units that share their slots on purpose (`wire`) do not clash with one another.
 */
export function findClashes(units: readonly PatchedUnit[]): Clash[] {
  const { byUniverse, alone } = lookedAt(units);
  const clashes: Clash[] = [...alone.values()];
  // In one order, whatever was looked at before.
  for (const universe of [...byUniverse.keys()].sort((a, b) => a - b))
    for (const clash of overlapsIn(universe, byUniverse.get(universe)!)) clashes.push(clash);
  numbersTwice(units, clashes);
  return clashes;
}

type ByUniverse = ReadonlyMap<number, readonly PatchedUnit[]>;
/** The units that were looked at last, by universe, and what is wrong with each by itself, by its place among them. */
let last: {
  readonly units: readonly PatchedUnit[];
  readonly byUniverse: ByUniverse;
  readonly alone: ReadonlyMap<number, Clash>;
} | null = null;

/** The units that have slots in each universe, in the order given. Lists of universes in which nothing changed stay the same. */
export const unitsByUniverse = (units: readonly PatchedUnit[]): ByUniverse => lookedAt(units).byUniverse;

function lookedAt(units: readonly PatchedUnit[]): NonNullable<typeof last> {
  if (last?.units === units) return last;
  last = sinceLast(units) ?? { units, byUniverse: listed(units, () => true), alone: faultsAlone(units) };
  return last;
}

function listed(units: readonly PatchedUnit[], wanted: (universe: number) => boolean): Map<number, PatchedUnit[]> {
  const found = new Map<number, PatchedUnit[]>();
  for (const unit of units)
    for (const { universe } of unit.spans) {
      if (!wanted(universe)) continue;
      const list = found.get(universe);
      if (list) list.push(unit);
      else found.set(universe, [unit]);
    }
  return found;
}

function faultsAlone(units: readonly PatchedUnit[]): Map<number, Clash> {
  const found = new Map<number, Clash>();
  units.forEach((unit, i) => {
    const clash = alone(unit);
    if (clash) found.set(i, clash);
  });
  return found;
}

/** Null where there is nothing to go on from. */
function sinceLast(units: readonly PatchedUnit[]): typeof last {
  const changed = last && differing(last.units, units, FEW_UNITS);
  if (!last || !changed) return null;
  const before = last;
  const touched = new Set(
    changed.flatMap((i) => [before.units[i]!, units[i]!].flatMap(({ spans }) => spans.map((s) => s.universe))),
  );
  const byUniverse = new Map(before.byUniverse);
  // A unit that stays in a universe stays at its place in the list; where one comes or goes the list is made anew.
  const anew = new Set([...touched].filter((universe) => !swapped(byUniverse, universe, before.units, units, changed)));
  if (anew.size > 0) {
    const fresh = listed(units, (universe) => anew.has(universe));
    for (const universe of anew) {
      const list = fresh.get(universe);
      if (list) byUniverse.set(universe, list);
      else byUniverse.delete(universe);
    }
  }
  return { units, byUniverse, alone: aloneSince(before.alone, units, changed) };
}

/** Puts units that changed in a universe in their places in its list; false where one came or went. */
function swapped(
  byUniverse: Map<number, readonly PatchedUnit[]>,
  universe: number,
  before: readonly PatchedUnit[],
  units: readonly PatchedUnit[],
  changed: readonly number[],
): boolean {
  const timesIn = (unit: PatchedUnit): number => unit.spans.filter((s) => s.universe === universe).length;
  const list = [...(byUniverse.get(universe) ?? [])];
  for (const i of changed) {
    const [was, is] = [before[i]!, units[i]!];
    const times = timesIn(was);
    if (times !== timesIn(is)) return false;
    for (let k = 0; k < times; k++) list[list.indexOf(was)] = is;
  }
  byUniverse.set(universe, list);
  return true;
}

function aloneSince(
  before: ReadonlyMap<number, Clash>,
  units: readonly PatchedUnit[],
  changed: readonly number[],
): ReadonlyMap<number, Clash> {
  const found = changed.map((i) => [i, alone(units[i]!)] as const);
  if (found.every(([i, clash]) => clash === null && !before.has(i))) return before;
  const next = new Map(before);
  for (const [i, clash] of found) {
    if (clash) next.set(i, clash);
    else next.delete(i);
  }
  return new Map([...next].sort(([a], [b]) => a - b));
}

/** What is wrong with a unit whatever the others are. */
function alone(unit: PatchedUnit): Clash | null {
  if (unit.spans.length > 0) return overrun(unit);
  return { code: 'NO_ADDRESS', unitId: unit.id, message: `${label(unit)} has no address yet` };
}

function overrun(unit: PatchedUnit): Clash | null {
  const last = unit.spans.at(-1)!;
  const by = last.to - unit.slotsPerUniverse;
  if (by > 0) {
    const message = `runs ${slotWords(by)} past the end of universe ${last.universe} (${unit.slotsPerUniverse})`;
    return { code: 'OVERRUN', unitId: unit.id, by, message };
  }
  if (last.universe <= MAX_UNIVERSE) return null;
  return { code: 'OVERRUN', unitId: unit.id, by: last.to, message: `runs past the last universe (${MAX_UNIVERSE})` };
}

/** What was found in a universe, by the first unit in it and the number of the universe. */
const known = new WeakMap<PatchedUnit, Map<number, { units: readonly PatchedUnit[]; clashes: readonly Clash[] }>>();

function overlapsIn(universe: number, units: readonly PatchedUnit[]): readonly Clash[] {
  const first = units[0]!;
  let kept = known.get(first);
  if (!kept) known.set(first, (kept = new Map()));
  const before = kept.get(universe);
  const same =
    before?.units === units ||
    (before?.units.length === units.length && before.units.every((unit, i) => unit === units[i]));
  if (before && same) return before.clashes;
  const clashes = overlaps(universe, units);
  kept.set(universe, { units, clashes });
  return clashes;
}

function overlaps(universe: number, units: readonly PatchedUnit[]): Clash[] {
  const clashes: Clash[] = [];
  const spans = units
    .flatMap((unit) => unit.spans.filter((s) => s.universe === universe).map((span): Occupied => ({ unit, span })))
    .sort((a, b) => a.span.from - b.span.from);
  const listed = new Map<UnitId, number>();
  const full = (unit: PatchedUnit): boolean => (listed.get(unit.id) ?? 0) >= MOST_PER_UNIT;
  const report = (a: PatchedUnit, b: PatchedUnit, span: Span): void => {
    if (full(a)) return;
    listed.set(a.id, (listed.get(a.id) ?? 0) + 1);
    const message = `shares ${slotWords(span.to - span.from + 1)} (${formatSpan(span)}) with ${label(b)}`;
    clashes.push({ code: 'OVERLAP', unitId: a.id, otherId: b.id, span, message });
  };
  let active: Occupied[] = [];
  for (const entry of spans) {
    const { unit, span } = entry;
    active = active.filter((a) => a.span.to >= span.from);
    for (const other of active) {
      if (other.unit.wire === unit.wire) continue;
      if (full(other.unit) && full(unit)) break;
      const shared = { universe, from: span.from, to: Math.min(span.to, other.span.to) };
      report(other.unit, unit, shared);
      report(unit, other.unit, shared);
    }
    if (active.length <= MOST_PER_UNIT * 4) active.push(entry);
  }
  return clashes;
}

/** Highest number a unit can have (`numberSchema`). */
const MOST_NUMBERS = 99_999;

function numbersTwice(units: readonly PatchedUnit[], clashes: Clash[]): void {
  // The place of the first unit with each number, plus one.
  const first = new Uint32Array(MOST_NUMBERS + 1);
  units.forEach((unit, i) => {
    const seen = first[unit.number]!;
    if (seen === 0) {
      first[unit.number] = i + 1;
      return;
    }
    const other = units[seen - 1]!;
    const say = (a: PatchedUnit, b: PatchedUnit): void => {
      const message = `number ${unit.number} is also ${b.name}`;
      clashes.push({ code: 'NUMBER_TWICE', unitId: a.id, otherId: b.id, message });
    };
    say(unit, other);
    say(other, unit);
  });
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
