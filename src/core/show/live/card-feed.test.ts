import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { seeded } from '../../random.ts';
import type { SongOn } from './songs.ts';
import { CardClock, CardFeed, type FeedSong, type Stereo } from './card-feed.ts';

const RATE = 48_000;
const BLOCK = 512;
/** A sound whose samples tell where they are: left rises by a millionth each, right falls. */
const ramp = (seconds: number): Stereo => {
  const left = Float32Array.from({ length: seconds * RATE }, (_, i) => i / 1e7);
  return { left, right: left.map((x) => -x) };
};
const on = (fields: Partial<SongOn> = {}): SongOn => ({
  songId: 'song:a',
  at: 0,
  ms: 1000,
  playing: true,
  loop: null,
  list: null,
  rate: 1,
  over: null,
  ...fields,
});
const song = (sound: Stereo, fields: Partial<SongOn> = {}, fromMs = -Infinity): FeedSong => ({
  on: on(fields),
  fromMs,
  sound,
});

describe('the clock of a card', () => {
  /** A card that takes periods of 1,200 frames, `ppm` fast, looked at with so much unrest. */
  function followed(ppm: number, minutes: number, restless = 0): number {
    const clock = new CardClock(RATE);
    const real = RATE * (1 + ppm / 1e6);
    const random = seeded(4);
    let worst = 0;
    for (let frames = 0; frames < minutes * 60 * RATE; frames += BLOCK) {
      const taken = Math.ceil(frames / 1200) * 1200;
      const ms = (taken / real) * 1000;
      if (clock.known && frames > 120 * RATE)
        worst = Math.max(worst, Math.abs(clock.at(frames) - (frames / real) * 1000 - 12.5));
      clock.took(frames, ms + random() * restless);
    }
    return worst;
  }
  for (const ppm of [0, 80, -300, 1000])
    test(`is followed where it is ${ppm} millionths off: within 5 ms over an hour`, () => {
      assert.ok(followed(ppm, 60) < 5, `${followed(ppm, 60)} ms`);
    });
  test('whose looks come late now and then', () => {
    assert.ok(followed(200, 10, 8) < 8, `${followed(200, 10, 8)} ms`);
  });
  test('that was interrupted is looked at anew', () => {
    const clock = new CardClock(RATE);
    for (let f = 0; f < RATE; f += BLOCK) clock.took(f, f / 48);
    clock.took(RATE, 1000 + 700);
    assert.equal(clock.at(RATE), 1700);
  });
});

describe('what a card is fed with', () => {
  /** Feeds so many seconds from a moment on, by a card that is `ppm` fast. */
  function fed(
    feed: CardFeed,
    fromMs: number,
    seconds: number,
    ppm = 0,
  ): { left: Float32Array; earMs: (i: number) => number } {
    const real = RATE * (1 + ppm / 1e6);
    const left = new Float32Array(Math.floor((seconds * RATE) / BLOCK) * BLOCK);
    for (let at = 0; at < left.length; at += BLOCK) {
      const block = feed.block(BLOCK, fromMs + (at / real) * 1000);
      for (let i = 0; i < BLOCK; i++) left[at + i] = block[2 * i]!;
    }
    return { left, earMs: (i) => fromMs + (i / real) * 1000 };
  }

  test('is silent before a song begins, and begins at its first sample', () => {
    const feed = new CardFeed(RATE);
    feed.set([song(ramp(5))], 1);
    const { left, earMs } = fed(feed, 500, 2);
    const first = left.findIndex((x) => x !== 0);
    assert.ok(Math.abs(earMs(first) - 1000) < 0.1, `${earMs(first)}`);
    assert.ok(Math.abs(left[RATE]! * 1e7 - 24_000) < 600, `half a second in: sample ${left[RATE]! * 1e7}`);
  });

  for (const ppm of [400, -900])
    test(`stays within 3 ms of the show on a card that is ${ppm} millionths off, without a jump`, () => {
      const feed = new CardFeed(RATE);
      feed.set([song(ramp(60))], 1);
      const { left, earMs } = fed(feed, 1000, 50, ppm);
      for (let i = RATE; i < left.length; i += 4801) {
        const off = left[i]! * 1e7 - (earMs(i) - 1000) * 48;
        assert.ok(Math.abs(off) < 3 * 48, `at ${i / RATE} s: ${off / 48} ms`);
      }
      for (let i = RATE; i + 1 < left.length; i++)
        assert.ok(Math.abs(left[i + 1]! - left[i]!) < 4e-7, `a jump at ${i}`);
    });

  test('at half speed it is half as far, without a jump', () => {
    const feed = new CardFeed(RATE);
    feed.set([song(ramp(60), { at: 4, rate: 0.5 })], 1);
    const { left, earMs } = fed(feed, 1000, 10);
    for (let i = RATE; i + 1 < left.length; i += 997) {
      const off = left[i]! * 1e7 - (4 * RATE + (earMs(i) - 1000) * 24);
      assert.ok(Math.abs(off) < 3 * 48, `at ${i / RATE} s: ${off / 48} ms`);
      assert.ok(Math.abs(left[i + 1]! - left[i]!) < 2e-7, `a jump at ${i}`);
    }
  });
  test('goes elsewhere by fading, goes round in a loop, and stands when it is held', () => {
    const feed = new CardFeed(RATE);
    const sound = ramp(60);
    feed.set([song(sound)], 1);
    fed(feed, 1000, 1);
    feed.set([song(sound, { at: 30, ms: 2000, loop: { from: 30, to: 30.5 } })], 1);
    const { left } = fed(feed, 2000, 2);
    for (const i of [0.1, 0.4, 0.9, 1.7].map((s) => Math.round(s * RATE))) {
      const place = (left[i]! * 1e7) / RATE;
      assert.ok(place > 29.99 && place < 30.52, `${i}: ${place}`);
      assert.ok(Math.abs(place - 30 - ((i / RATE) % 0.5)) < 0.01, `${i}: ${place}`);
    }
    feed.set([song(sound, { at: 12, playing: false })], 1);
    const held = fed(feed, 4000, 0.2).left;
    assert.ok(
      held.slice(RATE / 20).every((x) => x === 0),
      'silence after the fade',
    );
    assert.equal(feed.off, null);
  });

  test('the next song of a list begins at its moment, however far ahead the card is fed', () => {
    const feed = new CardFeed(RATE);
    const [a, b] = [ramp(2), { left: new Float32Array(RATE).fill(0.5), right: new Float32Array(RATE).fill(0.5) }];
    feed.set([song(a), song(b, { songId: 'song:b', ms: 3000 }, 3000)], 0.5);
    const { left, earMs } = fed(feed, 2000, 2);
    const first = left.findIndex((x) => x > 0.2);
    assert.ok(Math.abs(earMs(first) - 3000) < 0.1, `${earMs(first)}`);
    assert.ok(Math.abs(left[first]! - 0.25) < 1e-6, `level: ${left[first]}`);
    assert.ok(
      left.slice(Math.round(2.1 * RATE)).every((x) => x === 0),
      'silence after the last',
    );
  });
});
