import { CURVED, CURVED_KEYS, type Curved } from '../curved.ts';
import type { Curve, CurvePoint, Curves } from '../records/curve.ts';
import { lastBy } from '../search.ts';
import { clamp, ease } from '../units.ts';

/** Curves over time: their value at a moment, and what that comes to. Moments in seconds from the beginning of a curve. */

const atOf = ({ at }: CurvePoint): number => at;
/** The index of the last point that is not after a moment; -1 before the first. */
const lastPoint = (points: Curve, at: number): number => lastBy(points, at, atOf);

/** The value of a curve at a moment. Of points at one moment the last counts from there on. */
export function valueAt(points: Curve, at: number): number {
  const i = lastPoint(points, at);
  if (i < 0) return points[0]!.value;
  const from = points[i]!;
  const to = points[i + 1];
  if (!to || from.shape === 'step') return from.value;
  const t = (at - from.at) / (to.at - from.at);
  return from.value + (to.value - from.value) * (from.shape === 'ease' ? ease(t) : t);
}

/** The area under a curve from 0 to a moment: how far something has come whose speed it is. O(n) once, then O(log n). */
export function areaTo(points: Curve, at: number): number {
  const sums = sumsOf(points);
  const i = lastPoint(points, at);
  if (i < 0) return points[0]!.value * at;
  return sums[i]! + pieceTo(points, i, at);
}
const sums = new WeakMap<Curve, Float64Array>();
function sumsOf(points: Curve): Float64Array {
  let found = sums.get(points);
  if (!found) {
    found = new Float64Array(points.length);
    found[0] = points[0]!.value * points[0]!.at;
    for (let i = 1; i < points.length; i++) found[i] = found[i - 1]! + pieceTo(points, i - 1, points[i]!.at);
    sums.set(points, found);
  }
  return found;
}
/** The area under the piece that begins at a point, as far as a moment. */
function pieceTo(points: Curve, i: number, at: number): number {
  const from = points[i]!;
  const to = points[i + 1];
  const long = at - from.at;
  if (!to || from.shape === 'step' || to.at <= from.at) return from.value * long;
  const whole = to.at - from.at;
  const t = long / whole;
  // The area under 3t^2 - 2t^3 is t^3 - t^4/2, under t it is t^2/2.
  const risen = from.shape === 'ease' ? t ** 3 - t ** 4 / 2 : t ** 2 / 2;
  return from.value * long + (to.value - from.value) * whole * risen;
}

/** A point of a curve without more than it needs. */
export const point = (at: number, value: number, shape: CurvePoint['shape'] = 'line'): CurvePoint => ({
  at,
  value,
  shape,
});

/** A curve with a point put in (in place of one that is there within `nearS`), within what it may be. */
export function withPoint(of: Curved, points: Curve, put: CurvePoint, nearS = 0.002): CurvePoint[] {
  const { least, most } = CURVED[of];
  const left = points.filter(({ at }) => Math.abs(at - put.at) > nearS);
  return [...left, { ...put, at: Math.max(0, put.at), value: clamp(put.value, least, most) }].sort(
    (a, b) => a.at - b.at,
  );
}

/** The part of a curve from one moment to another, beginning at 0; where it is cut it has a point. */
export function curveFrom(points: Curve, from: number, to = Infinity): CurvePoint[] {
  const inside = points.filter(({ at }) => at >= from && at <= to);
  const before = points[lastPoint(points, from)];
  const head = inside[0]?.at === from ? [] : [point(from, valueAt(points, from), before?.shape ?? 'line')];
  const tail =
    Number.isFinite(to) && points.at(-1)!.at > to && inside.at(-1)?.at !== to ? [point(to, valueAt(points, to))] : [];
  return [...head, ...inside, ...tail].map((p) => ({ ...p, at: p.at - from }));
}

/** Every curve of some changed by the same. */
export function eachCurve(curves: Curves, change: (points: Curve, of: Curved) => CurvePoint[]): Curves {
  const found: Curves = {};
  for (const of of CURVED_KEYS) {
    const own = curves[of];
    if (own) found[of] = change(own, of);
  }
  return found;
}

export const hasCurves = (curves: Curves): boolean => CURVED_KEYS.some((of) => curves[of] !== undefined);

/**
 * The fewest points of a row of values (`stepS` apart) from which no value is farther than `off`: what is taken from
 * the sound stays a curve that can be edited. Douglas and Peucker's way, O(n log n) mostly.
 */
export function simplified(values: ArrayLike<number>, stepS: number, off: number): CurvePoint[] {
  if (values.length === 0) return [];
  const keep = new Set([0, values.length - 1]);
  const open: [number, number][] = [[0, values.length - 1]];
  for (let span = open.pop(); span; span = open.pop()) {
    const [a, b] = span;
    let [worst, at] = [off, -1];
    for (let i = a + 1; i < b; i++) {
      const straight = values[a]! + ((values[b]! - values[a]!) * (i - a)) / (b - a);
      const far = Math.abs(values[i]! - straight);
      if (far > worst) [worst, at] = [far, i];
    }
    if (at < 0) continue;
    keep.add(at);
    open.push([a, at], [at, b]);
  }
  return [...keep].sort((a, b) => a - b).map((i) => point(i * stepS, values[i]!));
}
