import { recordsOf, type Document } from '../document/change.ts';
import { writeCsv } from '../format/csv.ts';
import { writeXlsx } from '../format/xlsx.ts';
import { orderUnits } from '../patch/order.ts';
import type { UnitRecord } from '../records/index.ts';
import { columnOf } from './columns.ts';
import { sheetFacts } from './facts.ts';

/**
 * Columns of a file that comes back as it went. The address stands in two whole numbers: a spreadsheet makes 3.1 of
 * 3.10 and a date of 3/10.
 */
export const FILE_COLUMNS: readonly string[] = [
  'number',
  'name',
  'profile',
  'mode',
  'universe',
  'slot',
  'absolute',
  'last',
  'follows',
  'footprint',
  'expected',
  'switches',
  'menu',
  'output',
  'line',
  'place',
  'port',
  'groups',
  'area',
  'tag',
  'x',
  'y',
  'z',
  'notes',
  'done',
  'doneBy',
  'doneAt',
  'state',
];

/** Heading and rows as texts. */
export function sheetRows(document: Document, units: readonly UnitRecord[], keys: readonly string[]): string[][] {
  const facts = sheetFacts(document);
  const columns = keys.flatMap((key) => columnOf(key) ?? []);
  return [columns.map((c) => c.title), ...units.map((unit) => columns.map((c) => c.text(facts, unit)))];
}

/** All units by number as a CSV file. */
export const exportCsv = (document: Document, keys = FILE_COLUMNS): Uint8Array =>
  writeCsv(sheetRows(document, orderUnits(document, recordsOf(document, 'unit'), 'number'), keys));

/** Columns that are whole or decimal numbers in a workbook; an address is text, or 3.10 would become 3.1. */
const NUMBERS = new Set(['number', 'universe', 'slot', 'absolute', 'footprint', 'place', 'x', 'y', 'z']);

/** All units by number as a workbook with one sheet. */
export function exportXlsx(document: Document, keys = FILE_COLUMNS): Promise<Uint8Array> {
  const rows = sheetRows(document, orderUnits(document, recordsOf(document, 'unit'), 'number'), keys);
  const widths = rows[0]!.map((_, c) => Math.min(40, Math.max(6, ...rows.slice(0, 200).map((r) => r[c]!.length + 2))));
  return writeXlsx(rows, { sheet: 'Patch', numeric: keys.map((k) => NUMBERS.has(k)), widths });
}
