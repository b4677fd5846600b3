import type { UnitId } from '../ids.ts';
import type { Point } from './paper.ts';
import { contains } from '../polygon.ts';

/** A unit and its middle on the paper. */
export interface Spotted extends Point {
  readonly id: UnitId;
}

/** How much farther than its nearest neighbour a unit may be and still stand next to one. */
const NEXT = 1.6;

/**
 * Units that stand next to chosen ones: no more than 1.6 times as far away as the nearest unit of all. O(chosen x all).
 */
export function nextTo(all: readonly Spotted[], chosen: ReadonlySet<UnitId>): UnitId[] {
  const found = new Set<UnitId>();
  for (const one of all) {
    if (!chosen.has(one.id)) continue;
    const reach = nearestDistance(all, one) * NEXT;
    for (const other of all)
      if (!chosen.has(other.id) && Math.hypot(other.x - one.x, other.y - one.y) <= reach) found.add(other.id);
  }
  return all.flatMap((u) => (found.has(u.id) ? [u.id] : []));
}

/** Chosen units less those that stand next to one that is not chosen: the rim goes. */
export function shrunk(all: readonly Spotted[], chosen: ReadonlySet<UnitId>): UnitId[] {
  const others = all.filter((u) => !chosen.has(u.id));
  return all.flatMap((one) => {
    if (!chosen.has(one.id)) return [];
    const reach = nearestDistance(all, one) * NEXT;
    return others.some((o) => Math.hypot(o.x - one.x, o.y - one.y) <= reach) ? [] : [one.id];
  });
}

function nearestDistance(all: readonly Spotted[], one: Spotted): number {
  let least = Infinity;
  for (const other of all) {
    const distance = Math.hypot(other.x - one.x, other.y - one.y);
    if (other.id !== one.id && distance < least) least = distance;
  }
  return least === Infinity ? 0 : least;
}

/** Every `n`th of a list, beginning with the `from`th (from 1). */
export const everyNth = <T>(list: readonly T[], n: number, from = 1): T[] =>
  list.filter((_, i) => i + 1 >= from && (i + 1 - from) % n === 0);

/** Units whose middle lies inside a drawn loop. */
export const inLoop = (all: readonly Spotted[], loop: readonly Point[]): UnitId[] =>
  loop.length < 3 ? [] : all.flatMap((u) => (contains(loop, u) ? [u.id] : []));

/** Units whose middle lies in a box between two corners. */
export function inBox(all: readonly Spotted[], a: Point, b: Point): UnitId[] {
  const [x1, x2] = [Math.min(a.x, b.x), Math.max(a.x, b.x)];
  const [y1, y2] = [Math.min(a.y, b.y), Math.max(a.y, b.y)];
  return all.flatMap((u) => (u.x >= x1 && u.x <= x2 && u.y >= y1 && u.y <= y2 ? [u.id] : []));
}
