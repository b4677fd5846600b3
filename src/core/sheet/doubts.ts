import type { Fault } from '../faults.ts';
import type { GridRow, Merge } from '../format/grid.ts';
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

/** Readings that may be meant otherwise: a spreadsheet stores the number 3.10 as 3.1. */
export function doubtsOf(row: GridRow, cells: Cells): Fault[] {
  const faults: Fault[] = [];
  for (const key of ['patch', 'expected']) {
    const cell = cells.get(key);
    const parts = cell && row.numbers?.has(cell.index) ? /^(\d+)\.(\d{1,2})$/.exec(cell.text.trim()) : null;
    if (!cell || !parts || Number(`${parts[2]}0`) > 512) continue;
    faults.push(
      cellFault(
        key,
        'ADDRESS_AMBIGUOUS',
        `the cell holds the number ${cell.text}, which may have been typed as ${cell.text}0`,
        cell.text,
        'Format the column as text, or give universe and address in two columns.',
      ),
    );
  }
  return faults;
}
