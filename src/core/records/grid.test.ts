import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { FaultError } from '../faults.ts';
import { readDrawnGrid } from './grid.ts';

const block = (text: string): string[][] => text.split('\n').map((line) => line.split(','));

describe('a drawn grid', () => {
  test('is as large as what is filled, and tells first and last', () => {
    const grid = readDrawnGrid(block(',1,,\n 4 ,,2.0,\n,3,,\n,,,'));
    assert.deepEqual([grid.columns, grid.rows, grid.cells], [3, 3, 4]);
    assert.deepEqual(grid.first, { number: 1, row: 1, column: 2 });
    assert.deepEqual(grid.last, { number: 4, row: 2, column: 1 });
    assert.deepEqual([grid.missing, grid.repeated, grid.notNumbers], [[], [], []]);
    assert.deepEqual(grid.order.get(2), [{ row: 2, column: 3 }]);
  });
  test('names what is missing, repeated and no number, each with its row and column', () => {
    const grid = readDrawnGrid(block('2,3,x\n6,3,-1\n0,70000,'));
    assert.deepEqual(grid.missing, [
      { number: 1, row: 1, column: 1 },
      { number: 4, row: 1, column: 2 },
      { number: 5, row: 1, column: 2 },
    ]);
    assert.deepEqual(grid.repeated, [{ number: 3, row: 2, column: 2, firstRow: 1, firstColumn: 2 }]);
    assert.deepEqual(
      grid.notNumbers.map((n) => [n.text, n.row, n.column]),
      [
        ['x', 1, 3],
        ['-1', 2, 3],
        ['0', 3, 1],
        ['70000', 3, 2],
      ],
    );
  });
  test('without anything is empty', () => {
    const grid = readDrawnGrid(block(',,\n,,'));
    assert.deepEqual([grid.columns, grid.rows, grid.cells, grid.first, grid.last], [0, 0, 0, null, null]);
  });
  test('beyond 400 x 400 is refused; at 400 x 400 it is read', () => {
    const row = Array.from({ length: 400 }, (_, i) => String(i + 1));
    assert.equal(readDrawnGrid(Array.from({ length: 400 }, () => row)).cells, 400);
    assert.throws(() => readDrawnGrid([[...row, '1']]), FaultError);
    assert.throws(() => readDrawnGrid(Array.from({ length: 1000 }, () => row)), FaultError);
  });
  test('of any texts is read without harm, and counts what it was given', () => {
    fc.assert(
      fc.property(fc.array(fc.array(fc.string({ maxLength: 6 }), { maxLength: 12 }), { maxLength: 12 }), (rows) => {
        const grid = readDrawnGrid(rows);
        const filled = rows.flat().filter((t) => t.trim() !== '').length;
        const placed = [...grid.order.values()].reduce((sum, places) => sum + places.length, 0);
        assert.equal(placed + grid.notNumbers.length, filled);
      }),
    );
  });
  test('that holds every number once in any order has nothing to find', () => {
    fc.assert(
      fc.property(
        fc.shuffledSubarray(
          Array.from({ length: 60 }, (_, i) => i + 1),
          { minLength: 60 },
        ),
        (numbers) => {
          const grid = readDrawnGrid([numbers.slice(0, 30).map(String), numbers.slice(30).map(String)]);
          assert.deepEqual([grid.cells, grid.missing.length, grid.repeated.length], [60, 0, 0]);
        },
      ),
    );
  });
});
