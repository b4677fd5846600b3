import { strFromU8 } from 'fflate';
import readWorkbook from 'read-excel-file/universal';
import writeWorkbook from 'write-excel-file/universal';
import type { Fault } from '../faults.ts';
import { columnIndex, GRID_LIMITS, type GridReading, type GridRow, type Merge } from './grid.ts';
import { collector, unpackZip, type Say } from './zip.ts';

/** What marks a number among the texts the reader hands over. */
const NUMBER = '\u0001';
const WANTED =
  /^(\[Content_Types\]\.xml|_rels\/\.rels|xl\/(workbook|styles|sharedStrings)\.xml|xl\/_rels\/.*|xl\/worksheets\/[^/]+\.xml)$/i;

/**
 * A workbook (ECMA-376, .xlsx). It is unpacked once under limits - a bomb stops there - and looked over for what the
 * reader does not tell: how far its cells reach, merged cells, formulas that failed. Then a library reads it.
 * `sheet` names the one to read; without it, the first in which `suits` finds what it looks for, else the first.
 */
export async function readXlsx(
  file: Uint8Array,
  options: { sheet?: string; suits?: (rows: readonly GridRow[]) => boolean } = {},
): Promise<GridReading> {
  const { faults, say } = collector();
  const nothing = { grid: null, sheets: [], sheet: null, faults };
  const members = unpackZip(file, say, {
    fileBytes: GRID_LIMITS.fileBytes,
    unpackedBytes: GRID_LIMITS.unpackedBytes,
    members: 2000,
    what: 'a spreadsheet saved as .xlsx',
    want: (name) => (WANTED.test(name) ? Infinity : 'skip'),
    rule: '',
  });
  if (!members || faults.length > 0) return nothing;
  if (![...members].every(([name, bytes]) => soundSheet(name, bytes, say))) return nothing;
  let sheets: { sheet: string; data: readonly (readonly unknown[])[] }[];
  try {
    sheets = await readWorkbook(new Blob([file as Uint8Array<ArrayBuffer>]), {
      parseNumber: (text: string) => NUMBER + text,
      trim: false,
    } as never);
  } catch (error) {
    say(
      'NOT_A_WORKBOOK',
      '(file)',
      `not a workbook that can be read (${(error as Error).message.slice(0, 100)})`,
      null,
      'Save the sheet as .xlsx, or export it as CSV.',
    );
    return nothing;
  }
  const read = sheets.map(({ sheet, data }) => ({ sheet, rows: data.map(toRow) }));
  const chosen = options.sheet
    ? read.find((s) => s.sheet === options.sheet)
    : (read.find((s) => options.suits?.(s.rows)) ?? read[0]);
  const names = read.map((s) => s.sheet);
  if (!chosen) {
    say(
      'NO_SUCH_SHEET',
      '(file)',
      `there is no sheet “${options.sheet ?? ''}”`,
      options.sheet ?? null,
      `Sheets are: ${names.join(', ') || 'none'}.`,
    );
    return { ...nothing, sheets: names };
  }
  const xml = sheetXml(members, read.indexOf(chosen));
  return {
    grid: { rows: chosen.rows, merges: xml ? mergesIn(xml) : [] },
    sheets: names,
    sheet: chosen.sheet,
    faults: [...faults, ...(xml ? failedFormulas(xml) : [])],
  };
}

function toRow(cells: readonly unknown[], index: number): GridRow {
  const numbers = new Set<number>();
  const texts = cells.map((cell, column) => {
    if (cell === null || cell === undefined) return '';
    if (cell instanceof Date) return cell.toISOString().slice(0, 10);
    if (typeof cell === 'boolean') return cell ? 'yes' : 'no';
    const text = String(cell);
    if (!text.startsWith(NUMBER)) return text.slice(0, GRID_LIMITS.cellCharacters);
    numbers.add(column);
    return plainNumber(text.slice(1));
  });
  return { line: index + 1, cells: texts, ...(numbers.size > 0 ? { numbers } : {}) };
}

/** `3.1000000000000001` and `1E2` as a person would write them. */
function plainNumber(text: string): string {
  const value = Number(text);
  if (!Number.isFinite(value)) return text;
  return /^-?\d+(\.\d{1,10})?$/.test(text) ? text : String(Math.round(value * 1e9) / 1e9);
}

/** A sheet whose cells reach far enough to fill the memory is refused before it is read. */
function soundSheet(name: string, bytes: Uint8Array, say: Say): boolean {
  if (!/worksheets\//i.test(name)) return true;
  const xml = strFromU8(bytes);
  for (const found of xml.matchAll(/<(?:\w+:)?(?:row|c)\b[^>]*?\sr="([A-Z]{0,4})(\d{1,9})"/g)) {
    const [, letters, row] = found;
    if (Number(row) > GRID_LIMITS.rows && hasContent(xml, found.index)) {
      say(
        'TOO_MANY_ROWS',
        `${name} row ${row}`,
        `cells reach to row ${row}`,
        Number(row),
        `At most ${GRID_LIMITS.rows} rows are read: delete those below.`,
      );
      return false;
    }
    if (letters && columnIndex(letters) >= GRID_LIMITS.columns) {
      say(
        'TOO_MANY_COLUMNS',
        `${name} cell ${letters}${row}`,
        `cells reach to column ${letters}`,
        letters,
        `At most ${GRID_LIMITS.columns} columns are read: delete those to the right.`,
      );
      return false;
    }
  }
  return true;
}

/** True unless the element that begins here is empty: `<row r="9"/>`. */
const hasContent = (xml: string, at: number): boolean => xml[xml.indexOf('>', at) - 1] !== '/';

/** The XML of a sheet by its place in the workbook. */
function sheetXml(members: ReadonlyMap<string, Uint8Array>, index: number): string | null {
  const workbook = members.get('xl/workbook.xml');
  const links = members.get('xl/_rels/workbook.xml.rels');
  if (!workbook || !links) return null;
  const id = [...strFromU8(workbook).matchAll(/<(?:\w+:)?sheet\b[^>]*?\s\w+:id="([^"]+)"/g)][index]?.[1];
  const link = [...strFromU8(links).matchAll(/<(?:\w+:)?Relationship\b[^>]*>/g)]
    .map((m) => m[0])
    .find((l) => id && l.includes(`Id="${id}"`));
  const target = link && /Target="\/?(?:xl\/)?([^"]+)"/.exec(link)?.[1];
  const bytes = target && members.get(`xl/${target}`);
  return bytes ? strFromU8(bytes) : null;
}

function mergesIn(xml: string): Merge[] {
  const merges: Merge[] = [];
  for (const [, a, b, c, d] of xml.matchAll(
    /<(?:\w+:)?mergeCell\b[^>]*?\sref="([A-Z]{1,3})(\d{1,7}):([A-Z]{1,3})(\d{1,7})"/g,
  )) {
    if (merges.length >= 5000) break;
    merges.push({ fromColumn: columnIndex(a!), fromLine: Number(b), toColumn: columnIndex(c!), toLine: Number(d) });
  }
  return merges;
}

/** Cells whose formula came to an error: the reader leaves them empty. */
function failedFormulas(xml: string): Fault[] {
  const faults: Fault[] = [];
  for (const [, head, value] of xml.matchAll(/<(?:\w+:)?c\b([^>]*?\st="e"[^>]*)>.*?<(?:\w+:)?v>([^<]*)</gs)) {
    const at = /\sr="([A-Z]+\d+)"/.exec(head!)?.[1] ?? '?';
    if (faults.length < 20)
      faults.push({
        code: 'FORMULA_FAILED',
        path: at,
        message: `the formula in ${at} comes to ${value!.slice(0, 20)}`,
        received: value!.slice(0, 20),
        remedy: 'Mend the formula, or type the value.',
      });
  }
  return faults;
}

/** A workbook of one sheet: the first row is the heading. Cells are numbers where `numeric` says so, else text. */
export async function writeXlsx(
  rows: readonly (readonly string[])[],
  options: { sheet: string; numeric: readonly boolean[]; widths: readonly number[] },
): Promise<Uint8Array> {
  const data = rows.map((row, r) =>
    row.map((text, c) => {
      if (r === 0) return { value: text, type: String, fontWeight: 'bold' as const };
      const number = options.numeric[c] && /^-?\d+(\.\d+)?$/.test(text) ? Number(text) : null;
      if (number !== null) return { value: number, type: Number };
      return text === '' ? null : { value: text, type: String, format: '@' };
    }),
  );
  const blob = await writeWorkbook(
    data as never,
    {
      sheet: options.sheet.slice(0, 31),
      columns: options.widths.map((width) => ({ width })),
      stickyRowsCount: 1,
    } as never,
  ).toBlob();
  return new Uint8Array(await blob.arrayBuffer());
}
