import type { Point } from './paper.ts';

export interface SnapTo {
  /** Metres between lines of the grid; 0 for none. */
  readonly gridM: number;
  /** Guides: lines at these places across and up. */
  readonly guidesX: readonly number[];
  readonly guidesY: readonly number[];
  /** Other units: each side by itself is a line to stand on. */
  readonly units: readonly Point[];
  /** How near is near, metres. */
  readonly reachM: number;
}

export interface Snapped {
  readonly x: number;
  readonly y: number;
  /** What it caught on, for the line that is drawn; null where it stands free. */
  readonly onX: 'guide' | 'unit' | 'grid' | null;
  readonly onY: 'guide' | 'unit' | 'grid' | null;
}

/** A point drawn to what is near, each way by itself: guides first, then other units, then the grid. */
export function snap(point: Point, to: SnapTo): Snapped {
  const x = snapOne(point.x, to.guidesX, to.units, 'x', to);
  const y = snapOne(point.y, to.guidesY, to.units, 'y', to);
  return { x: x.at, y: y.at, onX: x.on, onY: y.on };
}

function snapOne(
  at: number,
  guides: readonly number[],
  units: readonly Point[],
  axis: 'x' | 'y',
  { reachM, gridM }: SnapTo,
): { at: number; on: Snapped['onX'] } {
  const guide = nearest(at, guides, reachM);
  if (guide !== null) return { at: guide, on: 'guide' };
  let best: number | null = null;
  for (const unit of units)
    if (Math.abs(unit[axis] - at) <= reachM && (best === null || Math.abs(unit[axis] - at) < Math.abs(best - at)))
      best = unit[axis];
  if (best !== null) return { at: best, on: 'unit' };
  return gridM > 0 ? { at: Math.round(at / gridM) * gridM, on: 'grid' } : { at, on: null };
}

function nearest(at: number, lines: readonly number[], reach: number): number | null {
  let best: number | null = null;
  for (const line of lines)
    if (Math.abs(line - at) <= reach && (best === null || Math.abs(line - at) < Math.abs(best - at))) best = line;
  return best;
}
