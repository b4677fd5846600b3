import { resampled, rms, type Sound } from './sound.ts';
import { melBands, semitoneBands, Spectrum, taken } from './spectrum.ts';

/** Sound is heard at this rate. */
export const RATE = 22_050;
/** Frames a second. */
export const FPS = 50;
export const HOP = RATE / FPS;
/** Mel bands of a frame. */
export const BANDS = 64;
const LEVEL = 0.1;
const [LOW_HZ, HIGH_HZ] = [30, 10_000];
const SHORT = 1024;
const LONG = 4096;
const NOTES = 60;
const FIRST_NOTE = 33;
const BASS_NOTES = 22;

/** What is heard of a sound, frame by frame (50 a second). Rows lie one after the other. */
export interface Features {
  readonly frames: number;
  /** frames x BANDS: log10(1 + 20 |X|). */
  readonly mel: Float32Array;
  /** frames / 2 x 12: how much of each pitch class; and the same of the bass alone. */
  readonly chroma: Float32Array;
  readonly bass: Float32Array;
  /** Root mean square of each frame, of the sound brought to one level. */
  readonly loudness: Float32Array;
}

/** Listens to a sound of any rate; louder or softer makes no difference. */
export function features(sound: Sound): Features {
  const { samples } = resampled(sound, RATE);
  const level = rms(samples);
  const gain = level > 1e-6 ? LEVEL / level : 0;
  const frames = Math.max(1, Math.ceil(samples.length / HOP));
  return { frames, ...melOf(samples, frames, gain), ...chromaOf(samples, frames, gain) };
}

function melOf(samples: Float32Array, frames: number, gain: number): Pick<Features, 'mel' | 'loudness'> {
  const spectrum = new Spectrum(SHORT);
  const bands = melBands(BANDS, LOW_HZ, HIGH_HZ, RATE, SHORT);
  const mel = new Float32Array(frames * BANDS);
  const loudness = new Float32Array(frames);
  for (let f = 0; f < frames; f++) {
    const bins = spectrum.at(samples, f * HOP, gain);
    for (let b = 0; b < BANDS; b++) mel[f * BANDS + b] = Math.log10(1 + 20 * taken(bands[b]!, bins));
    let sum = 0;
    const [from, to] = [Math.max(0, f * HOP - HOP / 2), Math.min(samples.length, f * HOP + HOP / 2)];
    for (let i = from | 0; i < to; i++) sum += samples[i]! * samples[i]!;
    loudness[f] = to > from ? Math.sqrt(sum / (to - from)) * gain : 0;
  }
  return { mel, loudness };
}

function chromaOf(samples: Float32Array, frames: number, gain: number): Pick<Features, 'chroma' | 'bass'> {
  const spectrum = new Spectrum(LONG);
  const bands = semitoneBands(NOTES, FIRST_NOTE, RATE, LONG);
  const half = Math.ceil(frames / 2);
  const chroma = new Float32Array(half * 12);
  const bass = new Float32Array(half * 12);
  const logs = new Float64Array(NOTES);
  for (let f = 0; f < half; f++) {
    const bins = spectrum.at(samples, f * 2 * HOP, gain);
    for (let n = 0; n < NOTES; n++) logs[n] = Math.log10(1 + 10 * taken(bands[n]!, bins));
    for (let n = 0; n < NOTES; n++) {
      // What stands out of its neighbours is a note, the rest is noise.
      const [from, to] = [Math.max(0, n - 6), Math.min(NOTES - 1, n + 6)];
      let around = 0;
      for (let k = from; k <= to; k++) around += logs[k]!;
      const out = Math.max(0, logs[n]! - around / (to - from + 1));
      const at = f * 12 + ((FIRST_NOTE + n) % 12);
      chroma[at] = chroma[at]! + out;
      if (n < BASS_NOTES) bass[at] = bass[at]! + out;
    }
  }
  return { chroma, bass };
}
