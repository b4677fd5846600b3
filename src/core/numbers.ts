/** A whole number as people write it: spaces and thousands separators do no harm. Null for anything else. */
export function readWhole(text: string): number | null {
  const cleaned = text.trim().replace(/(?<=\d)[\s\u00a0\u202f'’](?=\d{3}\b)/g, '');
  const plain = /^[+-]?\d{1,3}(,\d{3})+$/.test(cleaned) ? cleaned.replace(/,/g, '') : cleaned;
  return /^[+-]?\d{1,15}(\.0+)?$/.test(plain) ? Number(plain) : null;
}

/** A number with a point or a decimal comma; null for anything else. */
export function parseNumber(text: string): number | null {
  const cleaned = text.trim().replace(',', '.');
  return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(cleaned) ? Number(cleaned) : null;
}

/**
 * Numbers as people list them, such as `1-16, 20`, within limits and at most `longest` in one range. `wrong` is the part
 * that is none; null where all of it was read.
 */
export function readRanges(
  text: string,
  low: number,
  high: number,
  longest = Infinity,
): { readonly numbers: ReadonlySet<number>; readonly wrong: string | null } {
  const numbers = new Set<number>();
  for (const part of text.split(',')) {
    const range = /^\s*(\d{1,5})(?:\s*-\s*(\d{1,5}))?\s*$/.exec(part);
    const from = Number(range?.[1]);
    const to = Number(range?.[2] ?? range?.[1]);
    if (!range || from < low || to > high || to < from || to - from >= longest) return { numbers, wrong: part };
    for (let n = from; n <= to; n++) numbers.add(n);
  }
  return { numbers, wrong: null };
}
