import { ease } from '../../units.ts';
import { fraction } from './turns.ts';

/** Hues kept ready for the colour circle. */
export const HUE_STEPS = 720;

/** Puts a colour of the circle at so many turns into `into` from `at`. */
export function hueAt(table: Float32Array, turns: number, into: Float32Array, at: number): void {
  pickAt(table, Math.min(HUE_STEPS - 1, (fraction(turns) * HUE_STEPS) | 0), into, at);
}

/**
 * From colour to colour round a list, `soft` 0-1: from jumps to one long crossing. At a whole turn it is the first;
 * each colour has an equal share of the turn.
 */
export function walkAt(table: Float32Array, turns: number, soft: number, into: Float32Array, at: number): void {
  const count = coloursIn(table);
  const place = fraction(turns) * count;
  const from = Math.min(count - 1, place | 0);
  const to = from + 1 < count ? from + 1 : 0;
  const within = place - from;
  const mix = soft <= 0 || within < 1 - soft ? 0 : ease((within - (1 - soft)) / soft);
  mixAt(table, from, to, mix, into, at);
}

/** Steps in which a closed band of colours is kept ready, for each colour: finer than a byte tells apart. */
const RING_STEPS = 1024;

/** A closed band of colours: what `walkAt` gives at its softest in the middle of each step of a turn. */
export function ringOf(table: Float32Array): Float32Array {
  const steps = coloursIn(table) * RING_STEPS;
  const ring = new Float32Array(steps * 3);
  for (let i = 0; i < steps; i++) walkAt(table, (i + 0.5) / steps, 1, ring, i * 3);
  return ring;
}

/** A colour along a closed band of colours, at so many turns; right to within 0.001. */
export const ringAt = (ring: Float32Array, turns: number, into: Float32Array, at: number): void => {
  const steps = coloursIn(ring);
  const step = (fraction(turns) * steps) | 0;
  pickAt(ring, step < steps ? step : steps - 1, into, at);
};

/** How many colours a table has, as a whole number: with those the loops are several times as fast. */
export const coloursIn = (table: Float32Array): number => (table.length / 3) | 0;

/** One of a table. */
export function pickAt(table: Float32Array, colour: number, into: Float32Array, at: number): void {
  const a = colour * 3;
  into[at] = table[a]!;
  into[at + 1] = table[a + 1]!;
  into[at + 2] = table[a + 2]!;
}

/** Two of a table, mixed. */
export function mixAt(
  table: Float32Array,
  from: number,
  to: number,
  mix: number,
  into: Float32Array,
  at: number,
): void {
  const a = from * 3;
  const b = to * 3;
  into[at] = table[a]! + (table[b]! - table[a]!) * mix;
  into[at + 1] = table[a + 1]! + (table[b + 1]! - table[a + 1]!) * mix;
  into[at + 2] = table[a + 2]! + (table[b + 2]! - table[a + 2]!) * mix;
}
