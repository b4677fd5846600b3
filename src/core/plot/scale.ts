import type { BackdropRecord } from '../records/index.ts';
import { tidy, type Point } from './paper.ts';

const LEAST_M = 0.01;
const MOST_M = 2000;

/**
 * A picture made as large as it is from two points of the paper that are really `metres` apart; the first point stays
 * where it is. Null where the points are too near each other, or the picture would be too small or too large.
 */
export function rescaled(
  { x, y, widthM }: Pick<BackdropRecord, 'x' | 'y' | 'widthM'>,
  a: Point,
  b: Point,
  metres: number,
): { x: number; y: number; widthM: number } | null {
  const apart = Math.hypot(a.x - b.x, a.y - b.y);
  const factor = metres / apart;
  const width = widthM * factor;
  if (apart < 1e-6 || !(width >= LEAST_M && width <= MOST_M)) return null;
  return { x: tidy(a.x + (x - a.x) * factor), y: tidy(a.y + (y - a.y) * factor), widthM: width };
}
