import type { Place3 } from './paper.ts';

/** Sums of places and directions of the room. */
export const plus = (a: Place3, b: Place3): Place3 => ({ x: a.x + b.x, y: a.y + b.y, z: a.z + b.z });
export const minus = (a: Place3, b: Place3): Place3 => ({ x: a.x - b.x, y: a.y - b.y, z: a.z - b.z });
export const times = (a: Place3, by: number): Place3 => ({ x: a.x * by, y: a.y * by, z: a.z * by });
export const lengthOf = ({ x, y, z }: Place3): number => Math.hypot(x, y, z);
export const dot = (a: Place3, b: Place3): number => a.x * b.x + a.y * b.y + a.z * b.z;
/** At right angles to both, right-handed. */
export const cross = (a: Place3, b: Place3): Place3 => ({
  x: a.y * b.z - a.z * b.y,
  y: a.z * b.x - a.x * b.z,
  z: a.x * b.y - a.y * b.x,
});
/** A direction at right angles to another (both of length 1). */
export function acrossOf(way: Place3): Place3 {
  const side = cross(way, Math.abs(way.z) < 0.9 ? { x: 0, y: 0, z: 1 } : { x: 1, y: 0, z: 0 });
  return times(side, 1 / lengthOf(side));
}
/** True where two are the very same, number by number. */
export const isSame = (a: Place3, b: Place3): boolean => a.x === b.x && a.y === b.y && a.z === b.z;
