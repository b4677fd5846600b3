import Papa from 'papaparse';
import { collector } from './zip.ts';
import { GRID_LIMITS, type GridReading, type GridRow } from './grid.ts';

/**
 * Text of rows and columns as spreadsheets write it (RFC 4180, and with semicolons or tabs): from a file or the
 * clipboard. UTF-8 and UTF-16 with a mark are known by their bytes, anything else is read as Windows-1252.
 */
export function readCsv(bytes: Uint8Array, columnLimit: number = GRID_LIMITS.columns): GridReading {
  if (bytes.length > GRID_LIMITS.fileBytes) {
    const { faults, say } = collector();
    say(
      'FILE_TOO_LARGE',
      '(file)',
      `the file has ${bytes.length} bytes`,
      bytes.length,
      `At most ${GRID_LIMITS.fileBytes} bytes are read.`,
    );
    return { grid: null, sheets: [], sheet: null, faults };
  }
  return parseCsv(decodeText(bytes), undefined, columnLimit);
}

/** Rows of text with a delimiter that is found out; every row keeps the line it begins at. */
export function parseCsv(source: string, delimiter?: '\t', columnLimit: number = GRID_LIMITS.columns): GridReading {
  const { faults, say } = collector();
  // Files have \n, \r\n or \r, and some have them mixed.
  const text = source.replace(/\r\n?/g, '\n');
  const rows: GridRow[] = [];
  if (text.includes('\u0000')) {
    say('NOT_TEXT', '(file)', 'the file is not text', null, 'Export the sheet as CSV or XLSX.');
    return { grid: null, sheets: [], sheet: null, faults };
  }
  let line = 1;
  let at = 0;
  Papa.parse<string[]>(text, {
    delimiter: delimiter ?? guessDelimiter(text),
    newline: '\n',
    step: ({ data, errors, meta }, parser) => {
      const start = line;
      // The cursor stands after the row: the lines between are those the row took, quoted line breaks included.
      for (const end = meta.cursor; at < end; at++) if (text[at] === '\n') line++;
      for (const error of errors)
        if (error.type === 'Quotes')
          say(
            'QUOTES',
            `line ${start}`,
            'a quotation mark is not closed',
            data[0] ?? '',
            'Close it, or double those inside.',
          );
      if (data.length > columnLimit) {
        say('TOO_MANY_COLUMNS', `line ${start}`, `${data.length} columns`, data.length, `At most ${columnLimit}.`);
        return parser.abort();
      }
      if (rows.length >= GRID_LIMITS.rows) {
        say('TOO_MANY_ROWS', `line ${start}`, `more than ${GRID_LIMITS.rows} rows`, rows.length, 'Split the file.');
        return parser.abort();
      }
      rows.push({ line: start, cells: data.map(unguard) });
    },
  });
  // A file ends with a line break: what comes after it is no row.
  const last = rows.at(-1);
  if (last?.cells.length === 1 && last.cells[0] === '') rows.pop();
  return { grid: { rows, merges: [], untyped: true }, sheets: [], sheet: null, faults };
}

/** Spreadsheets write commas, semicolons or tabs: the one that gives the first rows columns most evenly. */
function guessDelimiter(text: string): string {
  let best = { delimiter: ',', score: 0 };
  for (const delimiter of ['\t', ';', ',', '|']) {
    const { data } = Papa.parse<string[]>(text.slice(0, 20_000), { delimiter, newline: '\n', preview: 20 });
    const counts = data.filter((row) => row.some((cell) => cell.trim() !== '')).map((row) => row.length - 1);
    for (const count of new Set(counts)) {
      const share = counts.filter((other) => other === count).length / counts.length;
      const score = share ** 3 * Math.min(count, 6);
      if (score > best.score + 1e-9) best = { delimiter, score };
    }
  }
  return best.delimiter;
}

export function decodeText(bytes: Uint8Array): string {
  const [a, b, c] = bytes;
  if (a === 0xff && b === 0xfe) return new TextDecoder('utf-16le').decode(bytes.subarray(2));
  if (a === 0xfe && b === 0xff) return new TextDecoder('utf-16be').decode(bytes.subarray(2));
  const body = a === 0xef && b === 0xbb && c === 0xbf ? bytes.subarray(3) : bytes;
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(body);
  } catch {
    return new TextDecoder('windows-1252').decode(body);
  }
}

/** What a spreadsheet would take for a formula and carry out. A plain number may begin with a sign. */
const FORMULA = /^[=+\-@\t\r]/;
const PLAIN_NUMBER = /^[+-]?\d+([.,]\d+)?$/;

/** Text that no spreadsheet executes: a formula gets an apostrophe before it, which `unguard` takes off again. */
export const guard = (text: string): string =>
  (FORMULA.test(text) && !PLAIN_NUMBER.test(text)) || /^'[='+\-@\t\r]/.test(text) ? `'${text}` : text;

export const unguard = (text: string): string => (/^'[='+\-@\t\r]/.test(text) ? text.slice(1) : text);

/** Rows as CSV (RFC 4180: commas, CRLF), with a mark that tells spreadsheets it is UTF-8. Formulas are made harmless. */
export const writeCsv = (rows: readonly (readonly string[])[]): Uint8Array =>
  new TextEncoder().encode(`\ufeff${Papa.unparse(rows.map((r) => r.map(guard)))}\r\n`);

/** Rows as the clipboard of a spreadsheet has them: tabs and line breaks, quoted where a text has one of them. */
export const writeTabs = (rows: readonly (readonly string[])[]): string =>
  Papa.unparse(
    rows.map((r) => r.map(guard)),
    { delimiter: '\t', newline: '\n' },
  );
