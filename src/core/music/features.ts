import { resampled, rms, type Sound } from './sound.ts';
import { melBands, semitoneBands, Spectrum, taken, type Band } from './spectrum.ts';

/** Sound is heard at this rate. */
export const RATE = 22_050;
/** Frames a second. */
export const FPS = 50;
export const HOP = RATE / FPS;
/** Mel bands of a frame. */
export const BANDS = 64;
/** The lowest of them: a bass drum. */
export const LOW_BANDS = 8;
/** Root mean square that all sound is brought to. */
export const LEVEL = 0.1;
const [LOW_HZ, HIGH_HZ] = [30, 10_000];
/** Window for what begins. */
export const SHORT = 1024;
/** Window for harmony. */
export const LONG = 4096;
/** The mel bands of a frame. */
export const frameBands = (): Band[] => melBands(BANDS, LOW_HZ, HIGH_HZ, RATE, SHORT);
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
export function features(sound: Sound, told: (share: number) => void = () => undefined): Features {
  const { samples } = resampled(sound, RATE);
  const level = rms(samples);
  const gain = level > 1e-6 ? LEVEL / level : 0;
  const frames = Math.max(1, Math.ceil(samples.length / HOP));
  told(0.2);
  const mel = melOf(samples, frames, gain);
  told(0.6);
  return { frames, ...mel, ...chromaOf(samples, frames, gain) };
}

function melOf(samples: Float32Array, frames: number, gain: number): Pick<Features, 'mel' | 'loudness'> {
  const spectrum = new Spectrum(SHORT);
  const bands = frameBands();
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

/** Bands of a semitone each, from the lowest note that is heard on. */
export const noteBands = (): Band[] => semitoneBands(NOTES, FIRST_NOTE, RATE, LONG);

/** Adds notes to their pitch classes (12 from `at` on, the first C), and those of the bass to its own. */
export function addClasses<List extends Float32Array | Float64Array>(
  notes: Float64Array,
  chroma: List,
  bass: List,
  at = 0,
): void {
  for (let n = 0; n < NOTES; n++) {
    const c = at + ((FIRST_NOTE + n) % 12);
    chroma[c] = chroma[c]! + notes[n]!;
    if (n < BASS_NOTES) bass[c] = bass[c]! + notes[n]!;
  }
}

/** How much each semitone stands out of its neighbours: a note does, noise does not. */
export function notesOf(bands: readonly Band[], bins: Float64Array): Float64Array {
  const logs = Float64Array.from(bands, (band) => Math.log10(1 + 10 * taken(band, bins)));
  return logs.map((x, n) => {
    const [from, to] = [Math.max(0, n - 6), Math.min(logs.length - 1, n + 6)];
    let around = 0;
    for (let k = from; k <= to; k++) around += logs[k]!;
    return Math.max(0, x - around / (to - from + 1));
  });
}

function chromaOf(samples: Float32Array, frames: number, gain: number): Pick<Features, 'chroma' | 'bass'> {
  const spectrum = new Spectrum(LONG);
  const bands = noteBands();
  const half = Math.ceil(frames / 2);
  const chroma = new Float32Array(half * 12);
  const bass = new Float32Array(half * 12);
  for (let f = 0; f < half; f++) {
    addClasses(notesOf(bands, spectrum.at(samples, f * 2 * HOP, gain)), chroma, bass, f * 12);
  }
  return { chroma, bass };
}
