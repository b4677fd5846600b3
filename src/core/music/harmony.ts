import { cosine } from './alike.ts';

/** Half frames (25 a second) over which harmony is summed up on both sides of a moment. */
const REACH = [5, 12, 25, 50] as const;
/** Numbers of a half frame: one for each reach of all pitch classes, then of the bass. */
export const HARMONY = 2 * REACH.length;
const CLASSES = 12;

const [before, after] = [new Float64Array(CLASSES), new Float64Array(CLASSES)];
/** How much another harmony is from `middle` to `to` than from `from` to `middle`, 0 (the same) to 1; 0 where one is nothing. */
function between(sums: Float64Array, from: number, middle: number, to: number): number {
  for (let c = 0; c < CLASSES; c++) {
    const at = sums[middle * CLASSES + c]!;
    before[c] = at - sums[from * CLASSES + c]!;
    after[c] = sums[to * CLASSES + c]! - at;
  }
  return 1 - (cosine(before, after) ?? 1);
}

/**
 * How much the harmony after each half frame is another than before it: half x HARMONY, 0-1. `chroma` and `bass`: half x 12. It
 * looks two seconds ahead.
 */
export function harmonyChanges(chroma: Float32Array, bass: Float32Array): Float32Array {
  const half = chroma.length / CLASSES;
  const found = new Float32Array(half * HARMONY);
  for (const [which, list] of [chroma, bass].entries()) {
    const sums = new Float64Array((half + 1) * CLASSES);
    for (let i = 0; i < list.length; i++) sums[CLASSES + i] = sums[i]! + list[i]!;
    for (const [k, reach] of REACH.entries())
      for (let f = 0; f < half; f++)
        found[f * HARMONY + which * REACH.length + k] = between(
          sums,
          Math.max(0, f - reach),
          f,
          Math.min(half, f + reach),
        );
  }
  return found;
}

/** The longest stretch and the one before it. */
const KEPT = 2 * Math.max(...REACH);

/** The same of a stream, from the past alone: what lies just behind is compared with what lies behind that. */
export class PastHarmony {
  /** Sums up to each of the last half frames, one row after the other, the oldest first. */
  readonly #sums = [new Float64Array((KEPT + 1) * CLASSES), new Float64Array((KEPT + 1) * CLASSES)];
  #count = 0;

  /** The next half frame: HARMONY numbers, 0-1. `chroma` and `bass`: 12 each. */
  next(chroma: ArrayLike<number>, bass: ArrayLike<number>): Float32Array {
    this.#count++;
    const found = new Float32Array(HARMONY);
    const least = Math.max(0, KEPT - this.#count);
    for (const [which, list] of [chroma, bass].entries()) {
      const sums = this.#sums[which]!;
      const base = sums.slice(CLASSES, 2 * CLASSES);
      sums.copyWithin(0, CLASSES);
      const end = KEPT * CLASSES;
      for (let c = 0; c < CLASSES; c++) sums[end + c] = sums[end - CLASSES + c]! + list[c]!;
      // Sums count from the oldest that is kept, so that they never grow.
      for (let i = 0; i < sums.length; i++) sums[i] = sums[i]! - base[i % CLASSES]!;
      for (const [k, reach] of REACH.entries()) {
        const middle = Math.max(least, KEPT - reach);
        found[which * REACH.length + k] = between(sums, Math.max(least, middle - reach), middle, KEPT);
      }
    }
    return found;
  }
}
