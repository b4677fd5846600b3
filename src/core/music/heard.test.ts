import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { fromBase64 } from '../base64.ts';
import { heardSchema } from '../records/song.ts';
import { demoSongs, playDemo } from '../../sound/demo/songs.ts';
import { Listener } from './listen.ts';
import { listeningSchema } from './listening.ts';
import { loudnessOf } from './loudness.ts';
import { ONSET_BANDS } from './onsets.ts';
import { hearSong } from './song.ts';
import type { Sound } from './sound.ts';

const sine = (hz: number, seconds: number, loud: number, rate = 48_000): Sound => ({
  rate,
  samples: Float32Array.from({ length: seconds * rate }, (_, i) => loud * Math.sin((2 * Math.PI * hz * i) / rate)),
});

describe('loudness', () => {
  // ITU-R BS.1770: a sine of 997 Hz at full scale in one channel is -3.01 LUFS.
  test('of a sine at full scale is -3 LUFS, at any rate', () => {
    for (const rate of [44_100, 48_000, 22_050])
      assert.ok(Math.abs(loudnessOf(sine(997, 5, 1, rate)) + 3.01) < 0.1, `${loudnessOf(sine(997, 5, 1, rate))}`);
  });
  test('goes down by 20 with a tenth, and silence around it counts for nothing', () => {
    assert.ok(Math.abs(loudnessOf(sine(997, 5, 0.1)) + 23.01) < 0.1);
    const { samples, rate } = sine(997, 5, 0.1);
    const padded = new Float32Array(samples.length * 3);
    padded.set(samples, samples.length);
    assert.ok(Math.abs(loudnessOf({ samples: padded, rate }) + 23.01) < 0.5);
    assert.equal(loudnessOf({ samples: new Float32Array(48_000), rate: 48_000 }), -70);
  });
});

describe('the songs of the demo', () => {
  const songs = demoSongs();
  const told: number[] = [];
  const heard = songs.map((song) => hearSong(playDemo(song), (share) => told.push(share)));
  test('are heard as records may hold them, with how far it is told on the way', () => {
    for (const { heard: own } of heard) assert.deepEqual(heardSchema.parse(own), own);
    assert.ok(told.every((share) => share >= 0 && share <= 1));
    assert.ok(told.length >= 12);
  });
  for (const [i, song] of songs.entries())
    test(`${song.name}: beats, metre and the first of bars`, () => {
      const { beats, bars } = heard[i]!.heard;
      const near = (at: number): boolean => beats.some((b) => Math.abs(b - at) < 0.07);
      const found = song.beats.filter(near).length / song.beats.length;
      assert.ok(found > 0.95, `${found}`);
      assert.equal(bars[0]!.beats, song.metre);
      const first = song.beats.findIndex((at) => Math.abs(at - bars[0]!.at) < 0.07);
      assert.equal(first % song.metre, 0, 'bars begin where they do');
    });
  test('Night Ferry has its break and its drop', () => {
    const { sections } = heard[1]!.heard;
    const turns = sections.map(({ turn }) => turn);
    assert.ok(turns.includes('drop'));
    const [stop, drop] = [sections.find((s) => s.turn === 'break')!, sections.find((s) => s.turn === 'drop')!];
    const bar = (60 / 128) * 4;
    assert.ok(Math.abs(stop.at - (0.3 + 20 * bar)) < bar + 0.1, `break at ${stop.at}`);
    assert.ok(Math.abs(drop.at - (0.3 + 28 * bar)) < 4 * bar + 0.1, `drop at ${drop.at}`);
  });
  test('Two Gears goes faster', () => {
    const { beats } = heard[2]!.heard;
    const bpm = (from: number, to: number): number => {
      const own = beats.filter((at) => at >= from && at < to);
      return (60 * (own.length - 1)) / (own.at(-1)! - own[0]!);
    };
    assert.ok(Math.abs(bpm(5, 25) - 104) < 1.5, `${bpm(5, 25)}`);
    assert.ok(Math.abs(bpm(50, 70) - 126) < 1.5, `${bpm(50, 70)}`);
  });
  test('their pictures have a column every hundredth of a second, and onsets where drums are', () => {
    const { picture, lengthS } = heard[1]!;
    const columns = fromBase64(picture.columns);
    assert.equal(columns.length, Math.ceil(lengthS * picture.rate) * 4);
    assert.ok(columns.some((byte) => byte > 200));
    const onsets = fromBase64(picture.onsets);
    const view = new DataView(onsets.buffer);
    const low: number[] = [];
    for (let at = 0; at < onsets.length; at += 6)
      if (ONSET_BANDS[onsets[at + 4]!] === 'low') low.push(view.getUint32(at, true) / 1000);
    // The first part has a bass drum on every beat.
    const part = songs[1]!.beats.slice(0, 32);
    const hit = part.filter((at) => low.some((on) => Math.abs(on - at) < 0.04)).length;
    assert.ok(hit >= 30, `${hit} of 32`);
  });
});

describe('what listens', () => {
  const song = demoSongs()[1]!;
  const { samples, rate } = playDemo(song);
  const reports = (sound: Sound, block: number) => {
    const listener = new Listener(sound.rate);
    const said = [];
    const all = [];
    for (let at = 0; at < sound.samples.length; at += block) {
      said.push(...listener.feed(sound.samples.subarray(at, at + block)));
      if (Math.floor(at / (sound.rate / 5)) !== Math.floor((at + block) / (sound.rate / 5)))
        all.push(listener.report());
    }
    return { said, all };
  };
  test('says what may be told, hears beats, and a mood that does not twitch', () => {
    const { said, all } = reports({ samples, rate }, 640);
    for (const report of all) assert.deepEqual(listeningSchema.parse(report), report);
    assert.ok(
      all.some(({ state }) => state === 'hearing'),
      'beats are announced',
    );
    assert.ok(said.length > 60, `${said.length}`);
    let changes = 0;
    for (let i = 1; i < all.length; i++) if (all[i]!.mood !== all[i - 1]!.mood) changes++;
    assert.ok(changes >= 1 && changes <= 12, `${changes} moods in ${song.seconds} s`);
    // The break is calmer than what is before it.
    const bar = (60 / 128) * 4;
    const at = (s: number) => all[Math.floor(s * 5)]!;
    const order = ['calm', 'easy', 'lively', 'strong', 'peak'];
    const [before, within] = [at(18 * bar).mood!, at(26 * bar).mood!];
    assert.ok(order.indexOf(within) < order.indexOf(before), `${before}, then ${within}`);
    const turns = all.slice(Math.floor(21 * bar * 5), Math.floor(28 * bar * 5)).map((r) => r.turn);
    assert.ok(turns.includes('break'), turns.join());
  });
  test('silence, a hum and speech-like noise: no beats, and it says so', () => {
    const silent = reports({ samples: new Float32Array(rate * 12), rate }, 640);
    assert.deepEqual([silent.said.length, silent.all.at(-1)!.state], [0, 'silent']);
    assert.equal(silent.all.at(-1)!.mood, null);
    const hum = reports(sine(50, 20, 0.05, 32_000), 640);
    // The first seconds may mislead it, later it knows better.
    assert.ok(hum.said.filter(({ at }) => at > 10).length === 0, `${hum.said.length}`);
    assert.equal(hum.all.at(-1)!.state, 'unsure');
  });
  test('a source that is cut off is told', () => {
    const loud = sine(200, 3, 4, 32_000);
    const { all } = reports({ rate: 32_000, samples: loud.samples.map((x) => Math.max(-1, Math.min(1, x))) }, 640);
    assert.equal(all.at(-1)!.clips, true);
    assert.equal(reports(sine(200, 3, 0.9, 32_000), 640).all.at(-1)!.clips, false);
  });
  test('music that stops: it lets go, and hears the next', () => {
    const half = Math.floor(samples.length / 3);
    const gap = rate * 8;
    const both = new Float32Array(half * 2 + gap);
    both.set(samples.subarray(0, half));
    both.set(samples.subarray(0, half), half + gap);
    const { said } = reports({ samples: both, rate }, 640);
    const [stop, again] = [half / rate, (half + gap) / rate];
    assert.ok(said.filter(({ at }) => at > stop + 4 && at < again).length === 0, 'nothing in the silence');
    assert.ok(
      said.some(({ at }) => at > again && at < again + 12),
      'and the next is heard',
    );
  });
});
