import { risen } from './alike.ts';
import { BANDS, FPS, LOW_BANDS, type Features } from './features.ts';

/** Where something begins: a bass drum, a snare or a clap, a hi-hat, a note. */
export const ONSET_BANDS = ['low', 'snare', 'high', 'tonal'] as const;
export type OnsetBand = (typeof ONSET_BANDS)[number];

export interface Onset {
  /** Seconds. */
  readonly at: number;
  readonly band: OnsetBand;
  /** 0-1 of the strongest of its band around. */
  readonly strength: number;
}

/** Mel bands of each but the notes, which are told by their pitch classes. */
const SPANS: Readonly<Record<Exclude<OnsetBand, 'tonal'>, readonly [number, number]>> = {
  low: [0, LOW_BANDS],
  snare: [20, 48],
  high: [50, BANDS],
};
/** What is weaker than this beside the strongest within some seconds is none. */
const LEAST = 0.3;
const AROUND = 4 * FPS;
/** Nearer than this (frames) two of a band are one. */
const APART = 3;

/** Onsets of a song by time, in four bands. */
export function onsetsOf(heard: Features): Onset[] {
  const found = ONSET_BANDS.flatMap((band) => {
    const rises = band === 'tonal' ? noteRises(heard) : bandRises(heard, SPANS[band]);
    return peaks(rises).map(([frame, strength]): Onset => ({ at: frame / FPS, band, strength }));
  });
  return found.sort((a, b) => a.at - b.at);
}

function bandRises({ frames, mel }: Features, [from, to]: readonly [number, number]): Float32Array {
  const rises = new Float32Array(frames);
  const row = (f: number): Float32Array => mel.subarray(f * BANDS, (f + 1) * BANDS);
  for (let f = 1; f < frames; f++) rises[f] = risen(row(f - 1), row(f), from, to);
  return rises;
}

/** Chroma has every other frame. */
function noteRises({ frames, chroma }: Features): Float32Array {
  const rises = new Float32Array(frames);
  for (let f = 2; f < frames; f += 2)
    for (let c = 0; c < 12; c++) {
      const rise = (chroma[(f >> 1) * 12 + c] ?? 0) - (chroma[((f >> 1) - 1) * 12 + c] ?? 0);
      if (rise > 0) rises[f] = rises[f]! + rise;
    }
  return rises;
}

/** Frames that stand out of those around, with their share of the highest around. */
function peaks(rises: Float32Array): [frame: number, strength: number][] {
  const found: [number, number][] = [];
  let whole = 0;
  for (const x of rises) whole = Math.max(whole, x);
  for (let f = 1; f < rises.length - 1; f++) {
    const x = rises[f]!;
    if (x <= whole * 0.05) continue;
    let highest = true;
    for (let k = Math.max(0, f - APART); k <= Math.min(rises.length - 1, f + APART) && highest; k++)
      if (rises[k]! > x || (rises[k] === x && k < f)) highest = false;
    if (!highest) continue;
    let around = 0;
    for (let k = Math.max(0, f - AROUND); k <= Math.min(rises.length - 1, f + AROUND); k++)
      around = Math.max(around, rises[k]!);
    if (x >= LEAST * around) found.push([f, x / around]);
  }
  return found;
}
