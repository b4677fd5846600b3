import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import {
  decodeFrame,
  encodeFrame,
  encodeFrameMessage,
  encodeJson,
  encodeMessage,
  MESSAGE_FRAME,
  MESSAGE_JSON,
  MessageReader,
} from './framing.ts';
import { PRIORITIES_CODE, UniverseReceiver, type ReceivedPacket } from './receiver.ts';

const packet = (over: Partial<ReceivedPacket> = {}): ReceivedPacket => ({
  sourceId: 'a',
  sourceName: 'A',
  priority: 100,
  sequence: 0,
  slots: Uint8Array.of(10, 20),
  ...over,
});

describe('a universe as a receiver sees it', () => {
  test('takes the highest priority, and the highest level between equals', () => {
    const receiver = new UniverseReceiver('sacn');
    receiver.receive(packet(), 0);
    receiver.receive(packet({ sourceId: 'b', slots: Uint8Array.of(5, 99) }), 1);
    assert.deepEqual([...receiver.slots.subarray(0, 2)], [10, 99]);
    receiver.receive(packet({ sourceId: 'c', priority: 150, slots: Uint8Array.of(1, 1) }), 2);
    assert.deepEqual([...receiver.slots.subarray(0, 2)], [1, 1]);
    assert.deepEqual(
      receiver.sources(3).map((s) => s.id),
      ['c', 'a', 'b'],
    );
  });
  test('forgets a source after 2.5 s of silence, and at once when it says goodbye', () => {
    const receiver = new UniverseReceiver('sacn');
    receiver.receive(packet({ sourceId: 'c', priority: 150, slots: Uint8Array.of(1) }), 0);
    receiver.receive(packet({ sequence: 1 }), 2400);
    receiver.receive(packet({ sequence: 2 }), 2600);
    assert.equal(receiver.slots[0], 10);
    receiver.receive(packet({ sequence: 3, terminated: true }), 2700);
    assert.deepEqual(receiver.sources(2700), []);
  });
  test('a stream that becomes shorter leaves nothing behind', () => {
    const receiver = new UniverseReceiver('sacn');
    receiver.receive(packet({ slots: new Uint8Array(512).fill(200) }), 0);
    receiver.receive(packet({ sequence: 1, slots: Uint8Array.of(7, 8) }), 25);
    assert.deepEqual([...receiver.slots.subarray(0, 4)], [7, 8, 0, 0]);
    assert.equal(Math.max(...receiver.slots.subarray(2)), 0);
  });
  test('priorities by slot: each slot goes to the highest, 0 is nobody’s, and they end with their packets', () => {
    const receiver = new UniverseReceiver('sacn');
    const by = (...priorities: number[]) => ({
      startCode: PRIORITIES_CODE as typeof PRIORITIES_CODE,
      slots: Uint8Array.from(priorities),
    });
    receiver.receive(packet({ slots: Uint8Array.of(10, 20, 30, 40) }), 0);
    receiver.receive(packet({ sourceId: 'b', slots: Uint8Array.of(1, 2, 3, 4) }), 0);
    receiver.receive(packet({ sourceId: 'b', sequence: 1, ...by(150, 50, 0, 100) }), 1);
    // Above 100, below it, not sourced, and equal: then the higher level.
    assert.deepEqual([...receiver.slots.subarray(0, 4)], [1, 20, 30, 40]);
    assert.deepEqual([...receiver.slotPriorities!.subarray(0, 4)], [150, 100, 100, 100]);
    assert.equal(receiver.priority(2), 150);
    receiver.receive(packet({ sequence: 1, terminated: true }), 3);
    assert.deepEqual([...receiver.slots.subarray(0, 4)], [1, 2, 0, 4]);
    // One numbering for both kinds of packet: an old one is dropped whatever it is.
    assert.equal(receiver.receive(packet({ sourceId: 'b', sequence: 0, slots: Uint8Array.of(9) }), 4), false);
    receiver.receive(packet({ sourceId: 'b', sequence: 2, slots: Uint8Array.of(1, 2, 3, 4) }), 2400);
    receiver.receive(packet({ sourceId: 'b', sequence: 3, slots: Uint8Array.of(1, 2, 3, 4) }), 2600);
    assert.deepEqual([...receiver.slots.subarray(0, 4)], [1, 2, 3, 4]);
    assert.equal(receiver.slotPriorities, null);
  });
  test('counts lost packets and drops old ones', () => {
    const receiver = new UniverseReceiver('sacn');
    const taken = [1, 2, 5, 4, 6].map((sequence, i) => receiver.receive(packet({ sequence }), i));
    assert.deepEqual(taken, [true, true, true, false, true]);
    assert.deepEqual([receiver.lost, receiver.packets], [2, 4]);
  });
  test('Art-Net counts from 1 to 255, and 0 means not at all', () => {
    const receiver = new UniverseReceiver('artnet');
    for (const sequence of [254, 255, 1, 2]) receiver.receive(packet({ sequence }), 0);
    assert.equal(receiver.lost, 0);
    receiver.receive(packet({ sequence: 5 }), 1);
    assert.equal(receiver.lost, 2);
    assert.equal(receiver.receive(packet({ sequence: 0 }), 2), true);
    assert.equal(receiver.lost, 2);
  });
  test('a thousand invented sources do not fill the memory', () => {
    const receiver = new UniverseReceiver('sacn');
    for (let i = 0; i < 1000; i++) receiver.receive(packet({ sourceId: `s${i}` }), 0);
    assert.ok(receiver.sources(0).length <= 16);
  });
  test('says how many came in the last second', () => {
    const receiver = new UniverseReceiver('sacn');
    for (let i = 0; i < 80; i++) receiver.receive(packet({ sequence: i & 255 }), i * 25);
    assert.equal(receiver.rate(79 * 25), 40);
    assert.equal(receiver.rate(79 * 25 + 5000), 0);
  });
});

describe('the control socket', () => {
  test('messages come out whole however the stream is cut', () => {
    const messages = fc.array(fc.jsonValue(), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(messages, fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1 }), (values, cuts) => {
        const stream = Buffer.concat(values.map((v) => encodeJson(v)));
        const got: string[] = [];
        const reader = new MessageReader((kind, payload) => {
          assert.equal(kind, MESSAGE_JSON);
          got.push(new TextDecoder().decode(payload));
        });
        for (let at = 0, i = 0; at < stream.length; i++) {
          const size = cuts[i % cuts.length]!;
          reader.push(stream.subarray(at, at + size));
          at += size;
        }
        assert.deepEqual(
          got,
          values.map((v) => JSON.stringify(v)),
        );
      }),
    );
  });
  test('a length that cannot be right is refused', () => {
    const reader = new MessageReader(() => assert.fail('nothing to take'));
    assert.throws(() => reader.push(Uint8Array.of(0xff, 0xff, 0xff, 0xff, 0)), RangeError);
    assert.throws(() => new MessageReader(() => undefined).push(Uint8Array.of(0, 0, 0, 0, 0)), RangeError);
  });
  test('an empty message is one byte of kind', () => {
    assert.deepEqual([...encodeMessage(1, new Uint8Array(0))], [0, 0, 0, 1, 1]);
    const slots = Uint8Array.from({ length: 512 }, (_, i) => i & 255);
    const frame = [12.5, 7, [[3, slots] as const, [63_999, slots] as const], 'received'] as const;
    const whole = Buffer.from(encodeMessage(MESSAGE_FRAME, encodeFrame(...frame)));
    for (const room of [0, 100, whole.length, 4000].map((length) => new Uint8Array(length).fill(9)))
      assert.ok(whole.equals(encodeFrameMessage(room, ...frame)), `in ${room.length} bytes`);
  });
});

describe('frames', () => {
  test('carry time, number and the universes that changed', () => {
    const slots = Uint8Array.from({ length: 512 }, (_, i) => i & 255);
    const back = decodeFrame(
      encodeFrame(1234.5, 77, [
        [3, slots],
        [63_999, slots],
      ]),
    );
    assert.ok(back);
    assert.deepEqual([back.timeMs, back.frameNumber, back.universes.map(([u]) => u)], [1234.5, 77, [3, 63_999]]);
    assert.deepEqual(back.universes[1]![1], slots);
  });
  test('of another length than they say are nothing', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 1200 }), (bytes) => {
        const frame = decodeFrame(bytes);
        if (frame) assert.equal(bytes.length, 14 + frame.universes.length * 514);
      }),
    );
    assert.equal(decodeFrame(encodeFrame(0, 0, [[1, new Uint8Array(512)]]).subarray(0, 300)), null);
  });
});
