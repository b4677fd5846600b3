import assert from 'node:assert/strict';
import { test } from 'node:test';
import type { LitId } from '../../core/ids.ts';
import { applyLive, initialLive, liveCommandSchema, type LiveCommand } from '../../core/show/index.ts';
import { HandQueue } from './hand-queue.ts';

test('a fader of thousands is said as one, a message a frame, and comes to the same', () => {
  const frames: FrameRequestCallback[] = [];
  globalThis.requestAnimationFrame = (frame) => frames.push(frame);
  const sent: Extract<LiveCommand, { do: 'hand' }>[] = [];
  const queue = new HandQueue((command) => sent.push(command));
  const ids = Array.from({ length: 5000 }, (_, i) => `unit:u${i}` as LitId);
  for (const level of [0.1, 0.2, 0.3]) queue.add(Object.fromEntries(ids.map((id) => [id, { Dimmer: level }])), false);
  queue.add({ 'unit:u7': { Pan: 0.5 } }, false);
  assert.deepEqual([frames.length, sent.length], [1, 0]);
  frames[0]!(0);
  const [command] = sent;
  assert.equal(sent.length, 1);
  assert.ok(JSON.stringify(command).length < 15 * ids.length, `${JSON.stringify(command).length} bytes`);
  const { hand } = applyLive(initialLive(0), liveCommandSchema.parse(command), 0, 'x');
  const wanted = Object.fromEntries(ids.map((id) => [id, { Dimmer: 0.3, ...(id === 'unit:u7' ? { Pan: 0.5 } : {}) }]));
  assert.deepEqual(hand, wanted);
});
