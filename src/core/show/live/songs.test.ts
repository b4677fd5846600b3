import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { documentOf, type Document } from '../../document/change.ts';
import type { SongId } from '../../ids.ts';
import { make, type SongRecord } from '../../records/index.ts';
import { gridOf, nearest } from '../../song/grid.ts';
import { beatAt, msAt } from '../play/beat-map.ts';
import { applyLive } from './apply-live.ts';
import type { LiveCommand } from './command.ts';
import { pruneLive, reanchor } from './follow.ts';
import { layOutMs, LEAD_MS, nextSongMs, orderOf, songAfter, songAt, songBy, songTempo, withSong } from './songs.ts';
import { initialLive, liveStateSchema, type LiveState } from './state.ts';

const NOW = 1_700_000_000_000;
const beats = (bpm: number, from: number, to: number): number[] => {
  const all: number[] = [];
  for (let at = from; at < to; at += 60 / bpm) all.push(at);
  return all;
};
const songOf = (body: string, bpm: number, metre = 4, lead = 0.5, lengthS = 30): SongRecord =>
  make('song', {
    id: `song:${body}`,
    number: 1,
    name: body,
    blob: '0'.repeat(64),
    type: 'audio/wav',
    bytes: 1,
    lengthS,
    heard: {
      ear: 1,
      bpm,
      confidence: { beats: 1, bars: 1, sections: 1 },
      beats: beats(bpm, lead, lengthS - 0.5),
      bars: [{ at: lead, beats: metre }],
      sections: [],
      loudness: -14,
    },
  });
const SONGS = [songOf('a', 120), songOf('b', 96, 3), songOf('c', 150)];
const LIST = make('setlist', {
  id: 'setlist:evening',
  number: 1,
  name: 'Evening',
  songs: SONGS.map((s) => s.id as SongId),
});
const DOCUMENT: Document = documentOf([...SONGS, LIST]);
const at0 = initialLive(NOW, 118);
const does = (state: LiveState, command: LiveCommand, ms: number, document = DOCUMENT): LiveState => {
  const next = applyLive(state, command, ms, 'new', document);
  const parsed = liveStateSchema.safeParse(next);
  assert.ok(parsed.success, JSON.stringify(parsed.error?.issues.slice(0, 2)));
  return next;
};
/** Beats of the show at each beat of a song from a moment on: how far from whole, and where in the bar. */
function offs(state: LiveState, fromMs: number, song = SONGS[0]!): { off: number; place: number }[] {
  const grid = gridOf(song);
  const on = state.song!;
  return grid.beats.flatMap((at, i) => {
    const ms = on.ms + (at - on.at) * 1000;
    if (ms < fromMs) return [];
    const beat = beatAt(state.tempo, ms);
    return [{ off: Math.abs(beat - Math.round(beat)), place: Math.round(beat) - grid.places[i]! }];
  });
}

describe('a song that is on', () => {
  const on = does(at0, { do: 'song', songId: 'song:a' }, NOW + 10_000);
  test('begins a moment later, so that its player is ready', () => {
    assert.equal(songAt(on.song!, NOW + 10_000), 0);
    assert.equal(songAt(on.song!, NOW + 10_000 + LEAD_MS + 2500), 2.5);
  });
  test('the show’s beats are its beats, its bars the show’s, and no beat is gone back', () => {
    for (const { off, place } of offs(on, NOW + 10_000)) {
      assert.ok(off < 1e-6, `${off}`);
      assert.equal(((place % 4) + 4) % 4, 0);
    }
    assert.ok(beatAt(on.tempo, NOW + 10_000) >= beatAt(at0.tempo, NOW + 10_000) - 1e-6);
  });
  test('a song in three has its bars on threes', () => {
    const waltz = does(at0, { do: 'song', songId: 'song:b' }, NOW + 7_777);
    for (const { off, place } of offs(waltz, NOW + 7_777, SONGS[1])) {
      assert.ok(off < 1e-6);
      assert.equal(((place % 3) + 3) % 3, 0);
    }
  });
  test('stands while it is paused, and the show goes on counting', () => {
    const paused = does(on, { do: 'songPlay', on: false }, NOW + 15_000);
    assert.equal(songAt(paused.song!, NOW + 60_000), songAt(on.song!, NOW + 15_000));
    assert.ok(beatAt(paused.tempo, NOW + 60_000) > beatAt(paused.tempo, NOW + 15_000) + 80);
    const again = does(paused, { do: 'songPlay', on: true }, NOW + 60_000);
    assert.ok(
      Math.abs(songAt(again.song!, NOW + 60_000 + LEAD_MS + 1000) - (songAt(on.song!, NOW + 15_000) + 1)) < 1e-6,
    );
    for (const { off } of offs(again, NOW + 60_000)) assert.ok(off < 1e-6);
  });
  test('is gone to another place in: forwards or back, beats only rise', () => {
    let state = on;
    for (const to of [20, 3, 27, 0]) {
      const ms = NOW + 12_000 + to;
      const next = does(state, { do: 'songAt', at: to }, ms);
      assert.ok(beatAt(next.tempo, ms) >= beatAt(state.tempo, ms) - 1e-6);
      for (const { off, place } of offs(next, ms + LEAD_MS)) {
        assert.ok(off < 1e-6);
        assert.equal(((place % 4) + 4) % 4, 0);
      }
      state = next;
    }
  });
  test('goes round in a loop, on the beat for a long time', () => {
    const inside = does(on, { do: 'songLoop', loop: { from: 4.5, to: 8.5 } }, NOW + 15_500);
    for (const s of [0.1, 3, 17, 61, 300]) {
      const ms = inside.song!.ms + s * 1000;
      const at = songAt(inside.song!, ms);
      assert.ok(at >= 4.5 && at < 8.5, `${at}`);
      const grid = gridOf(SONGS[0]!);
      const here = grid.beats[nearest(grid.beats, at)]!;
      const beat = beatAt(inside.tempo, ms + (here - at) * 1000);
      assert.ok(Math.abs(beat - Math.round(beat)) < 1e-3, `${beat} at ${s}`);
    }
    const out = does(inside, { do: 'songLoop', loop: null }, NOW + 40_000);
    assert.ok(songAt(out.song!, NOW + 41_000) > 8.5 || songAt(out.song!, NOW + 45_000) > 8.5);
  });
  test('without beats leaves the tempo as it was', () => {
    const mute = documentOf([{ ...SONGS[0]!, heard: null }]);
    const state = does(at0, { do: 'song', songId: 'song:a' }, NOW + 1000, mute);
    assert.deepEqual(state.tempo, at0.tempo);
  });
  test('a tap wins over it, until it is gone to another place', () => {
    const tapped = does(on, { do: 'tempo', bpm: 90, beatNow: true }, NOW + 14_000);
    assert.equal(tapped.tempo.bpm, 90);
  });
});

describe('beats that are set right while it plays', () => {
  test('count at once, and the beat that is near stays the same', () => {
    const on = does(at0, { do: 'song', songId: 'song:a' }, NOW);
    const edited: Document = new Map(DOCUMENT);
    const song = SONGS[0]!;
    const moved = { ...song, mended: { ...song.mended, bars: [{ at: 1, beats: 4 }] } };
    (edited as Map<string, unknown>).set('song:a', moved);
    const state = reanchor(on, DOCUMENT, edited, NOW + 9000);
    assert.notDeepEqual(state.tempo, on.tempo);
    for (const { off } of offs(state, NOW + 9000)) assert.ok(off < 1e-6);
    assert.equal(reanchor(on, DOCUMENT, DOCUMENT, NOW + 9000), on);
  });
  test('a song that goes is off, one whose list goes plays alone', () => {
    const on = does(at0, { do: 'song', songId: 'song:a', list: 'setlist:evening' }, NOW);
    assert.equal(pruneLive(on, (id) => id !== 'song:a').song, null);
    assert.equal(pruneLive(on, (id) => id !== 'setlist:evening').song!.list, null);
    assert.equal(
      pruneLive(on, () => true),
      on,
    );
  });
});

describe('half speed', () => {
  const on = does(at0, { do: 'song', songId: 'song:a' }, NOW);
  const slow = does(on, { do: 'songRate', rate: 0.5 }, NOW + LEAD_MS + 5000);
  test('goes on where it is, half as fast, and ends twice as late', () => {
    const begins = slow.song!.ms;
    assert.ok(Math.abs(songAt(slow.song!, begins) - 5) < 0.001);
    assert.ok(Math.abs(songAt(slow.song!, begins + 4000) - 7) < 0.001);
    assert.equal(nextSongMs(DOCUMENT, slow.song!), begins + 2 * 25_000);
    const back = does(slow, { do: 'songRate', rate: 1 }, begins + 4000);
    assert.ok(Math.abs(songAt(back.song!, back.song!.ms + 1000) - 8) < 0.001);
  });
  test('the beats of the show are its beats', () => {
    const { song, tempo } = slow;
    for (const at of gridOf(SONGS[0]!).beats.filter((b) => b > 6)) {
      const beat = beatAt(tempo, song!.ms + ((at - song!.at) * 1000) / 0.5);
      assert.ok(Math.abs(beat - Math.round(beat)) < 1e-6, `${at}: ${beat}`);
    }
  });
});

describe('lists', () => {
  const on = does(at0, { do: 'song', songId: 'song:a', list: 'setlist:evening' }, NOW);
  test('go on after the gap, and end', () => {
    const due = nextSongMs(DOCUMENT, on.song!)!;
    assert.equal(due, NOW + LEAD_MS + 30_000 + 2000);
    assert.equal(songAfter(DOCUMENT, on.song!, due - 1), on.song);
    const next = songAfter(DOCUMENT, on.song!, due + 3)!;
    assert.deepEqual([next.songId, next.at, next.ms], ['song:b', 0, due]);
    const last = { ...next, songId: 'song:c' as SongId };
    assert.equal(songAfter(DOCUMENT, last, due + 30_000), null);
  });
  test('fade into one another where the gap is below nothing', () => {
    const fading = documentOf([...SONGS, { ...LIST, gapS: -3 }]);
    const due = nextSongMs(fading, on.song!)!;
    assert.equal(due, NOW + LEAD_MS + 27_000);
    const next = songAfter(fading, on.song!, due)!;
    assert.equal(next.songId, 'song:b');
    assert.deepEqual(next.over, { songId: 'song:a', at: 0, ms: on.song!.ms, rate: 1, untilMs: due + 3000 });
    // Somebody who goes elsewhere ends it.
    assert.equal(does({ ...on, song: next }, { do: 'songAt', at: 4 }, due + 500, fading).song!.over, null);
  });
  test('begin again where they repeat; a song alone does not', () => {
    const round = documentOf([...SONGS, { ...LIST, repeat: true }]);
    assert.equal(songBy(round, { ...on.song!, songId: 'song:c' }, 1), 'song:a');
    assert.equal(songBy(round, { ...on.song!, list: null, rate: 1, over: null }, 1), null);
  });
  test('shuffled: every song once, the same for the same seed', () => {
    const shuffled = documentOf([...SONGS, { ...LIST, order: 'shuffled' as const }]);
    const list = { id: LIST.id as 'setlist:evening', seed: 7 };
    assert.deepEqual([...orderOf(shuffled, list)].sort(), ['song:a', 'song:b', 'song:c']);
    assert.deepEqual(orderOf(shuffled, list), orderOf(shuffled, list));
    assert.ok(
      [1, 2, 3, 4, 5].some((seed) => orderOf(shuffled, { ...list, seed }).join() !== orderOf(shuffled, list).join()),
    );
  });
  test('a song that was taken out of the list meanwhile ends it', () => {
    const without = documentOf([...SONGS, { ...LIST, songs: ['song:b', 'song:c'] as SongId[] }]);
    assert.equal(songBy(without, on.song!, 1), 'song:b', 'it goes on with the first of those that are left');
  });
  test('the next and the one before, by hand', () => {
    const next = does(on, { do: 'songBy', by: 1 }, NOW + 5000);
    assert.deepEqual([next.song!.songId, songAt(next.song!, NOW + 5000)], ['song:b', 0]);
    assert.equal(does(on, { do: 'songBy', by: -1 }, NOW + 5000).song!.songId, 'song:a');
  });
});

test('a song of an hour is laid out anew in time, and is on its beats to the end', () => {
  const long = songOf('long', 200, 4, 0.5, 3600);
  const document = documentOf([long]);
  const on = { songId: long.id as SongId, at: 0, ms: NOW, playing: true, loop: null, list: null, rate: 1, over: null };
  let state = withSong(at0, on, document, NOW);
  let layouts = 0;
  for (let due = layOutMs(document, state.song!, state.tempo); due !== null && layouts < 9; layouts++) {
    state = withSong(state, { ...state.song! }, document, due);
    due = layOutMs(document, state.song!, state.tempo);
  }
  assert.ok(layouts >= 2 && layouts < 9, `${layouts}`);
  const { beats: all } = gridOf(long);
  const last = beatAt(state.tempo, NOW + all.at(-1)! * 1000);
  assert.ok(Math.abs(last - Math.round(last)) < 1e-6, `${last}`);
  const short = does(at0, { do: 'song', songId: 'song:a' }, NOW);
  assert.equal(layOutMs(DOCUMENT, short.song!, short.tempo), null);
});
test('the tempo of a song of an hour has no more points than a state may hold', () => {
  const long = songOf('long', 200, 4, 0.5, 3600);
  const document = documentOf([long]);
  const state = withSong(
    at0,
    { songId: long.id as SongId, at: 0, ms: NOW, playing: true, loop: null, list: null, rate: 1, over: null },
    document,
    NOW,
  );
  assert.ok(liveStateSchema.safeParse(state).success);
  assert.ok(songTempo(document, state.song!, state.tempo, NOW)!.points.length <= 4096);
  assert.ok(Math.abs(msAt(state.tempo, beatAt(state.tempo, NOW + 5000)) - NOW - 5000) < 1e-3);
});
