import { BANDS, FPS } from './features.ts';
import { floatsOf } from './half.ts';
import { HARMONY } from './harmony.ts';
import { LIVE_WEIGHTS, SONG_WEIGHTS } from './weights.ts';

/**
 * A small convolutional network: from frames of sound to how likely there is a beat, the first of a bar, another section. How it
 * was trained is told in `tools/ear`. Each frame is worked out once, as soon as what it needs is there; for songs that is
 * what lies around it, live (`causal`) the past alone.
 */

/** Numbers of a frame that go in: mel bands, then changes of harmony. */
export const INPUTS = BANDS + HARMONY;
const [FIRST, CHANNELS, BLOCKS, KERNEL, OUTPUTS] = [8, 20, 9, 5, 3] as const;
const POOL = 3;
const SIDE = 3;
/** Bands that are left after a valid convolution of three, and after pooling. */
const WIDE = BANDS - SIDE + 1;
const POOLED = Math.floor(WIDE / POOL);
const NARROW = POOLED - SIDE + 1;
const LAST = Math.floor(NARROW / POOL);

interface Block {
  /** out x in x KERNEL, laid out as KERNEL x in x out. */
  readonly wide: Float64Array;
  readonly wideBias: Float64Array;
  readonly thin: Float64Array;
  readonly thinBias: Float64Array;
}

/**
 * Weights as they are used: what is summed up over lies first, what comes out last. In double precision, in which sums are
 * made: to make each of them double whenever it is used takes longer than to multiply.
 */
export interface Weights {
  readonly first: Float64Array;
  readonly firstBias: Float64Array;
  readonly second: Float64Array;
  readonly secondBias: Float64Array;
  readonly third: Float64Array;
  readonly thirdBias: Float64Array;
  readonly harmony: Float64Array;
  readonly blocks: readonly Block[];
  readonly out: Float64Array;
  readonly outBias: Float64Array;
}

/** Reads weights in the order in which training writes them. Throws RangeError where there are too few or too many. */
export function readWeights(row: Float32Array): Weights {
  let at = 0;
  const take = (count: number): Float64Array => {
    if (at + count > row.length) throw new RangeError(`weights end early, at ${row.length}`);
    return Float64Array.from(row.subarray(at, (at += count)));
  };
  /** From out x in x size to size x in x out, so that all that comes out lies side by side. */
  const turned = (out: number, into: number, size: number): Float64Array => {
    const from = take(out * into * size);
    const to = new Float64Array(from.length);
    for (let o = 0; o < out; o++)
      for (let i = 0; i < into; i++)
        for (let k = 0; k < size; k++) to[(k * into + i) * out + o] = from[(o * into + i) * size + k]!;
    return to;
  };
  const weights: Weights = {
    first: turned(FIRST, 1, SIDE * SIDE),
    firstBias: take(FIRST),
    second: turned(FIRST, FIRST, SIDE * SIDE),
    secondBias: take(FIRST),
    third: turned(CHANNELS, FIRST, LAST),
    thirdBias: take(CHANNELS),
    harmony: turned(CHANNELS, HARMONY, 1),
    blocks: Array.from({ length: BLOCKS }, () => ({
      wide: turned(CHANNELS, CHANNELS, KERNEL),
      wideBias: take(CHANNELS),
      thin: turned(CHANNELS, CHANNELS, 1),
      thinBias: take(CHANNELS),
    })),
    out: turned(OUTPUTS, CHANNELS, 1),
    outBias: take(OUTPUTS),
  };
  if (at !== row.length) throw new RangeError(`${row.length - at} weights too many`);
  return weights;
}

let [song, live]: (Weights | null)[] = [null, null];
/** What training found, for songs and for what is heard live. */
export const songWeights = (): Weights => (song ??= readWeights(floatsOf(SONG_WEIGHTS)));
export const liveWeights = (): Weights => (live ??= readWeights(floatsOf(LIVE_WEIGHTS)));

const elu = (x: number): number => (x > 0 ? x : Math.exp(x) - 1);
const sigmoid = (x: number): number => 1 / (1 + Math.exp(-x));

/** Frames of one layer, the last so many of them. Before the first and after the last there is nothing: zeros. */
class Rows {
  readonly width: number;
  readonly #count: number;
  /** One row more than is kept stays empty. */
  readonly data: Float32Array;
  next = 0;

  constructor(width: number, count: number) {
    this.width = width;
    this.#count = count;
    this.data = new Float32Array(width * (count + 1));
  }
  /** Where a frame begins. */
  from(frame: number): number {
    return frame < 0 || frame >= this.next ? this.#count * this.width : (frame % this.#count) * this.width;
  }
  /** Where the next frame is to be written. */
  add(): number {
    return this.from(this.next++);
  }
}

/** So many sums are made at once. */
const SIDE_BY_SIDE = 4;
const sums = new Float64Array(CHANNELS);
const best = new Float64Array(FIRST);
/** Where a list of its own begins: made once, as it is asked for ten times a frame. */
const BEGINNING = [0];

/** Three frames by three bands, the highest of three bands each, ELU. Bands have `into` channels side by side. */
function convolvedBands(
  input: Rows,
  at: number,
  into: number,
  output: Rows,
  pooled: number,
  weights: Float64Array,
  bias: Float64Array,
): void {
  const to = output.add();
  const { data } = input;
  const starts = [input.from(at - 1), input.from(at), input.from(at + 1)];
  for (let p = 0; p < pooled; p++) {
    best.fill(-Infinity);
    for (let j = 0; j < POOL; j++) {
      const band = (p * POOL + j) * into;
      for (let o = 0; o < FIRST; o += SIDE_BY_SIDE) {
        let [s0, s1, s2, s3] = [bias[o]!, bias[o + 1]!, bias[o + 2]!, bias[o + 3]!];
        // Kernel rows are (time, band) x channel: bands and their channels lie side by side in the input too.
        let w = o;
        for (let t = 0; t < SIDE; t++) {
          const from = starts[t]! + band;
          for (let i = 0; i < SIDE * into; i++, w += FIRST) {
            const x = data[from + i]!;
            s0 += x * weights[w]!;
            s1 += x * weights[w + 1]!;
            s2 += x * weights[w + 2]!;
            s3 += x * weights[w + 3]!;
          }
        }
        if (s0 > best[o]!) best[o] = s0;
        if (s1 > best[o + 1]!) best[o + 1] = s1;
        if (s2 > best[o + 2]!) best[o + 2] = s2;
        if (s3 > best[o + 3]!) best[o + 3] = s3;
      }
    }
    for (let o = 0; o < FIRST; o++) output.data[to + p * FIRST + o] = elu(best[o]!);
  }
}

/**
 * Adds what `count` numbers from each of some places give by their weights (places x count x outs) to the sums. Four sums at a
 * time stay in registers: to fetch and to put back each sum takes longer than to add to it.
 */
function gather(
  data: Float32Array,
  places: readonly number[],
  count: number,
  weights: Float64Array,
  outs: number,
): void {
  let o = 0;
  for (; o + SIDE_BY_SIDE <= outs; o += SIDE_BY_SIDE) {
    let [s0, s1, s2, s3] = [sums[o]!, sums[o + 1]!, sums[o + 2]!, sums[o + 3]!];
    let w = o;
    for (let p = 0; p < places.length; p++) {
      const from = places[p]!;
      for (let i = 0; i < count; i++, w += outs) {
        const x = data[from + i]!;
        s0 += x * weights[w]!;
        s1 += x * weights[w + 1]!;
        s2 += x * weights[w + 2]!;
        s3 += x * weights[w + 3]!;
      }
    }
    sums[o] = s0;
    sums[o + 1] = s1;
    sums[o + 2] = s2;
    sums[o + 3] = s3;
  }
  for (; o < outs; o++) {
    let sum = sums[o]!;
    let w = o;
    for (const from of places) for (let i = 0; i < count; i++, w += outs) sum += data[from + i]! * weights[w]!;
    sums[o] = sum;
  }
}

/** What is heard at a frame, each 0-1. */
export interface Outcome {
  readonly beat: number;
  readonly downbeat: number;
  /** Another section begins within half a second. */
  readonly section: number;
}

class Layers {
  readonly #w: Weights;
  readonly #input: Rows;
  readonly #first: Rows;
  readonly #second: Rows;
  /** What goes into each block, and what comes out of the last. */
  readonly #blocks: readonly Rows[];
  readonly #mid = new Float32Array(CHANNELS);
  /** Frames of the kernel. */
  readonly #places = new Array<number>(KERNEL).fill(0);

  /** `kept` frames are at hand at once; for a stream as many as the layer above looks back. */
  constructor(weights: Weights, kept: number | null) {
    this.#w = weights;
    this.#input = new Rows(INPUTS, kept ?? SIDE);
    this.#first = new Rows(POOLED * FIRST, kept ?? SIDE);
    this.#second = new Rows(LAST * FIRST, kept ?? 1);
    const back = (i: number): number => (i < BLOCKS ? (KERNEL - 1) * 2 ** i + 1 : 1);
    this.#blocks = Array.from({ length: BLOCKS + 1 }, (_, i) => new Rows(CHANNELS, kept ?? back(i)));
  }

  /** A frame: BANDS mel bands, HARMONY changes of harmony. */
  input(mel: ArrayLike<number>, melFrom: number, harmony: ArrayLike<number>, harmonyFrom: number): void {
    const to = this.#input.add();
    for (let b = 0; b < BANDS; b++) this.#input.data[to + b] = mel[melFrom + b]!;
    for (let h = 0; h < HARMONY; h++) this.#input.data[to + BANDS + h] = harmony[harmonyFrom + h]!;
  }
  /** Each layer works out its next frame out of those of the one before around `at`. */
  first(at: number): void {
    convolvedBands(this.#input, at, 1, this.#first, POOLED, this.#w.first, this.#w.firstBias);
  }
  second(at: number): void {
    convolvedBands(this.#first, at, FIRST, this.#second, LAST, this.#w.second, this.#w.secondBias);
  }
  third(at: number): void {
    const { third, thirdBias, harmony } = this.#w;
    sums.set(thirdBias);
    gather(this.#second.data, [this.#second.from(at)], LAST * FIRST, third, CHANNELS);
    gather(this.#input.data, [this.#input.from(at) + BANDS], HARMONY, harmony, CHANNELS);
    const rows = this.#blocks[0]!;
    const to = rows.add();
    for (let o = 0; o < CHANNELS; o++) rows.data[to + o] = elu(sums[o]!);
  }
  /** `middle`: the frame in the middle of the kernel. */
  block(i: number, at: number, middle: number): void {
    const { wide, wideBias, thin, thinBias } = this.#w.blocks[i]!;
    const [input, output] = [this.#blocks[i]!, this.#blocks[i + 1]!];
    sums.set(wideBias);
    for (let k = 0; k < KERNEL; k++) this.#places[k] = input.from(middle + (k - (KERNEL >> 1)) * 2 ** i);
    gather(input.data, this.#places, CHANNELS, wide, CHANNELS);
    for (let o = 0; o < CHANNELS; o++) this.#mid[o] = elu(sums[o]!);
    sums.set(thinBias);
    gather(this.#mid, BEGINNING, CHANNELS, thin, CHANNELS);
    const [from, to] = [input.from(at), output.add()];
    for (let o = 0; o < CHANNELS; o++) output.data[to + o] = input.data[from + o]! + sums[o]!;
  }
  outcome(at: number): Outcome {
    const rows = this.#blocks[BLOCKS]!;
    const from = rows.from(at);
    for (let o = 0; o < CHANNELS; o++) this.#mid[o] = elu(rows.data[from + o]!);
    sums.set(this.#w.outBias);
    gather(this.#mid, BEGINNING, CHANNELS, this.#w.out, OUTPUTS);
    return { beat: sigmoid(sums[0]!), downbeat: sigmoid(sums[1]!), section: sigmoid(sums[2]!) };
  }
}

/** What is heard at each frame of a song, 0-1, 50 a second. */
export interface Activations {
  readonly beat: Float32Array;
  readonly downbeat: Float32Array;
  readonly section: Float32Array;
}

/** The highest of an activation at a moment, seconds, and a frame beside it. */
export function near(list: Float32Array, seconds: number): number {
  const f = Math.round(seconds * FPS);
  return Math.max(list[f - 1] ?? 0, list[f] ?? 0, list[f + 1] ?? 0);
}

/**
 * Hears a whole song. `mel`: frames x BANDS, `harmony`: half frames x HARMONY. Gives two lists of as many frames, 0-1.
 */
export function heardWhole(weights: Weights, mel: Float32Array, harmony: Float32Array): Activations {
  const frames = mel.length / BANDS;
  const halves = harmony.length / HARMONY;
  const layers = new Layers(weights, frames);
  for (let f = 0; f < frames; f++) layers.input(mel, f * BANDS, harmony, Math.min(halves - 1, f >> 1) * HARMONY);
  for (let f = 0; f < frames; f++) layers.first(f);
  for (let f = 0; f < frames; f++) layers.second(f);
  for (let f = 0; f < frames; f++) layers.third(f);
  for (let i = 0; i < BLOCKS; i++) for (let f = 0; f < frames; f++) layers.block(i, f, f);
  const [beat, downbeat, section] = [new Float32Array(frames), new Float32Array(frames), new Float32Array(frames)];
  for (let f = 0; f < frames; f++) {
    const now = layers.outcome(f);
    beat[f] = now.beat;
    downbeat[f] = now.downbeat;
    section[f] = now.section;
  }
  return { beat, downbeat, section };
}

/** Hears a stream, frame by frame, from the past alone. */
export class LiveNetwork {
  readonly #layers: Layers;
  #frame = 0;

  constructor(weights: Weights) {
    this.#layers = new Layers(weights, null);
  }

  /** `mel`: BANDS, `harmony`: HARMONY numbers of the next frame. */
  next(mel: ArrayLike<number>, harmony: ArrayLike<number>): Outcome {
    const f = this.#frame++;
    this.#layers.input(mel, 0, harmony, 0);
    // What lies around a frame is what lies behind it, one frame for each layer.
    this.#layers.first(f - 1);
    this.#layers.second(f - 1);
    this.#layers.third(f);
    for (let i = 0; i < BLOCKS; i++) this.#layers.block(i, f, f - (KERNEL >> 1) * 2 ** i);
    return this.#layers.outcome(f);
  }
}
