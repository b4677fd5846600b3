import type { PlotSide } from '../records/picture.ts';
import { minus, plus } from './vector.ts';
import { PAPER_AXES, tidyTurn, TURN_AXIS, type Axis, type Place3 } from './paper.ts';

/**
 * A rotation as a row-major 3 x 3 matrix: what it makes of a place in a unit's own frame stands in the room. Turns are put
 * together here, because turns about x, y and z cannot be added once there is more than one of them.
 */
export type Rotation = Float64Array;

const RAD = Math.PI / 180;
const X: Readonly<Record<Axis, 0 | 1 | 2>> = { x: 0, y: 1, z: 2 };

/** Turns about x, then y, then z, in degrees, as records keep them. */
export function rotationOf({ x, y, z }: Place3): Rotation {
  const [sx, cx] = [Math.sin(x * RAD), Math.cos(x * RAD)];
  const [sy, cy] = [Math.sin(y * RAD), Math.cos(y * RAD)];
  const [sz, cz] = [Math.sin(z * RAD), Math.cos(z * RAD)];
  return Float64Array.of(
    cz * cy,
    cz * sy * sx - sz * cx,
    cz * sy * cx + sz * sx,
    sz * cy,
    sz * sy * sx + cz * cx,
    sz * sy * cx - cz * sx,
    -sy,
    cy * sx,
    cy * cx,
  );
}

/**
 * Nearer to straight up or down than this (radians), turns about x and z are one and the same: that about z stays as it
 * was. Well above what rounding leaves of nothing.
 */
const UPRIGHT = 1e-7;

/**
 * The turns about x, then y, then z that make a rotation, in degrees to a thousandth. Of the two ways there are to say
 * it, the one nearer to the turns in `before`.
 */
export function turnsOf(r: Rotation, before: Place3 = LEVEL): Place3 {
  const level = Math.hypot(r[0]!, r[3]!);
  const y = Math.atan2(-r[6]!, level);
  const upright = level < UPRIGHT;
  const z = upright ? before.z * RAD : Math.atan2(r[3]!, r[0]!);
  const x = upright ? Math.atan2(-r[5]!, r[4]!) + (y > 0 ? z : -z) : Math.atan2(r[7]!, r[8]!);
  const one = { x: tidyTurn(x / RAD), y: tidyTurn(y / RAD), z: tidyTurn(z / RAD) };
  const other = { x: tidyTurn(one.x + 180), y: tidyTurn(180 - one.y), z: tidyTurn(one.z + 180) };
  return away(other, before) < away(one, before) ? other : one;
}

const LEVEL: Place3 = { x: 0, y: 0, z: 0 };
const away = (one: Place3, other: Place3): number =>
  (['x', 'y', 'z'] as const).reduce((sum, axis) => sum + Math.abs(tidyTurn(one[axis] - other[axis])), 0);

/** First `second`, then `first` about the axes of the room. */
export function product(first: Rotation, second: Rotation): Rotation {
  const into = new Float64Array(9);
  for (let row = 0; row < 3; row++)
    for (let column = 0; column < 3; column++)
      for (let k = 0; k < 3; k++)
        into[row * 3 + column] = into[row * 3 + column]! + first[row * 3 + k]! * second[k * 3 + column]!;
  return into;
}

/** The rotation that takes another back. */
export const transposed = (r: Rotation): Rotation =>
  Float64Array.of(r[0]!, r[3]!, r[6]!, r[1]!, r[4]!, r[7]!, r[2]!, r[5]!, r[8]!);

/** What a rotation makes of a place. */
export const applied = (r: Rotation, { x, y, z }: Place3): Place3 => ({
  x: r[0]! * x + r[1]! * y + r[2]! * z,
  y: r[3]! * x + r[4]! * y + r[5]! * z,
  z: r[6]! * x + r[7]! * y + r[8]! * z,
});

/** A unit's turns when it is turned on by `deg` about an axis of the room (right-handed). */
export function turnedAbout(turns: Place3, axis: Axis, deg: number): Place3 {
  const others = (['x', 'y', 'z'] as const).filter((one) => one !== axis);
  // The turn about z comes last, and one turn alone is the last too: those can be added to.
  if (axis === 'z' || others.every((other) => turns[other] === 0))
    return { ...turns, [axis]: tidyTurn(turns[axis] + deg) };
  return turnsOf(product(rotationOf({ ...LEVEL, [axis]: deg }), rotationOf(turns)), turns);
}

/**
 * A unit's turns seen in a mirror that stands across `axis` of the room. The unit itself is not made inside out: it is
 * mirrored at the middle of its own `own` axis once more.
 */
export function mirroredAcross(turns: Place3, axis: Axis, own: Axis): Place3 {
  const r = rotationOf(turns);
  for (let i = 0; i < 3; i++) {
    r[X[axis] * 3 + i] = -r[X[axis] * 3 + i]!;
    r[i * 3 + X[own]] = -r[i * 3 + X[own]]!;
  }
  return turnsOf(r, turns);
}

/** How far a unit is turned as seen on a paper, degrees counter-clockwise. */
export function turnOnPaper(side: PlotSide, turns: Place3): number {
  const { axis, sign } = TURN_AXIS[side];
  const own = turns[axis] * sign;
  // From above the turn about z comes last, so it is what is seen; alone, any turn is.
  if (side === 'plan' || (['x', 'y', 'z'] as const).every((other) => other === axis || turns[other] === 0)) return own;
  const [across, up] = PAPER_AXES[side].map((one) => X[one]) as [number, number];
  const r = rotationOf(turns);
  const [right, high] = [r[across * 3 + across]!, r[up * 3 + across]!];
  return Math.hypot(right, high) < 1e-6 ? own : tidyTurn(Math.atan2(high, right) / RAD);
}

/** What stands somewhere in the room, turned somehow: a unit, a thing. */
export interface Standing {
  readonly position: Place3;
  readonly rotation: Place3;
}

/** A point of its own frame in the room. */
export const inRoom = ({ position, rotation }: Standing, own: Place3): Place3 =>
  plus(position, applied(rotationOf(rotation), own));

/** A place of the room in its own frame. */
export const inOwn = ({ position, rotation }: Standing, place: Place3): Place3 =>
  applied(transposed(rotationOf(rotation)), minus(place, position));
