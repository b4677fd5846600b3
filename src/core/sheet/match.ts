import { columnLetters, type Grid, type GridRow } from '../format/grid.ts';
import { columnOf, SHEET_COLUMNS } from './columns.ts';
import type { ProfileFinder } from './profiles.ts';

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

/** What a heading may also mean, besides what its word says first; what stands below it decides. */
const ALSO: Readonly<Record<string, readonly string[]>> = {
  fixture: ['number', 'name', 'profile'],
  fixtures: ['name', 'profile', 'number'],
  unit: ['number', 'name'],
  id: ['number', 'name'],
  'fixture id': ['number', 'name'],
  type: ['profile', 'mode'],
  'fixture type': ['profile', 'mode'],
  model: ['profile', 'mode', 'name'],
  device: ['profile', 'name'],
  instrument: ['profile', 'name'],
  prop: ['name', 'profile'],
  description: ['name', 'profile', 'notes'],
  item: ['name', 'profile', 'number'],
  light: ['name', 'profile', 'number'],
  lamp: ['name', 'profile', 'number'],
  channels: ['footprint', 'slot', 'patch'],
  channel: ['slot', 'patch'],
  ch: ['slot', 'patch', 'footprint'],
  start: ['patch', 'slot'],
  dmx: ['patch', 'slot'],
};
const SAMPLE = 40;
const SPAN = /\d\s*(?:[-\u2010-\u2014\u2212]|\.\.|\bto\b)\s*\d/i;

/** How well texts suit a column of ours: 0 not at all, 1 as if it were made for it. */
function suits(key: string, texts: readonly string[], finder: ProfileFinder, beside: boolean): number {
  const share = (test: (text: string) => boolean): number => texts.filter(test).length / texts.length;
  const isWhole = (t: string): boolean => /^\d{1,5}$/.test(t);
  const isProfile = (t: string): boolean => finder.find(t).ok;
  const spans = share((t) => SPAN.test(t));
  switch (key) {
    case 'number':
      return share(isWhole) === 1 && new Set(texts).size === texts.length ? 1 : 0;
    case 'profile':
      return share(isProfile);
    case 'mode':
      return 0.6 * share((t) => /^\d{1,3}\s*(ch|channels?|bit)?$/i.test(t) || /\b(mode|basic|extended)\b/i.test(t));
    case 'name':
      return 0.5 * share((t) => /\p{L}/u.test(t)) * (1 - 0.5 * share(isProfile));
    case 'footprint':
      return spans > 0 ? 0 : 0.7 * share((t) => isWhole(t) && Number(t) <= 2048);
    case 'slot':
      return beside ? 0.65 * share((t) => isWhole(t) || SPAN.test(t)) : 0;
    case 'patch':
      return 0.8 * share((t) => /^(u\w*\s*)?\d+\s*[./:]\s*\d+/i.test(t)) || (beside ? 0 : 0.6 * spans);
    default:
      return 0.2;
  }
}

/**
 * Headings whose words can mean several things, decided by what stands below them: `Fixture` is a number, a name or a
 * profile. Each of our columns is taken once, by what suits it best; what suits nothing is left to be asked about.
 */
export function matchByValues(headings: Headings, grid: Grid, finder: ProfileFinder): Headings {
  const rows = grid.rows.slice(headings.row + 1).filter((r) => r.cells.some((c) => c.trim() !== ''));
  const textsOf = (i: number): string[] =>
    rows.flatMap((r) => (r.cells[i]?.trim() ? [r.cells[i]!.trim()] : [])).slice(0, SAMPLE);
  const open = headings.titles.flatMap((title, i) => {
    const keys = ALSO[plain(title).replace(/[.#]/g, '').trim()];
    const texts = textsOf(i);
    return keys && texts.length > 0 ? [{ i, keys, texts }] : [];
  });
  if (open.length === 0) return headings;
  const mapping = [...headings.mapping];
  for (const { i } of open) mapping[i] = null;
  const taken = new Set(mapping.filter((key) => key !== null));
  const beside = taken.has('universe');
  const offers = open
    .flatMap(({ i, keys, texts }) =>
      keys.map((key, rank) => ({ i, key, score: suits(key, texts, finder, beside) - rank * 0.01 })),
    )
    .filter((offer) => offer.score > 0.15)
    .sort((a, b) => b.score - a.score);
  const settled = new Set<number>();
  for (const { i, key } of offers) {
    if (settled.has(i) || taken.has(key)) continue;
    mapping[i] = key;
    settled.add(i);
    taken.add(key);
  }
  // Where nothing suits, the word alone counts, if nobody has it.
  for (const { i } of open) {
    const word = headings.mapping[i] ?? null;
    if (mapping[i] === null && word !== null && !taken.has(word)) {
      if (word === 'profile' && taken.has('profile')) continue;
      mapping[i] = word;
      taken.add(word);
    }
  }
  return { ...headings, mapping };
}

/** Columns that hold something and are taken for nothing: to be asked about. */
export function untaken({ row, titles, mapping }: Headings, grid: Grid): { index: number; title: string }[] {
  return titles.flatMap((title, index) => {
    const filled = grid.rows.slice(row + 1).some((r) => (r.cells[index] ?? '').trim() !== '');
    return filled && (mapping[index] ?? null) === null && !isWorkedOut(title)
      ? [{ index, title: title.trim() || columnLetters(index) }]
      : [];
  });
}

/** True for columns of our own files that are worked out and not read. */
const isWorkedOut = (title: string): boolean => {
  const key = keyOf(title);
  return key !== null && columnOf(key)?.written === false;
};

/** True where the rows have headings of ours: which sheet of a workbook to read. */
export const hasHeadings = (rows: readonly GridRow[]): boolean => findHeadings({ rows, merges: [] }).row >= 0;
