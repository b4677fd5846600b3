import type { Mood } from '../records/profile.ts';
import { cosine } from './alike.ts';
import { BANDS, FPS, type Features } from './features.ts';
import { LEAST_SPAN, moodAmong, shareBelow } from './mood.ts';

/** A part of a song, whole bars long. Those that sound alike have the same label. */
export interface Section {
  readonly from: number;
  readonly to: number;
  readonly label: string;
  readonly mood: Mood;
  /** What it does to those around it. */
  readonly turn: 'build' | 'drop' | 'break' | null;
}

export interface Sections {
  readonly sections: readonly Section[];
  /** How sure it is of their boundaries, 0-1. */
  readonly sure: number;
}

/** Parts of a bar that its rhythm is told by, and groups of bands for that. */
const [RHYTHM_STEPS, RHYTHM_BANDS] = [8, 4];
const KERNELS = [2, 4] as const;
/** Frames on each side of a bar's beginning at which the network is asked. */
const AROUND = 10;
/** What a boundary must be worth, and how welcome lengths in bars are. */
const COST = 0.9;
const bonus = (bars: number): number =>
  bars < 2 ? -1.6 : bars < 4 ? -0.6 : bars % 8 === 0 ? 0.35 : bars % 4 === 0 ? 0.25 : bars % 2 === 1 ? -0.28 : 0;
const LONGEST_BARS = 32;
/** Sections that are nearer than this sound alike. */
const ALIKE = 0.8;

/**
 * Sections of a song from its bars; one whole where there are too few. `begins`: how likely a section begins at each frame, 0-1;
 * `end`: where the song ends, seconds.
 */
export function hearSections(
  heard: Features,
  begins: Float32Array,
  downbeats: readonly number[],
  end: number,
): Sections {
  if (downbeats.length < 4) return { sections: [{ from: 0, to: end, label: 'A', mood: 'easy', turn: null }], sure: 0 };
  const bars = downbeats.map((from, i) => ({
    from,
    to: downbeats[i + 1] ?? Math.min(end, from + (from - downbeats[i - 1]!)),
  }));
  const vectors = bars.map((bar) => vectorOf(heard, bar.from, bar.to));
  const alike = similarity(vectors);
  const told = standard(Float64Array.from(bars, ({ from }) => around(begins, from)));
  const novelty = noveltyOf(alike).map((x, i) => x + told[i]!);
  const cuts = boundaries(novelty);
  const spans = cuts.map((bar, i) => [bar, cuts[i + 1] ?? bars.length] as const);
  const labels = labelled(spans, alike);
  const energies = spans.map(([a, b]) => energyOf(heard, bars[a]!.from, bars[b - 1]!.to));
  const ofBars = bars.map(({ from, to }) => energyOf(heard, from, to));
  const turns = turnsOf(spans, energies, ofBars);
  const sections = spans.map(([a, b], i) => ({
    from: a === 0 ? 0 : bars[a]!.from,
    to: b === bars.length ? end : bars[b]!.from,
    label: labels[i]!,
    mood: moodAmong(energies[i]!, ofBars),
    turn: turns[i]!,
  }));
  return { sections, sure: sureOf(cuts, novelty) };
}

/** What is likely around a moment, on the whole. */
function around(begins: Float32Array, seconds: number): number {
  const middle = Math.round(seconds * FPS);
  const near = begins.subarray(Math.max(0, middle - AROUND), middle + AROUND + 1);
  return near.reduce((sum, x) => sum + x, 0) / (2 * AROUND + 1);
}

/** Novelty is the sum of two that are told in deviations: three of each is as sure as it gets. */
const SURE = 6;

/** How far boundaries stand out of what is new elsewhere, 0-1. */
function sureOf(cuts: readonly number[], novelty: Float64Array): number {
  const inner = cuts.filter((bar) => bar > 0);
  if (inner.length === 0) return 0;
  const mean = inner.reduce((sum, bar) => sum + novelty[bar]!, 0) / inner.length;
  return Math.max(0, Math.min(1, mean / SURE));
}

/** A step of energy that is a break or a drop, of the song's whole range; and how steadily a build rises. */
const [STEP, BUILD] = [0.35, 0.6];

/**
 * Breaks (much less than before), drops (much more than before, and near the most there is) and builds (what rises bar by
 * bar into a drop).
 */
function turnsOf(
  spans: readonly (readonly [number, number])[],
  energies: readonly number[],
  ofBars: readonly number[],
): Section['turn'][] {
  const high = Math.max(...energies);
  const range = Math.max(high - shareBelow(ofBars, 0.1), LEAST_SPAN);
  const turns = energies.map((energy, i): Section['turn'] => {
    if (i === 0) return null;
    const step = (energy - energies[i - 1]!) / range;
    if (step < -STEP) return 'break';
    return step > STEP && (high - energy) / range < 0.25 ? 'drop' : null;
  });
  spans.forEach(([a, b], i) => {
    if (turns[i + 1] === 'drop' && b - a >= 4 && risingShare(ofBars.slice(a, b)) >= BUILD) turns[i] = 'build';
  });
  return turns;
}

/** Kendall's tau of a row with its order: 1 rises throughout, 0 neither. */
function risingShare(row: readonly number[]): number {
  let [up, all] = [0, 0];
  for (let i = 0; i < row.length; i++)
    for (let j = i + 1; j < row.length; j++) {
      up += Math.sign(row[j]! - row[i]!);
      all++;
    }
  return all === 0 ? 0 : up / all;
}

interface BarVector {
  readonly timbre: Float64Array;
  readonly harmony: Float64Array;
  readonly rhythm: Float64Array;
}

function vectorOf({ frames, mel, chroma }: Features, from: number, to: number): BarVector {
  const [a, b] = [
    Math.max(0, Math.round(from * FPS)),
    Math.min(frames, Math.max(Math.round(to * FPS), Math.round(from * FPS) + 1)),
  ];
  const timbre = new Float64Array(BANDS);
  const count = Math.max(1, b - a);
  for (let band = 0; band < BANDS; band++) {
    let [sum, squares] = [0, 0];
    for (let f = a; f < b; f++) {
      const x = mel[f * BANDS + band]!;
      sum += x;
      squares += x * x;
    }
    const mean = sum / count;
    timbre[band] = mean + 0.5 * Math.sqrt(Math.max(0, squares / count - mean * mean));
  }
  const harmony = new Float64Array(24);
  const rhythm = new Float64Array(RHYTHM_STEPS * RHYTHM_BANDS);
  for (let f = a; f < b; f++) {
    const part = (f - a) / count;
    const half = part < 0.5 ? 0 : 12;
    const row = (f >> 1) * 12;
    for (let c = 0; c < 12; c++) harmony[half + c] = harmony[half + c]! + (chroma[row + c] ?? 0);
    if (f === 0) continue;
    const step = Math.min(RHYTHM_STEPS - 1, Math.floor(part * RHYTHM_STEPS));
    for (let band = 0; band < BANDS; band++) {
      const rise = mel[f * BANDS + band]! - mel[(f - 1) * BANDS + band]!;
      const at = step * RHYTHM_BANDS + Math.floor((band * RHYTHM_BANDS) / BANDS);
      if (rise > 0) rhythm[at] = rhythm[at]! + rise;
    }
  }
  return { timbre, harmony, rhythm };
}

/** How alike any two bars are, -1 to 1: timbre counts twice. */
function similarity(vectors: readonly BarVector[]): Float64Array[] {
  const n = vectors.length;
  const total = Array.from({ length: n }, () => new Float64Array(n));
  for (const [key, weight] of [
    ['timbre', 0.5],
    ['harmony', 0.25],
    ['rhythm', 0.25],
  ] as const) {
    const rows = centred(vectors.map((v) => v[key]));
    for (let i = 0; i < n; i++)
      for (let j = i; j < n; j++) {
        const c = (cosine(rows[i]!, rows[j]!) ?? 0) * weight;
        total[i]![j] = total[i]![j]! + c;
        if (j !== i) total[j]![i] = total[j]![i]! + c;
      }
  }
  return total;
}

function centred(rows: readonly Float64Array[]): Float64Array[] {
  const mean = new Float64Array(rows[0]!.length);
  for (const row of rows) for (let k = 0; k < row.length; k++) mean[k] = mean[k]! + row[k]! / rows.length;
  return rows.map((row) => row.map((x, k) => x - mean[k]!));
}

/** How much is another from a bar on: checkerboards of the similarity. */
function noveltyOf(alike: readonly Float64Array[]): Float64Array {
  const n = alike.length;
  const sum = new Float64Array(n);
  for (const reach of KERNELS) {
    const raw = new Float64Array(n);
    for (let bar = 1; bar < n; bar++)
      for (let i = -reach; i < reach; i++)
        for (let j = -reach; j < reach; j++) {
          const [a, b] = [bar + i, bar + j];
          if (a < 0 || b < 0 || a >= n || b >= n) continue;
          raw[bar] = raw[bar]! + (i < 0 === j < 0 ? 1 : -1) * alike[a]![b]!;
        }
    standard(raw).forEach((x, i) => (sum[i] = sum[i]! + x / KERNELS.length));
  }
  return sum;
}

function standard(raw: Float64Array): Float64Array {
  const mean = raw.reduce((a, b) => a + b, 0) / raw.length;
  const deviation = Math.sqrt(raw.reduce((a, b) => a + (b - mean) ** 2, 0) / raw.length) || 1;
  return raw.map((x) => (x - mean) / deviation);
}

/** The bars at which sections begin: those whose novelty is worth most together with the lengths they make. */
function boundaries(novelty: Float64Array): number[] {
  const n = novelty.length;
  const best = new Float64Array(n + 1).fill(-Infinity);
  const from = new Int32Array(n + 1);
  best[0] = 0;
  for (let end = 1; end <= n; end++)
    for (let begin = Math.max(0, end - LONGEST_BARS); begin < end; begin++) {
      const cut = begin === 0 ? 0 : novelty[begin]! - COST;
      // The last one ends where the song does.
      const value = best[begin]! + cut + (end === n ? Math.max(0, bonus(end - begin)) : bonus(end - begin));
      if (value > best[end]!) {
        best[end] = value;
        from[end] = begin;
      }
    }
  const cuts: number[] = [];
  for (let at = n; at > 0; at = from[at]!) cuts.unshift(from[at]!);
  return cuts;
}

function labelled(spans: readonly (readonly [number, number])[], alike: readonly Float64Array[]): string[] {
  const between = ([a0, a1]: readonly [number, number], [b0, b1]: readonly [number, number]): number => {
    const count = Math.min(a1 - a0, b1 - b0);
    let sum = 0;
    for (let k = 0; k < count; k++) sum += alike[a0 + k]![b0 + k]!;
    return sum / count;
  };
  const labels: number[] = [];
  let next = 0;
  spans.forEach((span, i) => {
    let [best, which] = [-Infinity, -1];
    for (let k = 0; k < i; k++) {
      const like =
        between(spans[k]!, span) / Math.max(1e-6, Math.sqrt(between(spans[k]!, spans[k]!) * between(span, span)));
      if (like > best) [best, which] = [like, labels[k]!];
    }
    labels.push(best > ALIKE ? which : next++);
  });
  return labels.map((k) => String.fromCharCode(65 + (k % 26)));
}

/** How much goes on in a stretch: loudness, how often something begins, how high it reaches. */
function energyOf({ frames, mel, loudness }: Features, from: number, to: number): number {
  const [a, b] = [Math.round(from * FPS), Math.min(frames, Math.round(to * FPS))];
  let [loud, rises, high] = [0, 0, 0];
  for (let f = Math.max(1, a); f < b; f++) {
    loud += loudness[f]!;
    for (let band = 0; band < BANDS; band++) {
      const x = mel[f * BANDS + band]!;
      rises += Math.max(0, x - mel[(f - 1) * BANDS + band]!);
      if (band > BANDS / 2) high += x;
    }
  }
  const count = Math.max(1, b - a);
  return Math.log(1e-4 + loud / count) + 0.6 * Math.log(1e-3 + rises / count) + 0.4 * Math.log(1e-3 + high / count);
}
