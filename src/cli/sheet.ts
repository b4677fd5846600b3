import { applyChange, documentOf, getRecord, recordsOf, type Document } from '../core/document/change.ts';
import { FaultError, type Fault } from '../core/faults.ts';
import { GRID_LIMITS } from '../core/format/grid.ts';
import { readProfiles } from '../core/format/profiles.ts';
import { makeId } from '../core/ids.ts';
import { formatAddress, toAbsolute } from '../core/patch/address.ts';
import { patchOf } from '../core/patch/of-document.ts';
import { builtInProfiles } from '../core/profile/library.ts';
import { seeded } from '../core/random.ts';
import { make, type ProfileRecord } from '../core/records/index.ts';
import { profileSchema } from '../core/records/profile.ts';
import { columnOf, SHEET_COLUMNS } from '../core/sheet/columns.ts';
import { exportCsv, exportXlsx } from '../core/sheet/export.ts';
import { sheetFacts } from '../core/sheet/facts.ts';
import { findHeadings, matchByValues, untaken, type Headings } from '../core/sheet/match.ts';
import { planImport, type PlannedRow, type RowFault } from '../core/sheet/plan.ts';
import { readSheet } from '../core/sheet/read.ts';
import { ProfileFinder } from '../core/sheet/profiles.ts';
import { oneWord, unusable, type Command, type CommandTable } from './command.ts';
import { readLimited, readShowFile, writeOut } from './files.ts';

/** Commands about patch sheets. None needs the database or the engine. */

/** Profiles of a `.kitepro` file, of a show archive, or of JSON (a profile, or a list of them). */
async function readLibrary(file: string): Promise<readonly ProfileRecord[]> {
  const limit = 64 * 1024 * 1024;
  if (/\.kite$/i.test(file)) return recordsOf(await readShowFile(file), 'profile');
  const bytes = await readLimited(file, limit);
  if (bytes[0] === 0x50 && bytes[1] === 0x4b) {
    const { profiles, faults } = readProfiles(bytes);
    if (faults.length > 0) throw new FaultError(faults);
    return profiles;
  }
  let json: unknown;
  try {
    json = JSON.parse(new TextDecoder().decode(bytes));
  } catch (error) {
    const remedy = 'Give a .kitepro file, a .kite archive, or JSON of profiles.';
    throw unusable('NOT_A_LIBRARY', file, (error as Error).message.slice(0, 200), file, remedy);
  }
  const list = Array.isArray(json) ? json : [(json as { profile?: unknown } | null)?.profile ?? json];
  return list.map((item, i) => {
    const parsed = profileSchema.safeParse(item);
    if (parsed.success) return parsed.data;
    const [issue] = parsed.error.issues;
    const path = `${file}.${i}.${issue?.path.join('.') ?? ''}`;
    throw unusable(
      'BAD_PROFILE',
      path,
      issue?.message ?? 'not a profile',
      i,
      'Give profiles as Amber Kite writes them.',
    );
  });
}

/** The row as it was understood: what the unit would be. */
function rowOf(document: Document, row: PlannedRow): Record<string, unknown> {
  const unit = row.unitId && row.does !== 'refused' ? getRecord(document, 'unit', row.unitId) : undefined;
  if (!unit) return { row: row.row, ok: false, number: row.number, name: row.name };
  const facts = sheetFacts(document);
  const spans = patchOf(document).get(unit.id)?.spans ?? [];
  const [first, last] = [spans[0], spans.at(-1)];
  return {
    row: row.row,
    ok: row.warnings.length === 0,
    number: unit.number,
    name: unit.name,
    profile: columnOf('profile')!.text(facts, unit),
    mode: columnOf('mode')!.text(facts, unit),
    footprint: facts.layout(unit).footprint,
    universe: first?.universe ?? null,
    address: first?.from ?? null,
    absolute: first ? toAbsolute(first.universe, first.from, 512) : null,
    last: last ? formatAddress(last.universe, last.to) : null,
  };
}

/** Doubts that a person may look at, but that do not make the sheet wrong. */
const DOUBTS: ReadonlySet<string> = new Set(['ADDRESS_AMBIGUOUS', 'NO_ADDRESS']);

const asFault = ({ row, column, value, ...fault }: RowFault): Fault => ({
  ...fault,
  path: `row ${row}, ${column}`,
  received: value,
});

const COLUMN_KEYS = ['maker', 'footprint', ...SHEET_COLUMNS.filter((c) => c.written).map((c) => c.key)];

const unknownColumn = (row: number, title: string): RowFault => ({
  row: row + 1,
  column: title,
  value: title,
  code: 'COLUMN_UNKNOWN',
  message: 'this column holds something and is not taken',
  remedy: `Say what it is with --columns "${title}=COLUMN", one of ${COLUMN_KEYS.join(', ')}; or leave it.`,
});

/** What is said on the command line of columns whose headings are not known. */
function withColumns(headings: Headings, said: string | undefined): Headings {
  if (said === undefined) return headings;
  const mapping = Array.from(headings.titles, (_, i) => headings.mapping[i] ?? null);
  for (const pair of said.split(',')) {
    const at = pair.lastIndexOf('=');
    const [title, key] = [pair.slice(0, at).trim(), pair.slice(at + 1).trim()];
    const index = headings.titles.findIndex((t) => t.trim().toLowerCase() === title.toLowerCase());
    if (at < 0 || index < 0)
      throw unusable(
        'NO_SUCH_COLUMN',
        '--columns',
        `there is no column “${title}”`,
        pair,
        `There are: ${headings.titles.join(', ')}.`,
      );
    if (!COLUMN_KEYS.includes(key))
      throw unusable(
        'NO_SUCH_COLUMN',
        '--columns',
        `“${key}” is no column of ours`,
        pair,
        `Give one of ${COLUMN_KEYS.join(', ')}.`,
      );
    mapping.forEach((old, i) => {
      if (old === key) mapping[i] = null;
    });
    mapping[index] = key;
  }
  return { ...headings, mapping };
}

const sheetCheck: Command = {
  usage: 'sheet check FILE.csv|.xlsx [--library FILE] [--columns "HEADING=COLUMN,..."]',
  summary: 'Checks a patch sheet row by row, as an import into an empty show would.',
  run: async (args) => {
    const file = oneWord(args, 'FILE', sheetCheck.usage);
    const bytes = await readLimited(file, GRID_LIMITS.fileBytes, 'cut');
    const { grid, faults: fileFaults } = await readSheet(bytes, file);
    if (!grid) throw new FaultError(fileFaults);
    const found = findHeadings(grid);
    if (found.row < 0)
      throw unusable(
        'NO_HEADINGS',
        file,
        'no row with headings was found in the first 25',
        grid.rows[0]?.cells.slice(0, 8).join(' | ') ?? '',
        'Put headings over the columns, such as Number, Name, Profile, Mode, Universe, Address.',
      );
    const own = args.options['library'] ? await readLibrary(args.options['library']) : [];
    const finder = new ProfileFinder([...own, ...builtInProfiles()]);
    const headings = withColumns(matchByValues(found, grid, finder), args.options['columns']);
    const random = seeded(1);
    const empty = documentOf([make('show', { id: 'show:check', name: 'Check' })]);
    const plan = planImport(empty, grid, {
      mapping: headings.mapping,
      titles: headings.titles,
      headingRow: headings.row,
      finder,
      newId: (kind) => makeId(kind, random),
      by: '',
      now: 0,
    });
    const document = applyChange(empty, plan.change);
    const told = plan.rows.flatMap((row) => [...row.faults, ...row.warnings]);
    const faults = told.filter((f) => !DOUBTS.has(f.code));
    const asked = untaken(headings, grid).map((c) => unknownColumn(found.row, c.title));
    const warnings = [...asked, ...told.filter((f) => DOUBTS.has(f.code))];
    const ofFile = fileFaults.map((f): RowFault => ({
      row: Number(/\d+/.exec(f.path)?.[0] ?? 0),
      column: f.path,
      value: String(f.received ?? ''),
      code: f.code,
      message: f.message,
      remedy: f.remedy,
    }));
    const all = [...ofFile, ...faults];
    return {
      output: { rows: plan.rows.map((row) => rowOf(document, row)), faults: all, warnings },
      faults: all.map(asFault),
    };
  },
};

const sheetExport: Command = {
  usage: 'sheet export ARCHIVE OUT.csv|.xlsx',
  summary: 'Writes the patch of a show archive as a sheet.',
  run: async ({ words }) => {
    const [archive, out, extra] = words;
    if (archive === undefined || out === undefined || extra !== undefined)
      throw unusable(
        'ARGUMENT_MISSING',
        'ARCHIVE OUT',
        'two files are expected',
        words.length,
        `Usage: ${sheetExport.usage}`,
      );
    const kind = /\.(csv|xlsx)$/i.exec(out)?.[1]?.toLowerCase();
    if (!kind)
      throw unusable('UNKNOWN_FORMAT', out, 'neither .csv nor .xlsx', out, 'Name a file that ends with .csv or .xlsx.');
    const document = await readShowFile(archive);
    const bytes = kind === 'csv' ? exportCsv(document) : await exportXlsx(document);
    await writeOut(out, bytes);
    return { output: { ok: true, file: out, bytes: bytes.length, rows: recordsOf(document, 'unit').length } };
  },
};

export const SHEET: CommandTable = {
  'sheet check': { command: sheetCheck, options: ['library', 'columns'] },
  'sheet export': { command: sheetExport, options: [] },
};
