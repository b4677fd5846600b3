import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { profileBySlug } from '../../../../tests/support/rig.ts';
import { layoutOf } from '../../../core/patch/of-document.ts';
import { cellRun, piecesOf, toFirstBorder } from './map-pieces.ts';

const one = (...spans: { universe: number; from: number; to: number }[]) => [{ id: 'unit:a' as const, spans }];

describe('pieces of the universe map', () => {
  test('a span is cut where a row ends, and named once', () => {
    const pieces = piecesOf(one({ universe: 2, from: 100, to: 150 }), 128).get(2)!;
    assert.deepEqual(
      pieces.map((p) => [p.row, p.from, p.to, p.head, p.index]),
      [
        [0, 100, 128, true, 0],
        [1, 129, 150, false, 29],
      ],
    );
  });
  test('a prop that flows on counts through its universes', () => {
    const pieces = piecesOf(one({ universe: 1, from: 500, to: 512 }, { universe: 2, from: 1, to: 20 }), 512);
    assert.deepEqual([pieces.get(1)![0]!.index, pieces.get(2)![0]!.index], [0, 13]);
  });
  test('whatever the zoom, every slot is in one piece and nothing past 512', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 512 }),
        fc.integer({ min: 1, max: 600 }),
        fc.constantFrom(512, 256, 128, 64, 32),
        (from, length, perRow) => {
          const to = from + length - 1;
          const pieces = piecesOf(one({ universe: 1, from, to }), perRow).get(1)!;
          const slots = pieces.flatMap((p) => Array.from({ length: p.to - p.from + 1 }, (_, i) => p.from + i));
          assert.deepEqual(
            slots,
            Array.from({ length: Math.min(512, to) - from + 1 }, (_, i) => from + i),
          );
          for (const p of pieces) assert.equal(Math.floor((p.from - 1) / perRow), Math.floor((p.to - 1) / perRow));
        },
      ),
    );
  });
});

test('borders of cells are where the cells are, in every piece', () => {
  const run = cellRun(layoutOf(profileBySlug('quillon-stave16'), '50ch'))!;
  assert.equal(run.size, 3);
  for (let index = 0; index < 50; index++) {
    const border = index + toFirstBorder(run, index);
    assert.ok(border >= run.first && (border - run.first) % 3 === 0 && border - index < 3 + run.first);
  }
  assert.equal(cellRun(layoutOf(profileBySlug('generic-dimmer'), '1ch')), null);
});
