import { unpackGrid } from '../records/grid.ts';
import type { Shape } from '../records/shape.ts';

/** x, y, z in metres. */
export type CellPlace = readonly [x: number, y: number, z: number];

const TAU = Math.PI * 2;

/** How many cells a shape has. */
export function cellCount(shape: Shape): number {
  switch (shape.shape) {
    case 'matrix':
      return shape.columns * shape.rows;
    case 'tree':
      return shape.strings * shape.perString;
    case 'icicles': {
      const each = shape.cells;
      let sum = 0;
      for (let drop = 0; drop < shape.drops; drop++) sum += each[drop % each.length]!;
      return sum;
    }
    case 'grid':
      return numbersOf(shape).reduce((most, number) => Math.max(most, number), 0);
    default:
      return shape.count;
  }
}

/** A dot of a prop: where it is, and the cell (from 0, in wiring order) that lights it. */
export interface Dot {
  readonly cell: number;
  readonly place: CellPlace;
}

/**
 * Every dot of a shape in wiring order. A drawn grid may leave cells out (they are on the wire and nowhere to be seen)
 * and show one at several places; every other shape has one dot a cell.
 */
export function shapeDots(shape: Shape): Dot[] {
  if (shape.shape === 'grid') return gridDots(shape);
  return cellPlaces(shape).map((place, cell) => ({ cell, place }));
}

type GridShape = Extract<Shape, { shape: 'grid' }>;
const unpacked = new WeakMap<GridShape, Uint16Array>();

/** Numbers of a drawn grid, unpacked once for as long as the shape. */
function numbersOf(shape: GridShape): Uint16Array {
  let numbers = unpacked.get(shape);
  if (!numbers) unpacked.set(shape, (numbers = unpackGrid(shape.numbers)));
  return numbers;
}

function gridDots(shape: GridShape): Dot[] {
  const { columns, rows, pitchM } = shape;
  const dots: Dot[] = [];
  numbersOf(shape).forEach((number, i) => {
    const row = Math.floor(i / columns);
    if (number === 0 || row >= rows) return;
    const x = ((i % columns) - (columns - 1) / 2) * pitchM;
    dots.push({ cell: number - 1, place: [x, 0, (rows - 1 - row) * pitchM] });
  });
  return dots.sort((a, b) => a.cell - b.cell);
}

const NOWHERE: CellPlace = [NaN, NaN, NaN];

/**
 * Places of the cells of a shape in wiring order, in metres; NaN for a cell of a drawn grid that is nowhere, and for
 * all cells of a shape whose places are given apart. Linear in the cells.
 */
export function cellPlaces(shape: Shape): CellPlace[] {
  switch (shape.shape) {
    case 'line':
      return along(shape.count, (t) => [(t - 0.5) * shape.widthM, 0, 0]);
    case 'polyline':
      return evenly(shape.points, shape.count);
    case 'arch': {
      const { widthM, heightM } = shape;
      return evenly(
        curve(256, (t) => [-Math.cos(t * Math.PI) * (widthM / 2), 0, Math.sin(t * Math.PI) * heightM]),
        shape.count,
      );
    }
    case 'ring':
      return ring(shape.count, shape.diameterM / 2, shape.startDeg, shape.clockwise);
    case 'matrix':
      return matrix(shape);
    case 'spiral':
      return along(shape.count, (t) => onCone(shape, t, t * shape.turns));
    case 'tree':
      return tree(shape);
    case 'star':
      return evenly(closed(starCorners(shape.tips, shape.outerM, shape.innerM)), shape.count, true);
    case 'icicles':
      return icicles(shape);
    case 'frame': {
      const [w, h] = [shape.widthM / 2, shape.heightM];
      const corners: CellPlace[] = [
        [-w, 0, 0],
        [-w, 0, h],
        [w, 0, h],
        [w, 0, 0],
      ];
      return evenly(closed(corners), shape.count, true);
    }
    case 'hung':
      return evenly(
        curve(256, (t) => {
          const [x, y, z] = between(shape.from, shape.to, t);
          return [x, y, z - 4 * shape.sagM * t * (1 - t)];
        }),
        shape.count,
      );
    case 'grid': {
      const places = Array.from({ length: cellCount(shape) }, () => NOWHERE);
      // The first dot of a cell that has several is its place.
      for (const { cell, place } of gridDots(shape).reverse()) places[cell] = place;
      return places;
    }
    case 'given':
      return Array.from({ length: shape.count }, () => NOWHERE);
  }
}

/** `count` places of a path that is given by its share 0-1; a single cell stands in the middle. */
const along = (count: number, at: (t: number) => CellPlace): CellPlace[] =>
  Array.from({ length: count }, (_, i) => at(count === 1 ? 0.5 : i / (count - 1)));

const curve = (pieces: number, at: (t: number) => CellPlace): CellPlace[] =>
  Array.from({ length: pieces + 1 }, (_, i) => at(i / pieces));

const between = (a: CellPlace, b: CellPlace, t: number): CellPlace => [
  a[0] + (b[0] - a[0]) * t,
  a[1] + (b[1] - a[1]) * t,
  a[2] + (b[2] - a[2]) * t,
];

const closed = (corners: readonly CellPlace[]): CellPlace[] => [...corners, corners[0]!];

/**
 * Cells at even distances along corners. On an open path the first and last stand at its ends; round a closed one the
 * step after the last leads back to the first.
 */
function evenly(corners: readonly CellPlace[], count: number, round = false): CellPlace[] {
  const lengths = corners.slice(1).map((c, i) => Math.hypot(...c.map((v, axis) => v - corners[i]![axis]!)));
  const total = lengths.reduce((sum, length) => sum + length, 0);
  const step = count === 1 ? 0 : total / (round ? count : count - 1);
  let piece = 0;
  let before = 0;
  return Array.from({ length: count }, (_, i) => {
    const at = count === 1 && !round ? total / 2 : Math.min(total, i * step);
    while (piece < lengths.length - 1 && before + lengths[piece]! < at) before += lengths[piece++]!;
    const length = lengths[piece]!;
    return between(corners[piece]!, corners[piece + 1]!, length === 0 ? 0 : Math.min(1, (at - before) / length));
  });
}

function ring(count: number, radius: number, startDeg: number, clockwise: boolean): CellPlace[] {
  return Array.from({ length: count }, (_, i) => {
    const turn = ((clockwise ? 1 : -1) * i) / count + startDeg / 360;
    // From the bottom, clockwise as it is looked at: first to the left.
    return [-Math.sin(turn * TAU) * radius, 0, radius - Math.cos(turn * TAU) * radius];
  });
}

function matrix(shape: Extract<Shape, { shape: 'matrix' }>): CellPlace[] {
  const { columns, rows, corner, zigzag } = shape;
  const byRows = shape.along === 'rows';
  const [lines, each] = byRows ? [rows, columns] : [columns, rows];
  const fromRight = corner.endsWith('right');
  const fromTop = corner.startsWith('top');
  const places: CellPlace[] = [];
  for (let line = 0; line < lines; line++)
    for (let k = 0; k < each; k++) {
      const step = zigzag && line % 2 === 1 ? each - 1 - k : k;
      const [c, r] = byRows ? [step, line] : [line, step];
      const column = fromRight ? columns - 1 - c : c;
      const row = fromTop ? rows - 1 - r : r;
      const x = columns === 1 ? 0 : (column / (columns - 1) - 0.5) * shape.widthM;
      places.push([x, 0, rows === 1 ? 0 : (row / (rows - 1)) * shape.heightM]);
    }
  return places;
}

/** A place on a cone: `up` 0-1 from foot to top, `turn` in turns from the front, to the left. */
function onCone(cone: { heightM: number; bottomM: number; topM: number }, up: number, turn: number): CellPlace {
  const radius = (cone.bottomM + (cone.topM - cone.bottomM) * up) / 2;
  return [-Math.sin(turn * TAU) * radius, -Math.cos(turn * TAU) * radius, up * cone.heightM];
}

function tree(shape: Extract<Shape, { shape: 'tree' }>): CellPlace[] {
  const { strings, perString, zigzag } = shape;
  return Array.from({ length: strings * perString }, (_, i) => {
    const string = Math.floor(i / perString);
    const t = perString === 1 ? 0.5 : (i % perString) / (perString - 1);
    const goesUp = zigzag && string % 2 === 1;
    return onCone(shape, goesUp ? t : 1 - t, string / strings);
  });
}

/** Outline of a star that stands on the ground, from its uppermost tip on, clockwise. */
function starCorners(tips: number, outerM: number, innerM: number): CellPlace[] {
  const corners = Array.from({ length: tips * 2 }, (_, i): CellPlace => {
    const radius = (i % 2 === 0 ? outerM : innerM) / 2;
    const turn = i / (tips * 2);
    return [Math.sin(turn * TAU) * radius, 0, Math.cos(turn * TAU) * radius];
  });
  const foot = Math.min(...corners.map((c) => c[2]));
  return corners.map(([x, y, z]) => [x, y, z - foot]);
}

function icicles(shape: Extract<Shape, { shape: 'icicles' }>): CellPlace[] {
  const { drops, spacingM, cells, cellM } = shape;
  const longest = Math.max(...cells.slice(0, drops));
  const places: CellPlace[] = [];
  for (let drop = 0; drop < drops; drop++)
    for (let i = 0; i < cells[drop % cells.length]!; i++)
      places.push([(drop - (drops - 1) / 2) * spacingM, 0, (longest - 1 - i) * cellM]);
  return places;
}
