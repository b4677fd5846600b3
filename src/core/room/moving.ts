import { tidyPlace, tidyTurn, type Place3 } from '../plot/paper.ts';
import { applied, rotationOf, turnedAbout, type Standing } from '../plot/rotation.ts';
import { acrossOf, cross, dot, minus, plus, times } from '../plot/vector.ts';
import type { UnitRecord } from '../records/index.ts';
import { pointedAt } from './focus.ts';

/**
 * Moving and turning in the room by what a hand points at: a ray from the eye. Along the floor or a wall, up and down, and
 * round three axes: turned about the upright, rolled about the unit's front after its turn, leant about its own across
 * after both.
 */

export interface Ray {
  readonly from: Place3;
  /** Length 1. */
  readonly way: Place3;
}
export const HANDLES = ['floor', 'wall', 'height', 'turn', 'lean', 'roll'] as const;
export type Handle = (typeof HANDLES)[number];
export type TurnHandle = 'turn' | 'lean' | 'roll';
export const isTurn = (handle: Handle): handle is TurnHandle =>
  handle === 'turn' || handle === 'lean' || handle === 'roll';

/** Flatter than this a ray meets a plane nowhere near. */
const FLAT = 0.02;

/** Where a ray meets the plane through a place; null where it goes along it or away from it. */
export function onPlane({ from, way }: Ray, at: Place3, normal: Place3): Place3 | null {
  const speed = dot(way, normal);
  if (Math.abs(speed) < FLAT) return null;
  const far = dot(minus(at, from), normal) / speed;
  return far > 0 ? plus(from, times(way, far)) : null;
}

/** How high the upright through a place is where a ray passes it nearest; null where one looks along it. */
export function heightOn({ from, way }: Ray, at: Place3): number | null {
  const level = Math.hypot(way.x, way.y);
  if (level < FLAT) return null;
  const far = ((at.x - from.x) * way.x + (at.y - from.y) * way.y) / level ** 2;
  return far > 0 ? from.z + way.z * far : null;
}

/** Normal of the wall that one looks at the most: across or deep. */
export const facedWall = ({ way }: Ray): Place3 =>
  Math.abs(way.x) > Math.abs(way.y) ? { x: 1, y: 0, z: 0 } : { x: 0, y: 1, z: 0 };

/** The axis that a handle turns about, as somebody stands now. */
export function axisOf({ rotation }: Pick<Standing, 'rotation'>, handle: TurnHandle): Place3 {
  if (handle === 'turn') return { x: 0, y: 0, z: 1 };
  if (handle === 'roll') return applied(rotationOf({ x: 0, y: 0, z: rotation.z }), { x: 0, y: 1, z: 0 });
  return applied(rotationOf({ x: 0, y: rotation.y, z: rotation.z }), { x: 1, y: 0, z: 0 });
}

/** Two directions at right angles to an axis and to each other, right-handed. */
export function around(axis: Place3): readonly [Place3, Place3] {
  const one = acrossOf(axis);
  return [one, cross(axis, one)];
}

/** Where a ray points round an axis through a place, degrees; null where it looks along the plane of the turn. */
export function angleOn(ray: Ray, at: Place3, axis: Place3): number | null {
  const met = onPlane(ray, at, axis);
  if (!met) return null;
  const [one, other] = around(axis);
  const off = minus(met, at);
  return (Math.atan2(dot(off, other), dot(off, one)) * 180) / Math.PI;
}

/** Turns after a handle was taken round by so many degrees. */
export function turnsBy(turns: Place3, handle: TurnHandle, deg: number): Place3 {
  if (handle === 'turn') return turnedAbout(turns, 'z', deg);
  const axis = handle === 'lean' ? 'x' : 'y';
  return { ...turns, [axis]: tidyTurn(turns[axis] + deg) };
}

/** A move to the nearest lines of a grid, for somebody at a place; those ways it does not move are left alone. */
export function caughtBy(by: Place3, at: Place3, gridM: number): Place3 {
  if (gridM === 0) return by;
  const near = (axis: 'x' | 'y' | 'z'): number =>
    by[axis] === 0 ? 0 : Math.round((at[axis] + by[axis]) / gridM) * gridM - at[axis];
  return { x: near('x'), y: near('y'), z: near('z') };
}

/** All as high as the first. */
export const sameHeight = (units: readonly UnitRecord[]): UnitRecord[] =>
  units.map((unit) => ({ ...unit, position: { ...unit.position, z: units[0]!.position.z } }));

/** At even distances on the straight line from the first to the last, in their order. */
export function evenlyBetween(units: readonly UnitRecord[]): UnitRecord[] {
  const [first, last] = [units[0], units.at(-1)];
  if (!first || !last || units.length < 3) return [];
  const way = minus(last.position, first.position);
  return units.map((unit, i) =>
    unit === first || unit === last
      ? unit
      : { ...unit, position: tidyPlace(plus(first.position, times(way, i / (units.length - 1)))) },
  );
}

/**
 * A unit that looks at a place. Fixed lamps are leant until their light meets it (`pointed`); others keep how they stand
 * or hang and turn their front to it.
 */
export function lookingAt(unit: UnitRecord, target: Place3, pointed: boolean): UnitRecord {
  if (pointed) return { ...unit, rotation: pointedAt(unit, target) };
  const { x, y } = minus(target, unit.position);
  if (Math.hypot(x, y) < 0.001) return unit;
  // One that hangs upside down by a roll has its front where it was; by a lean of half a turn, behind it.
  const behind = Math.abs(tidyTurn(unit.rotation.x)) > 90;
  const z = (Math.atan2(-x, y) * 180) / Math.PI + (behind ? 180 : 0);
  return { ...unit, rotation: { ...unit.rotation, z: tidyTurn(z) } };
}
