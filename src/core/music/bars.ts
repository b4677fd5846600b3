import { cosine } from './alike.ts';
import type { StreamFrame } from './stream-features.ts';

/** Metres that bars are counted in. */
const METRES = [4, 3] as const;
/** What was heard so many beats ago counts half. */
const HALF_BEATS = 24;
/** Another first of the bar has to be so much better. */
const BETTER = 1.12;
/** Bars of three have to fit so much better than those of four. */
const THREE = 1.25;

/**
 * Which beat of a bar each one is, from the past alone: the harmony is another and the bass comes in on the first of a bar more
 * often than on others.
 */
export class Bars {
  #sum = new Float64Array(12);
  #before: Float64Array | null = null;
  #low = 0;
  #count = -1;
  #first = 0;
  #metre: (typeof METRES)[number] = 4;
  readonly #weights = new Map(METRES.map((metre) => [metre, new Float64Array(metre)]));
  bar = 0;

  /** What is heard until the next beat. */
  hear({ chroma, low }: StreamFrame): void {
    for (let c = 0; c < 12; c++) this.#sum[c] = this.#sum[c]! + chroma[c]!;
    if (low > this.#low) this.#low = low;
  }

  /** A beat begins: its place in the bar, 0 for the first. */
  next(): number {
    this.#learn();
    this.#count++;
    const place = (this.#count + this.#metre - this.#first) % this.#metre;
    if (place === 0) this.bar++;
    return place;
  }

  /** The beat that is over, by how much it was another harmony than the one before. */
  #learn(): void {
    const [now, before] = [this.#sum, this.#before];
    this.#before = now;
    this.#sum = new Float64Array(12);
    const low = this.#low;
    this.#low = 0;
    if (!before || this.#count < 0) return;
    const change = Math.max(0, 1 - (cosine(before, now) ?? 1));
    const keep = 0.5 ** (1 / HALF_BEATS);
    for (const [metre, weights] of this.#weights) {
      for (let k = 0; k < metre; k++) weights[k] = weights[k]! * keep;
      const at = this.#count % metre;
      weights[at] = weights[at]! + change + 0.15 * low;
    }
    this.#choose();
  }

  #choose(): void {
    const share = (metre: (typeof METRES)[number]): number => {
      const weights = this.#weights.get(metre)!;
      const sum = weights.reduce((a, b) => a + b, 0);
      return sum > 0 ? (Math.max(...weights) / sum) * metre : 1;
    };
    const metre = share(3) > share(4) * THREE ? 3 : 4;
    const weights = this.#weights.get(metre)!;
    const best = weights.indexOf(Math.max(...weights));
    const now = this.#first % metre;
    if (metre !== this.#metre || weights[best]! > weights[now]! * BETTER) {
      this.#metre = metre;
      this.#first = best;
    }
  }
}
