import { BPM_LIMITS } from '../../units.ts';

/** Taps that count: the newest of a row. */
export const TAPS_COUNTED = 8;
/** A pause as long as this (ms) begins a new row. */
const PAUSE_MS = 2000;

/**
 * Beats a minute (to a tenth) of taps at these moments (ms, ascending): the mean of the newest row of them. Null for fewer
 * than two, and for what is no tempo.
 */
export function tappedBpm(taps: readonly number[]): number | null {
  let first = taps.length - 1;
  while (first > 0 && taps[first]! - taps[first - 1]! < PAUSE_MS) first--;
  const row = taps.slice(Math.max(first, taps.length - TAPS_COUNTED));
  if (row.length < 2) return null;
  const bpm = 60_000 / ((row.at(-1)! - row[0]!) / (row.length - 1));
  return bpm >= BPM_LIMITS[0] && bpm <= BPM_LIMITS[1] ? Math.round(bpm * 10) / 10 : null;
}
