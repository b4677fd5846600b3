import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import {
  addressToUnitNumber,
  dipSwitches,
  formatAddress,
  formatSpan,
  fromAbsolute,
  fromDipSwitches,
  parseAddress,
  spansOf,
  toAbsolute,
  unitNumberToAddress,
} from './address.ts';

const universe = fc.integer({ min: 1, max: 63_999 });
const address = fc.integer({ min: 1, max: 512 });

const read = (text: string, slots: 510 | 512 = 512): string => {
  const result = parseAddress(text, slots);
  return result.ok ? formatAddress(result.value.universe, result.value.address) : result.fault.code;
};

describe('reading addresses', () => {
  const cases: [text: string, expected: string][] = [
    ['3.145', '3.145'],
    ['3/145', '3.145'],
    ['3:145', '3.145'],
    [' 3 . 145 ', '3.145'],
    ['3\u00a0/ 145', '3.145'],
    ['007.008', '7.8'],
    ['1169', '3.145'],
    ['1 169', '3.145'],
    ['1', '1.1'],
    ['512', '1.512'],
    ['513', '2.1'],
    ['63999.512', '63999.512'],
    ['', 'ADDRESS_EMPTY'],
    ['3,145', 'ADDRESS_COMMA'],
    ['3.513', 'ADDRESS_RANGE'],
    ['3.0', 'ADDRESS_RANGE'],
    ['0.1', 'UNIVERSE_RANGE'],
    ['64000.1', 'UNIVERSE_RANGE'],
    ['0', 'ABSOLUTE_RANGE'],
    ['99999999999', 'ABSOLUTE_RANGE'],
    ['-3.1', 'ADDRESS_NEGATIVE'],
    ['3.1.4', 'ADDRESS_UNREADABLE'],
    ['1e3', 'ADDRESS_UNREADABLE'],
    ['three', 'ADDRESS_UNREADABLE'],
  ];
  for (const [text, expected] of cases) test(`"${text}" is ${expected}`, () => assert.equal(read(text), expected));

  test('in universes of 510 slots the last two addresses do not exist', () => {
    assert.equal(read('1.511', 510), 'ADDRESS_RANGE');
    assert.equal(read('511', 510), '2.1');
  });

  test('every fault says what was there and how to put it right, however hostile the text', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 5000 }), (text) => {
        const result = parseAddress(text);
        if (result.ok) return;
        assert.ok(result.fault.message.length < 300);
        assert.ok(result.fault.remedy.length > 0);
        assert.equal(result.fault.path, 'address');
      }),
    );
  });

  test('what is written is read back', () => {
    fc.assert(
      fc.property(universe, address, (u, a) => {
        assert.equal(read(formatAddress(u, a)), `${u}.${a}`);
      }),
    );
  });
});

describe('absolute channels', () => {
  test('are counted through universes of 512 and of 510', () => {
    assert.equal(toAbsolute(3, 145, 512), 1169);
    assert.equal(toAbsolute(3, 145, 510), 1165);
    assert.equal(toAbsolute(1, 511, 510), null);
    assert.deepEqual(fromAbsolute(1165, 510), { universe: 3, address: 145 });
    assert.equal(fromAbsolute(63_999 * 512 + 1, 512), null);
    assert.equal(fromAbsolute(1.5, 512), null);
  });

  test('go there and back for every place', () => {
    fc.assert(
      fc.property(universe, address, fc.constantFrom(510 as const, 512 as const), (u, a, slots) => {
        const absolute = toAbsolute(u, a, slots);
        if (a > slots) assert.equal(absolute, null);
        else assert.deepEqual(fromAbsolute(absolute!, slots), { universe: u, address: a });
      }),
    );
  });
});

describe('switches', () => {
  test('stand for powers of two', () => {
    assert.deepEqual(dipSwitches(145), [1, 5, 8]);
    assert.deepEqual(dipSwitches(1), [1]);
    assert.deepEqual(dipSwitches(511), [1, 2, 3, 4, 5, 6, 7, 8, 9]);
    assert.deepEqual(dipSwitches(512), []);
    assert.deepEqual(dipSwitches(1, true), []);
    assert.deepEqual(dipSwitches(512, true), [1, 2, 3, 4, 5, 6, 7, 8, 9]);
  });

  test('give back the address, whichever number the unit counts from', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 511 }), fc.boolean(), (a, zero) => {
        assert.equal(fromDipSwitches(dipSwitches(a, zero), zero), a);
      }),
    );
    assert.equal(fromDipSwitches([]), null);
    assert.equal(fromDipSwitches([10]), null);
    assert.equal(fromDipSwitches([], true), 1);
  });
});

test('unit numbers of packs give every n-th address', () => {
  assert.equal(unitNumberToAddress(5, 4), 17);
  assert.equal(addressToUnitNumber(17, 4), 5);
  assert.equal(addressToUnitNumber(18, 4), null);
});

describe('spans', () => {
  test('of a fixture stay in its universe and show an overrun', () => {
    assert.deepEqual(spansOf({ universe: 2, address: 510 }, 5, { flow: false, slotsPerUniverse: 512 }), [
      { universe: 2, from: 510, to: 514 },
    ]);
    assert.deepEqual(spansOf({ universe: 2, address: 1 }, 0, { flow: false, slotsPerUniverse: 512 }), []);
  });

  test('of pixels flow on, and split cells only where the universe has 512 slots', () => {
    const place = { universe: 1, address: 1 };
    assert.deepEqual(spansOf(place, 900, { flow: true, slotsPerUniverse: 512 }).map(formatSpan), [
      '1.1-512',
      '2.1-388',
    ]);
    assert.deepEqual(spansOf(place, 900, { flow: true, slotsPerUniverse: 510, cellFootprint: 3 }).map(formatSpan), [
      '1.1-510',
      '2.1-390',
    ]);
    assert.deepEqual(
      spansOf({ universe: 1, address: 508 }, 9, { flow: true, slotsPerUniverse: 510, cellFootprint: 4 }).map(
        formatSpan,
      ),
      ['2.1-9'],
    );
  });

  test('of pixels hold every slot once, in order, inside their universes', () => {
    const footprint = fc.integer({ min: 1, max: 5000 });
    fc.assert(
      fc.property(universe, address, footprint, fc.integer({ min: 0, max: 8 }), (u, a, f, cell) => {
        const spans = spansOf({ universe: u, address: a }, f, {
          flow: true,
          slotsPerUniverse: 512,
          cellFootprint: cell,
        });
        assert.equal(
          spans.reduce((sum, s) => sum + s.to - s.from + 1, 0),
          f,
        );
        for (const [i, s] of spans.entries()) {
          assert.ok(s.from >= 1 && s.to <= 512 && s.from <= s.to);
          if (i > 0) assert.equal(s.universe, spans[i - 1]!.universe + 1);
        }
      }),
    );
  });
});

test('a span of one slot is written without a dash', () => {
  assert.equal(formatSpan({ universe: 3, from: 7, to: 7 }), '3.7');
});
