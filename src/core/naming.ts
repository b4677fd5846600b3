/**
 * Names with running numbers: `#` in the pattern stands for the number (`PAR #` -> `PAR 1`, `PAR 2`); several `#` pad
 * with zeros (`##` -> `01`). Without a `#` the number is added at the end when there is more than one.
 */
export function numberedNames(pattern: string, count: number, first: number): string[] {
  const base = pattern.trim();
  return Array.from({ length: count }, (_, i) => {
    const n = String(first + i);
    if (base.includes('#')) return base.replace(/#+/g, (hashes) => n.padStart(hashes.length, '0'));
    return count === 1 ? base : `${base} ${n}`;
  });
}

/**
 * Names of a pattern that nobody has yet: they count on after the highest of its kind (`Par #` beside `Par 4` gives
 * `Par 5`). A single one without `#` keeps its name while nobody is called so.
 */
export function namesCountedOn(pattern: string, count: number, taken: readonly string[]): string[] {
  const base = pattern.trim();
  const known = new Set(taken.map((name) => name.toLowerCase()));
  if (count === 1 && !base.includes('#') && !known.has(base.toLowerCase())) return [base];
  const numbered = base.includes('#') ? base : `${base} #`;
  const escaped = numbered.split(/#+/).map((part) => part.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'));
  const like = new RegExp(`^${escaped.join('(\\d{1,6})')}$`, 'i');
  let highest = base.includes('#') || !known.has(base.toLowerCase()) ? 0 : 1;
  for (const name of taken) highest = Math.max(highest, Number(like.exec(name)?.[1] ?? 0));
  return numberedNames(numbered, count, highest + 1);
}

/** The lowest `count` numbers in a row, all above `after`, that nobody has. */
export function freeNumbers(taken: Iterable<number>, count: number, after = 0): number[] {
  const used = new Set(taken);
  for (let first = after + 1; ; first++) {
    const row = Array.from({ length: count }, (_, i) => first + i);
    const clash = row.find((n) => used.has(n));
    if (clash === undefined) return row;
    first = clash;
  }
}

/** The number after the highest there is. */
export const nextNumber = (records: Iterable<{ readonly number: number }>): number => {
  let highest = 0;
  for (const { number } of records) highest = Math.max(highest, number);
  return Math.min(99_999, highest + 1);
};
