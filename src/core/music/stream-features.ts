import { ease } from '../units.ts';
import { risen } from './alike.ts';
import {
  addClasses,
  BANDS,
  FPS,
  frameBands,
  HOP,
  LEVEL,
  LONG,
  LOW_BANDS,
  noteBands,
  notesOf,
  RATE,
  SHORT,
} from './features.ts';
import { Spectrum, taken } from './spectrum.ts';
import { StreamRate } from './stream-rate.ts';

/** The level follows over so many seconds. */
const LEVEL_S = 3;
/** What is usual is looked at over so many seconds back. */
const BACK_S = 5;

/** What is heard at one frame, from the past alone. */
export interface StreamFrame {
  /** Where in the stream the frame is, and up to where the stream had to be known for it, seconds. */
  readonly at: number;
  readonly known: number;
  readonly rise: number;
  readonly low: number;
  /** Loudness of the sound as it came, root mean square. */
  readonly loud: number;
  /** BANDS: log10(1 + 20 |X|), brought to one level by what was heard. */
  readonly mel: Float64Array;
  /** How much of each pitch class was heard a moment ago; and of the bass alone. They are new with every second frame. */
  readonly chroma: Float64Array;
  readonly bass: Float64Array;
}

/** Frames (50 a second) out of a stream that comes in blocks of any size: the same whatever their size is. */
export class StreamFeatures {
  readonly #rate: number;
  readonly #resample: StreamRate;
  readonly #short = new Spectrum(SHORT);
  readonly #long = new Spectrum(LONG);
  readonly #mels = frameBands();
  readonly #notes = noteBands();
  #buffer = new Float32Array(0);
  /** Place of the first sample of the buffer in the resampled stream. */
  #from = 0;
  #frame = 0;
  #power = 0;
  #before: Float64Array | null = null;
  readonly #rises = new Usual();
  readonly #lows = new Usual();
  #chroma = new Float64Array(12);
  #bass = new Float64Array(12);

  constructor(rate: number) {
    this.#rate = rate;
    this.#resample = new StreamRate(rate, RATE);
  }

  feed(block: Float32Array): StreamFrame[] {
    const fresh = this.#resample.feed(block);
    const buffer = new Float32Array(this.#buffer.length + fresh.length);
    buffer.set(this.#buffer);
    buffer.set(fresh, this.#buffer.length);
    this.#buffer = buffer;
    const found: StreamFrame[] = [];
    // A frame needs half of its window after it.
    while (this.#frame * HOP + SHORT / 2 <= this.#from + this.#buffer.length) found.push(this.#next());
    const keep = Math.max(this.#from, this.#frame * HOP - LONG);
    this.#buffer = this.#buffer.slice(keep - this.#from);
    this.#from = keep;
    return found;
  }

  #next(): StreamFrame {
    const centre = this.#frame * HOP - this.#from;
    const known = this.#frame * HOP + SHORT / 2;
    let power = 0;
    for (let i = Math.max(0, centre - HOP); i < centre; i++) power += (this.#buffer[i]! * this.#buffer[i]!) / HOP;
    const rate = 1 / (LEVEL_S * FPS);
    this.#power += (power - this.#power) * Math.max(rate, 1 / (this.#frame + 1));
    const gain = this.#power > 1e-10 ? LEVEL / Math.sqrt(this.#power) : 0;
    const bins = this.#short.at(this.#buffer, centre, gain);
    const mel = Float64Array.from(this.#mels, (band) => Math.log10(1 + 20 * taken(band, bins)));
    const [rise, low] = this.#before
      ? [risen(this.#before, mel, 0, BANDS), risen(this.#before, mel, 0, LOW_BANDS)]
      : [0, 0];
    this.#before = mel;
    if (this.#frame % 2 === 0) this.#hearHarmony(centre, known - this.#from, gain);
    const frame: StreamFrame = {
      at: this.#frame / FPS,
      known: known / RATE + this.#resample.lag / this.#rate,
      rise: this.#rises.of(rise),
      low: this.#lows.of(low),
      loud: Math.sqrt(power),
      mel,
      chroma: this.#chroma,
      bass: this.#bass,
    };
    this.#frame++;
    return frame;
  }

  /** Pitch classes of what lies behind a moment. */
  #hearHarmony(centre: number, end: number, gain: number): void {
    const bins = this.#long.at(this.#buffer.subarray(0, end), centre - LONG / 4, gain);
    this.#chroma = new Float64Array(12);
    this.#bass = new Float64Array(12);
    addClasses(notesOf(this.#notes, bins), this.#chroma, this.#bass);
  }
}

/** A value by a high one of those that came before it, 0-1. */
class Usual {
  readonly #back: number[] = [];
  #high = 0;
  #most = 0;
  #count = 0;

  of(value: number): number {
    this.#back.push(value);
    if (this.#back.length > BACK_S * FPS) this.#back.shift();
    if (this.#count++ % 10 === 0) {
      const sorted = [...this.#back].sort((a, b) => a - b);
      this.#high = sorted[Math.floor(sorted.length * 0.96)]!;
      this.#most = Math.max(this.#most * 0.999, this.#high);
    }
    const high = Math.max(this.#high, this.#most * 0.08, 1e-9);
    const x = value / high;
    return x >= 1 ? 1 : ease(x);
  }
}
