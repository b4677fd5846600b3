import { cellCount } from './cells.ts';
import type { Shape } from '../records/shape.ts';

export const SHAPES = [
  'line',
  'polyline',
  'arch',
  'ring',
  'matrix',
  'spiral',
  'tree',
  'star',
  'icicles',
  'frame',
  'hung',
  'grid',
  'given',
] as const;
export type ShapeKind = (typeof SHAPES)[number];

/** Two factors of a count, as near to each other as can be, the larger first: columns and rows of a matrix. */
function factors(count: number): [number, number] {
  for (let rows = Math.floor(Math.sqrt(count)); rows >= 1; rows--)
    if (count % rows === 0 && count / rows <= 1000) return [count / rows, rows];
  return [Math.min(1000, count), 1];
}

/**
 * A shape of another kind with as many cells, in the same order, about as large. Where the kind cannot have that count
 * (a matrix of a prime above 1000) it is as near as can be. `grid` and `given` need what only the person has: they are
 * empty here.
 */
export function reshaped(shape: Shape, kind: ShapeKind): Shape {
  const count = Math.max(1, cellCount(shape));
  const { widthM = 2, heightM = 2 } = shape as { widthM?: number; heightM?: number };
  const w = widthM || 2;
  const h = heightM || 2;
  switch (kind) {
    case 'line':
      return { shape: 'line', count, widthM: w };
    case 'polyline':
      return {
        shape: 'polyline',
        count,
        points: [
          [-w / 2, 0, 0],
          [0, 0, h / 2],
          [w / 2, 0, 0],
        ],
      };
    case 'arch':
      return { shape: 'arch', count, widthM: w, heightM: h };
    case 'ring':
      return { shape: 'ring', count, diameterM: h, startDeg: 0, clockwise: true };
    case 'matrix': {
      const [columns, rows] = factors(count);
      return {
        shape: 'matrix',
        columns,
        rows,
        widthM: w,
        heightM: h,
        corner: 'bottom-left',
        along: 'rows',
        zigzag: false,
      };
    }
    case 'spiral':
      return { shape: 'spiral', count, heightM: h, bottomM: w / 2, topM: 0, turns: 5 };
    case 'tree': {
      const [perString, strings] = factors(count);
      return { shape: 'tree', strings, perString, heightM: h, bottomM: w / 2, topM: 0, zigzag: false };
    }
    case 'star':
      return { shape: 'star', count, tips: 5, outerM: h, innerM: h * 0.4 };
    case 'icicles': {
      const each = count % 4 === 0 ? 4 : count % 3 === 0 ? 3 : count % 5 === 0 ? 5 : 1;
      const drops = Math.min(2000, Math.ceil(count / each));
      return { shape: 'icicles', drops, spacingM: Math.max(0.01, w / drops), cells: [each], cellM: 0.1 };
    }
    case 'frame':
      return { shape: 'frame', count, widthM: w, heightM: h };
    case 'hung':
      return { shape: 'hung', count, from: [-w / 2, 0, 0], to: [w / 2, 0, 0], sagM: 0.3 };
    case 'grid':
      return { shape: 'grid', columns: 1, rows: 1, pitchM: 0.1, numbers: 'AAA=' };
    case 'given':
      return { shape: 'given', count };
  }
}
