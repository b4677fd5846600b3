import { unusable } from './command.ts';

/** Numbers such as `1-16` or `1,2,7` within limits; at most 4,001 of them in one range. Throws FaultError. */
export function numbersOf(text: string, option: string, low: number, high: number): number[] {
  const found = new Set<number>();
  for (const part of text.split(',')) {
    const range = /^\s*(\d+)(?:\s*-\s*(\d+))?\s*$/.exec(part);
    const from = Number(range?.[1]);
    const to = Number(range?.[2] ?? range?.[1]);
    if (!range || from < low || to > high || to < from || to - from > 4000)
      throw unusable(
        'OPTION_RANGE',
        `--${option}`,
        `--${option} is not a list of universes`,
        text,
        `Write for example 1-16 or 1,2,7 (${low}-${high}).`,
      );
    for (let n = from; n <= to; n++) found.add(n);
  }
  return [...found];
}
