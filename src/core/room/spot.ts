import { recordsOf, type Document } from '../document/change.ts';
import type { Place3 } from '../plot/paper.ts';
import { roomOf } from '../plot/room-of.ts';
import { applied, inOwn, rotationOf, transposed } from '../plot/rotation.ts';
import type { ThingRecord } from '../records/index.ts';
import type { ThingShape } from '../records/thing.ts';
import { along, hitOf, type Face } from './box.ts';

/** Where a ray meets what is in a room: a face of it, or a thing that stands nearer. */
export interface Spot {
  readonly place: Place3;
  readonly distanceM: number;
  readonly on: Face | ThingRecord;
}

/** What light goes past, lies flat or walks away: nobody points a lamp at it. */
const OPEN: ReadonlySet<ThingShape> = new Set(['truss', 'stand', 'marker', 'person']);

/** How far a ray goes before it meets a thing's box from outside, metres; null where it does not. */
export function distanceTo(thing: ThingRecord, from: Place3, direction: Place3): number | null {
  const at = inOwn(thing, from);
  const way = applied(transposed(rotationOf(thing.rotation)), direction);
  const { widthM, depthM, heightM } = thing.size;
  const sides = [
    [at.x, way.x, -widthM / 2, widthM / 2],
    [at.y, way.y, -depthM / 2, depthM / 2],
    [at.z, way.z, 0, heightM],
  ] as const;
  let [enters, leaves] = [-Infinity, Infinity];
  for (const [p, d, low, high] of sides) {
    if (Math.abs(d) < 1e-12) {
      if (p < low || p > high) return null;
      continue;
    }
    const [a, b] = [(low - p) / d, (high - p) / d];
    enters = Math.max(enters, Math.min(a, b));
    leaves = Math.min(leaves, Math.max(a, b));
  }
  return enters > 0 && enters <= leaves ? enters : null;
}

/** What a ray from a place meets first; null where that is nothing. */
export function spotOf(document: Document, from: Place3, direction: Place3): Spot | null {
  const hit = hitOf(roomOf(document), from, direction);
  let best: { distanceM: number; on: Face | ThingRecord } | null =
    hit.face === null ? null : { distanceM: hit.distanceM, on: hit.face };
  for (const thing of recordsOf(document, 'thing')) {
    if (OPEN.has(thing.shape)) continue;
    const distanceM = distanceTo(thing, from, direction);
    if (distanceM !== null && (!best || distanceM < best.distanceM)) best = { distanceM, on: thing };
  }
  return best && { ...best, place: along(from, direction, best.distanceM) };
}
