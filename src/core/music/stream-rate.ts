import { sincKernel } from './sound.ts';

/** Brings a stream of samples to another rate, block by block; as `resampled` does it with a whole sound. */
const LOBES = 8;
const PHASES = 256;

export class StreamRate {
  readonly #ratio: number;
  readonly #reach: number;
  readonly #kernel: Float32Array;
  /** Samples that are still needed, and the place of the first of them in the stream. */
  #kept = new Float32Array(0);
  #from = 0;
  #next = 0;

  constructor(rate: number, to: number) {
    this.#ratio = rate / to;
    const cut = Math.min(1, to / rate) * 0.92;
    this.#reach = Math.ceil(LOBES / cut);
    this.#kernel = sincKernel(cut, this.#reach, PHASES);
    this.#kept = new Float32Array(this.#reach);
    this.#from = -this.#reach;
  }

  /** How far what comes out lags behind what goes in, samples of the stream. */
  get lag(): number {
    return this.#ratio === 1 ? 0 : this.#reach;
  }

  /** The samples that a block gives. */
  feed(block: Float32Array): Float32Array {
    if (this.#ratio === 1) return block;
    const all = new Float32Array(this.#kept.length + block.length);
    all.set(this.#kept);
    all.set(block, this.#kept.length);
    const end = this.#from + all.length;
    const width = 2 * this.#reach;
    const out: number[] = [];
    for (;;) {
      const at = this.#next * this.#ratio;
      const first = Math.floor(at) - this.#reach + 1;
      if (first + width > end) break;
      const phase = Math.min(PHASES - 1, Math.floor((at - Math.floor(at)) * PHASES));
      let sum = 0;
      for (let k = 0; k < width; k++) sum += all[first - this.#from + k]! * this.#kernel[phase * width + k]!;
      out.push(sum);
      this.#next++;
    }
    const needed = Math.max(this.#from, Math.floor(this.#next * this.#ratio) - this.#reach);
    this.#kept = all.slice(needed - this.#from);
    this.#from = needed;
    return Float32Array.from(out);
  }
}
