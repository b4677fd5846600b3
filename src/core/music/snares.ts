import type { Onset } from './onsets.ts';

/** An onset this near to a beat is on it, seconds. */
const NEAR_S = 0.06;
/** A place of the bar has a snare where it has this much of one on average, and so much more than places have. */
const [LEAST, MORE] = [0.3, 1.25];

/** On which beats of its bars (0 the first) a snare or a clap falls, mostly: those that stand out. Rising; empty where none does. */
export function snarePlaces(
  beats: readonly number[],
  downbeats: readonly number[],
  metre: number,
  onsets: readonly Onset[],
): number[] {
  const snares = onsets.filter(({ band }) => band === 'snare');
  const [sums, counts] = [new Array<number>(metre).fill(0), new Array<number>(metre).fill(0)];
  let [next, place] = [0, -1];
  const firsts = new Set(downbeats);
  for (const at of beats) {
    place = firsts.has(at) ? 0 : place < 0 ? -1 : place + 1;
    if (place < 0 || place >= metre) continue;
    while (next < snares.length && snares[next]!.at < at - NEAR_S) next++;
    const on = snares[next];
    counts[place] = counts[place]! + 1;
    if (on && on.at <= at + NEAR_S) sums[place] = sums[place]! + on.strength;
  }
  const shares = sums.map((sum, i) => (counts[i]! > 0 ? sum / counts[i]! : 0));
  const mean = shares.reduce((a, b) => a + b, 0) / metre;
  return shares.flatMap((share, i) => (share >= LEAST && share >= MORE * mean ? [i] : []));
}
