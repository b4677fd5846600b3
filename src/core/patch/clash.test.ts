import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import type { UnitId } from '../ids.ts';
import { findClashes, takenSpans } from './clash.ts';
import type { PatchedUnit } from './of-document.ts';
import { spansOf } from './address.ts';
import { placeRun, type PlaceOptions, type SlotPlace } from './place.ts';

const unit = (slug: string, universe: number, from: number, to: number, number = 0): PatchedUnit => ({
  id: `unit:${slug}`,
  number: number || slug.charCodeAt(0),
  name: slug,
  spans: [{ universe, from, to }],
  slotsPerUniverse: 512,
  wire: `unit:${slug}`,
});
const of = (units: PatchedUnit[], id: UnitId): string[] =>
  findClashes(units)
    .filter((c) => c.unitId === id)
    .map((c) => `${c.code}: ${c.message}`);

describe('clashes', () => {
  test('an overlap names the slots and the other unit, in both directions', () => {
    const units = [unit('a', 1, 1, 16), unit('b', 1, 14, 20)];
    assert.deepEqual(of(units, 'unit:a'), ['OVERLAP: shares 3 slots (1.14-16) with 98 b']);
    assert.deepEqual(of(units, 'unit:b'), ['OVERLAP: shares 3 slots (1.14-16) with 97 a']);
  });

  test('neighbours and the same slots of another universe are no clash', () => {
    assert.deepEqual(findClashes([unit('a', 1, 1, 16), unit('b', 1, 17, 20), unit('c', 2, 1, 16)]), []);
  });

  test('a long unit that covers several later ones is told of each', () => {
    const units = [unit('a', 1, 1, 100), unit('b', 1, 5, 6), unit('c', 1, 50, 60), unit('d', 1, 101, 110)];
    assert.equal(of(units, 'unit:a').length, 2);
    assert.equal(of(units, 'unit:d').length, 0);
  });

  test('an overrun says by how much', () => {
    assert.deepEqual(of([unit('a', 4, 510, 513)], 'unit:a'), ['OVERRUN: runs 1 slot past the end of universe 4 (512)']);
  });

  test('a number twice and no address are told', () => {
    const lost: PatchedUnit = { ...unit('c', 1, 1, 1), spans: [] };
    const units = [unit('a', 1, 1, 2, 7), unit('b', 1, 3, 4, 7), lost];
    assert.deepEqual(of(units, 'unit:a'), ['NUMBER_TWICE: number 7 is also b']);
    assert.deepEqual(of(units, 'unit:b'), ['NUMBER_TWICE: number 7 is also a']);
    assert.deepEqual(of(units, 'unit:c'), ['NO_ADDRESS: 99 c has no address yet']);
  });

  test('a thousand units on one address are reported without growing beyond measure', () => {
    const clashes = findClashes(Array.from({ length: 1000 }, (_, i) => unit(`u${i}`, 1, 1, 10, i + 1)));
    assert.ok(clashes.length >= 1000 && clashes.length <= 8000, `${clashes.length} clashes`);
  });

  test('two units are found to overlap exactly when their slots do', () => {
    const span = fc.record({
      universe: fc.integer({ min: 1, max: 2 }),
      from: fc.integer({ min: 1, max: 40 }),
      length: fc.integer({ min: 1, max: 12 }),
    });
    fc.assert(
      fc.property(fc.array(span, { minLength: 2, maxLength: 7 }), (spans) => {
        const units = spans.map((s, i) => unit(`u${i}`, s.universe, s.from, s.from + s.length - 1, i + 1));
        const found = new Set(
          findClashes(units).flatMap((c) => (c.code === 'OVERLAP' ? [`${c.unitId} ${c.otherId}`] : [])),
        );
        for (const a of units)
          for (const b of units) {
            if (a === b) continue;
            const [x, y] = [a.spans[0]!, b.spans[0]!];
            const overlap = x.universe === y.universe && x.from <= y.to && y.from <= x.to;
            assert.equal(found.has(`${a.id} ${b.id}`), overlap, `${a.id} ${b.id}`);
          }
      }),
    );
  });
});

/** Places for equal footprints that stay in their universe, as long as there are any. */
function nextFree(
  units: readonly PatchedUnit[],
  footprint: number,
  count: number,
  { slotsPerUniverse, ...options }: Pick<PlaceOptions, 'start' | 'gap'> & { slotsPerUniverse: PlaceOptions['slotsOf'] },
): SlotPlace[] {
  const spans = (place: SlotPlace) => spansOf(place, footprint, { flow: false, slotsPerUniverse: 512 });
  const things = Array.from({ length: count }, () => ({ spans, cell: 0 }));
  const places = placeRun(things, { ...options, slotsOf: slotsPerUniverse, taken: takenSpans(units) });
  return places.filter((place) => place !== null);
}

describe('next free', () => {
  const slotsPerUniverse = (): 512 => 512;

  test('fills gaps that take the whole footprint and leaves those that do not', () => {
    const taken = [unit('a', 1, 1, 10), unit('b', 1, 14, 20)];
    assert.deepEqual(nextFree(taken, 3, 2, { slotsPerUniverse }), [
      { universe: 1, address: 11 },
      { universe: 1, address: 21 },
    ]);
  });

  test('goes on in the next universe rather than over the end', () => {
    const places = nextFree([unit('a', 1, 1, 500)], 10, 2, { slotsPerUniverse });
    assert.deepEqual(places, [
      { universe: 1, address: 501 },
      { universe: 2, address: 1 },
    ]);
  });

  test('keeps the gap asked for, and starts where it is told', () => {
    const places = nextFree([], 4, 3, { slotsPerUniverse, gap: 6, start: { universe: 9, address: 11 } });
    assert.deepEqual(
      places.map((p) => `${p.universe}.${p.address}`),
      ['9.11', '9.21', '9.31'],
    );
  });

  test('gives none where nothing can fit', () => {
    assert.deepEqual(nextFree([], 513, 1, { slotsPerUniverse }), []);
    assert.deepEqual(nextFree([], 512, 3, { slotsPerUniverse, start: { universe: 63_999, address: 1 } }).length, 1);
  });

  test('never clashes with what is there nor with itself', () => {
    const span = fc.record({ from: fc.integer({ min: 1, max: 480 }), length: fc.integer({ min: 1, max: 32 }) });
    fc.assert(
      fc.property(
        fc.array(span, { maxLength: 12 }),
        fc.integer({ min: 1, max: 200 }),
        fc.integer({ min: 1, max: 12 }),
        (spans, footprint, count) => {
          const there = spans.map((s, i) => unit(`u${i}`, 1, s.from, s.from + s.length - 1, i + 1));
          const before = findClashes(there).length;
          const places = nextFree(there, footprint, count, { slotsPerUniverse });
          assert.equal(places.length, count);
          const fresh = places.map((p, i) => unit(`n${i}`, p.universe, p.address, p.address + footprint - 1, 1000 + i));
          assert.equal(findClashes([...there, ...fresh]).length, before);
        },
      ),
    );
  });
});

test('taken spans are merged and sorted', () => {
  const taken = takenSpans([unit('a', 1, 20, 30), unit('b', 1, 1, 5), unit('c', 1, 6, 10), unit('d', 3, 1, 1)]);
  assert.deepEqual(taken.get(1), [
    { from: 1, to: 10 },
    { from: 20, to: 30 },
  ]);
  assert.deepEqual(taken.get(3), [{ from: 1, to: 1 }]);
});
