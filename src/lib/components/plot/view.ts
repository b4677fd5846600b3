import { bounds, type Point } from '$core/plot/paper.ts';

/** What part of the paper is seen: the point in the middle of the canvas, and pixels a metre. */
export interface View {
  readonly x: number;
  readonly y: number;
  readonly scale: number;
}

export interface Canvas {
  readonly width: number;
  readonly height: number;
}

const SCALE_LIMITS = [0.5, 2000] as const;
const limit = (scale: number): number => Math.min(SCALE_LIMITS[1], Math.max(SCALE_LIMITS[0], scale));

/** What is up on the paper is up on the screen. */
export const toScreen = (view: View, canvas: Canvas, p: Point): Point => ({
  x: canvas.width / 2 + (p.x - view.x) * view.scale,
  y: canvas.height / 2 - (p.y - view.y) * view.scale,
});

export const toPlan = (view: View, canvas: Canvas, p: Point): Point => ({
  x: view.x + (p.x - canvas.width / 2) / view.scale,
  y: view.y - (p.y - canvas.height / 2) / view.scale,
});

/** Zooms by a factor so that the point of the paper under `at` (screen) stays where it is. */
export function zoomed(view: View, canvas: Canvas, at: Point, factor: number): View {
  const before = toPlan(view, canvas, at);
  const next = { ...view, scale: limit(view.scale * factor) };
  const after = toPlan(next, canvas, at);
  return { ...next, x: next.x + before.x - after.x, y: next.y + before.y - after.y };
}

/** The view that shows all these points with a margin; `inset` px at the left and on top are taken (by rulers). */
export function fitting(points: readonly Point[], canvas: Canvas, marginM = 1, inset = 0): View {
  const box = bounds(points);
  if (!box || canvas.width <= inset || canvas.height <= inset) return { x: 0, y: 0, scale: 40 };
  const width = box.max.x - box.min.x + marginM * 2;
  const height = box.max.y - box.min.y + marginM * 2;
  const scale = limit(Math.min((canvas.width - inset) / width, (canvas.height - inset) / height));
  return {
    x: (box.min.x + box.max.x - inset / scale) / 2,
    y: (box.min.y + box.max.y + inset / scale) / 2,
    scale,
  };
}

/** The same view on a canvas of another size: what is seen stays where it is, from the upper left corner. */
export const resized = (view: View, before: Canvas, after: Canvas): View => ({
  ...view,
  x: view.x + (after.width - before.width) / 2 / view.scale,
  y: view.y - (after.height - before.height) / 2 / view.scale,
});

/** Steps of a grid or a ruler in metres, so that lines are at least `leastPx` apart. */
export const gridStep = (scale: number, leastPx: number): number =>
  [0.1, 0.25, 0.5, 1, 2, 5, 10, 20, 50, 100].find((m) => m * scale >= leastPx) ?? 200;
