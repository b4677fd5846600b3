import type { Point } from '$core/plot/paper.ts';

/** Which way arrow keys go, by their names: x to the right, y up. */
export const ARROWS: Readonly<Record<string, Point>> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: 1 },
  ArrowDown: { x: 0, y: -1 },
};
