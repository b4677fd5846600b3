import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { applyLevel, applyRow, setLevel, type Merging } from './merge.ts';
import type { SlotList } from '../rig/values.ts';

const fresh = (...current: number[]): Merging => ({
  current: Float32Array.from(current),
  base: new Float32Array(current.length),
  rank: new Int32Array(current.length).fill(-1),
});
const near = (actual: ArrayLike<number>, wanted: readonly number[]): void => {
  assert.equal(actual.length, wanted.length);
  wanted.forEach((v, i) => assert.ok(Math.abs(actual[i]! - v) < 1e-6, `slot ${i}: ${actual[i]} and not ${v}`));
};

describe('levels', () => {
  /** Layers in the order they are merged, as [rank, value, level of its fade]; over 0.2 at rest. */
  const cases: readonly (readonly [
    name: string,
    layers: readonly (readonly [rank: number, value: number, level: number])[],
    wanted: number,
  ])[] = [
    ['nothing', [], 0.2],
    ['one at full', [[0, 0.8, 1]], 0.8],
    ['one below what rests takes its place', [[0, 0.1, 1]], 0.1],
    ['one half way in', [[0, 0.8, 0.5]], 0.5],
    ['one that has not begun', [[0, 0.8, 0]], 0.2],
    [
      'the higher of two',
      [
        [0, 0.4, 1],
        [0, 0.6, 1],
      ],
      0.6,
    ],
    [
      'the higher of two, the other way round',
      [
        [0, 0.6, 1],
        [0, 0.4, 1],
      ],
      0.6,
    ],
    [
      'the higher fades in over the lower',
      [
        [0, 0.4, 1],
        [0, 1, 0.5],
      ],
      0.6,
    ],
    [
      'so far in it is still lower',
      [
        [0, 0.4, 1],
        [0, 1, 0.1],
      ],
      0.4,
    ],
    [
      'a higher rank, though lower',
      [
        [0, 0.9, 1],
        [1, 0.3, 1],
      ],
      0.3,
    ],
    [
      'a higher rank half way in',
      [
        [0, 0.9, 1],
        [1, 0.3, 0.5],
      ],
      0.6,
    ],
    [
      'two of a higher rank',
      [
        [0, 0.9, 1],
        [1, 0.1, 1],
        [1, 0.5, 1],
      ],
      0.5,
    ],
    [
      'two of a higher rank, one on its way',
      [
        [0, 0.8, 1],
        [1, 0, 1],
        [1, 0.4, 0.5],
      ],
      0.6,
    ],
    [
      'three ranks',
      [
        [0, 0.9, 1],
        [1, 0.5, 1],
        [2, 0.7, 0.5],
      ],
      0.6,
    ],
  ];
  for (const [name, layers, wanted] of cases)
    test(name, () => {
      const into = fresh(0.2);
      for (const [rank, value, level] of layers) applyLevel(into, 0, value, rank, level);
      near(into.current, [wanted]);
    });

  test('at full the order inside a rank does not matter', () => {
    const layers = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 8 });
    fc.assert(
      fc.property(layers, (values) => {
        const [one, other] = [fresh(0.3), fresh(0.3)];
        for (const v of values) applyLevel(one, 0, v, 4, 1);
        for (const v of [...values].reverse()) applyLevel(other, 0, v, 4, 1);
        near(one.current, [...other.current]);
        near(one.current, [Math.max(...values)]);
      }),
    );
  });

  test('whatever comes together stays between 0 and 1', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    const layer = fc.tuple(fc.integer({ min: 0, max: 3 }), share, share, fc.boolean());
    fc.assert(
      fc.property(fc.array(layer, { maxLength: 12 }), share, (layers, rest) => {
        const into = fresh(rest);
        for (const [rank, value, level, sets] of layers.sort((a, b) => a[0] - b[0]))
          (sets ? setLevel : applyLevel)(into, 0, value, rank, level);
        assert.ok(into.current[0]! >= 0 && into.current[0]! <= 1);
      }),
    );
  });
});

describe('a level that is set', () => {
  test('takes the place of a higher one of its rank', () => {
    const into = fresh(0);
    applyLevel(into, 0, 0.9, 2, 1);
    setLevel(into, 0, 0.3, 2, 1);
    near(into.current, [0.3]);
  });
  test('what comes later in its rank is compared with it', () => {
    const into = fresh(0);
    setLevel(into, 0, 0.3, 2, 1);
    applyLevel(into, 0, 0.5, 2, 1);
    near(into.current, [0.5]);
    applyLevel(into, 0, 0.4, 2, 1);
    near(into.current, [0.5]);
  });
});

describe('a row', () => {
  /** A level, something that jumps, something that fades. */
  const list: SlotList = { slots: Uint32Array.of(0, 1, 2), htpEnd: 1, snapEnd: 2, runs: Uint32Array.of(2, 1) };
  const row = Float32Array.of(1, 1, 1);

  test('at full is there whole', () => {
    const into = fresh(0, 0, 0);
    applyRow(into, list, row, 0, 0, 1);
    near(into.current, [1, 1, 1]);
  });
  test('half way in, what jumps is there already', () => {
    const into = fresh(0, 0, 0.5);
    applyRow(into, list, row, 0, 0, 0.5);
    near(into.current, [0.5, 1, 0.75]);
  });
  test('the later takes the rest, the higher the level', () => {
    const into = fresh(0, 0, 0);
    applyRow(into, list, row, 0, 0, 1);
    applyRow(into, list, Float32Array.of(0.2, 0.3, 0.4), 0, 0, 1);
    near(into.current, [1, 0.3, 0.4]);
  });
  test('one of a table begins where it is told to', () => {
    const into = fresh(0, 0, 0);
    applyRow(into, list, Float32Array.of(9, 9, 9, 0.1, 0.2, 0.3), 3, 0, 1);
    near(into.current, [0.1, 0.2, 0.3]);
  });
});
