/** Measures of the field, for beats that were heard against those that are true. Times are seconds, ascending. */

/** Beats count from here on: nobody hears a tempo in the first notes. */
export const COUNTED_FROM_S = 5;
const NEAR_S = 0.07;
const NEAR_SHARE = 0.175;

export interface BeatMeasures {
  readonly f: number;
  readonly cmlt: number;
  readonly amlt: number;
  /** Tempo within 4 %; and also at a third, half, double and three times. */
  readonly acc1: boolean;
  readonly acc2: boolean;
}

const counted = (times: readonly number[]): number[] => times.filter((t) => t >= COUNTED_FROM_S);

/** Matches one to one within 70 ms (or so many seconds): the harmonic mean of precision and recall. */
export function fMeasure(found: readonly number[], truth: readonly number[], nearS = NEAR_S): number {
  if (found.length === 0 || truth.length === 0) return found.length === truth.length ? 1 : 0;
  let [i, j, hits] = [0, 0, 0];
  while (i < found.length && j < truth.length) {
    const off = found[i]! - truth[j]!;
    if (Math.abs(off) <= nearS) {
      hits++;
      i++;
      j++;
    } else if (off < 0) i++;
    else j++;
  }
  return (2 * hits) / (found.length + truth.length);
}

/** Share of true beats that are met in an unbroken chain: near, and as long as the beat before. */
export function continuity(found: readonly number[], truth: readonly number[]): number {
  if (truth.length < 2 || found.length < 2) return 0;
  let right = 0;
  for (let k = 1; k < truth.length; k++) {
    const period = truth[k]! - truth[k - 1]!;
    const i = nearestIndex(found, truth[k]!);
    if (i < 1) continue;
    const near = Math.abs(found[i]! - truth[k]!) <= NEAR_SHARE * period;
    const nearBefore = Math.abs(found[i - 1]! - truth[k - 1]!) <= NEAR_SHARE * period;
    const even = Math.abs(found[i]! - found[i - 1]! - period) <= NEAR_SHARE * period;
    if (near && nearBefore && even) right++;
  }
  return right / Math.max(truth.length - 1, found.length - 1);
}

function nearestIndex(times: readonly number[], at: number): number {
  let [low, high] = [0, times.length - 1];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (times[middle]! < at) low = middle + 1;
    else high = middle;
  }
  return low > 0 && Math.abs(times[low - 1]! - at) < Math.abs(times[low]! - at) ? low - 1 : low;
}

const doubled = (times: readonly number[]): number[] =>
  times.flatMap((t, i) => (i + 1 < times.length ? [t, (t + times[i + 1]!) / 2] : [t]));
const every = (times: readonly number[], n: number, from: number): number[] => times.filter((_, i) => i % n === from);
const between = (times: readonly number[]): number[] => doubled(times).filter((_, i) => i % 2 === 1);

/** The middle one of the tempi from beat to beat, beats a minute; 0 of fewer than two. */
export function tempoOf(times: readonly number[]): number {
  const gaps = times.slice(1).map((t, i) => t - times[i]!);
  if (gaps.length === 0) return 0;
  gaps.sort((a, b) => a - b);
  return 60 / gaps[gaps.length >> 1]!;
}

export function beatMeasures(found: readonly number[], truth: readonly number[]): BeatMeasures {
  const [f, t] = [counted(found), counted(truth)];
  const alike = [t, doubled(t), every(t, 2, 0), every(t, 2, 1), between(t)];
  const [a, b] = [tempoOf(f), tempoOf(t)];
  const within = (factor: number): boolean => Math.abs(a - b * factor) <= 0.04 * b * factor;
  return {
    f: fMeasure(f, t),
    cmlt: continuity(f, t),
    amlt: Math.max(...alike.map((other) => continuity(f, other))),
    acc1: within(1),
    acc2: [1, 1 / 3, 1 / 2, 2, 3].some(within),
  };
}
