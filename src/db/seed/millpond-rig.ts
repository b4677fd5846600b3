import { cellCount } from '../../core/prop/cells.ts';
import { packGrid } from '../../core/records/grid.ts';
import { shapeSchema, type Shape, type ShapeInput } from '../../core/records/shape.ts';
import type { PropInput } from '../../core/records/prop.ts';

/** What hangs at Millpond Lantern Walk, and where. x to the right of the gate, y towards the mill, metres. */

type WiringInput = Omit<PropInput, 'shape'>;

export interface PropRow {
  readonly slug: string;
  readonly name: string;
  readonly shape: Shape;
  readonly wiring?: WiringInput;
  readonly x: number;
  readonly y: number;
  readonly z: number;
  readonly turn?: number;
}

const shape = (input: ShapeInput): Shape => shapeSchema.parse(input);
const series = (count: number, row: (i: number) => PropRow): PropRow[] =>
  Array.from({ length: count }, (_, i) => row(i));

/** Pixels of a kite. */
const KITE_CELLS = 86;

/** A kite with a spar and a waving tail, on a grid of 21 x 36. */
export function kiteGrid(): { columns: number; rows: number; numbers: Uint16Array } {
  const [columns, rows] = [21, 36];
  const path: [number, number][] = [];
  const line = (x1: number, y1: number, x2: number, y2: number, steps: number): void => {
    for (let i = 0; i < steps; i++)
      path.push([Math.round(x1 + ((x2 - x1) * i) / steps), Math.round(y1 + ((y2 - y1) * i) / steps)]);
  };
  line(10, 0, 20, 9, 10);
  line(20, 9, 10, 22, 13);
  line(10, 22, 0, 9, 13);
  line(0, 9, 10, 0, 10);
  // Down the spar, then out along the tail.
  line(10, 2, 10, 21, 19);
  for (let i = 0; path.length < KITE_CELLS; i++)
    path.push([10 + [0, 1, 2, 2, 1, 0, -1, -2, -2, -1][i % 10]!, 23 + Math.floor(i / 2)]);
  const numbers = new Uint16Array(columns * rows);
  let next = 1;
  for (const [x, y] of path) {
    let at = y * columns + x;
    while (numbers[at] !== 0) at++;
    numbers[at] = next++;
  }
  return { columns, rows, numbers };
}

const KITE = kiteGrid();

/** The lantern path: where it turns. */
export const PATH: readonly (readonly [x: number, y: number])[] = [
  [-24, -14],
  [-15, -16],
  [-6, -13],
  [3, -15],
  [12, -13],
  [21, -10],
  [26, -2],
  [23, 7],
  [16, 11],
  [8, 13],
  [-1, 14],
  [-10, 13],
  [-19, 9],
];
/** Pixels a metre of the path strip. */
const PATH_DENSITY = 25;
const SPLIT = 25;

/** The path, on both sides, cut into strips of 25 m. */
function pathStrips(): PropRow[] {
  const rows: PropRow[] = [];
  for (const side of [-1, 1]) {
    const points = smooth(PATH.map(([x, y]) => [x, y] as const)).map(([x, y], i, all) => {
      const [px, py] = all[Math.max(0, i - 1)]!;
      const [nx, ny] = all[Math.min(all.length - 1, i + 1)]!;
      const length = Math.hypot(nx - px, ny - py) || 1;
      return [x - ((ny - py) / length) * side, y + ((nx - px) / length) * side] as const;
    });
    for (const [i, piece] of cut(points, SPLIT).entries()) {
      const [x, y] = piece[0]!;
      const length = piece
        .slice(1)
        .reduce((sum, p, k) => sum + Math.hypot(p[0] - piece[k]![0], p[1] - piece[k]![1]), 0);
      rows.push({
        slug: `path-${side < 0 ? 'l' : 'r'}${i + 1}`,
        name: `Path ${side < 0 ? 'left' : 'right'} ${i + 1}`,
        shape: shape({
          shape: 'polyline',
          count: Math.max(2, Math.round(length * PATH_DENSITY)),
          points: piece.map((p) => [round(p[0] - x), round(p[1] - y), 0]),
        }),
        x: round(x),
        y: round(y),
        z: 0.1,
      });
    }
  }
  return rows;
}

const round = (v: number): number => Math.round(v * 100) / 100;

/** Corners cut twice, so that a path bends instead of breaking. */
function smooth(points: readonly (readonly [number, number])[]): (readonly [number, number])[] {
  let now = [...points];
  for (let turn = 0; turn < 2; turn++) {
    const next: (readonly [number, number])[] = [now[0]!];
    for (let i = 0; i + 1 < now.length; i++) {
      const [a, b] = [now[i]!, now[i + 1]!];
      next.push([a[0] * 0.75 + b[0] * 0.25, a[1] * 0.75 + b[1] * 0.25]);
      next.push([a[0] * 0.25 + b[0] * 0.75, a[1] * 0.25 + b[1] * 0.75]);
    }
    now = [...next, now.at(-1)!];
  }
  return now;
}

/** Pieces of at most so many metres, each beginning where the one before ended. */
function cut(points: readonly (readonly [number, number])[], metres: number): (readonly [number, number])[][] {
  const pieces: (readonly [number, number])[][] = [[points[0]!]];
  let left = metres;
  for (let i = 1; i < points.length; i++) {
    let from = points[i - 1]!;
    const to = points[i]!;
    for (let length = Math.hypot(to[0] - from[0], to[1] - from[1]); length > left;) {
      const at = [
        from[0] + ((to[0] - from[0]) * left) / length,
        from[1] + ((to[1] - from[1]) * left) / length,
      ] as const;
      pieces.at(-1)!.push(at);
      pieces.push([at]);
      from = at;
      length -= left;
      left = metres;
    }
    left -= Math.hypot(to[0] - from[0], to[1] - from[1]);
    pieces.at(-1)!.push(to);
  }
  return pieces.filter((piece) => piece.length > 1);
}

/** Pixel props in the order of their addresses. */
export const PROPS: readonly PropRow[] = [
  {
    slug: 'wheel',
    name: 'Waterwheel',
    shape: shape({ shape: 'ring', count: 192, diameterM: 5 }),
    wiring: { strings: [{ cells: 96 }, { cells: 96, nulls: 1 }] },
    x: -9,
    y: 17.5,
    z: 0.4,
  },
  ...series(6, (i) => ({
    slug: `arch${i + 1}`,
    name: `Bridge arch ${i + 1}`,
    shape: shape({ shape: 'arch', count: 50, widthM: 2, heightM: 2.6 }),
    x: -5.5 + i * 2.2,
    y: 4 - Math.abs(i - 2.5) * 0.3,
    z: 0.6,
    turn: 90,
  })),
  {
    slug: 'wall',
    name: 'Mill wall',
    shape: shape({
      shape: 'matrix',
      columns: 40,
      rows: 25,
      widthM: 8,
      heightM: 5,
      corner: 'bottom-left',
      along: 'columns',
      zigzag: true,
    }),
    wiring: { split: 'never', strings: series4() },
    x: -1,
    y: 19,
    z: 1,
  },
  ...series(5, (i) => ({
    slug: `kite${i + 1}`,
    name: `Kite ${i + 1}`,
    shape: shape({
      shape: 'grid',
      columns: KITE.columns,
      rows: KITE.rows,
      pitchM: 0.09,
      numbers: packGrid(KITE.numbers),
    }),
    wiring: { colourOrder: 'GRB' as const },
    x: -4 + i * 2.6,
    y: -2 + (i % 2) * 2.2,
    z: 3.4 + (i % 3) * 0.7,
  })),
  {
    slug: 'tree',
    name: 'Tower tree',
    shape: shape({ shape: 'tree', strings: 20, perString: 40, heightM: 7, bottomM: 4, topM: 0.3, zigzag: true }),
    x: 17,
    y: 2,
    z: 0.2,
  },
  ...series(6, (i) => ({
    slug: `window${i + 1}`,
    name: `Mill window ${i + 1}`,
    shape: shape({ shape: 'frame', count: 44, widthM: 1.1, heightM: 1.4 }),
    x: 5 + (i % 3) * 2,
    y: 19,
    z: 1.2 + Math.floor(i / 3) * 2.4,
  })),
  {
    slug: 'eaves',
    name: 'Eaves icicles',
    shape: shape({ shape: 'icicles', drops: 60, spacingM: 0.2, cells: [5, 3, 7, 4], cellM: 0.12 }),
    x: 3,
    y: 18.8,
    z: 6.2,
  },
  ...series(4, (i) => ({
    slug: `line${i + 1}`,
    name: `Festoon ${i + 1}`,
    shape: shape({ shape: 'hung', count: 60, from: [0, 0, 0], to: [9, (i % 2) * 3 - 1.5, 0], sagM: 0.9 }),
    x: -22 + i * 9,
    y: -7,
    z: 4.2,
  })),
  ...pathStrips(),
];

/** The wall is fed by four ports of ten columns each. */
function series4(): NonNullable<WiringInput['strings']> {
  return Array.from({ length: 4 }, (_, i) => ({
    cells: 250,
    start: i === 0 ? null : { universe: i * 2, address: 1 },
  }));
}

export const pixelCount = PROPS.reduce((sum, row) => sum + cellCount(row.shape), 0);
