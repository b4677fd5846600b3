import assert from 'node:assert/strict';
import { test } from 'node:test';
import { layDesks, type MergedInput } from './desks.ts';

const universes = Uint16Array.of(3, 7);
const frame = (): Uint8Array => new Uint8Array(1024).fill(100);
const slots = (...values: number[]): Uint8Array => Uint8Array.from({ length: 512 }, (_, i) => values[i] ?? 0);
const laid = (
  entries: MergedInput[],
  incoming: (Uint8Array | null)[],
  marks: (Uint8Array | null)[] = [],
): Uint8Array => {
  const bytes = frame();
  const from = { read: (i: number) => incoming[i] ?? null, marks: (i: number) => marks[i] ?? null };
  layDesks(universes, bytes, { entries, incoming: from });
  return bytes;
};

test('the higher of each slot, or theirs whole; only what is marked, only in universes we have', () => {
  const theirs = slots(0, 99, 100, 101, 255);
  const higher = laid([{ universe: 7, use: 'htp' }], [theirs]);
  assert.deepEqual([...higher.subarray(512, 518)], [100, 100, 100, 101, 255, 100]);
  assert.deepEqual(higher.subarray(0, 512), frame().subarray(0, 512));
  const whole = laid([{ universe: 3, use: 'takeover' }], [theirs]);
  assert.deepEqual([...whole.subarray(0, 6)], [0, 99, 100, 101, 255, 0]);
  const marked = laid([{ universe: 3, use: 'takeover' }], [theirs], [slots(1, 0, 0, 1)]);
  assert.deepEqual([...marked.subarray(0, 6)], [0, 100, 100, 101, 100, 100]);
  assert.deepEqual(laid([{ universe: 9, use: 'takeover' }], [theirs]), frame());
  assert.deepEqual(laid([{ universe: 3, use: 'takeover' }], [null]), frame());
});
test('a desk over a desk: in the order they are given', () => {
  const entries: MergedInput[] = [
    { universe: 3, use: 'takeover' },
    { universe: 3, use: 'htp' },
  ];
  assert.deepEqual([...laid(entries, [slots(10, 20), slots(5, 30)]).subarray(0, 3)], [10, 30, 0]);
});
