import type { Place3 } from '../plot/paper.ts';
import { lengthOf, minus, plus, times } from '../plot/vector.ts';
import type { RoomBox } from './box.ts';

/** From where one looks, and at what, metres. */
export interface Viewpoint {
  readonly eye: Place3;
  readonly target: Place3;
}

export const VIEWPOINTS = ['audience', 'front', 'side', 'above', 'booth'] as const;
export type ViewpointKey = (typeof VIEWPOINTS)[number];

/** Half of the angle that is seen from top to bottom, radians. */
export const HALF_SIGHT = (25 * Math.PI) / 180;
/** How high the eyes of somebody who stands are, metres. */
const EYES_M = 1.7;

/**
 * The ready viewpoints of a room: from among the audience, straight from the front, from stage left, from above, and from
 * the booth: one that stands in the room at `booth`, else one at the back of the hall. From far enough away that the room
 * is in sight.
 */
export function viewpointOf(
  key: ViewpointKey,
  { widthM, depthM, heightM }: RoomBox,
  aspect = 1.6,
  booth: Place3 | null = null,
): Viewpoint {
  const middle = { x: 0, y: 0, z: heightM * 0.4 };
  const away = (across: number, up: number): number =>
    Math.max(up / 2 / Math.tan(HALF_SIGHT), across / 2 / Math.tan(HALF_SIGHT) / aspect) * 1.1;
  switch (key) {
    case 'audience':
      return {
        eye: { x: widthM * 0.12, y: -depthM / 2 - away(widthM, heightM) * 0.55, z: Math.max(EYES_M, heightM * 0.8) },
        target: middle,
      };
    case 'front':
      return {
        eye: { x: 0, y: -depthM / 2 - away(widthM, heightM), z: heightM / 2 },
        target: { x: 0, y: 0, z: heightM / 2 },
      };
    case 'side':
      return {
        eye: { x: widthM / 2 + away(depthM, heightM), y: 0, z: heightM / 2 },
        target: { x: 0, y: 0, z: heightM / 2 },
      };
    case 'above':
      // A hair to the front, so that up-stage is at the top.
      return { eye: { x: 0, y: -0.01, z: heightM + away(widthM, depthM) }, target: { x: 0, y: 0, z: 0 } };
    case 'booth':
      return booth
        ? { eye: { ...booth, z: booth.z + EYES_M }, target: middle }
        : { eye: { x: 0, y: -depthM / 2 + 0.6, z: EYES_M }, target: { x: 0, y: depthM / 2, z: heightM * 0.4 } };
  }
}

/** The same way of looking, from so far away that all the points are in sight; null for none. */
export function looking(from: Viewpoint, points: readonly Place3[], aspect = 1.6): Viewpoint | null {
  if (points.length === 0) return null;
  const low = { x: Infinity, y: Infinity, z: Infinity };
  const high = { x: -Infinity, y: -Infinity, z: -Infinity };
  for (const point of points)
    for (const axis of ['x', 'y', 'z'] as const) {
      low[axis] = Math.min(low[axis], point[axis]);
      high[axis] = Math.max(high[axis], point[axis]);
    }
  const target = times(plus(low, high), 0.5);
  const radius = Math.max(1, lengthOf(minus(high, low)) / 2);
  const back = minus(from.eye, from.target);
  const far = radius / Math.sin(HALF_SIGHT) / Math.min(1, aspect) / (lengthOf(back) || 1);
  return { target, eye: plus(target, times(back, far)) };
}

/** Nearer to straight above than this nobody looks, radians: there is no way round from there. */
const STEEPEST = 1.55;
/** How far one step of sliding goes, of the distance to what is looked at. */
const SLIDE = 0.06;

/** Round what is looked at by so many radians, and over it. */
export function orbited({ eye, target }: Viewpoint, around: number, over: number): Viewpoint {
  const back = minus(eye, target);
  const far = lengthOf(back);
  const yaw = Math.atan2(back.y, back.x) + around;
  const pitch = Math.min(STEEPEST, Math.max(-STEEPEST, Math.asin(back.z / far) + over));
  const way = { x: Math.cos(pitch) * Math.cos(yaw), y: Math.cos(pitch) * Math.sin(yaw), z: Math.sin(pitch) };
  return { target, eye: plus(target, times(way, far)) };
}

/** To the side and up by steps, looking the same way. */
export function slid({ eye, target }: Viewpoint, across: number, up: number): Viewpoint {
  const back = minus(eye, target);
  const yaw = Math.atan2(back.y, back.x);
  const by = times({ x: -Math.sin(yaw) * across, y: Math.cos(yaw) * across, z: up }, lengthOf(back) * SLIDE);
  return { eye: plus(eye, by), target: plus(target, by) };
}

/** At so many times the distance. */
export const approached = ({ eye, target }: Viewpoint, by: number): Viewpoint => ({
  target,
  eye: plus(target, times(minus(eye, target), by)),
});
