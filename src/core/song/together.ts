import { clamp } from '../units.ts';

/** Farther off than this (s) the sound is set anew; what is less is made up by playing a little faster or slower. */
export const JUMP_S = 0.06;
/** Nearer than this (s) it is together. */
const NEAR_S = 0.001;
/** Most that it plays faster or slower: nobody hears two in a thousand. */
export const MOST_RATE = 0.002;
/** What it is off is made up in about so long, s. */
const WITHIN_S = 2;

/**
 * What a player does that is `offS` seconds ahead of the show (below 0: behind): the rate to play at until it is looked at
 * again, or null where it must be set anew.
 */
export function rateFor(offS: number): number | null {
  if (Math.abs(offS) > JUMP_S) return null;
  return Math.abs(offS) < NEAR_S ? 1 : 1 - clamp(offS / WITHIN_S, -MOST_RATE, MOST_RATE);
}

/** How far a place is ahead of another in a loop of `length` seconds: by the shorter way round. */
export const offInLoop = (off: number, length: number): number => off - Math.round(off / length) * length;
