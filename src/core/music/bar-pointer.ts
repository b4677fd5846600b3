import type { Activations } from './activations.ts';
import { FPS } from './features.ts';
import { CHANGES, clipped, PERIODS, regionOf, REST, STEPS_S } from './tempi.ts';

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

/** Activations at the decoder's rate, clipped, as the logarithms that states are given. */
interface Observed {
  readonly first: Float64Array;
  readonly other: Float64Array;
  readonly rest: Float64Array;
}

function observed({ beat, downbeat }: Activations): Observed {
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
export function decodeMetre(activations: Activations, metre: number, seen = observed(activations)): Decoded {
  const { first, other, rest } = seen;
  const steps = first.length;
  const n = PERIODS.length;
  // A ring for each tempo: what is at a place of the bar lies one further on a step later.
  const rings = PERIODS.map((period) => new Float64Array(period * metre));
  const regions = PERIODS.map(regionOf);
  const back = new Uint8Array(steps * metre * n);
  const entering = new Float64Array(n);
  const { at: changesAt, from: changesFrom, log: changesLog } = CHANGES;
  // Where the first place of the bar stands in each ring now: one further back with every step.
  const begins = new Int32Array(n);
  for (let s = 0; s < steps; s++) {
    for (let beat = 0; beat < metre; beat++) {
      for (let i = 0; i < n; i++) entering[i] = rings[i]![placeOf(begins[i]!, beat, PERIODS[i]!, metre)]!;
      const row = (s * metre + beat) * n;
      for (let i = 0; i < n; i++) {
        let best = -Infinity;
        let from = i;
        for (let k = changesAt[i]!; k < changesAt[i + 1]!; k++) {
          const value = entering[changesFrom[k]!]! + changesLog[k]!;
          if (value > best) {
            best = value;
            from = changesFrom[k]!;
          }
        }
        rings[i]![placeOf(begins[i]!, beat, PERIODS[i]!, metre)] = best;
        back[row + i] = from;
      }
    }
    // Outside of beats all get the same, which decides nothing; inside the difference to it.
    const asFirst = first[s]! - rest[s]!;
    const asOther = other[s]! - rest[s]!;
    for (let i = 0; i < n; i++) {
      const ring = rings[i]!;
      const period = PERIODS[i]!;
      for (let beat = 0; beat < metre; beat++) {
        const add = beat === 0 ? asFirst : asOther;
        let at = placeOf(begins[i]!, beat, period, metre);
        for (let k = regions[i]!; k > 0; k--) {
          ring[at] = ring[at]! + add;
          if (++at === ring.length) at = 0;
        }
      }
      begins[i] = begins[i] === 0 ? ring.length - 1 : begins[i]! - 1;
    }
  }
  return traced(rings, back, steps, metre, activations);
}

/** Where a beat of the bar stands in a ring. */
function placeOf(begin: number, beat: number, period: number, metre: number): number {
  const at = begin + beat * period;
  return at >= period * metre ? at - period * metre : at;
}

function traced(
  rings: readonly Float64Array[],
  back: Uint8Array,
  steps: number,
  metre: number,
  activations: Activations,
): Decoded {
  const n = PERIODS.length;
  let [score, tempo, place] = [-Infinity, 0, 0];
  rings.forEach((ring, i) => {
    for (let at = 0; at < ring.length; at++)
      if (ring[at]! > score) {
        score = ring[at]!;
        tempo = i;
        place = (at + steps - 1) % ring.length;
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

/** Metres that are tried for every song. Bars of two are heard as four, of six as three. */
export const METRES = [4, 3, 5, 7] as const;
/** Metres that few songs have must be so much likelier (natural logarithm). */
const SELDOM = 8;

/** The likeliest of the metres. */
export function decode(activations: Activations, told: (share: number) => void = () => undefined): Decoded {
  const metres = metresOf(activations);
  const seen = observed(activations);
  return metres
    .map((metre, i) => {
      const decoded = decodeMetre(activations, metre, seen);
      told((i + 1) / metres.length);
      return decoded;
    })
    .reduce((a, b) => (worth(b) > worth(a) ? b : a));
}

const worth = ({ metre, score }: Decoded): number => score - (metre > 4 ? SELDOM : 0);

/** The middle of a long song is enough to see whether it could be in five or seven. */
const [LONG_S, MIDDLE_S] = [90, 45];

/** Metres that a song is decoded in whole: odd ones only where they are likelier in its middle. */
function metresOf(activations: Activations): readonly number[] {
  const frames = activations.beat.length;
  if (frames < LONG_S * FPS) return METRES;
  const from = Math.floor((frames - MIDDLE_S * FPS) / 2);
  const middle: Activations = {
    beat: activations.beat.subarray(from, from + MIDDLE_S * FPS),
    downbeat: activations.downbeat.subarray(from, from + MIDDLE_S * FPS),
  };
  const seen = observed(middle);
  const found = METRES.map((metre) => ({ metre, worth: worth(decodeMetre(middle, metre, seen)) }));
  const even = Math.max(...found.filter(({ metre }) => metre <= 4).map((f) => f.worth));
  return found.filter((f) => f.metre <= 4 || f.worth > even).map(({ metre }) => metre);
}
