import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { rigOf, PLENTY, song } from '../../../../tests/support/auto-rig.ts';
import { applyChange } from '../../document/change.ts';
import { seeded } from '../../random.ts';
import { make } from '../../records/index.ts';
import { codeEndsMs, songForCode, withoutCode } from './code.ts';
import { songAt } from './songs.ts';
import { applyLive, initialLive, type LiveCommand, type LiveState } from '../index.ts';

const HOUR = 3600;
const document = applyChange(rigOf(PLENTY), {
  put: [
    { ...song(), codeAt: HOUR },
    make('song', { ...song(), id: 'song:two', number: 2, name: 'Two', codeAt: HOUR + 200 }),
    make('song', { ...song(), id: 'song:none', number: 3, name: 'None' }),
  ],
  remove: [],
});
const does = (state: LiveState, command: LiveCommand, ms: number): LiveState =>
  applyLive(state, command, ms, 'x', document);
const follows = (): LiveState => does(initialLive(0), { do: 'codeFrom', by: 'MIDI: Port' }, 0);
const code = (state: LiveState, at: number, ms: number, way: 1 | 0 | -1 = 1): LiveState =>
  does(state, { do: 'code', at, way, ms }, ms);

describe('a song follows time code', () => {
  test('of two it is the one that began last; outside all there is none', () => {
    assert.equal(songForCode(document, HOUR + 10)?.id, 'song:one');
    assert.equal(songForCode(document, HOUR + 210)?.id, 'song:two');
    assert.equal(songForCode(document, 10), null);
  });
  test('it begins where the code is, and stays with it', () => {
    let live = code(follows(), HOUR + 12, 1000);
    assert.deepEqual([live.song?.songId, live.song?.playing], ['song:one', true]);
    assert.ok(Math.abs(songAt(live.song!, 1000) - 12) < 1e-9);
    const random = seeded(3);
    const anchors = new Set<number>();
    for (let ms = 1400; ms < 40_000; ms += 400) {
      // Some jitter of what brings it.
      live = code(live, HOUR + 12 + (ms - 1000) / 1000 + (random() - 0.5) * 0.008, ms);
      anchors.add(live.song!.ms);
      assert.ok(Math.abs(songAt(live.song!, ms) - (12 + (ms - 1000) / 1000)) < 0.012, String(ms));
    }
    assert.ok(anchors.size < 12, `laid out anew ${anchors.size} times`);
  });
  test('a code that runs a little fast is followed without a jump', () => {
    let live = code(follows(), HOUR + 12, 0);
    let before = songAt(live.song!, 0);
    for (let ms = 400; ms < 60_000; ms += 400) {
      live = code(live, HOUR + 12 + (ms / 1000) * 1.001, ms);
      const now = songAt(live.song!, ms);
      assert.ok(Math.abs(now - before - 0.4) < 0.03);
      assert.ok(Math.abs(now - 12 - (ms / 1000) * 1.001) < 0.03, String(now));
      before = now;
    }
  });
  test('jumps, standing, backwards, and out of the song', () => {
    let live = code(follows(), HOUR + 12, 0);
    live = code(live, HOUR + 40, 500);
    assert.ok(Math.abs(songAt(live.song!, 500) - 40) < 1e-9, 'jumped');
    live = code(live, HOUR + 39, 900, -1);
    assert.deepEqual([live.song!.playing, live.song!.at], [false, 39]);
    live = code(live, HOUR + 39, 1000, 0);
    assert.equal(live.song!.playing, false);
    live = code(live, HOUR + 205, 1500);
    assert.equal(live.song!.songId, 'song:two');
    live = code(live, 10, 2000);
    assert.equal(live.song, null);
  });
  test('it goes on by itself for a while when the code is gone, and then stands', () => {
    const live = code(follows(), HOUR + 12, 1000);
    assert.equal(codeEndsMs(live), 3000);
    const stood = withoutCode(live, document, 3000);
    assert.deepEqual([stood.song!.playing, Math.round(stood.song!.at * 1000)], [false, 14_000]);
    assert.equal(codeEndsMs(stood), null);
    const again = code(stood, HOUR + 20, 9000);
    assert.ok(again.song!.playing && Math.abs(songAt(again.song!, 9000) - 20) < 1e-9);
    const none = does(
      does(follows(), { do: 'codeFrom', by: 'MIDI: Port', freeMs: 0 }, 0),
      { do: 'code', at: HOUR, way: 1 },
      5,
    );
    assert.equal(codeEndsMs(none), 5);
  });
  test('nobody follows: nothing happens; a song that is played by hand and follows none stays', () => {
    assert.equal(code(initialLive(0), HOUR + 1, 0).song, null);
    const own = does(follows(), { do: 'song', songId: 'song:none', at: 3 }, 0);
    assert.equal(code(own, 10, 100).song?.songId, 'song:none');
    assert.equal(does(follows(), { do: 'codeFrom', by: null }, 1).code, null);
  });
});
