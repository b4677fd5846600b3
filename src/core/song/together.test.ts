import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { seeded } from '../random.ts';
import { JUMP_S, MOST_RATE, offInLoop, rateFor } from './together.ts';

interface Run {
  /** The sound card is so much faster than the clock of the show. */
  readonly drift: number;
  readonly seconds: number;
  /** What is measured is off by up to so much, s. */
  readonly noise?: number;
  /** Nobody looks for so long every so often (a page that is busy), s. */
  readonly busy?: { readonly every: number; readonly long: number };
  /** The sound stands still once for so long (a card that ran empty), s. */
  readonly dropout?: number;
}
/** A player that is looked at five times a second; gives how far it was off over time, and how often it was set anew. */
function run({ drift, seconds, noise = 0, busy, dropout = 0 }: Run): { off: number[]; jumps: number } {
  const random = seeded(5);
  const step = 0.2;
  let [ahead, rate, jumps] = [0, 1, 0];
  const off: number[] = [];
  for (let at = 0; at < seconds; at += step) {
    ahead += (rate * (1 + drift) - 1) * step;
    if (dropout > 0 && Math.abs(at - seconds / 2) < step / 2) ahead -= dropout;
    off.push(ahead);
    if (busy && at % busy.every < busy.long) continue;
    const next = rateFor(ahead + (random() - 0.5) * 2 * noise);
    if (next === null) {
      jumps++;
      [ahead, rate] = [0, 1];
    } else rate = next;
  }
  return { off, jumps };
}
const most = (list: readonly number[]): number => Math.max(...list.map(Math.abs));

describe('sound and show stay together', () => {
  for (const ppm of [0, 50, -120, 300, -1000])
    test(`an hour on a card that is ${ppm} millionths off`, () => {
      const { off, jumps } = run({ drift: ppm / 1e6, seconds: 3600, noise: 0.002 });
      assert.ok(most(off) < 0.01, `${most(off) * 1000} ms`);
      assert.equal(jumps, 0);
    });
  test('a page that is busy for three seconds now and then', () => {
    const { off } = run({ drift: 200 / 1e6, seconds: 3600, noise: 0.002, busy: { every: 30, long: 3 } });
    assert.ok(most(off) < 0.01, `${most(off) * 1000} ms`);
  });
  test('a short dropout is made up without a jump, a long one by one', () => {
    const short = run({ drift: 0, seconds: 120, dropout: 0.03 });
    assert.deepEqual([short.jumps, most(short.off.slice(-100)) < 0.002], [0, true]);
    const long = run({ drift: 0, seconds: 120, dropout: 0.4 });
    assert.deepEqual([long.jumps, most(long.off.slice(-100)) < 0.002], [1, true]);
  });
  test('nobody hears how it is made up', () => {
    for (let off = -JUMP_S; off <= JUMP_S; off += 0.0005) {
      const rate = rateFor(off);
      assert.ok(rate !== null && Math.abs(rate - 1) <= MOST_RATE + 1e-9, `${off}: ${rate}`);
    }
  });
  test('in a loop by the shorter way round', () => {
    assert.ok(Math.abs(offInLoop(3.99, 4) + 0.01) < 1e-9);
    assert.ok(Math.abs(offInLoop(-3.98, 4) - 0.02) < 1e-9);
    assert.equal(offInLoop(0.01, 4), 0.01);
  });
});
