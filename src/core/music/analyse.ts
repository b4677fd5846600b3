import { activationsOf, type Activations } from './activations.ts';
import { decode, type Decoded } from './bar-pointer.ts';
import { features, FPS, type Features } from './features.ts';
import { tempoOf } from './measures.ts';
import { sectionsOf, type Section } from './sections.ts';
import type { Sound } from './sound.ts';

/** What was heard in a song. Times in seconds from its beginning. */
export interface Heard {
  readonly bpm: number;
  readonly metre: number;
  readonly beats: readonly number[];
  readonly downbeats: readonly number[];
  readonly tempo: readonly { readonly at: number; readonly bpm: number }[];
  readonly sections: readonly Section[];
  /** How sure it is, 0-1. */
  readonly confidence: number;
  readonly features: Features;
  readonly activations: Activations;
}

/** Listens to a whole song. */
export function analyse(sound: Sound): Heard {
  const heard = features(sound);
  const activations = activationsOf(heard);
  const decoded = decode(activations);
  const { beats, places, metre } = decoded;
  const downbeats = beats.filter((_, i) => places[i] === 0);
  return {
    bpm: Math.round(tempoOf(beats) * 100) / 100,
    metre,
    beats,
    downbeats,
    sections: sectionsOf(heard, downbeats, sound.samples.length / sound.rate),
    tempo: tempoCurve(beats),
    confidence: confidenceOf(activations, decoded),
    features: heard,
    activations,
  };
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
  const at = (seconds: number): number => {
    const f = Math.round(seconds * FPS);
    return Math.max(beat[f - 1] ?? 0, beat[f] ?? 0, beat[f + 1] ?? 0);
  };
  let [on, off] = [0, 0];
  for (let i = 0; i + 1 < beats.length; i++) {
    on += at(beats[i]!);
    off += at(beats[i]! + (beats[i + 1]! - beats[i]!) * 0.37);
  }
  return Math.max(0, Math.min(1, (on - off) / (beats.length - 1)));
}
