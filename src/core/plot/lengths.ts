import { parseNumber } from '../numbers.ts';

export type Lengths = 'metres' | 'feet';
const FOOT_M = 0.3048;
const INCH_M = 0.0254;

/** The suffix of a field. */
export const LENGTH_UNIT: Readonly<Record<Lengths, string>> = { metres: 'm', feet: 'ft' };

/** Metres as a number in the show's unit, to a millimetre or a hundredth of a foot. */
export const lengthNumber = (metres: number, lengths: Lengths): number =>
  lengths === 'metres' ? Math.round(metres * 1000) / 1000 : Math.round((metres / FOOT_M) * 100) / 100;

/** Metres in words: `2.4 m`, `7.87 ft`. */
export const lengthText = (metres: number, lengths: Lengths): string =>
  `${lengthNumber(metres, lengths)} ${LENGTH_UNIT[lengths]}`;

const FEET = /^([+-]?\d+(?:[.,]\d+)?)\s*(?:ft|feet|foot|['′’])\s*(?:(\d+(?:[.,]\d+)?)\s*(?:in|["″”]|'')?)?$/i;
const INCHES = /^([+-]?\d+(?:[.,]\d+)?)\s*(?:in|inch|inches|["″”])$/i;
const METRIC = /^([+-]?\d*[.,]?\d+)\s*(mm|cm|m)$/i;
const METRES_IN: Readonly<Record<string, number>> = { mm: 0.001, cm: 0.01, m: 1 };

/**
 * Reads a length as people write it; metres, or null. A bare number is in the show's unit; `2.4 m`, `80 cm`, `350 mm`,
 * `7.5 ft`, `7' 6"` and `18 in` say their own.
 */
export function parseLength(text: string, lengths: Lengths): number | null {
  const trimmed = text.trim();
  const metric = METRIC.exec(trimmed);
  if (metric) return number(metric[1]!) * METRES_IN[metric[2]!.toLowerCase()]!;
  const inches = INCHES.exec(trimmed);
  if (inches) return number(inches[1]!) * INCH_M;
  const feet = FEET.exec(trimmed);
  if (feet) {
    const sign = trimmed.startsWith('-') ? -1 : 1;
    return sign * (Math.abs(number(feet[1]!)) * FOOT_M + (feet[2] ? number(feet[2]) * INCH_M : 0));
  }
  const bare = parseNumber(trimmed);
  return bare === null ? null : bare * (lengths === 'metres' ? 1 : FOOT_M);
}

const number = (text: string): number => Number(text.replace(',', '.'));

/**
 * Three lengths: across, deep, high. Between them semicolons, commas with a space behind (`2,5, 1, 0`), exactly two commas
 * (`2.5,1,0`), or spaces (`2.5 1 0`). Null for anything else.
 */
export function parsePlace(text: string, lengths: Lengths): { x: number; y: number; z: number } | null {
  const trimmed = text.trim();
  const parts = [/\s*;\s*/, /,\s+/, /,/, /\s+/].map((between) => trimmed.split(between)).find((p) => p.length === 3);
  const [x, y, z] = (parts ?? []).map((part) => parseLength(part, lengths));
  if (x === undefined || y === undefined || z === undefined) return null;
  return x === null || y === null || z === null ? null : { x, y, z };
}
