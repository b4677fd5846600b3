import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import {
  decodeSerialNumber,
  decodeUsbParameters,
  encodeFramed,
  fillFramedDmx,
  FramedReader,
  LABEL_SEND_DMX,
  makeFramedDmx,
} from './serial.ts';
import { hex } from './sacn.ts';

const reader = (): { got: [number, number[]][]; r: FramedReader } => {
  const got: [number, number[]][] = [];
  return { got, r: new FramedReader((label, data) => got.push([label, [...data]])) };
};

describe('framed messages of USB-serial interfaces', () => {
  test('are laid out byte for byte: start, label, length low and high, data, end', () => {
    assert.equal(hex(encodeFramed(10, new Uint8Array(0))), '7e0a0000e7');
    assert.equal(hex(encodeFramed(3, Uint8Array.of(0, 0))), '7e0302000000e7');
    const dmx = makeFramedDmx();
    fillFramedDmx(
      dmx,
      Uint8Array.from({ length: 512 }, (_, i) => i & 255),
    );
    assert.equal(dmx.length, 518);
    // 513 bytes (start code and 512 slots) are 0x0201.
    assert.equal(hex(dmx.subarray(0, 8)), '7e06010200000102');
    assert.equal(dmx.at(-1), 0xe7);
    assert.equal(dmx.at(-2), 255);
  });
  test('of fewer slots never have fewer than 24', () => {
    assert.equal(makeFramedDmx(510).length, 516);
    assert.equal(makeFramedDmx(3).length, 4 + 25 + 1);
  });
  test('are read whatever the pieces they come in', () => {
    const stream = [...encodeFramed(6, Uint8Array.of(0x7e, 0xe7, 1)), ...encodeFramed(10, Uint8Array.of(9))];
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 5 }), { minLength: 20, maxLength: 20 }), (sizes) => {
        const { got, r } = reader();
        let at = 0;
        for (const size of sizes) {
          r.push(Uint8Array.from(stream.slice(at, at + size)));
          at += size;
        }
        r.push(Uint8Array.from(stream.slice(at)));
        assert.deepEqual(got, [
          [6, [0x7e, 0xe7, 1]],
          [10, [9]],
        ]);
        assert.equal(r.skipped, 0);
      }),
    );
  });
  test('after rubbish and after a frame that was cut off the next one is found', () => {
    const { got, r } = reader();
    const whole = encodeFramed(LABEL_SEND_DMX, new Uint8Array(30).fill(5));
    r.push(Uint8Array.of(1, 2, 3, 0x7e, 0xff, 0xff, 0xff));
    r.push(whole.subarray(0, 12));
    r.push(whole);
    // The cut-off frame swallows the beginning of the next; the one after that is whole again.
    r.push(whole);
    assert.ok(got.length >= 1);
    assert.deepEqual(got.at(-1), [6, new Array(30).fill(5)]);
    assert.ok(r.skipped > 0);
  });
  test('any bytes do no harm', () => {
    fc.assert(
      fc.property(fc.array(fc.uint8Array({ maxLength: 900 }), { maxLength: 4 }), (pieces) => {
        const { r } = reader();
        for (const piece of pieces) r.push(piece);
      }),
    );
  });
  test('serial number and parameters', () => {
    assert.equal(decodeSerialNumber(Uint8Array.of(0x42, 0x17, 0, 0x60)), '60001742');
    assert.equal(decodeSerialNumber(Uint8Array.of(1)), null);
    assert.deepEqual(decodeUsbParameters(Uint8Array.of(4, 1, 9, 1, 40)), {
      firmware: '1.4',
      breakUs: 96,
      markUs: 11,
      rate: 40,
    });
    assert.equal(decodeUsbParameters(Uint8Array.of(1, 2)), null);
  });
});
