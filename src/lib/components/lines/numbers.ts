import { parseNumber, readWhole } from '$core/numbers.ts';

const within = (value: number | null, low: number, high: number): number | null =>
  value !== null && value >= low && value <= high ? value : null;

/** A whole number from a text, within limits; null for anything else. */
export const whole = (text: string, low: number, high: number): number | null => within(readWhole(text), low, high);

/** A number with decimals, comma or point, within limits; null for anything else. */
export const decimal = (text: string, low: number, high: number): number | null => within(parseNumber(text), low, high);
