import type { CellPlace } from './cells.ts';
import type { Shape } from '../records/shape.ts';

/** A point by which a shape is pulled into form, in the frame of the prop. */
export interface ShapeHandle {
  readonly key: string;
  readonly place: CellPlace;
}

const LEAST_M = 0.05;
const MOST_M = 500;
const size = (metres: number): number => Math.min(MOST_M, Math.max(LEAST_M, Math.round(metres * 1000) / 1000));
const place = ([x, y, z]: CellPlace): [number, number, number] => [mm(x), mm(y), mm(z)];
const mm = (v: number): number => Math.min(MOST_M, Math.max(-MOST_M, Math.round(v * 1000) / 1000)) + 0;

/** The handles of a shape; none where it has nothing to pull. */
export function shapeHandles(shape: Shape): ShapeHandle[] {
  const wide = (x: number, z = 0): ShapeHandle => ({ key: 'width', place: [x, 0, z] });
  const high = (z: number, x = 0): ShapeHandle => ({ key: 'height', place: [x, 0, z] });
  switch (shape.shape) {
    case 'line':
      return [wide(shape.widthM / 2)];
    case 'polyline':
      return shape.points.map((p, i) => ({ key: `point${i}`, place: p }));
    case 'arch':
    case 'frame':
      return [wide(shape.widthM / 2), high(shape.heightM)];
    case 'matrix':
      return [wide(shape.widthM / 2), high(shape.heightM)];
    case 'ring':
      return [high(shape.diameterM)];
    case 'spiral':
    case 'tree':
      return [
        high(shape.heightM),
        { key: 'bottom', place: [shape.bottomM / 2, 0, 0] },
        { key: 'top', place: [shape.topM / 2, 0, shape.heightM] },
      ];
    case 'star': {
      // The middle is where the foot of the lowest tip leaves it.
      const foot = lowest(shape.tips, shape.outerM, shape.innerM);
      return [
        { key: 'outer', place: [0, 0, shape.outerM / 2 - foot] },
        { key: 'inner', place: [shape.innerM / 2, 0, -foot] },
      ];
    }
    case 'icicles':
      return [wide(((shape.drops - 1) / 2) * shape.spacingM, Math.max(...shape.cells) * shape.cellM)];
    case 'hung': {
      const middle = [0, 1, 2].map((i) => (shape.from[i]! + shape.to[i]!) / 2) as [number, number, number];
      return [
        { key: 'from', place: shape.from },
        { key: 'to', place: shape.to },
        { key: 'sag', place: [middle[0], middle[1], middle[2] - shape.sagM] },
      ];
    }
    case 'grid':
      return [wide((shape.columns * shape.pitchM) / 2, (shape.rows - 1) * shape.pitchM)];
    case 'given':
      return [];
  }
}

const lowest = (tips: number, outer: number, inner: number): number =>
  Math.min(
    ...Array.from(
      { length: tips * 2 },
      (_, i) => ((i % 2 === 0 ? outer : inner) / 2) * Math.cos((i / (tips * 2)) * 2 * Math.PI),
    ),
  );

/** The shape after one of its handles was pulled to a place. Its cells stay as many and in the same order. */
export function pulled(shape: Shape, key: string, to: CellPlace): Shape {
  const [x, , z] = to;
  switch (shape.shape) {
    case 'line':
      return { ...shape, widthM: size(Math.abs(x) * 2) };
    case 'polyline': {
      const at = Number(key.slice('point'.length));
      return { ...shape, points: shape.points.map((p, i) => (i === at ? place(to) : p)) };
    }
    case 'arch':
    case 'frame':
    case 'matrix':
      return key === 'width' ? { ...shape, widthM: size(Math.abs(x) * 2) } : { ...shape, heightM: size(z) };
    case 'ring':
      return { ...shape, diameterM: size(z) };
    case 'spiral':
    case 'tree':
      if (key === 'height') return { ...shape, heightM: size(z) };
      return key === 'bottom' ? { ...shape, bottomM: size(Math.abs(x) * 2) } : { ...shape, topM: mm(Math.abs(x) * 2) };
    case 'star': {
      const foot = lowest(shape.tips, shape.outerM, shape.innerM);
      return key === 'outer' ? { ...shape, outerM: size((z + foot) * 2) } : { ...shape, innerM: size(Math.abs(x) * 2) };
    }
    case 'icicles':
      return shape.drops < 2 ? shape : { ...shape, spacingM: size((Math.abs(x) * 2) / (shape.drops - 1)) };
    case 'hung':
      if (key === 'from') return { ...shape, from: place(to) };
      if (key === 'to') return { ...shape, to: place(to) };
      return { ...shape, sagM: mm(Math.max(0, (shape.from[2] + shape.to[2]) / 2 - z)) };
    case 'grid':
      return { ...shape, pitchM: size((Math.abs(x) * 2) / shape.columns) };
    case 'given':
      return shape;
  }
}

/** How large a shape is, for "same size as": its width and height in metres where it has such. */
export function sameSize(shape: Shape, as: Shape): Shape {
  if (shape.shape === as.shape) {
    // What is counted stays its own; what is measured is taken over.
    const measures = Object.fromEntries(Object.entries(as).filter(([key]) => key.endsWith('M')));
    return { ...shape, ...measures };
  }
  const { widthM, heightM } = as as { widthM?: number; heightM?: number };
  let now = shape;
  if (widthM !== undefined && 'widthM' in now) now = { ...now, widthM };
  if (heightM !== undefined && 'heightM' in now) now = { ...now, heightM };
  return now;
}
