import { FPS } from './features.ts';
import { tempoOf } from './measures.ts';
import type { Activations } from './network.ts';
import { changeTempi, clipped, PERIODS, regionOf, REST, STEPS_S, withBeats } from './tempi.ts';

/**
 * Beats and bars out of activations, together: a state is where in a bar one is and how fast; it moves on evenly, and the
 * tempo changes at beats alone. The likeliest way through is found by dynamic programming.
 */

/** A way through: when each beat is, seconds, which of its bar it is (0 the first), and how likely all of it is. */
export interface Decoded {
  readonly metre: number;
  readonly beats: readonly number[];
  readonly places: readonly number[];
  readonly score: number;
}

/** What beats and bars are decoded from: 0-1 at each frame. */
export type BeatActivations = Pick<Activations, 'beat' | 'downbeat'>;

/** Activations at the decoder's rate, clipped, as the logarithms that states are given. */
interface Observed {
  readonly first: Float64Array;
  readonly other: Float64Array;
  readonly rest: Float64Array;
}

function observed({ beat, downbeat }: BeatActivations): Observed {
  const steps = Math.max(1, Math.floor((beat.length * STEPS_S) / FPS));
  const [first, other, rest] = [new Float64Array(steps), new Float64Array(steps), new Float64Array(steps)];
  const at = (list: Float32Array, step: number): number => {
    const place = (step * FPS) / STEPS_S;
    const i = Math.min(list.length - 1, Math.floor(place));
    const j = Math.min(list.length - 1, i + 1);
    return list[i]! + (list[j]! - list[i]!) * (place - i);
  };
  for (let s = 0; s < steps; s++) {
    const b = clipped(at(beat, s));
    const d = clipped(Math.min(at(downbeat, s), b));
    first[s] = Math.log(d);
    other[s] = Math.log(clipped(b - d));
    rest[s] = Math.log((1 - b) / REST);
  }
  return { first, other, rest };
}

/** The likeliest beats in bars of one metre. Linear in the length. */
export function decodeMetre(activations: BeatActivations, metre: number, seen = observed(activations)): Decoded {
  const { first, other, rest } = seen;
  const steps = first.length;
  const n = PERIODS.length;
  // A ring for each tempo: what is at a place of the bar lies one further on a step later.
  const rings = ringsOf(metre);
  const { all, starts, lengths } = rings;
  const regions = Int32Array.from(PERIODS, regionOf);
  const back = new Uint8Array(steps * metre * n);
  const withBeat = withBeats(metre);
  const entering = new Float64Array(n);
  const from = new Uint8Array(n);
  // Where each beat of the bar stands in each ring now (metre x tempi): one further back with every step.
  const places = Int32Array.from({ length: metre * n }, (_, k) => PERIODS[k % n]! * Math.floor(k / n));
  for (let s = 0; s < steps; s++) {
    // Outside of beats all get the same, which decides nothing; inside the difference to it.
    const asFirst = first[s]! - rest[s]!;
    const asOther = other[s]! - rest[s]!;
    for (let beat = 0; beat < metre; beat++) {
      const row = beat * n;
      for (let i = 0; i < n; i++) entering[i] = all[starts[i]! + places[row + i]!]!;
      changeTempi(entering, from, withBeat);
      back.set(from, s * metre * n + row);
      const add = beat === 0 ? asFirst : asOther;
      for (let i = 0; i < n; i++) {
        const start = starts[i]!;
        const end = start + lengths[i]!;
        let at = start + places[row + i]!;
        all[at] = entering[i]!;
        for (let k = regions[i]!; k > 0; k--) {
          all[at] = all[at]! + add;
          if (++at === end) at = start;
        }
        places[row + i] = places[row + i]! === 0 ? lengths[i]! - 1 : places[row + i]! - 1;
      }
    }
  }
  return traced(rings, back, steps, metre, activations);
}

/** The places of a bar at each tempo, one tempo after the other. */
interface Rings {
  readonly all: Float64Array;
  readonly starts: Int32Array;
  readonly lengths: Int32Array;
}

function ringsOf(metre: number): Rings {
  const lengths = Int32Array.from(PERIODS, (period) => period * metre);
  const starts = new Int32Array(lengths.length);
  for (let i = 1; i < starts.length; i++) starts[i] = starts[i - 1]! + lengths[i - 1]!;
  return { all: new Float64Array(starts.at(-1)! + lengths.at(-1)!), starts, lengths };
}

function traced(
  { all, starts, lengths }: Rings,
  back: Uint8Array,
  steps: number,
  metre: number,
  activations: BeatActivations,
): Decoded {
  const n = PERIODS.length;
  let [score, tempo, place] = [-Infinity, 0, 0];
  lengths.forEach((length, i) => {
    for (let at = 0; at < length; at++) {
      const value = all[starts[i]! + at]!;
      if (value <= score) continue;
      score = value;
      tempo = i;
      place = (at + steps - 1) % length;
    }
  });
  const found: { step: number; beat: number }[] = [];
  let beat = Math.floor(place / PERIODS[tempo]!);
  let step = steps - 1 - (place % PERIODS[tempo]!);
  while (step >= 0) {
    found.push({ step, beat });
    const was = back[(step * metre + beat) * n + tempo]!;
    step -= PERIODS[was]!;
    beat = (beat + metre - 1) % metre;
    tempo = was;
  }
  found.reverse();
  return {
    metre,
    beats: found.map((f) => refined(activations.beat, f.step / STEPS_S)),
    places: found.map((f) => f.beat),
    // States of longer bars are more: each is as much less likely at the beginning.
    score: score - Math.log(metre),
  };
}

/** The top of the activation near a beat, between its frames by a parabola. */
function refined(beat: Float32Array, seconds: number): number {
  const centre = Math.round(seconds * FPS);
  let best = centre;
  for (let f = Math.max(0, centre - 2); f <= Math.min(beat.length - 1, centre + 2); f++)
    if (beat[f]! > (beat[best] ?? -1)) best = f;
  const [a, b, c] = [beat[best - 1] ?? 0, beat[best] ?? 0, beat[best + 1] ?? 0];
  const bend = a - 2 * b + c;
  if (b <= 0.02) return seconds;
  const off = bend < -1e-9 ? Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / bend)) : 0;
  return Math.max(0, (best + off) / FPS);
}

/** Metres that are tried for every song. */
export const METRES = [4, 3, 2, 6, 5, 7] as const;
/** How much likelier a rarer metre has to be for each second (natural logarithm). */
const RARE_S: Readonly<Record<number, number>> = { 2: 0.6, 6: 0.75, 5: 1.5, 7: 1.5 };
/** Bars of two or six slow beats are mostly bars of four or three fast ones: beats a minute, and how much likelier. */
const SLOW: Readonly<Record<number, number>> = { 2: 10, 6: 0.5 };
const SLOW_BPM = 90;

/** How likely a way through is, with what is known of metres. */
function worth({ metre, score, beats }: Decoded, seconds: number): number {
  const slow = beats.length > 1 && tempoOf(beats) < SLOW_BPM ? (SLOW[metre] ?? 0) : 0;
  return score - ((RARE_S[metre] ?? 0) + slow) * seconds;
}

/** The likeliest of the metres. */
export function decode(activations: BeatActivations, told: (share: number) => void = () => undefined): Decoded {
  const metres = metresOf(activations);
  return best(activations, metres, (i) => told((i + 1) / metres.length))[0]!.decoded;
}

/** Each metre's way through, the likeliest first. */
function best(
  activations: BeatActivations,
  metres: readonly number[],
  done: (i: number) => void = () => undefined,
): { readonly decoded: Decoded; readonly worth: number }[] {
  const seen = observed(activations);
  const seconds = activations.beat.length / FPS;
  return metres
    .map((metre, i) => {
      const decoded = decodeMetre(activations, metre, seen);
      done(i);
      return { decoded, worth: worth(decoded, seconds) };
    })
    .sort((a, b) => b.worth - a.worth);
}

/** The middle of a long song is enough to see which metres it could be in. */
const [LONG_S, MIDDLE_S] = [80, 36];
/** Metres that are so much less likely there are out of the question, for each second; so many are tried in whole. */
const [OUT_S, TRIED] = [1, 2];

/** Metres that a song is decoded in whole. */
function metresOf({ beat, downbeat }: BeatActivations): readonly number[] {
  const frames = beat.length;
  if (frames < LONG_S * FPS) return METRES;
  const from = Math.floor((frames - MIDDLE_S * FPS) / 2);
  const middle = (list: Float32Array): Float32Array => list.subarray(from, from + MIDDLE_S * FPS);
  const found = best({ beat: middle(beat), downbeat: middle(downbeat) }, METRES);
  return found
    .slice(0, TRIED)
    .filter((way) => found[0]!.worth - way.worth < OUT_S * MIDDLE_S)
    .map(({ decoded }) => decoded.metre);
}
