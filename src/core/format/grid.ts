import type { Fault } from '../faults.ts';

/** A table from a file or the clipboard: texts, and where each row stands there. */
export interface Grid {
  readonly rows: readonly GridRow[];
  readonly merges: readonly Merge[];
  /** True where the file does not tell numbers from text (CSV): 3.1 may have been 3.10 before it was written. */
  readonly untyped?: boolean;
}

export interface GridRow {
  /** The line of the file, or the row as the spreadsheet numbers it; counted from 1. */
  readonly line: number;
  readonly cells: readonly string[];
  /** Columns (from 0) in which the file holds a number, not text: `3.10` is stored as 3.1 there. */
  readonly numbers?: ReadonlySet<number>;
}

/** Cells that were merged into one: only the first keeps a text. Rows as in `line`, columns from 0, ends included. */
export interface Merge {
  readonly fromLine: number;
  readonly toLine: number;
  readonly fromColumn: number;
  readonly toColumn: number;
}

export interface GridReading {
  /** Null where the file cannot be used at all. */
  readonly grid: Grid | null;
  /** Names of the sheets of a workbook; the one that was read is `sheet`. */
  readonly sheets: readonly string[];
  readonly sheet: string | null;
  readonly faults: readonly Fault[];
}

export const GRID_LIMITS = {
  fileBytes: 16 * 1024 * 1024,
  unpackedBytes: 96 * 1024 * 1024,
  rows: 20_000,
  columns: 256,
  cellCharacters: 32_767,
} as const;

/** `A` for 0, `AA` for 26: how spreadsheets name a column. */
export function columnLetters(index: number): string {
  let text = '';
  for (let n = index + 1; n > 0; n = Math.floor((n - 1) / 26)) text = String.fromCharCode(65 + ((n - 1) % 26)) + text;
  return text;
}

/** The other way round: `AA` is 26. */
export const columnIndex = (letters: string): number =>
  [...letters.toUpperCase()].reduce((n, c) => n * 26 + c.charCodeAt(0) - 64, 0) - 1;
