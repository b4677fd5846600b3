import type { UnitId } from '../ids.ts';
import { MAX_UNIVERSE } from '../units.ts';
import { formatSpan, type SlotsPerUniverse, type Span } from './address.ts';

/** A unit as the patch sees it. */
export interface PatchedUnit {
  readonly id: UnitId;
  readonly number: number;
  readonly name: string;
  readonly spans: readonly Span[];
  readonly slotsPerUniverse: SlotsPerUniverse;
}

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
  | { readonly code: 'NO_ADDRESS'; readonly unitId: UnitId; readonly message: string };

interface Occupied extends Span {
  readonly unit: PatchedUnit;
}

const label = (unit: PatchedUnit): string => `${unit.number} ${unit.name}`;

/** Most clashes listed for one unit: a unit laid over hundreds of others says so without a page of text. */
const MOST_PER_UNIT = 8;

/**
 * All clashes of a patch, in both directions (each of two overlapping units names the other). Sorts the spans and
 * sweeps: O(n log n) in the number of units, plus the overlaps that are reported.
 */
export function findClashes(units: readonly PatchedUnit[]): Clash[] {
  const clashes: Clash[] = [];
  const spans: Occupied[] = [];
  for (const unit of units) {
    if (unit.spans.length === 0) {
      clashes.push({ code: 'NO_ADDRESS', unitId: unit.id, message: `${label(unit)} has no address yet` });
      continue;
    }
    for (const span of unit.spans) spans.push({ ...span, unit });
    const last = unit.spans.at(-1)!;
    const by = last.to - unit.slotsPerUniverse;
    if (by > 0) {
      const message = `runs ${by} ${by === 1 ? 'slot' : 'slots'} past the end of universe ${last.universe} (${unit.slotsPerUniverse})`;
      clashes.push({ code: 'OVERRUN', unitId: unit.id, by, message });
    } else if (last.universe > MAX_UNIVERSE) {
      clashes.push({
        code: 'OVERRUN',
        unitId: unit.id,
        by: last.to,
        message: `runs past the last universe (${MAX_UNIVERSE})`,
      });
    }
  }
  overlaps(spans, clashes);
  numbersTwice(units, clashes);
  return clashes;
}

function overlaps(spans: Occupied[], clashes: Clash[]): void {
  spans.sort((a, b) => a.universe - b.universe || a.from - b.from);
  const listed = new Map<UnitId, number>();
  const report = (a: Occupied, b: Occupied, span: Span): void => {
    const count = listed.get(a.unit.id) ?? 0;
    if (count >= MOST_PER_UNIT) return;
    listed.set(a.unit.id, count + 1);
    const shared = span.to - span.from + 1;
    const message = `shares ${shared} ${shared === 1 ? 'slot' : 'slots'} (${formatSpan(span)}) with ${label(b.unit)}`;
    clashes.push({ code: 'OVERLAP', unitId: a.unit.id, otherId: b.unit.id, span, message });
  };
  let active: Occupied[] = [];
  for (const span of spans) {
    active = active.filter((a) => a.universe === span.universe && a.to >= span.from);
    for (const other of active) {
      if ((listed.get(other.unit.id) ?? 0) >= MOST_PER_UNIT && (listed.get(span.unit.id) ?? 0) >= MOST_PER_UNIT) break;
      const shared = { universe: span.universe, from: span.from, to: Math.min(span.to, other.to) };
      report(other, span, shared);
      report(span, other, shared);
    }
    if (active.length <= MOST_PER_UNIT * 4) active.push(span);
  }
}

function numbersTwice(units: readonly PatchedUnit[], clashes: Clash[]): void {
  const first = new Map<number, PatchedUnit>();
  for (const unit of units) {
    const other = first.get(unit.number);
    if (!other) first.set(unit.number, unit);
    else {
      clashes.push({
        code: 'NUMBER_TWICE',
        unitId: unit.id,
        otherId: other.id,
        message: `number ${unit.number} is also ${other.name}`,
      });
      clashes.push({
        code: 'NUMBER_TWICE',
        unitId: other.id,
        otherId: unit.id,
        message: `number ${unit.number} is also ${unit.name}`,
      });
    }
  }
}

/** Which slots of each universe are taken, merged and sorted. */
export function takenSpans(units: readonly PatchedUnit[]): Map<number, { from: number; to: number }[]> {
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

/**
 * The lowest free place for each of `count` footprints in a row, from `start` on: a gap is used when it takes the
 * whole footprint, a universe that is full is left for the next. Returns fewer than `count` only at universe 63999.
 */
export function nextFree(
  units: readonly PatchedUnit[],
  footprint: number,
  count: number,
  options: {
    start?: { universe: number; address: number };
    slotsPerUniverse: (universe: number) => SlotsPerUniverse;
    gap?: number;
  },
): { universe: number; address: number }[] {
  const taken = takenSpans(units);
  const places: { universe: number; address: number }[] = [];
  let { universe, address } = options.start ?? { universe: 1, address: 1 };
  const gap = options.gap ?? 0;
  while (places.length < count && universe <= MAX_UNIVERSE) {
    const slots = options.slotsPerUniverse(universe);
    const blocker = taken.get(universe)?.find((s) => s.to >= address && s.from <= address + footprint - 1);
    if (address + footprint - 1 > slots) {
      if (footprint > slots) return places;
      universe++;
      address = 1;
    } else if (blocker) address = blocker.to + 1;
    else {
      places.push({ universe, address });
      address += footprint + gap;
    }
  }
  return places;
}
