import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { seeded } from '../random.ts';
import fc from 'fast-check';
import { compose, type Piece } from '../../../bench/music/compose.ts';
import { DRY, synthesise } from '../../sound/synth.ts';
import { analyse } from './analyse.ts';
import { barsThrough } from './metres.ts';
import { decodeMetre } from './bar-pointer.ts';
import { FPS } from './features.ts';
import { Follower, type Announcement } from './follow.ts';
import { beatMeasures, continuity, fMeasure, tempoOf } from './measures.ts';
import { mono, resampled, rms, type Sound } from './sound.ts';

const near = (a: number, b: number, within: number): void => assert.ok(Math.abs(a - b) <= within, `${a} and not ${b}`);

describe('sound at another rate', () => {
  test('a tone keeps its height and level, above half of the rate nothing is left', () => {
    const tone = (hz: number, rate: number): Sound => ({
      rate,
      samples: Float32Array.from({ length: rate }, (_, i) => 0.5 * Math.sin((2 * Math.PI * hz * i) / rate)),
    });
    for (const rate of [8000, 11_025, 32_000, 44_100, 48_000, 96_000]) {
      const { samples } = resampled(tone(440, rate), 22_050);
      near(samples.length, 22_050, 3);
      const middle = samples.slice(2000, 20_000);
      near(rms(middle), 0.5 / Math.SQRT2, 0.004);
      let crossings = 0;
      for (let i = 1; i < middle.length; i++) if (middle[i - 1]! < 0 && middle[i]! >= 0) crossings++;
      near(crossings, (440 * middle.length) / 22_050, 1);
    }
    near(rms(resampled(tone(15_000, 44_100), 22_050).samples.slice(500, 20_000)), 0, 0.003);
  });
  test('channels are put together evenly, of different lengths and none', () => {
    assert.deepEqual([...mono([Float32Array.of(1, 0), Float32Array.of(0, 1)], 8).samples], [0.5, 0.5]);
    assert.equal(mono([Float32Array.of(1, 0, 5), Float32Array.of(0, 1)], 8).samples.length, 2);
    assert.equal(mono([], 8).samples.length, 0);
  });
});

describe('the measures of the field', () => {
  const truth = Array.from({ length: 40 }, (_, i) => i * 0.5);
  test('all right, all wrong, half and double, off the beat', () => {
    assert.deepEqual(beatMeasures(truth, truth), { f: 1, cmlt: 1, amlt: 1, acc1: true, acc2: true });
    assert.equal(beatMeasures([], truth).f, 0);
    const double = Array.from({ length: 79 }, (_, i) => i * 0.25);
    const twice = beatMeasures(double, truth);
    near(twice.f, 2 / 3, 0.02);
    assert.deepEqual([twice.cmlt, twice.acc1, twice.acc2], [0, false, true]);
    near(twice.amlt, 1, 0.05);
    const off = beatMeasures(
      truth.map((t) => t + 0.25),
      truth,
    );
    assert.deepEqual([off.f, off.cmlt, off.acc1], [0, 0, true]);
    near(off.amlt, 1, 0.06);
  });
  test('one to one within 70 ms; a chain breaks where a beat is missing', () => {
    assert.equal(fMeasure([1, 1.05], [1]), 2 / 3);
    assert.equal(fMeasure([1.069, 2.071], [1, 2]), 0.5);
    const missing = truth.filter((_, i) => i !== 20);
    near(continuity(missing, truth), 37 / 39, 0.001);
    assert.equal(tempoOf([0, 0.5, 1, 1.5]), 120);
  });
});

describe('beats and bars of activations', () => {
  const made = (beats: readonly number[], metre: number) => {
    const frames = Math.ceil((beats.at(-1)! + 1) * FPS);
    const [beat, downbeat] = [new Float32Array(frames).fill(0.02), new Float32Array(frames).fill(0.01)];
    beats.forEach((t, i) => {
      const f = Math.round(t * FPS);
      beat[f] = 0.9;
      if (i % metre === 0) downbeat[f] = 0.85;
    });
    return { beat, downbeat };
  };
  test('any tempo, metre, drift: every beat, each in its place of the bar', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 76, max: 190 }),
        fc.constantFrom(3, 4),
        fc.integer({ min: -4, max: 4 }),
        fc.integer({ min: 0, max: 40 }),
        (bpm, metre, drift, late) => {
          const beats: number[] = [];
          for (let t = 0.2 + late / 100, i = 0; t < 14; t += 60 / (bpm * (1 + (drift / 100) * (i / 40))), i++)
            beats.push(t);
          const found = decodeMetre(made(beats, metre), metre);
          const inner = beats.filter((t) => t > 1);
          assert.ok(
            fMeasure(
              found.beats.filter((t) => t > 1),
              inner,
            ) > 0.9,
            `${bpm} ${metre} ${drift}`,
          );
          const firsts = found.beats.filter((t, i) => found.places[i] === 0 && t > 2);
          assert.ok(
            fMeasure(
              firsts,
              beats.filter((t, i) => i % metre === 0 && t > 2),
            ) > 0.8,
            `bars at ${bpm}`,
          );
        },
      ),
      { numRuns: 25 },
    );
  });
});

describe('bars whose metre changes', () => {
  /** Beats of bars of these metres, as the network hears them: not every first is heard as one, and some others are. */
  const heard = (metres: readonly number[], chance: () => number) => {
    const places = metres.flatMap((metre) => Array.from({ length: metre }, (_, place) => place));
    const beats = places.map((_, i) => 0.5 + i * 0.5);
    const frames = (beats.length + 2) * 25;
    const [beat, downbeat] = [new Float32Array(frames).fill(0.02), new Float32Array(frames).fill(0.01)];
    beats.forEach((t, i) => {
      beat[Math.round(t * FPS)] = 0.9;
      downbeat[Math.round(t * FPS)] = places[i] === 0 ? 0.35 + chance() * 0.5 : chance() * 0.25;
    });
    return { activations: { beat, downbeat }, beats, places };
  };
  const repeated = (metre: number, times: number): number[] => new Array<number>(times).fill(metre);
  const cases: [what: string, metres: number[]][] = [
    ['one metre throughout', repeated(4, 30)],
    ['a waltz throughout', repeated(3, 40)],
    ['a refrain in three', [...repeated(4, 12), ...repeated(3, 16), ...repeated(4, 12)]],
    ['a bridge in seven', [...repeated(4, 10), ...repeated(7, 8), ...repeated(4, 10)]],
    ['one bar of two between bars of four', [...repeated(4, 9), 2, ...repeated(4, 12)]],
  ];
  for (const [what, metres] of cases)
    test(what, () => {
      const chance = seeded(31);
      const { activations, beats, places } = heard(metres, chance);
      // What was decided with the beats is one metre throughout.
      const metre = metres[0]!;
      const decoded = { metre, beats, places: beats.map((_, i) => i % metre), score: 0 };
      const found = barsThrough(activations, decoded);
      const wanted: { first: number; metre: number }[] = [];
      let first = 0;
      for (const m of metres) {
        if (wanted.at(-1)?.metre !== m) wanted.push({ first, metre: m });
        first += m;
      }
      assert.deepEqual(found, wanted);
      assert.equal(places[found[0]!.first], 0);
    });
  test('every fourth bar short is counted better than in one metre, if not each of them', () => {
    const metres = Array.from({ length: 32 }, (_, i) => (i % 4 === 3 ? 5 : 6));
    const { activations, beats, places } = heard(metres, seeded(7));
    const found = barsThrough(activations, { metre: 6, beats, places: beats.map((_, i) => i % 6), score: 0 });
    const firsts = found.flatMap(({ first, metre }, i) =>
      beats.slice(first, found[i + 1]?.first).filter((_, k) => k % metre === 0),
    );
    const wanted = beats.filter((_, i) => places[i] === 0);
    const plain = fMeasure(
      beats.filter((_, i) => i % 6 === 0),
      wanted,
    );
    assert.ok(fMeasure(firsts, wanted) > plain + 0.08, `${fMeasure(firsts, wanted)}, in one metre ${plain}`);
  });
  test('of nothing, and of a single beat', () => {
    const activations = { beat: new Float32Array(50), downbeat: new Float32Array(50) };
    assert.deepEqual(barsThrough(activations, { metre: 4, beats: [], places: [], score: 0 }), []);
    const one = barsThrough(activations, { metre: 4, beats: [0.5], places: [0], score: 0 });
    assert.equal(one.length, 1);
  });
});

describe('a song', () => {
  const piece: Piece = compose(77, 'rock', 'steady', 24);
  const sound = synthesise(piece);
  const heard = analyse(sound);
  test('its beats, bars, tempo and metre', () => {
    const { f, cmlt } = beatMeasures(heard.beats, piece.beats);
    assert.ok(f > 0.95 && cmlt > 0.9, `${f} ${cmlt}`);
    near(heard.bpm, piece.bpm, piece.bpm * 0.02);
    assert.equal(heard.metre, 4);
    assert.ok(fMeasure(heard.downbeats, piece.downbeats) > 0.9, 'bars');
    assert.ok(heard.confidence > 0.2, String(heard.confidence));
    assert.equal(heard.sections[0]!.from, 0);
    for (let i = 1; i < heard.sections.length; i++) assert.equal(heard.sections[i]!.from, heard.sections[i - 1]!.to);
  });
  test('louder or softer: nothing changes', () => {
    const soft = analyse({ ...sound, samples: sound.samples.map((x) => x * 0.05) });
    assert.ok(fMeasure(soft.beats, heard.beats, 0.002) > 0.99, 'beats');
    assert.ok(fMeasure(soft.downbeats, heard.downbeats, 0.002) > 0.99, 'bars');
  });
  test('later: all of it later; faster: the tempo as much faster', () => {
    const padded = new Float32Array(sound.samples.length + 2 * sound.rate);
    padded.set(sound.samples, 2 * sound.rate);
    const late = analyse({ ...sound, samples: padded }).beats.filter((t) => t > 3);
    assert.ok(
      fMeasure(
        late,
        heard.beats.map((t) => t + 2).filter((t) => t > 3),
        0.03,
      ) > 0.97,
      'shifted',
    );
    const fast = analyse({ ...sound, rate: sound.rate * 1.1 });
    near(fast.bpm, heard.bpm * 1.1, 1.5);
  });
  test('at another rate and with noise it is the same song', () => {
    const noisy = analyse(synthesise(piece, { ...DRY, noise: 0.01, drive: 1.5 }, 3, 44_100));
    assert.ok(
      fMeasure(
        noisy.beats,
        piece.beats.filter((t) => t > 0),
      ) > 0.93,
      'beats',
    );
  });
  test('silence and noise alone: it says that it is not sure', () => {
    const silent = analyse({ rate: 22_050, samples: new Float32Array(22_050 * 6) });
    assert.ok(silent.confidence < 0.05, String(silent.confidence));
    let state = 1;
    const hiss = Float32Array.from({ length: 22_050 * 8 }, () => {
      state = (state * 16_807) % 2_147_483_647;
      return (state / 2_147_483_647 - 0.5) * 0.4;
    });
    assert.ok(analyse({ rate: 22_050, samples: hiss }).confidence < heard.confidence, 'less sure than of music');
  });
});

describe('the live ear', () => {
  const piece = compose(40, 'rock', 'steady', 20);
  const sound = synthesise(piece, DRY, 1, 44_100);
  const followed = (samples: Float32Array, block: number, rate = 44_100): Announcement[] => {
    const ear = new Follower(rate);
    const said: Announcement[] = [];
    for (let i = 0; i < samples.length; i += block) said.push(...ear.feed(samples.subarray(i, i + block)));
    return said;
  };
  const said = followed(sound.samples, 1024);

  test('says beats before they are, and where they are', () => {
    const { f } = beatMeasures(
      said.map((a) => a.at),
      piece.beats,
    );
    assert.ok(f > 0.85, String(f));
    const late = said.filter((a) => a.emittedAt > a.at).length;
    assert.ok(late / said.length < 0.05, `${late} of ${said.length} came after their beat`);
    for (let i = 1; i < said.length; i++) assert.ok(said[i]!.at > said[i - 1]!.at, 'in order');
  });
  test('blocks of any size: the very same', () => {
    for (const block of [77, 4096, 44_100]) assert.deepEqual(followed(sound.samples, block), said);
  });
  test('the future changes nothing that was said', () => {
    const other = sound.samples.slice();
    const from = 10 * 44_100;
    for (let i = from; i < other.length; i++) other[i] = Math.sin(i * 0.7) * 0.8;
    const before = (list: readonly Announcement[]): Announcement[] => list.filter((a) => a.emittedAt < 9.97);
    assert.deepEqual(before(followed(other, 1024)), before(said));
    assert.ok(before(said).length > 8, 'there was something to compare');
  });
  test('louder or softer makes no difference; silence says nothing', () => {
    const soft = followed(
      sound.samples.map((x) => x * 0.1),
      1024,
    );
    assert.ok(
      fMeasure(
        soft.map((a) => a.at),
        said.map((a) => a.at),
        0.02,
      ) > 0.95,
      'the same beats',
    );
    assert.deepEqual(followed(new Float32Array(44_100 * 5), 1024), []);
  });
  test('at any rate', () => {
    const ear = followed(synthesise(piece, DRY, 1, 48_000).samples, 480, 48_000);
    assert.ok(
      beatMeasures(
        ear.map((a) => a.at),
        piece.beats,
      ).f > 0.85,
      'beats',
    );
  });
});
