import { parseNumber, readWhole } from '$core/numbers.ts';
import { parseLength, type Lengths } from '$core/plot/lengths.ts';

/** What people type into fields: read within limits, or told what is wanted. */

const within = (value: number | null, low: number, high: number): number | null =>
  value !== null && value >= low && value <= high ? value : null;

/** A whole number from a text, within limits; null for anything else. */
export const whole = (text: string, low: number, high: number): number | null => within(readWhole(text), low, high);

/** A number with decimals, comma or point, within limits; null for anything else. */
export const decimal = (text: string, low: number, high: number): number | null => within(parseNumber(text), low, high);

/** Takes a value over: what is wrong with it, or null (or nothing) where it was taken. */
type Take = (value: number) => string | null | void;
const given = (value: number | null, wanted: string, take: Take): string | null =>
  value === null ? wanted : (take(value) ?? null);

/** What a field of a whole number answers: it was taken over (null), or what is wrong. */
export const saveWhole = (text: string, low: number, high: number, take: Take): string | null =>
  given(whole(text, low, high), `Give ${low} to ${high}.`, take);

/** The same for a number with decimals. */
export const saveNumber = (text: string, low: number, high: number, take: Take): string | null =>
  given(decimal(text, low, high), `Give ${low} to ${high}.`, take);

/** The same for a time of 0 to an hour, typed in seconds; milliseconds. */
export const saveSeconds = (text: string, take: Take, wanted = 'Give 0 to 3600 seconds.'): string | null =>
  given(decimal(text, 0, 3600), wanted, (seconds) => take(Math.round(seconds * 1000)));

/** Farthest anything stands from the middle of the room, metres. */
const MOST_M = 1000;

/** The same for a length in the show's unit or with one of its own; metres. */
export const saveLength = (text: string, lengths: Lengths, take: Take, leastM = -MOST_M): string | null =>
  given(within(parseLength(text, lengths), leastM, MOST_M), 'Give a length such as 2.5 or 80 cm.', take);
