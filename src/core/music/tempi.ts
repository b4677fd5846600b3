/** Tempi as the ear tells them apart, and how they follow one another. */

/** The decoder's frames a second. */
export const STEPS_S = 100;
const [SLOWEST, FASTEST] = [48, 238];
const TEMPI = 68;
/** How unlikely another tempo is at the next beat, for its ratio to the one before. */
const STIFF = 200;
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

/** How unlikely it is to go on from a tempo to the next slower one; from the last, and to the first, there is none. */
const STEPS_COST = Float64Array.from({ length: PERIODS.length + 1 }, (_, i) =>
  i === 0 || i === PERIODS.length ? 0 : STIFF * Math.log(PERIODS[i]! / PERIODS[i - 1]!),
);
/**
 * Beats that are heard below 85 a minute are often every second one of those that people count, in waltzes and in fast broken
 * beats, and so are bars that last longer than four seconds; so they are less likely, by this for each second (natural
 * logarithm), and nothing from ten more on. In the pieces for working what really is slow stands 3 and more above its
 * double.
 */
const [SLOW_S, SLOW_BPM, SLOW_BAR_S, WIDTH_BPM] = [1.5, 85, 4, 10];

/**
 * What goes with a beat of each tempo, logarithms: all tempi that it leads to are one together, and it may be a slow one, of
 * bars of so many beats. Live nobody knows the bar: 1.
 */
export function withBeats(metre = 1): Float64Array {
  const slowBpm = Math.max(SLOW_BPM, (60 * metre) / SLOW_BAR_S);
  return Float64Array.from(PERIODS, (period) => {
    const sum = PERIODS.reduce((all, next) => all + Math.exp(-STIFF * Math.abs(Math.log(next / period))), 0);
    const slow = 1 - ((60 * STEPS_S) / period - slowBpm) / WIDTH_BPM;
    return -Math.log(sum) - (SLOW_S * Math.max(0, Math.min(1, slow)) * period) / STEPS_S;
  });
}

/**
 * How likely each tempo is at a beat (logarithms, a number each, written in place) out of how likely they were before it and
 * of what goes with that (`withBeats`), and which one each comes from. A change is as unlikely as the ratio of both is far from
 * one, on a logarithmic scale; so what it costs adds up from tempo to tempo, and one way up and one down find the best of all
 * pairs.
 */
export function changeTempi(scores: Float64Array, from: Uint8Array, withBeat: Float64Array): void {
  const n = scores.length;
  let [best, which] = [-Infinity, 0];
  for (let i = 0; i < n; i++) {
    best -= STEPS_COST[i]!;
    const stays = scores[i]! + withBeat[i]!;
    if (stays >= best) {
      best = stays;
      which = i;
    }
    scores[i] = best;
    from[i] = which;
  }
  best = -Infinity;
  for (let i = n - 1; i >= 0; i--) {
    best -= STEPS_COST[i + 1]!;
    if (scores[i]! >= best) {
      best = scores[i]!;
      which = from[i]!;
    } else {
      scores[i] = best;
      from[i] = which;
    }
  }
}

/** Frames at the beginning of a beat that are the beat itself. */
export const regionOf = (period: number): number => Math.max(1, Math.round(period * REGION));
export const clipped = (x: number): number => (x < LEAST ? LEAST : x > MOST ? MOST : x);
