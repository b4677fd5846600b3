import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { LaneId } from '../ids.ts';
import { areaChain } from '../patch/areas.ts';
import { reached } from '../patch/groups.ts';
import type { LaneRecord } from '../records/lane.ts';

/** Lanes by what they play on, from the whole rig to parts of units: as they stand, and as they lie over one another. */

/** How narrow what a lane plays on is: the whole rig, areas (deeper ones narrower), groups, units, parts. */
export function narrowness(document: Document, { on, lost }: Pick<LaneRecord, 'on' | 'lost'>): number {
  if (lost !== null) return 500;
  if (on === null) return 0;
  if (on.startsWith('area:')) return 100 + areaChain(document, on as `area:${string}`).length;
  return on.startsWith('group:') ? 200 : on.startsWith('unit:') ? 300 : 400;
}

/** A lane in the tree. */
export interface Branch {
  readonly lane: LaneRecord;
  readonly depth: number;
  /** The lane it stands under; null for none. */
  readonly under: LaneId | null;
  /** How many stand under it, at any depth. */
  readonly below: number;
}

/**
 * Lanes as a tree: each under the narrowest other that holds all of what it plays on. Favourites stand above the others, by
 * themselves. The order is the given one.
 */
export function treeOf(document: Document, lanes: readonly LaneRecord[]): Branch[] {
  const favourites = lanes.filter(({ favourite }) => favourite);
  const others = lanes.filter(({ favourite }) => !favourite);
  const held = new Map(others.map((lane) => [lane, unitsOf(document, lane)]));
  const parents = new Map<LaneRecord, LaneRecord>();
  for (const lane of others) {
    const own = held.get(lane)!;
    const width = narrowness(document, lane);
    let best: LaneRecord | null = null;
    for (const other of others) {
      if (other === lane || other.lost !== null || lane.lost !== null) continue;
      const theirs = held.get(other)!;
      const wider =
        narrowness(document, other) < width ||
        (other.on !== null && theirs !== null && own !== null && theirs.size > own.size);
      if (!wider || !holds(theirs, own)) continue;
      if (!best || sizeOf(theirs) < sizeOf(held.get(best)!)) best = other;
    }
    if (best) parents.set(lane, best);
  }
  const children = (of: LaneRecord | null): LaneRecord[] => others.filter((lane) => (parents.get(lane) ?? null) === of);
  const below = (lane: LaneRecord): number => children(lane).reduce((sum, child) => sum + 1 + below(child), 0);
  const found: Branch[] = favourites.map((lane) => ({ lane, depth: 0, under: null, below: 0 }));
  const walk = (of: LaneRecord | null, depth: number): void => {
    for (const lane of children(of)) {
      found.push({ lane, depth, under: of?.id ?? null, below: below(lane) });
      walk(lane, depth + 1);
    }
  };
  walk(null, 0);
  return found;
}

/** Units a lane plays on; null for all. */
function unitsOf(document: Document, { on }: LaneRecord): ReadonlySet<string> | null {
  if (on === null) return null;
  return new Set(reached(document, [on]).map((id) => getRecord(document, 'part', id)?.unitId ?? id));
}
const holds = (whole: ReadonlySet<string> | null, part: ReadonlySet<string> | null): boolean =>
  whole === null || (part !== null && part.size > 0 && [...part].every((id) => whole.has(id)));
const sizeOf = (set: ReadonlySet<string> | null): number => set?.size ?? Infinity;

/** What a lane that lost what it played on may be bound to: what is called the same first. */
export function bindingsFor(
  document: Document,
  lost: string,
): { readonly id: NonNullable<LaneRecord['on']>; readonly name: string; readonly same: boolean }[] {
  const like = (name: string): boolean => name.trim().toLowerCase() === lost.trim().toLowerCase();
  const all = (['group', 'area', 'unit', 'part'] as const).flatMap((kind) =>
    recordsOf(document, kind).map(({ id, name }) => ({ id, name, same: like(name) })),
  );
  return [...all.filter(({ same }) => same), ...all.filter(({ same }) => !same)];
}
