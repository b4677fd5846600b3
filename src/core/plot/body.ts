import type { ProfileRecord, UnitRecord } from '../records/index.ts';
import type { PlotSide } from '../records/picture.ts';
import { ownDots, roomDots, unitSize, type Dots } from './dots.ts';
import { bounds, PAPER_AXES, toPaper, type Point } from './paper.ts';
import { turnOnPaper } from './rotation.ts';

/** A unit on one paper: where its symbol stands, how it lies, its dots and what it covers. Metres. */
export interface Body {
  readonly unit: UnitRecord;
  readonly profile: ProfileRecord | undefined;
  readonly at: Point;
  /** Degrees counter-clockwise on the paper. */
  readonly turnDeg: number;
  /** Across and up, before it is turned. */
  readonly width: number;
  readonly height: number;
  /** Dots in the room; none for what is drawn as its symbol alone. */
  readonly dots: Dots;
  readonly box: { readonly min: Point; readonly max: Point };
}

interface Kept {
  readonly profile: ProfileRecord | undefined;
  readonly count: number;
  readonly bodies: Partial<Record<PlotSide, Body>>;
}
const kept = new WeakMap<UnitRecord, Kept>();

/** The body of a unit of `cells` cells on a paper; kept as long as the record. */
export function bodyOf(side: PlotSide, unit: UnitRecord, profile: ProfileRecord | undefined, cells: number): Body {
  let known = kept.get(unit);
  if (!known || known.profile !== profile || known.count !== cells) {
    known = { profile, count: cells, bodies: {} };
    kept.set(unit, known);
  }
  return (known.bodies[side] ??= make(side, unit, profile, cells));
}

function make(side: PlotSide, unit: UnitRecord, profile: ProfileRecord | undefined, cells: number): Body {
  const size = unitSize(profile);
  const turnDeg = turnOnPaper(side, unit.rotation);
  const at = toPaper(side, unit.position);
  const [width, height] =
    side === 'plan'
      ? [size.widthM, size.depthM]
      : [side === 'front' ? size.widthM : size.depthM, Math.max(0.1, size.heightM)];
  const dots = roomDots(unit, ownDots(unit, profile, cells));
  const seen = dotsBox(side, dots);
  return { unit, profile, at, turnDeg, width, height, dots, box: seen ?? symbolBox(at, width, height, turnDeg) };
}

function dotsBox(side: PlotSide, { xyz }: Dots): Body['box'] | null {
  const [u, v] = PAPER_AXES[side].map((axis) => 'xyz'.indexOf(axis)) as [number, number];
  let [x1, y1, x2, y2] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < xyz.length; i += 3) {
    const [x, y] = [xyz[i + u]!, xyz[i + v]!];
    if (x < x1) x1 = x;
    if (x > x2) x2 = x;
    if (y < y1) y1 = y;
    if (y > y2) y2 = y;
  }
  return x1 > x2 ? null : { min: { x: x1, y: y1 }, max: { x: x2, y: y2 } };
}

function symbolBox(at: Point, width: number, height: number, turnDeg: number): Body['box'] {
  const corners = [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ].map(([sx, sy]) => {
    const p = turned({ x: (sx! * width) / 2, y: (sy! * height) / 2 }, turnDeg);
    return { x: at.x + p.x, y: at.y + p.y };
  });
  return bounds(corners)!;
}

/** A point turned about the origin by degrees, counter-clockwise. */
export function turned(point: Point, deg: number): Point {
  const a = (deg * Math.PI) / 180;
  return { x: point.x * Math.cos(a) - point.y * Math.sin(a), y: point.x * Math.sin(a) + point.y * Math.cos(a) };
}

/** The middle of what a body covers. */
export const bodyMiddle = ({ box }: Body): Point => ({
  x: (box.min.x + box.max.x) / 2,
  y: (box.min.y + box.max.y) / 2,
});

/** True where a point of the paper is on a body, with `margin` metres around it: on its symbol, or near one of its dots. */
export function hits(side: PlotSide, body: Body, point: Point, margin: number): boolean {
  const { min, max } = body.box;
  if (point.x < min.x - margin || point.x > max.x + margin || point.y < min.y - margin || point.y > max.y + margin)
    return false;
  const { xyz } = body.dots;
  if (xyz.length === 0) {
    const local = turned({ x: point.x - body.at.x, y: point.y - body.at.y }, -body.turnDeg);
    return Math.abs(local.x) <= body.width / 2 + margin && Math.abs(local.y) <= body.height / 2 + margin;
  }
  return nearestDot(side, body, point, margin) >= 0;
}

/** The dot nearest to a point of the paper within `margin` metres; -1 for none. Linear in the dots. */
export function nearestDot(side: PlotSide, { dots: { xyz } }: Body, point: Point, margin: number): number {
  const [u, v] = PAPER_AXES[side].map((axis) => 'xyz'.indexOf(axis)) as [number, number];
  let best = -1;
  let least = margin * margin;
  for (let i = 0; i < xyz.length; i += 3) {
    const [dx, dy] = [xyz[i + u]! - point.x, xyz[i + v]! - point.y];
    const distance = dx * dx + dy * dy;
    if (distance <= least) {
      least = distance;
      best = i / 3;
    }
  }
  return best;
}
