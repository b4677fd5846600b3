import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { decodeSacnExtended, fillSacnSync, makeSacnDiscovery, makeSacnSync } from './sacn-extended.ts';
import { decodeSacn, fillSacn, hex, makeSacnPacket } from './sacn.ts';

const cid = Uint8Array.from({ length: 16 }, (_, i) => i);
const CID = '000102030405060708090a0b0c0d0e0f';
/** Preamble and ACN id of every packet. */
const ROOT = '001000004153432d45312e3137000000';

describe('sync packets (ANSI E1.31 6.3)', () => {
  test('are laid out byte for byte: 49 bytes', () => {
    const packet = makeSacnSync(cid, 0x1f40);
    fillSacnSync(packet, 0x11);
    // Lengths: 49 - 16 = 33 (0x7021), 49 - 38 = 11 (0x700b).
    assert.equal(hex(packet), `${ROOT}702100000008${CID}700b00000001111f400000`);
    assert.deepEqual(decodeSacnExtended(packet), {
      ok: true,
      value: { type: 'sync', cid: CID, sequence: 0x11, syncAddress: 0x1f40 },
    });
  });
  test('count through 255', () => {
    const packet = makeSacnSync(cid, 1);
    fillSacnSync(packet, 256);
    assert.equal(packet[44], 0);
  });
});

describe('universe discovery (ANSI E1.31 8)', () => {
  test('is laid out byte for byte', () => {
    const [packet] = makeSacnDiscovery({ cid, name: 'Kite' }, [3, 1, 0x102]);
    // 120 + 6 bytes: 110 (0x706e), 88 (0x7058), 14 (0x700e).
    assert.equal(
      hex(packet!),
      `${ROOT}706e00000008${CID}705800000002${hex(new TextEncoder().encode('Kite'))}${'00'.repeat(60)}00000000700e00000001` +
        '0000' +
        '000100030102',
    );
  });
  test('comes in pages of 512, and tells an empty list too', () => {
    const universes = Array.from({ length: 1030 }, (_, i) => i + 1);
    const pages = makeSacnDiscovery({ cid, name: 'Kite' }, universes).map((p) => decodeSacnExtended(p));
    const lists = pages.flatMap((p) => (p.ok && p.value.type === 'discovery' ? [p.value] : []));
    assert.deepEqual(
      lists.map((l) => [l.page, l.lastPage, l.universes.length]),
      [
        [0, 2, 512],
        [1, 2, 512],
        [2, 2, 6],
      ],
    );
    assert.deepEqual(
      lists.flatMap((l) => l.universes),
      universes,
    );
    const [empty] = makeSacnDiscovery({ cid, name: 'Kite' }, []);
    const decoded = decodeSacnExtended(empty!);
    assert.ok(decoded.ok && decoded.value.type === 'discovery' && decoded.value.universes.length === 0);
  });
  test('a list longer than its packet is refused', () => {
    const [packet] = makeSacnDiscovery({ cid, name: 'Kite' }, [1, 2, 3]);
    assert.equal(decodeSacnExtended(packet!.subarray(0, packet!.length - 2)).ok, false);
  });
  test('survives any bytes behind a right head', () => {
    const head = Buffer.from(`${ROOT}702100000008${CID}700b0000000`, 'hex');
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 600 }), fc.integer({ min: 0, max: 3 }), (rest, vector) => {
        decodeSacnExtended(Uint8Array.from([...head, vector, ...rest]));
      }),
    );
  });
});

describe('options of a data packet', () => {
  test('preview, sync address and the force bit are where the standard has them, and terminating keeps them', () => {
    const packet = makeSacnPacket({ cid, name: 'Kite' }, 1, 100, 512, { preview: true, syncAddress: 7962 });
    assert.deepEqual([packet[109], packet[110], packet[112]], [0x1f, 0x1a, 0x80 | 0x20]);
    fillSacn(packet, 5, new Uint8Array(512), true);
    assert.equal(packet[112], 0x80 | 0x40 | 0x20);
    fillSacn(packet, 6, new Uint8Array(512));
    const decoded = decodeSacn(packet);
    assert.ok(decoded.ok);
    const { preview, terminated, forceSync, syncAddress } = decoded.value;
    assert.deepEqual([preview, terminated, forceSync, syncAddress], [true, false, true, 7962]);
  });
});
