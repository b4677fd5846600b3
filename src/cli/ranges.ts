import { readRanges } from '../core/numbers.ts';
import { unusable } from './command.ts';

const LONGEST = 4001;

/** Numbers such as `1-16` or `1,2,7` within limits; at most 4,001 of them in one range. Throws FaultError. */
export function numbersOf(text: string, option: string, low: number, high: number): number[] {
  const { numbers, wrong } = readRanges(text, low, high, LONGEST);
  if (wrong !== null)
    throw unusable(
      'OPTION_RANGE',
      `--${option}`,
      `--${option} is not a list of universes`,
      text,
      `Write for example 1-16 or 1,2,7 (${low}-${high}).`,
    );
  return [...numbers];
}
