import type { AimPart } from '../../records/effect.ts';
import { cosine, fraction, sine } from './turns.ts';

const STEPS = 256;

type PathOf = Pick<AimPart, 'path' | 'panDeg' | 'tiltDeg' | 'turnDeg' | 'points' | 'in' | 'acrossM' | 'deepM'>;

/**
 * One turn of a movement as offsets in degrees of pan and tilt, or in metres across and up-stage, for each of 256 places; it is closed. `fan` and `cross`
 * are told by where a head stands: they are lines here.
 */
export function pathTable(part: PathOf): Float32Array {
  const table = new Float32Array(STEPS * 2);
  const [c, s] = [cosine(part.turnDeg / 360), sine(part.turnDeg / 360)];
  const [wide, deep] = part.in === 'metres' ? [part.acrossM, part.deepM] : [part.panDeg, part.tiltDeg];
  const point = pointOf(part);
  for (let i = 0; i < STEPS; i++) {
    const [x, y] = point(i / STEPS);
    table[i * 2] = (x * c - y * s) * wide;
    table[i * 2 + 1] = (x * s + y * c) * deep;
  }
  return table;
}

function pointOf({ path, points }: Pick<AimPart, 'path' | 'points'>): (at: number) => readonly [number, number] {
  switch (path) {
    case 'circle':
      return (at) => [cosine(at), sine(at)];
    case 'eight':
      return (at) => [sine(at), sine(2 * at)];
    case 'line':
    case 'fan':
    case 'cross':
      return (at) => [sine(at), 0];
    case 'drawn':
      return drawn(points);
  }
}

/** Along the corners at an even pace, back to the first. */
function drawn(points: AimPart['points']): (at: number) => readonly [number, number] {
  if (points.length === 0) return () => [0, 0];
  const lengths = points.map(([x, y], i) => {
    const [u, v] = points[(i + 1) % points.length]!;
    return Math.hypot(u - x, v - y);
  });
  const whole = lengths.reduce((sum, length) => sum + length, 0);
  if (whole === 0) return () => points[0]!;
  return (at) => {
    let left = at * whole;
    for (const [i, length] of lengths.entries()) {
      if (left <= length && length > 0) {
        const [x, y] = points[i]!;
        const [u, v] = points[(i + 1) % points.length]!;
        const share = left / length;
        return [x + (u - x) * share, y + (v - y) * share];
      }
      left -= length;
    }
    return points[0]!;
  };
}

/** Offset at so many turns: `axis` 0 pan (or across), 1 tilt (or up-stage). */
export function pathAt(table: Float32Array, turns: number, axis: 0 | 1): number {
  const place = fraction(turns) * STEPS;
  const from = Math.min(STEPS - 1, place | 0);
  const a = table[from * 2 + axis]!;
  const b = table[((from + 1) % STEPS) * 2 + axis]!;
  return a + (b - a) * (place - from);
}
