import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { decodeArtRdm, makeArtRdm, makeTodControl, makeTodData, makeTodRequest } from './artnet-rdm.ts';
import { decodeArtNet, makeArtSync } from './artnet.ts';
import { encodeRdm, GET, uidOfNumber } from './rdm.ts';
import { hex } from './sacn.ts';

const HEAD = '4172742d4e657400';

describe('RDM through Art-Net', () => {
  test('asking for a table of devices, byte for byte', () => {
    // Net 0x12, port 0x34: opcode 0x8000, version 14, net at 21, one address at 24.
    const packet = makeTodRequest(0x1234);
    assert.equal(packet.length, 56);
    assert.equal(hex(packet.subarray(0, 26)), `${HEAD}0080000e${'00'.repeat(9)}1200013400`);
    assert.deepEqual(decodeArtRdm(packet), { ok: true, value: { op: 'todRequest', portAddresses: [0x1234] } });
  });
  test('asking to find devices anew, byte for byte', () => {
    const packet = makeTodControl(0x0102);
    assert.equal(hex(packet), `${HEAD}0082000e${'00'.repeat(9)}010102`);
    assert.deepEqual(decodeArtRdm(packet), { ok: true, value: { op: 'todControl', portAddress: 0x0102, flush: true } });
  });
  test('a table of devices, byte for byte and in blocks of 200', () => {
    const [packet] = makeTodData(3, 4, 1, ['7ff1:0000a101']);
    assert.equal(hex(packet!), `${HEAD}0081000e0104${'00'.repeat(6)}010000030001000${'1'}7ff10000a101`);
    const uids = Array.from({ length: 450 }, (_, i) => uidOfNumber(0x7ff1_0000_0000 + i));
    const blocks = makeTodData(3, 1, 1, uids).map((p) => decodeArtRdm(p));
    assert.deepEqual(
      blocks.map((b) => b.ok && b.value.op === 'todData' && [b.value.block, b.value.total, b.value.uids.length]),
      [
        [0, 450, 200],
        [1, 450, 200],
        [2, 450, 50],
      ],
    );
    const [empty] = makeTodData(3, 1, 1, []);
    const decoded = decodeArtRdm(empty!);
    assert.ok(decoded.ok && decoded.value.op === 'todData' && decoded.value.uids.length === 0);
  });
  test('a message travels without its start code and comes back whole', () => {
    const message = encodeRdm({
      to: '7ff1:0000a101',
      from: '7ff0:00000001',
      transaction: 9,
      portOrType: 1,
      subDevice: 0,
      commandClass: GET,
      pid: 0x60,
      data: new Uint8Array(0),
    });
    const packet = makeArtRdm(0x0203, message);
    assert.equal(hex(packet.subarray(8, 26)), `0083000e01${'00'.repeat(8)}0200030118`);
    const back = decodeArtRdm(packet);
    assert.ok(back.ok && back.value.op === 'rdm');
    assert.equal(back.value.portAddress, 0x0203);
    assert.deepEqual(back.value.message, message);
  });
  test('a table that announces more than it holds is refused', () => {
    const [packet] = makeTodData(3, 1, 1, ['7ff1:0000a101']);
    packet![27] = 9;
    const decoded = decodeArtRdm(packet!);
    assert.ok(!decoded.ok && /9 devices announced, 1 there/.test(decoded.fault.message));
  });
  test('survives any bytes behind a right head', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), fc.integer({ min: 0x80, max: 0x83 }), (rest, op) => {
        decodeArtRdm(Uint8Array.from([...Buffer.from(HEAD, 'hex'), 0, op, ...rest]));
      }),
    );
  });
});

test('ArtSync, byte for byte', () => {
  assert.equal(hex(makeArtSync()), `${HEAD}0052000e0000`);
  assert.deepEqual(decodeArtNet(makeArtSync()), { ok: true, value: { op: 'sync' } });
});
