import { ease } from '../units.ts';
import { cosine, risen } from './alike.ts';
import { BANDS, FPS, LOW_BANDS, type Features } from './features.ts';

/** How likely there is a beat, and the first of a bar, at each frame: 0-1, 50 a second. */
export interface Activations {
  readonly beat: Float32Array;
  readonly downbeat: Float32Array;
}

/** A frame is compared with what is usual within so many seconds. */
const AROUND_S = 4;
/** What changes in harmony is looked for over so many seconds on both sides. */
const HARMONY_S = [0.25, 0.6, 1.2] as const;

/** Rules are never surer than this: what begins between beats is mostly no beat of another tempo. */
const MOST = 0.85;

/** How the rules weigh what is heard. */
export interface Rules {
  /** Parts of a beat: rises of the whole spectrum, of the bass, of the middle (a snare drum); together 1. */
  readonly all: number;
  readonly low: number;
  readonly middle: number;
  /** Contrast: a weak rise counts less the higher this is. */
  readonly power: number;
  /** A harmony that changes is a beat even where little begins. */
  readonly lift: number;
  /** Parts of the first of a bar among beats. */
  readonly base: number;
  readonly byBass: number;
  readonly byHarmony: number;
}
export const RULES: Rules = {
  all: 0.7,
  low: 0.2,
  middle: 0.1,
  power: 2.5,
  lift: 0,
  base: 0.12,
  byBass: 0.3,
  byHarmony: 0.75,
};

/**
 * By rules: what begins (rises in the spectrum) is a beat, where the bass begins and the harmony changes is the first of a
 * bar.
 */
export function activationsOf(heard: Features, rules: Rules = RULES): Activations {
  const { frames } = heard;
  const all = risesOf(heard, 0, BANDS);
  const low = risesOf(heard, 0, LOW_BANDS);
  const middle = risesOf(heard, LOW_BANDS, 40);
  const change = harmonyChange(heard);
  const beat = new Float32Array(frames);
  const downbeat = new Float32Array(frames);
  for (let f = 0; f < frames; f++) {
    const rise = (rules.all * all[f]! + rules.low * low[f]! + rules.middle * middle[f]!) ** rules.power;
    const b = MOST * Math.min(1, Math.max(rise, rules.lift * change[f]! * (0.3 + 0.7 * rise)));
    beat[f] = b;
    downbeat[f] = Math.min(
      MOST * 0.95,
      b * Math.min(1, rules.base + rules.byBass * low[f]! + rules.byHarmony * change[f]!),
    );
  }
  return { beat, downbeat };
}

/** How much rises in some bands, 0-1 of what is usual around. */
function risesOf({ frames, mel }: Features, from: number, to: number): Float32Array {
  const raw = new Float32Array(frames);
  let before = mel.subarray(0, BANDS);
  for (let f = 1; f < frames; f++) {
    const now = mel.subarray(f * BANDS, (f + 1) * BANDS);
    raw[f] = risen(before, now, from, to);
    before = now;
  }
  return usual(raw);
}

/** Each value by a high one of those around it. */
function usual(raw: Float32Array): Float32Array {
  const half = Math.round(AROUND_S * FPS);
  const step = FPS;
  const found = new Float32Array(raw.length);
  const highs: number[] = [];
  for (let at = 0; at < raw.length + step; at += step) {
    const around = raw.slice(Math.max(0, at - half), Math.min(raw.length, at + half)).sort();
    highs.push(around[Math.floor(around.length * 0.96)] ?? 0);
  }
  const most = Math.max(...highs, 1e-9);
  for (let f = 0; f < raw.length; f++) {
    const place = f / step;
    const [a, b] = [highs[Math.floor(place)]!, highs[Math.min(highs.length - 1, Math.floor(place) + 1)]!];
    const high = Math.max(a + (b - a) * (place - Math.floor(place)), most * 0.08);
    const x = raw[f]! / high;
    found[f] = x >= 1 ? 1 : ease(x);
  }
  return found;
}

/** How much the harmony is another after a frame than before it, 0-1. */
function harmonyChange({ frames, chroma, bass }: Features): Float32Array {
  const half = chroma.length / 12;
  const raw = new Float32Array(half);
  const [sumA, sumB] = [new Float64Array(12), new Float64Array(12)];
  const distance = (list: Float32Array, at: number, reach: number): number => {
    sumA.fill(0);
    sumB.fill(0);
    for (let k = 1; k <= reach; k++) {
      for (let c = 0; c < 12; c++) {
        sumA[c] = sumA[c]! + (at - k >= 0 ? list[(at - k) * 12 + c]! : 0);
        sumB[c] = sumB[c]! + (at + k - 1 < half ? list[(at + k - 1) * 12 + c]! : 0);
      }
    }
    return 1 - (cosine(sumA, sumB) ?? 1);
  };
  for (const seconds of HARMONY_S) {
    const reach = Math.max(2, Math.round((seconds * FPS) / 2));
    for (let f = 0; f < half; f++) raw[f] = raw[f]! + distance(chroma, f, reach) + distance(bass, f, reach);
  }
  const sorted = raw.slice().sort();
  const high = Math.max(sorted[Math.floor(sorted.length * 0.97)] ?? 0, 1e-9);
  return Float32Array.from({ length: frames }, (_, f) => {
    const at = Math.min(half - 1, f >> 1);
    const near = Math.max(raw[at]!, raw[Math.max(0, at - 1)]!, raw[Math.min(half - 1, at + 1)]!);
    return Math.min(1, near / high);
  });
}
