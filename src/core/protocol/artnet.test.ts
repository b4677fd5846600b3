import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import {
  decodeArtNet,
  fillArtDmx,
  makeArtDmx,
  makeArtPoll,
  makeArtPollReply,
  nextArtSequence,
  splitPortAddress,
  type ArtNode,
} from './artnet.ts';
import { hex } from './sacn.ts';

const node: ArtNode = {
  bindIndex: 1,
  rdm: true,
  report: '#0001 [0007] all is well',
  inputs: [{ portAddress: 0x12a, receiving: true }],
  ip: '127.80.4.20',
  shortName: 'Node',
  longName: 'A node with a long name',
  firmware: 0x0102,
  style: 0,
  mac: '02:00:00:00:00:01',
  outputs: [0x123, 0x124, 0x125].map((portAddress, i) => ({ portAddress, transmitting: i === 0, merging: i === 1 })),
};

describe('ArtDmx', () => {
  test('is laid out byte for byte as Art-Net 4 says', () => {
    const packet = makeArtDmx(0x7f3, 512);
    fillArtDmx(packet, 1, Uint8Array.of(9, 8, 7));
    assert.equal(packet.length, 530);
    assert.equal(hex(packet.subarray(0, 22)), '4172742d4e6574000050000e0100f307020009080700');
  });
  test('counts 1 to 255 and never 0', () => {
    const seen: number[] = [];
    for (let i = 0, sequence = 0; i < 511; i++) seen.push((sequence = nextArtSequence(sequence)));
    assert.deepEqual(
      seen.slice(0, 255),
      Array.from({ length: 255 }, (_, i) => i + 1),
    );
    assert.deepEqual(seen.slice(255, 258), [1, 2, 3]);
    assert.ok(
      seen.every((n, i) => i === 0 || n !== seen[i - 1]),
      'none twice in a row, at the wrap neither',
    );
    const packet = makeArtDmx(1);
    fillArtDmx(packet, 255, new Uint8Array(512));
    assert.equal(packet[12], 255);
  });
  test('has an even number of slots', () => {
    assert.equal(makeArtDmx(0, 3).length, 18 + 4);
    assert.equal(makeArtDmx(0, 0).length, 18 + 2);
  });
  test('is read back', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 32_767 }),
        fc.uint8Array({ minLength: 512, maxLength: 512 }),
        (portAddress, values) => {
          const packet = makeArtDmx(portAddress);
          fillArtDmx(packet, 41, values);
          const result = decodeArtNet(packet);
          assert.ok(result.ok && result.value.op === 'dmx');
          assert.deepEqual([result.value.portAddress, result.value.sequence], [portAddress, 41]);
          assert.deepEqual(result.value.slots, values);
        },
      ),
    );
  });
});

describe('polls', () => {
  test('ask, and are understood', () => {
    assert.equal(hex(makeArtPoll()), '4172742d4e6574000020000e0000');
    assert.deepEqual(decodeArtNet(makeArtPoll()), { ok: true, value: { op: 'poll' } });
  });
  test('replies carry the node', () => {
    const packet = makeArtPollReply(node);
    assert.equal(packet.length, 239);
    const result = decodeArtNet(packet);
    assert.ok(result.ok && result.value.op === 'reply');
    assert.deepEqual(result.value.node, node);
    // Nobody's product (OemUnknown), nobody's maker (ESTA's range for prototypes), the address it answers from.
    assert.equal(hex(packet.subarray(20, 22)), '00ff');
    assert.equal(hex(packet.subarray(24, 26)), 'f07f');
    assert.equal(hex(packet.subarray(10, 14)), '7f500414');
  });
  test('a name that is too long is cut, not spilled over the next field', () => {
    const result = decodeArtNet(makeArtPollReply({ ...node, shortName: 'n'.repeat(99), longName: 'é'.repeat(99) }));
    assert.ok(result.ok && result.value.op === 'reply');
    assert.equal(result.value.node.shortName, 'n'.repeat(17));
    assert.equal(result.value.node.longName, 'é'.repeat(31));
  });
});

test('port-addresses are split as devices show them', () => {
  assert.deepEqual(splitPortAddress(0x123), { net: 1, subNet: 2, universe: 3 });
  assert.deepEqual(splitPortAddress(32_767), { net: 127, subNet: 15, universe: 15 });
});

describe('decoding what is not sound', () => {
  test('never throws on random bytes, with or without the id before them', () => {
    const id = [...makeArtPoll().subarray(0, 8)];
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 600 }), (bytes) => {
        assert.equal(decodeArtNet(bytes).ok, false);
        const result = decodeArtNet(Uint8Array.from([...id, ...bytes]));
        if (result.ok && result.value.op === 'dmx') assert.ok(result.value.slots.length <= 512);
      }),
    );
    for (const opcode of [0x20, 0x21, 0x50])
      fc.assert(
        fc.property(fc.uint8Array({ maxLength: 600 }), (bytes) => {
          decodeArtNet(Uint8Array.from([...id, 0, opcode, ...bytes]));
        }),
      );
  });
  const dmx = (change: (packet: Uint8Array) => void): string => {
    const packet = makeArtDmx(1);
    change(packet);
    const result = decodeArtNet(packet);
    return result.ok ? result.value.op : result.fault.code;
  };
  test('says what is wrong', () => {
    assert.equal(
      dmx((p) => (p[11] = 13)),
      'ARTNET_VERSION',
    );
    assert.equal(
      dmx((p) => p.set([0, 0], 16)),
      'ARTNET_LENGTH',
    );
    assert.equal(
      dmx((p) => p.set([2, 1], 16)),
      'ARTNET_LENGTH',
    );
    assert.equal(
      dmx((p) => (p[0] = 0)),
      'ARTNET_ID',
    );
    assert.equal(
      dmx((p) => (p[9] = 0x60)),
      'other',
    );
    const cut = decodeArtNet(makeArtDmx(1).subarray(0, 100));
    assert.equal(cut.ok ? '' : cut.fault.code, 'ARTNET_TRUNCATED');
  });
});
