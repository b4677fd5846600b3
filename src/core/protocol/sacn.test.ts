import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import {
  decodeSacn,
  fillSacn,
  hex,
  isOutOfSequence,
  makeSacnPacket,
  multicastGroup,
  SACN_LENGTH,
  SACN_SLOTS_AT,
  sequenceStep,
  textUntilZero,
  utf8Truncated,
} from './sacn.ts';

const cid = Uint8Array.from({ length: 16 }, (_, i) => i + 1);
const packet = (universe = 7, priority = 110): Uint8Array => makeSacnPacket({ cid, name: 'Rink' }, universe, priority);
const decoded = (bytes: Uint8Array) => {
  const result = decodeSacn(bytes);
  assert.ok(result.ok, result.ok ? '' : result.fault.message);
  return result.value;
};

describe('an sACN data packet', () => {
  test('is laid out byte for byte as ANSI E1.31-2018 table 4-1 says', () => {
    const bytes = packet();
    fillSacn(bytes, 0x1a5, Uint8Array.of(1, 2, 3));
    assert.equal(bytes.length, SACN_LENGTH);
    const at = (from: number, count: number): string => hex(bytes.subarray(from, from + count));
    // Root layer: preamble, postamble, "ASC-E1.17", flags and length, vector, CID.
    assert.equal(at(0, 16), '001000004153432d45312e3137000000');
    assert.equal(at(16, 6), '726e00000004');
    assert.equal(at(22, 16), hex(cid));
    // Framing layer: flags and length, vector, source name, priority, synchronisation, sequence, options, universe.
    assert.equal(at(38, 6), '725800000002');
    assert.equal(at(44, 5), '52696e6b00');
    assert.equal(at(108, 7), '6e0000a5000007');
    // DMP layer: flags and length, vector, type, first address, increment, count, start code, slots.
    assert.equal(at(115, 10), '720b02a1000000010201');
    assert.equal(at(125, 5), '0001020300');
    assert.equal(SACN_SLOTS_AT, 126);
  });
  test('of fewer slots is shorter, and its lengths say so', () => {
    const bytes = makeSacnPacket({ cid, name: 'x' }, 1, 100, 10);
    assert.equal(bytes.length, 136);
    assert.equal(decoded(bytes).slots.length, 10);
  });
  test('is read back', () => {
    const slots = fc.uint8Array({ minLength: 512, maxLength: 512 });
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 63_999 }),
        fc.integer({ min: 0, max: 200 }),
        fc.integer({ min: 0, max: 255 }),
        slots,
        fc.boolean(),
        (universe, priority, sequence, values, terminated) => {
          const bytes = packet(universe, priority);
          fillSacn(bytes, sequence, values, terminated);
          const back = decoded(bytes);
          assert.deepEqual(
            [back.universe, back.priority, back.sequence, back.terminated, back.sourceName, back.cid, back.startCode],
            [universe, priority, sequence, terminated, 'Rink', hex(cid), 0],
          );
          assert.deepEqual(back.slots, values);
        },
      ),
    );
  });
  test('the terminated bit is cleared by the next fill', () => {
    const bytes = packet();
    fillSacn(bytes, 1, new Uint8Array(512), true);
    assert.equal(bytes[112], 0x40);
    fillSacn(bytes, 2, new Uint8Array(512));
    assert.equal(bytes[112], 0);
  });
});

describe('decoding what is not sound', () => {
  test('never throws on random bytes and never accepts them', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 1500 }), (bytes) => {
        assert.equal(decodeSacn(bytes).ok, false);
      }),
    );
  });
  test('never throws on a sound packet with bytes changed or cut off', () => {
    const change = fc.tuple(fc.integer({ min: 0, max: 637 }), fc.integer({ min: 0, max: 255 }));
    fc.assert(
      fc.property(
        fc.array(change, { minLength: 1, maxLength: 8 }),
        fc.integer({ min: 0, max: 638 }),
        (changes, length) => {
          const bytes = packet();
          for (const [i, value] of changes) bytes[i] = value;
          const result = decodeSacn(bytes.subarray(0, length));
          if (result.ok) assert.ok(result.value.slots.length <= 512 && result.value.universe >= 1);
        },
      ),
      { numRuns: 500 },
    );
  });
  const cases: [title: string, change: (bytes: Uint8Array) => void, code: string][] = [
    ['another preamble', (b) => (b[1] = 0x11), 'SACN_PREAMBLE'],
    ['another root vector', (b) => (b[21] = 8), 'SACN_VECTOR'],
    ['another framing vector', (b) => (b[43] = 1), 'SACN_VECTOR'],
    ['another DMP type', (b) => (b[118] = 0), 'SACN_DMP'],
    ['no values', (b) => b.fill(0, 123, 125), 'SACN_COUNT'],
    ['one value more than a universe has', (b) => (b[124] = 2), 'SACN_COUNT'],
    ['universe 0', (b) => b.fill(0, 113, 115), 'SACN_UNIVERSE'],
    ['universe 64000', (b) => b.set([0xfa, 0x00], 113), 'SACN_UNIVERSE'],
    ['priority 201', (b) => (b[108] = 201), 'SACN_PRIORITY'],
  ];
  for (const [title, change, code] of cases)
    test(title, () => {
      const bytes = packet();
      change(bytes);
      const result = decodeSacn(bytes);
      assert.equal(result.ok ? 'SACN_OK' : result.fault.code, code);
    });
  test('more values announced than came', () => {
    const result = decodeSacn(packet().subarray(0, 300));
    assert.equal(result.ok ? '' : result.fault.code, 'SACN_TRUNCATED');
  });
});

test('multicast groups follow the universe', () => {
  assert.equal(multicastGroup(1), '239.255.0.1');
  assert.equal(multicastGroup(63_999), '239.255.249.255');
});

describe('sequence numbers', () => {
  test('count over 255', () => {
    assert.equal(sequenceStep(255, 0), 1);
    assert.equal(sequenceStep(0, 255), -1);
    assert.equal(sequenceStep(10, 10), 0);
  });
  test('packets up to 20 old are dropped, older ones are a source that began anew', () => {
    assert.deepEqual(
      [0, -1, -19, -20, -64, 1, 100].map((d) => isOutOfSequence(sequenceStep(100, (100 + d) & 255))),
      [true, true, true, false, false, false, false],
    );
  });
});

describe('names in packets', () => {
  test('are cut before a character that does not fit', () => {
    assert.equal(utf8Truncated('é'.repeat(40), 63).length, 62);
    assert.equal(utf8Truncated('kite', 63).length, 4);
  });
  test('are read up to the zero, without control characters', () => {
    assert.equal(textUntilZero(new TextEncoder().encode('Ri\u0007nk\0rest')), 'Rink');
    assert.equal(textUntilZero(new Uint8Array(4)), '');
    fc.assert(fc.property(fc.uint8Array({ maxLength: 64 }), (bytes) => void textUntilZero(bytes)));
  });
});
