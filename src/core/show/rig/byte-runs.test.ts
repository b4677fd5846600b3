import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { runsOf, type ByteEncoders } from './byte-runs.ts';

const encoders = (
  rows: readonly (readonly [slot: number, offset: number, scale: number, flip: number, gamma: number])[],
): ByteEncoders => ({
  slot: Uint32Array.from(rows, (r) => r[0]),
  offset: Int32Array.from(rows, (r) => r[1]),
  scale: Int32Array.from(rows, (r) => r[2]),
  flip: Uint8Array.from(rows, (r) => r[3]),
  gamma: Uint8Array.from(rows, (r) => r[4]),
});

test('the colours of a pixel are one run; what is written otherwise begins another', () => {
  const runs = runsOf(
    encoders([
      [5, 0, 1, 0, 1],
      [6, 1, 1, 0, 1],
      [7, 2, 1, 0, 1],
      // The next pixel has a level of its own,
      [8, 3, 2, 0, 1],
      // a flipped slot stands alone,
      [9, 4, 2, 1, 1],
      // and so do one further on, one whose slot lies elsewhere, and one without a curve.
      [10, 6, 2, 1, 1],
      [20, 7, 2, 1, 1],
      [21, 8, 2, 1, 0],
    ]),
  );
  assert.deepEqual([...runs.slot], [5, 8, 9, 10, 20, 21]);
  assert.deepEqual([...runs.offset], [0, 3, 4, 6, 7, 8]);
  assert.deepEqual([...runs.count], [3, 1, 1, 1, 1, 1]);
  assert.deepEqual([...runs.scale], [1, 2, 2, 2, 2, 2]);
  assert.deepEqual([...runs.flip], [0, 0, 1, 1, 1, 1]);
  assert.deepEqual([...runs.gamma], [1, 1, 1, 1, 1, 0]);
});

test('runs say the same, slot for slot, as what they were made of', () => {
  const small = fc.integer({ min: 0, max: 1 });
  const row = fc.tuple(fc.integer({ min: 0, max: 4 }), fc.integer({ min: 0, max: 4 }), small, small, small);
  fc.assert(
    fc.property(fc.array(row, { maxLength: 40 }), (rows) => {
      const runs = runsOf(encoders(rows));
      const again = [...runs.slot].flatMap((slot, run) =>
        Array.from({ length: runs.count[run]! }, (_, i) => [
          slot + i,
          runs.offset[run]! + i,
          runs.scale[run]!,
          runs.flip[run]!,
          runs.gamma[run]!,
        ]),
      );
      assert.deepEqual(again, rows);
    }),
  );
});

test('a run that is too long to be counted goes on in another', () => {
  const length = 70_000;
  const runs = runsOf(encoders(Array.from({ length }, (_, i) => [i, i, -1, 0, 0] as const)));
  assert.deepEqual([...runs.count], [65_535, length - 65_535]);
  assert.deepEqual([...runs.slot], [0, 65_535]);
});
