import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import {
  decodeDeviceInfo,
  decodePersonality,
  decodeSensorDefinition,
  decodeSensorValue,
  encodeDeviceInfo,
  encodePersonality,
  encodeSensorDefinition,
  encodeSensorValue,
} from './rdm-device.ts';
import {
  decodeBranchResponse,
  decodeRdm,
  encodeBranchResponse,
  encodeRdm,
  GET,
  isUid,
  nackWords,
  PID,
  uidFromBytes,
  uidOfNumber,
  uidToBytes,
  uidToNumber,
  type RdmMessage,
} from './rdm.ts';

const bytes = (text: string): Uint8Array => Uint8Array.from(text.split(' ').map((b) => Number.parseInt(b, 16)));

/** Laid out by hand: 25 bytes before the checksum, whose sum is 0x066a. */
const STATUS = bytes('cc 01 19 12 34 56 78 9a bc cb a9 87 65 43 21 00 01 00 00 00 20 00 30 01 04 06 6a');
const status: RdmMessage = {
  to: '1234:56789abc',
  from: 'cba9:87654321',
  transaction: 0,
  portOrType: 1,
  subDevice: 0,
  commandClass: GET,
  pid: 0x0030,
  data: Uint8Array.of(4),
};
/** GET DEVICE_INFO without data; the 24 bytes add up to 0x04ef. */
const ASK = bytes('cc 01 18 7f f1 00 00 a1 01 7f f0 00 00 00 01 07 01 00 00 00 20 00 60 00 04 ef');

describe('a message of ANSI E1.20', () => {
  test('is laid out byte for byte', () => {
    assert.deepEqual(encodeRdm(status), STATUS);
    assert.deepEqual(
      encodeRdm({
        ...status,
        to: '7ff1:0000a101',
        from: '7ff0:00000001',
        transaction: 7,
        pid: PID.DEVICE_INFO,
        data: new Uint8Array(0),
      }),
      ASK,
    );
  });
  test('is read as it was written', () => {
    assert.deepEqual(decodeRdm(STATUS), { ok: true, value: status });
  });
  test('with a wrong checksum, length or start is refused and says why', () => {
    const codes = (change: (b: Uint8Array) => Uint8Array): string => {
      const result = decodeRdm(change(STATUS.slice()));
      return result.ok ? 'ok' : result.fault.code;
    };
    const set = (at: number, value: number) => (b: Uint8Array) => (b.set([value], at), b);
    assert.equal(codes(set(26, 0x6b)), 'RDM_CHECKSUM');
    assert.equal(codes(set(24, 5)), 'RDM_CHECKSUM');
    assert.equal(codes(set(2, 0x40)), 'RDM_LENGTH');
    assert.equal(codes(set(23, 9)), 'RDM_DATA_LENGTH');
    assert.equal(codes(set(0, 0)), 'RDM_START');
    assert.equal(
      codes((b) => b.slice(0, 20)),
      'RDM_SHORT',
    );
  });
  test('survives any bytes', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), (data) => {
        decodeRdm(data);
        decodeBranchResponse(data);
        decodeDeviceInfo(data);
        decodePersonality(data);
        decodeSensorDefinition(data);
      }),
    );
  });
});

describe('UIDs', () => {
  test('are the same as text, bytes and number', () => {
    assert.deepEqual([...uidToBytes('7ff1:0000a101')], [0x7f, 0xf1, 0, 0, 0xa1, 1]);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 2 ** 48 - 1 }), (value) => {
        const uid = uidOfNumber(value);
        assert.ok(isUid(uid));
        assert.equal(uidToNumber(uid), value);
        assert.equal(uidFromBytes(uidToBytes(uid)), uid);
      }),
    );
  });
  test('other texts are none', () => {
    for (const text of ['', '7ff1', '7ff1:0000a10', '7FF1:0000A101', 'g000:00000000']) assert.equal(isUid(text), false);
  });
});

describe('the answer to discovery', () => {
  const answer = bytes('fe fe fe fe fe fe fe aa ff 7f fb f5 aa 55 aa 55 ab f5 ab 55 aa 5d ae 5d');
  test('is encoded bit by bit as the standard says', () => {
    assert.deepEqual(encodeBranchResponse('7ff1:0000a101'), answer);
    assert.equal(decodeBranchResponse(answer), '7ff1:0000a101');
  });
  test('may have lost bytes of its preamble', () => {
    assert.equal(decodeBranchResponse(answer.slice(5)), '7ff1:0000a101');
    assert.equal(decodeBranchResponse(answer.slice(7)), '7ff1:0000a101');
  });
  test('of two at once is none', () => {
    const other = encodeBranchResponse('7ff1:0000a102');
    assert.equal(decodeBranchResponse(answer.map((b, i) => b | other[i]!)), null);
    assert.equal(decodeBranchResponse(new Uint8Array(24)), null);
  });
});

describe('what devices say of themselves', () => {
  test('device info', () => {
    const info = {
      model: 0x1234,
      category: 0x0101,
      software: 0x01020304,
      footprint: 16,
      personality: 1,
      personalities: 2,
      startAddress: 217,
      subDevices: 0,
      sensors: 1,
    };
    assert.deepEqual(encodeDeviceInfo(info), bytes('01 00 12 34 01 01 01 02 03 04 00 10 01 02 00 D9 00 00 01'));
    assert.deepEqual(decodeDeviceInfo(encodeDeviceInfo(info)), { ok: true, value: info });
    assert.equal(decodeDeviceInfo(new Uint8Array(18)).ok, false);
  });
  test('a personality with its name', () => {
    const mode = { number: 2, footprint: 11, name: 'Short' };
    assert.deepEqual(encodePersonality(mode), bytes('02 00 0b 53 68 6f 72 74'));
    assert.deepEqual(decodePersonality(encodePersonality(mode)), { ok: true, value: mode });
  });
  test('a sensor in its unit and prefix: tenths of a degree', () => {
    const definition = { number: 0, type: 0, unit: 1, prefix: 1, name: 'LED board' };
    const read = decodeSensorDefinition(encodeSensorDefinition(definition));
    assert.deepEqual(read, { ok: true, value: definition });
    const value = decodeSensorValue(encodeSensorValue(0, 415), definition);
    assert.deepEqual(value, { ok: true, value: { number: 0, name: 'LED board', value: 41.5, unit: '°C' } });
    const cold = decodeSensorValue(encodeSensorValue(0, -55), definition);
    assert.equal(cold.ok && cold.value.value, -5.5);
  });
  test('why it refuses, in words', () => {
    assert.match(nackWords(6), /out of its range/);
    assert.equal(nackWords(999), 'reason 999');
  });
});
