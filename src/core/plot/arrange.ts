import type { UnitRecord } from '../records/index.ts';
import type { PlotSide } from '../records/picture.ts';
import { bodyMiddle, turned, type Body } from './body.ts';
import { bounds, movedOnPaper, PAPER_AXES, tidyPlace, TURN_AXIS, type Point } from './paper.ts';
import { mirroredAcross, turnedAbout, turnOnPaper } from './rotation.ts';

export type Edge = 'left' | 'right' | 'top' | 'bottom' | 'across' | 'up';

const moved = (side: PlotSide, { unit }: Body, by: Point): UnitRecord => ({
  ...unit,
  position: tidyPlace(movedOnPaper(side, unit.position, by)),
});

/** Units whose edges (or middles: `across`, `up`) stand in line. What covers most decides where that is. */
export function align(side: PlotSide, bodies: readonly Body[], edge: Edge): UnitRecord[] {
  const all = bounds(bodies.flatMap((b) => [b.box.min, b.box.max]));
  if (!all) return [];
  const middle = { x: (all.min.x + all.max.x) / 2, y: (all.min.y + all.max.y) / 2 };
  return bodies.map((body) => {
    const { min, max } = body.box;
    const own = bodyMiddle(body);
    switch (edge) {
      case 'left':
        return moved(side, body, { x: all.min.x - min.x, y: 0 });
      case 'right':
        return moved(side, body, { x: all.max.x - max.x, y: 0 });
      case 'top':
        return moved(side, body, { x: 0, y: all.max.y - max.y });
      case 'bottom':
        return moved(side, body, { x: 0, y: all.min.y - min.y });
      case 'across':
        return moved(side, body, { x: middle.x - own.x, y: 0 });
      case 'up':
        return moved(side, body, { x: 0, y: middle.y - own.y });
    }
  });
}

/** Units whose middles are at even distances between the first and the last along one way of the paper. */
export function distribute(side: PlotSide, bodies: readonly Body[], along: 'x' | 'y'): UnitRecord[] {
  const sorted = [...bodies].sort(
    (a, b) => bodyMiddle(a)[along] - bodyMiddle(b)[along] || a.unit.number - b.unit.number,
  );
  if (sorted.length < 3) return [];
  const from = bodyMiddle(sorted[0]!)[along];
  const step = (bodyMiddle(sorted.at(-1)!)[along] - from) / (sorted.length - 1);
  return sorted.map((body, i) => moved(side, body, { x: 0, y: 0, [along]: from + step * i - bodyMiddle(body)[along] }));
}

/** Units mirrored at a line of the paper: `x` at an upright one, `y` at a level one. Shapes of props stay as they are. */
export function mirror(side: PlotSide, bodies: readonly Body[], along: 'x' | 'y', at: number): UnitRecord[] {
  const [across, up] = PAPER_AXES[side];
  return bodies.map((body) => {
    const here = body.at[along];
    return {
      ...moved(side, body, { x: 0, y: 0, [along]: 2 * (at - here) }),
      rotation: mirroredAcross(body.unit.rotation, along === 'x' ? across : up, across),
    };
  });
}

/** Units turned together about a point of the paper, counter-clockwise. */
export function rotate(side: PlotSide, bodies: readonly Body[], about: Point, deg: number): UnitRecord[] {
  const { axis, sign } = TURN_AXIS[side];
  return bodies.map((body) => {
    const to = turned({ x: body.at.x - about.x, y: body.at.y - about.y }, deg);
    return {
      ...moved(side, body, { x: about.x + to.x - body.at.x, y: about.y + to.y - body.at.y }),
      rotation: turnedAbout(body.unit.rotation, axis, deg * sign),
    };
  });
}

/** Places for a number of units in a pattern on the paper, with the turn of each (degrees counter-clockwise). */
export interface Spot extends Point {
  readonly turnDeg: number;
}

export type Pattern =
  | { readonly pattern: 'line'; readonly from: Point; readonly step: Point; readonly count: number }
  | { readonly pattern: 'between'; readonly from: Point; readonly to: Point; readonly count: number }
  | {
      readonly pattern: 'rectangle';
      readonly from: Point;
      readonly columns: number;
      readonly rows: number;
      readonly dx: number;
      readonly dy: number;
    }
  | {
      readonly pattern: 'circle';
      readonly centre: Point;
      readonly radius: number;
      readonly count: number;
      readonly startDeg: number;
      readonly sweepDeg: number;
      /** Whether units turn their front to the middle. */
      readonly face: boolean;
    }
  | { readonly pattern: 'path'; readonly points: readonly Point[]; readonly count: number };

/** The places of a pattern in the order it is made. Linear in the places. */
export function spotsOf(pattern: Pattern): Spot[] {
  switch (pattern.pattern) {
    case 'line':
      return times(pattern.count, (i) => ({
        x: pattern.from.x + pattern.step.x * i,
        y: pattern.from.y + pattern.step.y * i,
        turnDeg: 0,
      }));
    case 'between':
      return alongPath([pattern.from, pattern.to], pattern.count);
    case 'rectangle':
      return times(pattern.columns * pattern.rows, (i) => ({
        x: pattern.from.x + (i % pattern.columns) * pattern.dx,
        y: pattern.from.y - Math.floor(i / pattern.columns) * pattern.dy,
        turnDeg: 0,
      }));
    case 'circle': {
      const whole = Math.abs(pattern.sweepDeg) >= 360;
      const step = pattern.count === 1 ? 0 : pattern.sweepDeg / (whole ? pattern.count : pattern.count - 1);
      return times(pattern.count, (i) => {
        const deg = pattern.startDeg + step * i;
        const at = turned({ x: pattern.radius, y: 0 }, deg);
        return { x: pattern.centre.x + at.x, y: pattern.centre.y + at.y, turnDeg: pattern.face ? deg + 90 : 0 };
      });
    }
    case 'path':
      return alongPath(pattern.points, pattern.count);
  }
}

const times = (count: number, spot: (i: number) => Spot): Spot[] => Array.from({ length: count }, (_, i) => spot(i));

/** Even distances along a path, ends included; a single one stands in the middle. */
function alongPath(points: readonly Point[], count: number): Spot[] {
  const lengths = points.slice(1).map((p, i) => Math.hypot(p.x - points[i]!.x, p.y - points[i]!.y));
  const total = lengths.reduce((sum, length) => sum + length, 0);
  let piece = 0;
  let before = 0;
  return times(count, (i) => {
    const at = count === 1 ? total / 2 : (total * i) / (count - 1);
    while (piece < lengths.length - 1 && before + lengths[piece]! < at) before += lengths[piece++]!;
    const [a, b] = [points[piece]!, points[piece + 1] ?? points[piece]!];
    const t = lengths[piece] ? Math.min(1, (at - before) / lengths[piece]!) : 0;
    return { x: a.x + (b.x - a.x) * t, y: a.y + (b.y - a.y) * t, turnDeg: 0 };
  });
}

export const NUMBERING = ['forward', 'backward', 'zigzag', 'middle'] as const;
export type Numbering = (typeof NUMBERING)[number];

/**
 * The same places in the order in which they are numbered. `zigzag` turns every second row of `columns`; `middle`
 * begins with the one in the middle and goes out to both sides, left first.
 */
export function numbered(spots: readonly Spot[], order: Numbering, columns = spots.length): Spot[] {
  switch (order) {
    case 'forward':
      return [...spots];
    case 'backward':
      return [...spots].reverse();
    case 'zigzag':
      return spots.map((_, i) => {
        const row = Math.floor(i / columns);
        const width = Math.min(columns, spots.length - row * columns);
        return spots[row % 2 === 0 ? i : row * columns + (width - 1 - (i % columns))]!;
      });
    case 'middle': {
      const middle = (spots.length - 1) / 2;
      return spots
        .map((spot, i) => ({ spot, i }))
        .sort((a, b) => Math.abs(a.i - middle) - Math.abs(b.i - middle) || a.i - b.i)
        .map((e) => e.spot);
    }
  }
}

/** Units put on places in order; what has no place stays where it is. */
export function putOn(side: PlotSide, units: readonly UnitRecord[], spots: readonly Spot[]): UnitRecord[] {
  const [across, up] = PAPER_AXES[side];
  const { axis, sign } = TURN_AXIS[side];
  return units.map((unit, i) => {
    const spot = spots[i];
    if (!spot) return unit;
    return {
      ...unit,
      position: tidyPlace({ ...unit.position, [across]: spot.x, [up]: spot.y }),
      rotation:
        spot.turnDeg === 0
          ? unit.rotation
          : turnedAbout(unit.rotation, axis, (spot.turnDeg - turnOnPaper(side, unit.rotation)) * sign),
    };
  });
}
