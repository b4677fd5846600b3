import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { cellCount, cellPlaces } from './cells.ts';
import { CORNERS, shapeSchema, type ShapeInput } from '../records/shape.ts';

const round = (places: readonly (readonly number[])[]): number[][] =>
  places.map((p) => p.map((v) => Math.round(v * 1000) / 1000 + 0));
const make = (input: ShapeInput): number[][] => round(cellPlaces(shapeSchema.parse(input)));
const xz = (places: readonly number[][]): number[][] => places.map(([x, , z]) => [x!, z!]);
const near = (a: number, b: number, within = 0.01): void => assert.ok(Math.abs(a - b) <= within, `${a} is not ${b}`);

const ONE_OF_EACH: readonly ShapeInput[] = [
  { shape: 'line', count: 5, widthM: 2 },
  {
    shape: 'polyline',
    count: 7,
    points: [
      [0, 0, 0],
      [1, 0, 0],
      [1, 0, 2],
    ],
  },
  { shape: 'arch', count: 11, widthM: 4, heightM: 3 },
  { shape: 'ring', count: 192, diameterM: 6 },
  { shape: 'matrix', columns: 40, rows: 25, widthM: 4, heightM: 2.5 },
  { shape: 'spiral', count: 100, heightM: 2, bottomM: 1, turns: 6 },
  { shape: 'tree', strings: 20, perString: 40, heightM: 8, bottomM: 5, topM: 0.4, zigzag: true },
  { shape: 'star', count: 50, tips: 5, outerM: 1, innerM: 0.4 },
  { shape: 'icicles', drops: 9, spacingM: 0.3, cells: [5, 3, 7], cellM: 0.1 },
  { shape: 'frame', count: 60, widthM: 1.2, heightM: 1.8 },
  { shape: 'hung', count: 30, from: [0, 0, 4], to: [10, 0, 4], sagM: 1 },
];

describe('every shape', () => {
  test('makes as many places as it has cells, all of them numbers', () => {
    for (const input of ONE_OF_EACH) {
      const shape = shapeSchema.parse(input);
      const places = cellPlaces(shape);
      assert.equal(places.length, cellCount(shape), input.shape);
      assert.ok(places.flat().every(Number.isFinite), input.shape);
    }
  });
  test('of a single cell makes one', () => {
    for (const input of ONE_OF_EACH)
      if ('count' in input) assert.equal(cellPlaces(shapeSchema.parse({ ...input, count: 1 })).length, 1, input.shape);
  });
  test('without sense is refused with the place', () => {
    for (const bad of [
      { shape: 'line', count: 0, widthM: 1 },
      { shape: 'line', count: 5, widthM: Number.NaN },
      { shape: 'polyline', count: 5, points: [[0, 0, 0]] },
      { shape: 'ring', count: 100_000, diameterM: 1 },
      { shape: 'wheel', count: 5 },
      { shape: 'line', count: 5, widthM: 1, colour: 'red' },
    ])
      assert.equal(shapeSchema.safeParse(bad).success, false, JSON.stringify(bad));
  });
});

describe('places and order', () => {
  test('a line from left to right about its middle', () =>
    assert.deepEqual(
      make({ shape: 'line', count: 5, widthM: 2 }),
      [-1, -0.5, 0, 0.5, 1].map((x) => [x, 0, 0]),
    ));
  test('a polyline at even distances round its corners', () =>
    assert.deepEqual(
      make({
        shape: 'polyline',
        count: 4,
        points: [
          [0, 0, 0],
          [1, 0, 0],
          [1, 0, 2],
        ],
      }),
      [
        [0, 0, 0],
        [1, 0, 0],
        [1, 0, 1],
        [1, 0, 2],
      ],
    ));
  test('an arch from foot to foot over its top, at even distances', () => {
    const places = make({ shape: 'arch', count: 101, widthM: 4, heightM: 3 });
    assert.deepEqual(
      [places[0], places.at(-1)],
      [
        [-2, 0, 0],
        [2, 0, 0],
      ],
    );
    near(places[50]![0]!, 0);
    near(places[50]![2]!, 3);
    const steps = places.slice(1).map((p, i) => Math.hypot(p[0]! - places[i]![0]!, p[2]! - places[i]![2]!));
    assert.ok(Math.max(...steps) - Math.min(...steps) < 0.005);
  });
  test('a ring from the bottom, clockwise: to the left, up, to the right', () => {
    assert.deepEqual(xz(make({ shape: 'ring', count: 4, diameterM: 2 })), [
      [0, 0],
      [-1, 1],
      [0, 2],
      [1, 1],
    ]);
    assert.deepEqual(xz(make({ shape: 'ring', count: 4, diameterM: 2, startDeg: 180, clockwise: false })), [
      [0, 2],
      [-1, 1],
      [0, 0],
      [1, 1],
    ]);
  });
  test('a matrix wired from a corner, along rows or columns, the same way or to and fro', () => {
    const base = { shape: 'matrix', columns: 3, rows: 2, widthM: 2, heightM: 1 } as const;
    assert.deepEqual(xz(make(base)), [
      [-1, 0],
      [0, 0],
      [1, 0],
      [-1, 1],
      [0, 1],
      [1, 1],
    ]);
    assert.deepEqual(xz(make({ ...base, corner: 'top-right', along: 'columns', zigzag: true })), [
      [1, 1],
      [1, 0],
      [0, 0],
      [0, 1],
      [-1, 1],
      [-1, 0],
    ]);
  });
  test('a spiral begins at the foot and ends at the top, narrower and narrower', () => {
    const places = make({ shape: 'spiral', count: 200, heightM: 2, bottomM: 1, turns: 5 });
    assert.deepEqual(places[0], [0, -0.5, 0]);
    assert.deepEqual(places.at(-1)!.slice(2), [2]);
    const radius = (p: number[]): number => Math.hypot(p[0]!, p[1]!);
    assert.ok(places.every((p, i) => i === 0 || radius(p) <= radius(places[i - 1]!) + 1e-3));
  });
  test('a tree string by string from the top, every second one from the foot where it is wired so', () => {
    const tree = { shape: 'tree', strings: 4, perString: 3, heightM: 2, bottomM: 2, topM: 0 } as const;
    const z = (places: number[][]): number[] => places.map((p) => p[2]!);
    assert.deepEqual(z(make(tree)), [2, 1, 0, 2, 1, 0, 2, 1, 0, 2, 1, 0]);
    assert.deepEqual(z(make({ ...tree, zigzag: true })).slice(0, 6), [2, 1, 0, 0, 1, 2]);
    assert.deepEqual(make(tree)[2], [0, -1, 0]);
  });
  test('a star begins at its uppermost tip and stands on the ground', () => {
    const places = make({ shape: 'star', count: 10, tips: 5, outerM: 2, innerM: 0.8 });
    near(places[0]![0]!, 0);
    near(Math.max(...places.map((p) => p[2]!)), places[0]![2]!);
    near(Math.min(...places.map((p) => p[2]!)), 0);
    assert.ok(places[2]![0]! > 0);
  });
  test('icicles hang from one line, each as long as the pattern says', () => {
    const places = xz(make({ shape: 'icicles', drops: 3, spacingM: 1, cells: [2, 1], cellM: 0.5 }));
    assert.deepEqual(places, [
      [-1, 0.5],
      [-1, 0],
      [0, 0.5],
      [1, 0.5],
      [1, 0],
    ]);
  });
  test('a frame goes round and does not close on its first cell', () => {
    assert.deepEqual(xz(make({ shape: 'frame', count: 4, widthM: 2, heightM: 2 })), [
      [-1, 0],
      [-1, 2],
      [1, 2],
      [1, 0],
    ]);
  });
  test('a hung string sags in the middle by what it was told', () => {
    const places = make({ shape: 'hung', count: 101, from: [0, 0, 4], to: [10, 0, 4], sagM: 1 });
    assert.deepEqual(
      [places[0], places.at(-1)],
      [
        [0, 0, 4],
        [10, 0, 4],
      ],
    );
    near(places[50]![2]!, 3);
  });
});

test('however a matrix is wired, every place is there once', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 30 }),
      fc.integer({ min: 1, max: 30 }),
      fc.constantFrom(...CORNERS),
      fc.constantFrom('rows' as const, 'columns' as const),
      fc.boolean(),
      (columns, rows, corner, along, zigzag) => {
        const places = make({ shape: 'matrix', columns, rows, widthM: columns, heightM: rows, corner, along, zigzag });
        assert.equal(new Set(places.map((p) => p.join())).size, columns * rows);
        // Wired to and fro, neighbours on the wire are neighbours in the matrix.
        if (!zigzag || columns === 1 || rows === 1) return;
        const [dx, dz] = [columns / (columns - 1), rows / (rows - 1)];
        for (let i = 1; i < places.length; i++) {
          const [a, b] = [places[i - 1]!, places[i]!];
          const steps = Math.abs(a[0]! - b[0]!) / dx + Math.abs(a[2]! - b[2]!) / dz;
          near(steps, 1, 0.02);
        }
      },
    ),
  );
});
