import type { Fault } from '../faults.ts';
import type { Grid, GridRow, Merge } from '../format/grid.ts';
import { cellFault } from './write.ts';

/** The cells of a row that are taken, by our column: their text, and the column of the file they stand in. */
export type Cells = ReadonlyMap<string, { readonly text: string; readonly index: number }>;

/** A merged cell has its text only in its first row: the others would be read as empty. */
export function mergedCells(merges: readonly Merge[], row: GridRow, cells: Cells): Fault[] {
  const faults: Fault[] = [];
  for (const merge of merges) {
    if (row.line < merge.fromLine || row.line > merge.toLine) continue;
    for (const [key, { index, text }] of cells) {
      if (
        index < merge.fromColumn ||
        index > merge.toColumn ||
        (row.line === merge.fromLine && index === merge.fromColumn)
      )
        continue;
      const where =
        merge.fromLine === merge.toLine ? `row ${merge.fromLine}` : `rows ${merge.fromLine} to ${merge.toLine}`;
      faults.push(
        cellFault(
          key,
          'MERGED_CELLS',
          `this cell is merged over ${where}, so it has no value of its own`,
          text,
          'Take the merging off in the spreadsheet and give each row its value.',
        ),
      );
    }
  }
  return faults;
}

/**
 * Columns whose decimals are whole texts: somewhere in them a last zero was kept (`3.10`), so that nobody made numbers
 * of them. Only asked of files that do not tell numbers from text.
 */
export function columnsKeepingZeros(grid: Grid): ReadonlySet<number> {
  const found = new Set<number>();
  for (const { cells } of grid.rows)
    cells.forEach((text, index) => {
      if (/^\s*\d+\.\d*0\s*$/.test(text)) found.add(index);
    });
  return found;
}

/** Readings that may be meant otherwise: a spreadsheet stores the number 3.10 as 3.1. */
export function doubtsOf(grid: Grid, row: GridRow, cells: Cells, keepZeros: ReadonlySet<number>): Fault[] {
  const faults: Fault[] = [];
  const said = (key: string): boolean => (cells.get(key)?.text.trim() ?? '') !== '';
  for (const key of ['patch', 'expected']) {
    const cell = cells.get(key);
    const isNumber = cell && (grid.untyped ? !keepZeros.has(cell.index) : row.numbers?.has(cell.index));
    const parts = isNumber ? /^(\d+)\.(\d{1,2})$/.exec(cell.text.trim()) : null;
    if (!cell || !parts || Number(`${parts[2]}0`) > 512) continue;
    // Said a second time in whole numbers, it is not in doubt; where the two differ the row is refused.
    if (key === 'patch' && ((said('universe') && said('slot')) || said('absolute'))) continue;
    const written = grid.untyped ? 'it reads' : 'the cell holds the number';
    faults.push(
      cellFault(
        key,
        'ADDRESS_AMBIGUOUS',
        `${written} ${cell.text}, which may have been typed as ${cell.text}0`,
        cell.text,
        'Format the column as text, or give universe and address in two columns.',
      ),
    );
  }
  return faults;
}
