import { readCsv } from '../format/csv.ts';
import type { GridReading } from '../format/grid.ts';
import { readXlsx } from '../format/xlsx.ts';
import { hasHeadings } from './match.ts';

/**
 * Reads a file as a table: a workbook by its first bytes or its name, anything else as CSV. Of a workbook `sheet` is
 * read; without it the first sheet that has headings we know.
 */
export async function readSheet(bytes: Uint8Array, name: string, sheet?: string): Promise<GridReading> {
  const workbook = (bytes[0] === 0x50 && bytes[1] === 0x4b) || /\.xlsx$/i.test(name);
  return workbook ? readXlsx(bytes, sheet ? { sheet } : { suits: hasHeadings }) : readCsv(bytes);
}
