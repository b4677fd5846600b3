import { ownDirection, type Joint } from '../plot/beam.ts';
import type { Place3 } from '../plot/paper.ts';
import { applied, rotationOf, transposed } from '../plot/rotation.ts';
import { dot, lengthOf, minus, times } from '../plot/vector.ts';

/**
 * From a place to pan and tilt. A head's beam leaves along its own axis (z) in the middle of both ranges; tilted up it
 * leans to its front (y), panned up it turns counter-clockwise about the axis. A mirror scanner's leaves along its axis too;
 * pan swings it about the front, tilt leans it to the front (`plot/beam.ts` has both the other way round).
 */
/** What an axis can do, degrees from the middle of its range: lowest and highest; the same twice where it cannot move. */
export type Travel = readonly [from: number, to: number];

/** How a unit moves its beam, and how far. */
export interface Movable {
  readonly joint: Joint;
  readonly pan: Travel;
  readonly tilt: Travel;
}

export interface Solved {
  /** Degrees from the middle of the range. */
  readonly pan: number;
  readonly tilt: number;
  /** The head is turned round and leans to its back: of its two ways there, not the one in front. */
  readonly flipped: boolean;
  /** How far the beam misses, degrees; 0 where it meets. */
  readonly missDeg: number;
}

const DEG = 180 / Math.PI;
/** Nearer than this to its axis a head meets a place with any pan. */
const UPRIGHT = 1e-9;
/** A place that is nearer than this to a head is at it, metres. */
const AT_M = 1e-6;
/** A miss smaller than this is rounding, degrees. */
const EXACT_DEG = 1e-6;

/** Pan and tilt that a head could stand at. */
export interface Found {
  readonly pan: number;
  readonly tilt: number;
  readonly flipped: boolean;
}

/** The two ways to a direction, without full turns. */
function waysTo(joint: Joint, { x, y, z }: Place3): Found[] {
  if (joint === 'head') {
    const flat = Math.hypot(x, y);
    const tilt = Math.atan2(flat, z) * DEG;
    // Straight up or down any pan will do: it stays at its front.
    const pan = flat < UPRIGHT ? 0 : Math.atan2(-x, y) * DEG;
    return [
      { pan, tilt, flipped: false },
      { pan: pan + 180, tilt: -tilt, flipped: true },
    ];
  }
  const flat = Math.hypot(x, z);
  const tilt = Math.atan2(y, flat) * DEG;
  const pan = flat < UPRIGHT ? 0 : Math.atan2(x, z) * DEG;
  return [
    { pan, tilt, flipped: false },
    { pan: pan + 180, tilt: 180 - tilt, flipped: true },
  ];
}

/** An angle with full turns added, as often as it lies within a travel. */
function within(deg: number, [from, to]: Travel): number[] {
  const found: number[] = [];
  // A hair beyond the end is rounding.
  for (let at = deg - 360 * Math.floor((deg - from + 1e-9) / 360); at <= to + 1e-9; at += 360)
    found.push(Math.min(to, Math.max(from, at)));
  return found;
}

/** The angle within a travel that is nearest to one, full turns counted. */
function nearest(deg: number, travel: Travel): number {
  const inside = within(deg, travel);
  if (inside.length > 0) return inside.reduce((a, b) => (Math.abs(b) < Math.abs(a) ? b : a));
  const away = (end: number): number => Math.abs(((((deg - end) % 360) + 540) % 360) - 180);
  return away(travel[0]) <= away(travel[1]) ? travel[0] : travel[1];
}

/** Farther from the forward posture: pan counts, and a lean to the back a little. */
const posture = ({ pan, flipped }: Found): number => Math.abs(pan) + (flipped ? 0.01 : 0);

/**
 * Pan and tilt that bring the beam to a direction of the unit's own frame (length 1). Of all that meet it the one nearest
 * to the forward posture; where none does, the nearest there is, with how far it misses.
 */
export function solveOwn(axes: Movable, way: Place3): Solved {
  const best = waysWithin(axes, way).reduce<Found | null>((a, b) => (a && posture(a) <= posture(b) ? a : b), null);
  return best ? { ...best, missDeg: 0 } : nearestTo(axes, way);
}

/** Everything that meets a direction of the unit's own frame (length 1), full turns counted; empty where nothing does. */
export const waysWithin = ({ joint, pan, tilt }: Movable, way: Place3): Found[] =>
  waysTo(joint, way).flatMap((found) =>
    within(found.pan, pan).flatMap((p) => within(found.tilt, tilt).map((t) => ({ ...found, pan: p, tilt: t }))),
  );

/** What lies nearest on the edge of what can be reached: one axis at an end, the other where it helps most. */
export function nearestTo({ joint, pan, tilt }: Movable, way: Place3): Solved {
  const candidates: Found[] = [];
  for (const p of new Set(pan)) {
    // With pan held the beam goes round in a plane: one angle is nearest.
    const side = ownDirection(joint, p, joint === 'head' ? 90 : 0);
    const along = joint === 'head' ? { x: 0, y: 0, z: 1 } : { x: 0, y: 1, z: 0 };
    const [a, b] = [dot(way, side), dot(way, along)];
    const t = (joint === 'head' ? Math.atan2(a, b) : Math.atan2(b, a)) * DEG;
    for (const at of [nearest(t, tilt), ...tilt])
      candidates.push({ pan: p, tilt: at, flipped: joint === 'head' && at < 0 });
  }
  for (const t of new Set(tilt)) {
    const level = joint === 'head' ? Math.atan2(-way.x, way.y) * DEG : Math.atan2(way.x, way.z) * DEG;
    const back = joint === 'head' ? t < 0 : Math.abs(t) > 90;
    for (const at of [nearest(back ? level + 180 : level, pan), ...pan])
      candidates.push({ pan: at, tilt: t, flipped: joint === 'head' && t < 0 });
  }
  const missed = candidates.map((found) => ({ ...found, missDeg: missOf(joint, found, way) }));
  return missed.reduce((a, b) =>
    b.missDeg < a.missDeg - 1e-9 || (b.missDeg < a.missDeg + 1e-9 && posture(b) < posture(a)) ? b : a,
  );
}

function missOf(joint: Joint, { pan, tilt }: Found, way: Place3): number {
  const own = ownDirection(joint, pan, tilt);
  // By the chord: right near nothing, where a cosine is not.
  const chord = lengthOf(minus(own, way));
  const deg = 2 * Math.asin(Math.min(1, chord / 2)) * DEG;
  return deg < EXACT_DEG ? 0 : deg;
}

/**
 * Pan and tilt of a unit for a place in the room, metres. Null where the place is at the unit itself: there is no
 * direction.
 */
export function solve(
  axes: Movable,
  unit: { readonly position: Place3; readonly rotation: Place3 },
  target: Place3,
): Solved | null {
  const way = wayTo(unit, target);
  return way && solveOwn(axes, way);
}

/** The direction of a place in a unit's own frame (length 1); null where the place is at the unit itself. */
export function wayTo(unit: { readonly position: Place3; readonly rotation: Place3 }, target: Place3): Place3 | null {
  const apart = minus(target, unit.position);
  const far = lengthOf(apart);
  if (!(far > AT_M)) return null;
  return applied(transposed(rotationOf(unit.rotation)), times(apart, 1 / far));
}
