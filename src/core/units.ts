/**
 * Branded quantities: numbers whose mixing would hurt. Everything else carries its unit in its name
 * (`fadeMs`, `tiltDeg`, `heightM`).
 */
declare const brand: unique symbol;
type Branded<T, Name extends string> = T & { readonly [brand]: Name };

/** Our own universe number, 1-63999 (the range of ANSI E1.31 data universes). */
export type Universe = Branded<number, 'Universe'>;
/** A DMX512 address, which is also a slot number counted from 1: 1-512 (ANSI E1.11). */
export type Address = Branded<number, 'Address'>;
/** An address counted through all universes, from 1. Depends on the slots per universe in use. */
export type AbsoluteChannel = Branded<number, 'AbsoluteChannel'>;
/** Milliseconds since 1970 on the show's clock. */
export type Moment = Branded<number, 'Moment'>;

export const MAX_UNIVERSE = 63999;
export const MAX_SLOTS = 512;

export const clamp = (value: number, low: number, high: number): number =>
  value < low ? low : value > high ? high : value;

export const clamp01 = (value: number): number => (value < 0 ? 0 : value > 1 ? 1 : value);
/** From 0 to 1 without a corner at either end. */
export const ease = (at: number): number => at * at * (3 - 2 * at);

/** What is left of a value over whole lengths, 0 to below `length`, also below 0. */
export const modulo = (value: number, length: number): number => ((value % length) + length) % length;

export const lerp = (from: number, to: number, at: number): number => from + (to - from) * at;

/** Slowest and fastest tempo, beats a minute. */
export const BPM_LIMITS = [20, 300] as const;
