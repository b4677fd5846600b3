import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { documentOf } from '../../document/change.ts';
import { make } from '../../records/index.ts';
import { seeded } from '../../random.ts';
import { beatAt, bpmAround } from '../play/beat-map.ts';
import { applyLive } from './apply-live.ts';
import { initialLive, liveStateSchema, type LiveState } from './state.ts';

const NOW = 1_700_000_000_000;
const SHOW = documentOf([make('show', { id: 'show:one', name: 'One' })]);
const listens = (bpm = 120): LiveState =>
  applyLive(initialLive(NOW, bpm), { do: 'ear', source: 'standin' }, NOW, 'x', SHOW);

interface Played {
  readonly bpm: number | ((s: number) => number);
  readonly seconds: number;
  /** Announced so much too late or early, ms, at random. */
  readonly jitter?: number;
  /** The first of the bar among announced beats; null where the ear says none. */
  readonly one?: number;
  readonly from?: number;
  /** After each beat. */
  readonly then?: (state: LiveState, ms: number, i: number) => LiveState;
}
/** Announces the beats of a tempo, each 50 ms ahead; gives the state and the moments. */
function play(start: LiveState, { bpm, seconds, jitter = 0, one = 0, from = NOW + 1000, then }: Played) {
  const random = seeded(3);
  const beats: number[] = [];
  let state = start;
  let ms = from;
  for (let i = 0; ms < from + seconds * 1000; i++) {
    const now = typeof bpm === 'number' ? bpm : bpm((ms - from) / 1000);
    beats.push(ms);
    const at = ms + (random() - 0.5) * 2 * jitter;
    const beat = ((i - one + 400) % 4) + 1;
    const before = state;
    state = applyLive(
      state,
      { do: 'heardBeat', source: 'standin', at, beat, bpm: now, confidence: 0.5 },
      ms - 50,
      'x',
      SHOW,
    );
    assert.ok(liveStateSchema.safeParse(state).success);
    assert.ok(beatAt(state.tempo, ms - 50) >= beatAt(before.tempo, ms - 50) - 1e-6, 'no beat is gone back');
    if (then) state = then(state, ms, i);
    ms += 60_000 / now;
  }
  return { state, beats };
}
const offAt = (state: LiveState, ms: number): number => {
  const beat = beatAt(state.tempo, ms);
  return Math.abs(beat - Math.round(beat));
};

describe('a tempo that follows', () => {
  test('is on the beat within some seconds, and stays', () => {
    const offs: number[] = [];
    play(listens(), {
      bpm: 104,
      seconds: 24,
      jitter: 8,
      then(state, ms, i) {
        if (i > 12) offs.push(offAt(state, ms));
        return state;
      },
    });
    assert.ok(offs.length > 20);
    assert.ok(Math.max(...offs) < 0.06, `${Math.max(...offs)}`);
  });
  test('tells the tempo finer than single beats do', () => {
    const { state } = play(listens(), { bpm: 127.3, seconds: 20, jitter: 8 });
    assert.ok(Math.abs(state.tempo.bpm - 127.3) < 1.5, `${state.tempo.bpm}`);
  });
  test('follows another tempo within a few beats', () => {
    const offs: number[] = [];
    play(listens(100), {
      bpm: (s) => (s < 12 ? 100 : 126),
      seconds: 26,
      then(state, ms, i) {
        // Twelve seconds are twenty beats; eight later it is there.
        if (i > 30) offs.push(offAt(state, ms));
        return state;
      },
    });
    assert.ok(Math.max(...offs) < 0.08, `${Math.max(...offs)}`);
  });
  test('never goes by less than half or more than twice the tempo while it catches up', () => {
    play(listens(60), {
      bpm: 150,
      seconds: 12,
      then(state, ms) {
        const step = beatAt(state.tempo, ms + 20) - beatAt(state.tempo, ms);
        const usual = (state.tempo.bpm / 60_000) * 20;
        assert.ok(step > usual * 0.5 && step < usual * 2, `${step / usual}`);
        return state;
      },
    });
  });
  test('goes on as it was when nothing more is heard', () => {
    const { state } = play(listens(), { bpm: 110, seconds: 15 });
    assert.ok(Math.abs(bpmAround(state.tempo, NOW + 60_000) - 110) < 1);
  });
  test('takes its bars from the ear once that says the same often enough', () => {
    const { state, beats } = play(listens(), { bpm: 120, seconds: 30, one: 2 });
    const first = beats.findLast((_, i) => i % 4 === 2)!;
    assert.equal(Math.round(beatAt(state.tempo, first)) % 4, 0);
  });
});

describe('a hand wins', () => {
  test('a tapped tempo decides between half and double', () => {
    const { state } = play(listens(), { bpm: 150, seconds: 12 });
    const tapped = applyLive(state, { do: 'tempo', bpm: 75, beatNow: true }, NOW + 14_000, 'x', SHOW);
    const after = play(tapped, { bpm: 150, seconds: 12, from: NOW + 14_400 }).state;
    assert.ok(Math.abs(after.tempo.bpm - 75) < 1, `${after.tempo.bpm}`);
    assert.equal(after.ear!.ratio, 0.5);
  });
  test('half and double', () => {
    const { state } = play(listens(), { bpm: 90, seconds: 12 });
    const double = applyLive(state, { do: 'earRatio', ratio: 2 }, NOW + 14_000, 'x', SHOW);
    assert.ok(Math.abs(double.tempo.bpm - 180) < 2, 'at once');
    const after = play(double, { bpm: 90, seconds: 12, from: NOW + 14_400 }).state;
    assert.ok(Math.abs(after.tempo.bpm - 180) < 2);
  });
  test('held, the tempo stays whatever is heard', () => {
    const held = applyLive(listens(120), { do: 'earHold', on: true }, NOW, 'x', SHOW);
    const { state } = play(held, { bpm: 95, seconds: 10 });
    assert.deepEqual(state.tempo, held.tempo);
    const free = applyLive(state, { do: 'earHold', on: false }, NOW + 12_000, 'x', SHOW);
    assert.ok(Math.abs(play(free, { bpm: 95, seconds: 10, from: NOW + 12_300 }).state.tempo.bpm - 95) < 1);
  });
  test('“the one is now” stays where it was set, wherever the ear hears it', () => {
    const { state, beats } = play(listens(), { bpm: 120, seconds: 10 });
    const one = beats.at(-1)! + 500;
    const set = applyLive(state, { do: 'tempo', bpm: 120, barNow: 4 }, one, 'x', SHOW);
    const after = play(set, { bpm: 120, seconds: 20, one: 2, from: one + 500 }).state;
    const later = one + 16 * 500;
    assert.equal(Math.round(beatAt(after.tempo, later)) % 4, 0);
  });
});

describe('what is not listened to', () => {
  test('another source, a beat from long ago or far ahead, and a song that plays', () => {
    const state = listens();
    const said = { do: 'heardBeat', source: 'standin', at: NOW + 50, beat: 1, bpm: 99, confidence: 1 } as const;
    assert.equal(applyLive(state, { ...said, source: 'page:other' }, NOW, 'x', SHOW), state);
    assert.equal(applyLive(state, { ...said, at: NOW - 9000 }, NOW, 'x', SHOW), state);
    assert.equal(applyLive(state, { ...said, at: NOW + 9000 }, NOW, 'x', SHOW), state);
    const song = {
      songId: 'song:a' as const,
      at: 0,
      ms: NOW,
      playing: true,
      loop: null,
      list: null,
      rate: 1,
      over: null,
    };
    const playing = { ...state, song };
    assert.equal(applyLive(playing, said, NOW, 'x', SHOW), playing);
    const none = applyLive(state, { do: 'ear', source: null }, NOW, 'x', SHOW);
    assert.equal(applyLive(none, said, NOW, 'x', SHOW), none);
  });
});
