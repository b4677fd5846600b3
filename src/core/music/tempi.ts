/** Tempi as the ear tells them apart, and how they follow one another. */

/** The decoder's frames a second. */
export const STEPS_S = 100;
const [SLOWEST, FASTEST] = [55, 215];
const TEMPI = 60;
/** How unlikely another tempo is at the next beat. */
const STIFF = 200;
const NEIGHBOURS = 6;
/** Beats are where the first so many of a beat lie. */
const REGION = 1 / 16;
export const REST = 15;
const [LEAST, MOST] = [0.001, 0.999];

/** Whole frames of a beat, from the fastest on, evenly by ratio; each once. */
export const PERIODS: readonly number[] = (() => {
  const [short, long] = [(60 * STEPS_S) / FASTEST, (60 * STEPS_S) / SLOWEST];
  const found = new Set<number>();
  for (let i = 0; i < TEMPI; i++) found.add(Math.round(short * (long / short) ** (i / (TEMPI - 1))));
  return [...found].sort((a, b) => a - b);
})();

/**
 * How likely tempi follow one another, logarithms: those that lead to tempo i stand from `at[i]` to `at[i + 1]`, each with the
 * tempo it comes from.
 */
export interface Changes {
  readonly at: Int32Array;
  readonly from: Int32Array;
  readonly log: Float64Array;
}
export const CHANGES: Changes = (() => {
  const into: (readonly [from: number, log: number])[][] = PERIODS.map(() => []);
  PERIODS.forEach((was, i) => {
    const near = PERIODS.map((_, j) => j).filter((j) => Math.abs(i - j) <= NEIGHBOURS);
    const sum = near.reduce((total, j) => total + Math.exp(-STIFF * Math.abs(PERIODS[j]! / was - 1)), 0);
    for (const j of near) into[j]!.push([i, -STIFF * Math.abs(PERIODS[j]! / was - 1) - Math.log(sum)]);
  });
  const at = new Int32Array(into.length + 1);
  into.forEach((list, i) => (at[i + 1] = at[i]! + list.length));
  return { at, from: Int32Array.from(into.flat(), ([j]) => j), log: Float64Array.from(into.flat(), ([, log]) => log) };
})();

/** Frames at the beginning of a beat that are the beat itself. */
export const regionOf = (period: number): number => Math.max(1, Math.round(period * REGION));
export const clipped = (x: number): number => (x < LEAST ? LEAST : x > MOST ? MOST : x);
