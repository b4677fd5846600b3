import type { Fault } from '../faults.ts';
import { parseCsv, readCsv } from './csv.ts';
import type { GridReading } from './grid.ts';
import { GRID_SIDE, readDrawnGrid, type DrawnGrid } from '../records/grid.ts';

/** A little more than the grid may have, so that the grid says itself that it is too large. */
const COLUMNS_READ = GRID_SIDE * 4;

export interface GridText {
  readonly grid: DrawnGrid | null;
  readonly faults: readonly Fault[];
}

/** A drawn grid as it is pasted from a spreadsheet, or typed with commas or semicolons. Throws FaultError beyond 400 x 400. */
export const readGridText = (text: string): GridText =>
  drawn(parseCsv(text, text.includes('\t') ? '\t' : undefined, COLUMNS_READ));

/** The same from a CSV file. */
export const readGridFile = (bytes: Uint8Array): GridText => drawn(readCsv(bytes, COLUMNS_READ));

function drawn({ grid, faults }: GridReading): GridText {
  if (!grid || faults.length > 0) return { grid: null, faults };
  // Lines that are empty were passed over by the reader, but they are rows of the drawing.
  const block: string[][] = [];
  for (const { line, cells } of grid.rows) block[line - 1] = [...cells];
  return { grid: readDrawnGrid(Array.from(block, (row) => row ?? [])), faults: [] };
}
