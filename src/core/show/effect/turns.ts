import { ease } from '../../units.ts';

/**
 * Functions of turns (1 = once round), from sums and products alone, so that every machine gets the same bits.
 */

/** The part of a turn, 0 up to 1. */
export const fraction = (turns: number): number => turns - Math.floor(turns);

/** Sine of so many turns; a polynomial, right to within 0.0002. */
export function sine(turns: number): number {
  const t = fraction(turns);
  // The quarter 0-0.25 mirrored into the rest.
  const half = t < 0.5 ? t : t - 0.5;
  const x = half < 0.25 ? half : 0.5 - half;
  const y = x * 4;
  const z = y * y;
  const s = y * (1.5707903 + z * (-0.6458929 + z * (0.0794344 - z * 0.0043332)));
  return t < 0.5 ? s : -s;
}

/** Steps of a turn in which sines are kept ready: a power of two, so that whole turns are cut off by a mask. */
const SINE_STEPS = 16_384;
const SINES = Float32Array.from({ length: SINE_STEPS }, (_, i) => sine(i / SINE_STEPS));

/**
 * Sine out of a table made of `sine`: right to within 0.0006, and several times as fast. For up to 100,000 turns either
 * way.
 */
export const quickSine = (turns: number): number => SINES[((turns * SINE_STEPS) | 0) & (SINE_STEPS - 1)]!;

export const cosine = (turns: number): number => sine(turns + 0.25);

/** Up to 1 and down to 0 again in one turn. */
export const triangle = (turns: number): number => {
  const t = fraction(turns);
  return t < 0.5 ? t * 2 : 2 - t * 2;
};

/** A number in [0, 1) that depends only on three whole numbers: the same on every machine. */
export function noise(seed: number, element: number, turn: number): number {
  let h =
    Math.imul(seed ^ 0x9e3779b9, 0x85ebca6b) ^
    Math.imul(element + 0x7f4a7c15, 0xc2b2ae35) ^
    Math.imul(turn + 1, 0x27d4eb2f);
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39);
  return ((h ^ (h >>> 15)) >>> 0) / 4294967296;
}

/** `noise` along a line: eased from one whole number to the next. */
export function smoothNoise(seed: number, element: number, at: number): number {
  const turn = Math.floor(at);
  const from = noise(seed, element, turn | 0);
  return from + (noise(seed, element, (turn + 1) | 0) - from) * ease(at - turn);
}
