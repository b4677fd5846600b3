import type { Activations } from './network.ts';
import { decode, type Decoded } from './bar-pointer.ts';
import { features, FPS, type Features } from './features.ts';
import { harmonyChanges } from './harmony.ts';
import { barsThrough, type BarRun } from './metres.ts';
import { heardWhole, near, songWeights } from './network.ts';
import { bpmOf } from '../song/grid.ts';
import { tempoOf } from './measures.ts';
import { hearSections, type Section } from './sections.ts';
import type { Sound } from './sound.ts';

/** What was heard in a song. Times in seconds from its beginning. */
export interface Heard {
  readonly bpm: number;
  /** Beats of a bar: of most of the song. */
  readonly metre: number;
  /** From when on bars have so many beats: several where the metre changes; empty without a bar. */
  readonly bars: readonly { readonly at: number; readonly beats: number }[];
  readonly beats: readonly number[];
  readonly downbeats: readonly number[];
  readonly tempo: readonly { readonly at: number; readonly bpm: number }[];
  readonly sections: readonly Section[];
  /** How sure it is of the beats, of the firsts of bars, of the sections, 0-1. */
  readonly confidence: number;
  readonly sureOfBars: number;
  readonly sureOfSections: number;
  readonly features: Features;
  readonly activations: Activations;
}

/** Told how far it is, 0-1. */
export type Told = (share: number) => void;
/** Shares of the time that features and the decoder take. */
const [FEATURES, DECODER] = [0.55, 0.4];

/** Listens to a whole song. */
export function analyse(sound: Sound, told: Told = () => undefined): Heard {
  const heard = features(sound, (share) => told(share * FEATURES));
  const activations = heardWhole(songWeights(), heard.mel, harmonyChanges(heard.chroma, heard.bass));
  hush(activations, heard.loudness);
  const decoded = decode(activations, (share) => told(FEATURES + share * DECODER));
  const { beats, metre } = decoded;
  const runs = barsThrough(activations, decoded);
  const downbeats = firstsOf(runs, beats);
  const { sections, sure } = hearSections(heard, activations.section, downbeats, sound.samples.length / sound.rate);
  told(1);
  return {
    bpm: Math.round((bpmOf({ beats }) ?? 0) * 100) / 100,
    metre,
    bars: runs.map(({ first, metre: n }) => ({ at: beats[first]!, beats: n })),
    beats,
    downbeats,
    sections,
    sureOfSections: sure,
    sureOfBars: sureOfBars(activations, beats, new Set(downbeats)),
    tempo: tempoCurve(beats),
    confidence: confidenceOf(activations, decoded),
    features: heard,
    activations,
  };
}

/** The beats that are the first of a bar. */
const firstsOf = (runs: readonly BarRun[], beats: readonly number[]): number[] =>
  runs.flatMap(({ first, metre }, i) =>
    beats.slice(first, runs[i + 1]?.first ?? beats.length).filter((_, k) => k % metre === 0),
  );

/** Sound below this, for longer than that (s), is silence. */
const [SILENT, SILENT_S] = [1e-3, 1];

/** In silence there is no beat. */
function hush({ beat, downbeat }: Activations, loudness: Float32Array): void {
  let from = 0;
  for (let f = 0; f <= loudness.length; f++) {
    if (f < loudness.length && loudness[f]! < SILENT) continue;
    if (f - from > SILENT_S * FPS) for (const list of [beat, downbeat]) list.fill(0, from, f);
    from = f + 1;
  }
}

/** The tempo at each bar's length of beats, as the middle of the beats around. */
function tempoCurve(beats: readonly number[]): Heard['tempo'] {
  const reach = 4;
  return beats.slice(0, -1).flatMap((at, i) => {
    if (i % reach !== 0) return [];
    const around = beats.slice(Math.max(0, i - reach), i + reach + 1);
    return [{ at, bpm: Math.round(tempoOf(around) * 100) / 100 }];
  });
}

/** How much higher the activation stands at beats than half-way between them. */
function confidenceOf({ beat }: Activations, { beats }: Decoded): number {
  if (beats.length < 4) return 0;
  let [on, off] = [0, 0];
  for (let i = 0; i + 1 < beats.length; i++) {
    on += near(beat, beats[i]!);
    off += near(beat, beats[i]! + (beats[i + 1]! - beats[i]!) * 0.37);
  }
  return Math.max(0, Math.min(1, (on - off) / (beats.length - 1)));
}

/** How much likelier the firsts of bars are firsts than the other beats, of both together. */
function sureOfBars({ downbeat }: Activations, beats: readonly number[], firsts: ReadonlySet<number>): number {
  const sums = [0, 0];
  const counts = [0, 0];
  beats.forEach((at) => {
    const which = firsts.has(at) ? 0 : 1;
    sums[which] = sums[which]! + near(downbeat, at);
    counts[which] = counts[which]! + 1;
  });
  if (counts[0] === 0 || counts[1] === 0) return 0;
  const [first, other] = [sums[0]! / counts[0]!, sums[1]! / counts[1]!];
  return first + other <= 0 ? 0 : Math.max(0, (first - other) / (first + other));
}
