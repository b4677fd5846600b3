import type { PlotSide } from '../records/picture.ts';

/** A place in the room, metres: x stage left, y up-stage, z up; right-handed. */
export interface Place3 {
  readonly x: number;
  readonly y: number;
  readonly z: number;
}
/** A place on the paper of one way of looking, metres: x to the right, y up. */
export interface Point {
  readonly x: number;
  readonly y: number;
}
export type Axis = 'x' | 'y' | 'z';

/**
 * Which axes of the room lie along the paper. The plan is seen from above, `front` from the audience, `side` from stage
 * left: there up-stage is to the right.
 */
export const PAPER_AXES: Readonly<Record<PlotSide, readonly [across: Axis, up: Axis]>> = {
  plan: ['x', 'y'],
  front: ['x', 'z'],
  side: ['y', 'z'],
};

export function toPaper(side: PlotSide, place: Place3): Point {
  const [across, up] = PAPER_AXES[side];
  return { x: place[across], y: place[up] };
}

/** A place moved along the paper; what is not seen from this side stays. */
export function movedOnPaper(side: PlotSide, place: Place3, by: Point): Place3 {
  const [across, up] = PAPER_AXES[side];
  return { ...place, [across]: place[across] + by.x, [up]: place[up] + by.y };
}

/** The axis that a turn on this paper goes about, and whether counter-clockwise on the paper is counter-clockwise about it. */
export const TURN_AXIS: Readonly<Record<PlotSide, { readonly axis: Axis; readonly sign: 1 | -1 }>> = {
  plan: { axis: 'z', sign: 1 },
  // From the audience one looks along +y, so what turns left on the paper turns the other way about y.
  front: { axis: 'y', sign: -1 },
  side: { axis: 'x', sign: 1 },
};

const LIMIT_M = 1000;
/** Whole millimetres within the room's limits (+-1000 m). */
export const tidy = (metres: number): number =>
  Math.min(LIMIT_M, Math.max(-LIMIT_M, Math.round(metres * 1000) / 1000)) + 0;
export const tidyPlace = ({ x, y, z }: Place3): Place3 => ({ x: tidy(x), y: tidy(y), z: tidy(z) });

/** Degrees within -180 (excluded) to 180, to a thousandth. */
export function tidyTurn(deg: number): number {
  const turned = ((((deg + 180) % 360) + 360) % 360) - 180;
  return Math.round((turned === -180 ? 180 : turned) * 1000) / 1000 + 0;
}

/** Smallest and largest coordinates of points; null for none. */
export function bounds(points: Iterable<Point>): { readonly min: Point; readonly max: Point } | null {
  let [x1, y1, x2, y2] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { x, y } of points) {
    x1 = Math.min(x1, x);
    y1 = Math.min(y1, y);
    x2 = Math.max(x2, x);
    y2 = Math.max(y2, y);
  }
  return x1 > x2 ? null : { min: { x: x1, y: y1 }, max: { x: x2, y: y2 } };
}
