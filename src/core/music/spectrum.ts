import FFT from 'fft.js';

/** Magnitudes of a window of sound, one after the other: a Hann window of a power of two, centred where it is asked for. */
export class Spectrum {
  readonly size: number;
  readonly #fft: FFT;
  readonly #window: Float64Array;
  readonly #input: number[];
  readonly #output: number[];
  /** Magnitudes of the bins up to half of the rate, written anew each time: size / 2 + 1. */
  readonly bins: Float64Array;

  constructor(size: number) {
    this.size = size;
    this.#fft = new FFT(size);
    this.#window = Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));
    this.#input = new Array<number>(size).fill(0);
    this.#output = this.#fft.createComplexArray();
    this.bins = new Float64Array(size / 2 + 1);
  }

  /** Beyond both ends there is silence. `gain` scales the samples. */
  at(samples: Float32Array, centre: number, gain = 1): Float64Array {
    const from = Math.round(centre) - this.size / 2;
    const begin = Math.max(0, -from);
    const end = Math.max(begin, Math.min(this.size, samples.length - from));
    const input = this.#input;
    const window = this.#window;
    input.fill(0, 0, begin);
    input.fill(0, end);
    for (let i = begin; i < end; i++) input[i] = samples[from + i]! * window[i]! * gain;
    this.#fft.realTransform(this.#output, this.#input);
    const { bins } = this;
    const output = this.#output;
    // A root of squares: `hypot` minds numbers that are not here, and takes ten times as long.
    for (let k = 0; k < bins.length; k++) {
      const re = output[2 * k]!;
      const im = output[2 * k + 1]!;
      bins[k] = Math.sqrt(re * re + im * im);
    }
    return this.bins;
  }
}

/** Bins that a band takes together, each with its weight; weights of a band sum to one. */
export interface Band {
  readonly from: number;
  readonly weights: Float64Array;
}

const toMel = (hz: number): number => 2595 * Math.log10(1 + hz / 700);
const fromMel = (mel: number): number => 700 * (10 ** (mel / 2595) - 1);

/** Triangles that lie evenly on the mel scale. */
export const melBands = (count: number, lowHz: number, highHz: number, rate: number, size: number): Band[] =>
  triangles(
    Array.from({ length: count + 2 }, (_, i) =>
      fromMel(toMel(lowHz) + ((toMel(highHz) - toMel(lowHz)) * i) / (count + 1)),
    ),
    rate,
    size,
  );

/** Triangles of a semitone each, from a MIDI note on. */
export const semitoneBands = (count: number, fromNote: number, rate: number, size: number): Band[] =>
  triangles(
    Array.from({ length: count + 2 }, (_, i) => 440 * 2 ** ((fromNote - 1 + i - 69) / 12)),
    rate,
    size,
  );

function triangles(edges: readonly number[], rate: number, size: number): Band[] {
  const perBin = rate / size;
  const last = size / 2;
  return edges.slice(1, -1).map((middle, i) => {
    const [low, high] = [edges[i]!, edges[i + 2]!];
    let from = Math.max(0, Math.ceil(low / perBin));
    const to = Math.min(last, Math.floor(high / perBin));
    const weights: number[] = [];
    for (let bin = from; bin <= to; bin++) {
      const hz = bin * perBin;
      weights.push(Math.max(0, hz <= middle ? (hz - low) / (middle - low) : (high - hz) / (high - middle)));
    }
    const sum = weights.reduce((a, b) => a + b, 0);
    // A band narrower than a bin takes the nearest.
    if (sum <= 0) {
      from = Math.min(last, Math.round(middle / perBin));
      return { from, weights: Float64Array.of(1) };
    }
    return { from, weights: Float64Array.from(weights, (w) => w / sum) };
  });
}

/** What a band takes of magnitudes. */
export function taken({ from, weights }: Band, bins: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < weights.length; i++) sum += bins[from + i]! * weights[i]!;
  return sum;
}
