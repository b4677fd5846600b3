import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { make, type UnitRecord } from '../records/index.ts';
import { propSchema, type Prop } from '../records/prop.ts';
import { documentOf } from '../document/change.ts';
import { layoutOfUnit, patchOf, unitLayout } from '../patch/of-document.ts';
import { PIXELS } from '../../../tests/support/rig.ts';
import { cellsText, partCells } from './parts.ts';
import { stringRuns, wirePixels } from './wiring.ts';

const propOf = (count: number, rest: Partial<Parameters<typeof propSchema.parse>[0] & object> = {}): Prop =>
  propSchema.parse({ shape: { shape: 'line', count, widthM: 1 }, ...rest });
const unit = (prop: Prop, patch: UnitRecord['patch'] = null): UnitRecord =>
  make('unit', { id: 'unit:a', number: 1, name: 'A', profileId: PIXELS.id, mode: 'px', prop, patch });
/** First slot (from 0) of each cell's red, green and blue. */
const offsets = (prop: Prop, cell: number): number[] =>
  unitLayout(PIXELS, unit(prop))
    .channels.filter((c) => c.cell === cell)
    .sort((a, b) => 'RGB'.indexOf(a.channel.key) - 'RGB'.indexOf(b.channel.key))
    .map((c) => c.offsets[0]!);
const spans = (prop: Prop, universe: number, address: number) => {
  const record = unit(prop, { universe, address });
  return patchOf(documentOf([PIXELS, record]))
    .get(record.id)!
    .spans.map((s) => `${s.universe}.${s.from}-${s.to}`);
};

describe('a prop on its wire', () => {
  test('has as many cells as its shape, each with its level and colour', () => {
    const layout = layoutOfUnit(documentOf([PIXELS]), unit(propOf(86)));
    assert.deepEqual([layout.cells, layout.footprint], [86, 258]);
    assert.deepEqual(
      layout.programmable.map((p) => [p.attribute, p.cells]),
      [
        ['Dimmer', 86],
        ['ColorRGB_Red', 86],
        ['ColorRGB_Green', 86],
        ['ColorRGB_Blue', 86],
      ],
    );
  });
  test('the order of colours is the prop’s own', () => {
    assert.deepEqual(offsets(propOf(4), 2), [3, 4, 5]);
    assert.deepEqual(offsets(propOf(4, { colourOrder: 'GRB' }), 2), [4, 3, 5]);
    assert.deepEqual(offsets(propOf(4, { colourOrder: 'BGR' }), 1), [2, 1, 0]);
  });
  test('strings run backward, skip pixels, and leave the rest to a last one', () => {
    const strings = [
      { cells: 3, backward: true },
      { cells: 2, nulls: 4 },
    ];
    const prop = propOf(7, { strings });
    assert.deepEqual([...wirePixels(stringRuns(prop, 7))], [2, 1, 0, 7, 8, 9, 10]);
    assert.equal(unitLayout(PIXELS, unit(prop)).footprint, (7 + 4) * 3);
    assert.deepEqual(offsets(prop, 4), [21, 22, 23]);
    assert.deepEqual(spans(prop, 1, 1), ['1.1-33']);
  });
  test('strings that begin beyond the last cell are left out, the last is cut', () => {
    const runs = stringRuns(propOf(5, { strings: [{ cells: 4 }, { cells: 4 }, { cells: 4 }] }), 5);
    assert.deepEqual(
      runs.map((r) => [r.first, r.cells]),
      [
        [0, 4],
        [4, 1],
      ],
    );
  });
  test('a string with its own start lies there, and moves with its prop', () => {
    const strings = [{ cells: 50 }, { cells: 50, start: { universe: 1, address: 1 } }, { cells: 20 }];
    const prop = propOf(120, { strings });
    assert.deepEqual(spans(prop, 3, 10), ['3.10-159', '4.1-210']);
    assert.deepEqual(spans(prop, 7, 10), ['7.10-159', '8.1-210']);
  });
  test('cells are split over universes unless that is forbidden', () => {
    assert.deepEqual(spans(propOf(200), 1, 1), ['1.1-512', '2.1-88']);
    assert.deepEqual(spans(propOf(200, { split: 'never' }), 1, 1), ['1.1-510', '2.1-90']);
  });
  test('whatever the strings, wiring is one pixel a cell and never one pixel twice', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 300 }),
        fc.array(
          fc.record({
            cells: fc.integer({ min: 1, max: 120 }),
            backward: fc.boolean(),
            nulls: fc.integer({ min: 0, max: 9 }),
          }),
          { maxLength: 8 },
        ),
        (count, strings) => {
          const runs = stringRuns(propOf(count, { strings }), count);
          const pixels = wirePixels(runs);
          const nulls = runs.reduce((sum, r) => sum + r.nulls, 0);
          assert.equal(pixels.length, count);
          assert.equal(new Set(pixels).size, count);
          assert.ok(Math.max(...pixels) < count + nulls);
          assert.equal(unitLayout(PIXELS, unit(propOf(count, { strings }))).footprint, (count + nulls) * 3);
        },
      ),
    ));
});

describe('parts', () => {
  test('ranges in their order, forward and backward, each cell once', () => {
    assert.deepEqual(partCells({ cells: '3-5, 9,2-1,4' }), [3, 4, 5, 9, 2, 1]);
    assert.equal(cellsText([3, 4, 5, 9, 2, 1]), '3-5, 9, 2-1');
  });
  test('there and back', () =>
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 1, max: 60_000 }), { minLength: 1, maxLength: 200 }), (cells) => {
        assert.deepEqual(partCells({ cells: cellsText(cells) }), cells);
      }),
    ));
});
