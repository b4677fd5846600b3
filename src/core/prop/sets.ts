import type { Shape } from '../records/shape.ts';
import { cellCount, cellPlaces } from './cells.ts';

/** A part that a shape has of itself: its rows, columns, strings, drops, halves. Cells from 1. */
export interface NaturalPart {
  readonly name: string;
  readonly cells: readonly number[];
}

/** Ways in which a shape falls into parts, by the word for one of them. Cells that are nowhere belong to none. */
export function naturalParts(shape: Shape): ReadonlyMap<string, readonly NaturalPart[]> {
  const ways = new Map<string, readonly NaturalPart[]>();
  if (shape.shape === 'matrix' || shape.shape === 'grid') {
    ways.set('Row', byPlace(shape, 2, true));
    ways.set('Column', byPlace(shape, 0, false));
  }
  if (shape.shape === 'tree') {
    ways.set('String', runs('String', shape.strings, shape.perString));
    ways.set('Ring', byPlace(shape, 2, true, 'Ring'));
  }
  if (shape.shape === 'icicles') {
    const drops: NaturalPart[] = [];
    let next = 1;
    for (let d = 0; d < shape.drops; d++) {
      const count = shape.cells[d % shape.cells.length]!;
      drops.push({ name: `Drop ${d + 1}`, cells: range(next, count) });
      next += count;
    }
    ways.set('Drop', drops);
  }
  if (shape.shape === 'star') ways.set('Tip', runs('Tip', shape.tips, cellCount(shape) / shape.tips));
  if (shape.shape === 'frame') ways.set('Quarter', runs('Quarter', 4, cellCount(shape) / 4));
  const count = cellCount(shape);
  if (count >= 2) {
    ways.set('Half', [
      { name: 'First half', cells: range(1, Math.ceil(count / 2)) },
      { name: 'Second half', cells: range(Math.ceil(count / 2) + 1, Math.floor(count / 2)) },
    ]);
    ways.set('Odd and even', [
      { name: 'Odd cells', cells: range(1, count).filter((c) => c % 2 === 1) },
      { name: 'Even cells', cells: range(1, count).filter((c) => c % 2 === 0) },
    ]);
  }
  return ways;
}

const range = (from: number, count: number): number[] => Array.from({ length: count }, (_, i) => from + i);

/** Consecutive runs; counts that do not come out even are spread. */
function runs(word: string, count: number, each: number): NaturalPart[] {
  return Array.from({ length: count }, (_, i) => {
    const [from, to] = [Math.round(i * each), Math.round((i + 1) * each)];
    return { name: `${word} ${i + 1}`, cells: range(from + 1, to - from) };
  }).filter((part) => part.cells.length > 0);
}

const NEAR_M = 0.001;

/** Cells at the same place along one axis: from the top (or left), each from left to right. */
function byPlace(shape: Shape, axis: 0 | 2, fromHigh: boolean, word = axis === 2 ? 'Row' : 'Column'): NaturalPart[] {
  const found = new Map<number, { cell: number; at: number }[]>();
  cellPlaces(shape).forEach((place, i) => {
    const key = Math.round(place[axis] / NEAR_M);
    if (Number.isNaN(key)) return;
    const entry = { cell: i + 1, at: place[axis === 2 ? 0 : 2] };
    const list = found.get(key);
    if (list) list.push(entry);
    else found.set(key, [entry]);
  });
  const keys = [...found.keys()].sort((a, b) => (fromHigh ? b - a : a - b));
  return keys.map((key, i) => ({
    name: `${word} ${i + 1}`,
    cells: found
      .get(key)!
      .sort((a, b) => (axis === 2 ? a.at - b.at : b.at - a.at))
      .map((e) => e.cell),
  }));
}
