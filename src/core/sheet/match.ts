import type { Grid, GridRow } from '../format/grid.ts';
import { SHEET_COLUMNS } from './columns.ts';

/** For each column of a file the key of ours that it is, or null where it is not taken. `maker` goes before `profile`. */
export type Mapping = readonly (string | null)[];

export interface Headings {
  /** Place of the heading row among the grid's rows; -1 where there is none. */
  readonly row: number;
  readonly titles: readonly string[];
  readonly mapping: Mapping;
}

const plain = (text: string): string =>
  text
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[\s_\-/():]+/g, ' ')
    .trim();

/** Heading words to column keys; titles come first, so that our own files match themselves. */
const KEYS = (() => {
  const keys = new Map<string, string>();
  for (const column of SHEET_COLUMNS) keys.set(plain(column.title), column.key);
  for (const column of SHEET_COLUMNS)
    for (const word of column.words) if (!keys.has(plain(word))) keys.set(plain(word), column.key);
  for (const word of ['maker', 'manufacturer', 'make', 'brand']) keys.set(word, 'maker');
  return keys;
})();

const keyOf = (heading: string): string | null =>
  KEYS.get(plain(heading)) ?? KEYS.get(plain(heading).replace(/[.#]/g, '').trim()) ?? null;

/** Matches headings to columns; each of ours is taken once. */
export function matchTitles(titles: readonly string[]): Mapping {
  const used = new Set<string>();
  const mapping = titles.map((title) => {
    const key = keyOf(title);
    if (key === null || used.has(key)) return null;
    used.add(key);
    return key;
  });
  return mapping.map((key, i) => {
    // "Address" beside a universe is the slot in it; "Channel" without one is counted through all universes.
    if (key === 'patch' && used.has('universe') && !used.has('slot') && plain(titles[i]!) !== 'universe.address')
      return 'slot';
    if (key === 'slot' && !used.has('universe') && !used.has('absolute')) return 'absolute';
    return key;
  });
}

const LOOK_AT = 25;

/** Finds the row with the headings: the one of the first 25 that has most of them, at least two (or its only cell). */
export function findHeadings(grid: Grid): Headings {
  let best: Headings = { row: -1, titles: [], mapping: [] };
  let most = 0;
  grid.rows.slice(0, LOOK_AT).forEach((row, i) => {
    const mapping = matchTitles(row.cells);
    const hits = mapping.filter((key) => key !== null).length;
    const filled = row.cells.filter((c) => c.trim() !== '').length;
    if (hits > most && (hits >= 2 || filled === 1)) {
      most = hits;
      best = { row: i, titles: row.cells, mapping };
    }
  });
  return best;
}

/** True where the rows have headings of ours: which sheet of a workbook to read. */
export const hasHeadings = (rows: readonly GridRow[]): boolean => findHeadings({ rows, merges: [] }).row >= 0;
