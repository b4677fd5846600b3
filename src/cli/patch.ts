import { applyChange, documentOf, getRecord, recordsOf, type Document } from '../core/document/change.ts';
import { FaultError, type Fault } from '../core/faults.ts';
import { writeArchive } from '../core/format/archive.ts';
import { GRID_LIMITS } from '../core/format/grid.ts';
import { readProfiles } from '../core/format/profiles.ts';
import { makeId, type UnitId } from '../core/ids.ts';
import { formatAddress, parseAddress, toAbsolute } from '../core/patch/address.ts';
import { membersOf } from '../core/patch/groups.ts';
import { patchOf } from '../core/patch/of-document.ts';
import { packUnits, type Move } from '../core/patch/pack.ts';
import { builtInProfiles } from '../core/profile/library.ts';
import { seeded } from '../core/random.ts';
import { make, type ProfileRecord } from '../core/records/index.ts';
import { UNIT_ORDERS, type UnitOrder } from '../core/records/group.ts';
import { profileSchema } from '../core/records/profile.ts';
import { columnOf } from '../core/sheet/columns.ts';
import { exportCsv, exportXlsx } from '../core/sheet/export.ts';
import { sheetFacts } from '../core/sheet/facts.ts';
import { findHeadings } from '../core/sheet/match.ts';
import { planImport, type PlannedRow, type RowFault } from '../core/sheet/plan.ts';
import { readSheet } from '../core/sheet/read.ts';
import { ProfileFinder } from '../core/sheet/profiles.ts';
import { numberOption, oneWord, unusable, type Arguments, type Command, type CommandTable } from './command.ts';
import { readLimited, readShowFile, writeOut } from './files.ts';

/** Commands about the patch. None needs the database or the engine. */

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

const sheetCheck: Command = {
  usage: 'sheet check FILE.csv|.xlsx [--library FILE]',
  summary: 'Checks a patch sheet row by row, as an import into an empty show would.',
  run: async (args) => {
    const file = oneWord(args, 'FILE', sheetCheck.usage);
    const bytes = await readLimited(file, GRID_LIMITS.fileBytes, 'cut');
    const { grid, faults: fileFaults } = await readSheet(bytes, file);
    if (!grid) throw new FaultError(fileFaults);
    const headings = findHeadings(grid);
    if (headings.row < 0)
      throw unusable(
        'NO_HEADINGS',
        file,
        'no row with headings was found in the first 25',
        grid.rows[0]?.cells.slice(0, 8).join(' | ') ?? '',
        'Put headings over the columns, such as Number, Name, Profile, Mode, Universe, Address.',
      );
    const own = args.options['library'] ? await readLibrary(args.options['library']) : [];
    const random = seeded(1);
    const empty = documentOf([make('show', { id: 'show:check', name: 'Check' })]);
    const plan = planImport(empty, grid, {
      mapping: headings.mapping,
      titles: headings.titles,
      headingRow: headings.row,
      finder: new ProfileFinder([...own, ...builtInProfiles()]),
      newId: (kind) => makeId(kind, random),
      by: '',
      now: 0,
    });
    const document = applyChange(empty, plan.change);
    const found = plan.rows.flatMap((row) => [...row.faults, ...row.warnings]);
    const faults = found.filter((f) => !DOUBTS.has(f.code));
    const warnings = found.filter((f) => DOUBTS.has(f.code));
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

const renumber: Command = {
  usage: `renumber ARCHIVE [OUT.kite] [--dry-run] [--units 1-20,33] [--group NAME] [--order ${UNIT_ORDERS.join('|')}] [--start 1.1] [--gap N] [--block N]`,
  summary: 'Packs the addresses of units in an order. Scenes are untouched.',
  run: async (args) => {
    const [archive, out, extra] = args.words;
    const dry = args.options['dry-run'] !== undefined;
    if (archive === undefined || extra !== undefined || (out === undefined && !dry))
      throw unusable(
        'ARGUMENT_MISSING',
        'ARCHIVE',
        'an archive, and a file to write or --dry-run',
        args.words.length,
        `Usage: ${renumber.usage}`,
      );
    const document = await readShowFile(archive);
    const order = (args.options['order'] ?? 'number') as UnitOrder;
    if (!UNIT_ORDERS.includes(order))
      throw unusable(
        'OPTION_RANGE',
        '--order',
        'there is no such order',
        order,
        `Orders are ${UNIT_ORDERS.join(', ')}.`,
      );
    const start = parseAddress(args.options['start'] ?? '1.1');
    if (!start.ok) throw new FaultError({ ...start.fault, path: '--start' });
    const packing = packUnits(document, chosenUnits(document, args), {
      order,
      start: start.value,
      gap: numberOption(args, 'gap', 0, 511, 0),
      block: numberOption(args, 'block', 0, 512, 0),
    });
    if (!dry && out !== undefined)
      await writeOut(out, writeArchive([...applyChange(document, packing.change).values()]));
    const line = ({ unit, before, after }: Move) => ({
      number: unit.number,
      name: unit.name,
      before: before ? formatAddress(before.universe, before.address) : null,
      after: after ? formatAddress(after.universe, after.address) : null,
    });
    return {
      output: {
        dryRun: dry,
        moves: packing.moves.map(line),
        unplaced: packing.unplaced.map((u) => ({ number: u.number, name: u.name })),
      },
    };
  },
};

/** The units that are named by numbers or by a group; all where nothing is said. */
function chosenUnits(document: Document, args: Arguments): UnitId[] {
  const units = recordsOf(document, 'unit');
  const { units: text, group: name } = args.options;
  if (name !== undefined) {
    const groups = recordsOf(document, 'group');
    const group = groups.find((g) => g.name === name);
    if (!group)
      throw unusable(
        'NO_SUCH_GROUP',
        '--group',
        `there is no group “${name}”`,
        name,
        `Groups are: ${groups.map((g) => g.name).join(', ') || 'none'}.`,
      );
    return membersOf(document, group);
  }
  if (text === undefined) return units.map((u) => u.id);
  const wanted = text.split(',').flatMap((part): [number, number][] => {
    const found = /^\s*(\d{1,5})(?:\s*-\s*(\d{1,5}))?\s*$/.exec(part);
    if (!found)
      throw unusable(
        'OPTION_RANGE',
        '--units',
        `“${part}” is no number of a unit`,
        text,
        'Write numbers such as 1-20,33.',
      );
    return [[Number(found[1]), Number(found[2] ?? found[1])]];
  });
  const found = units.filter((u) => wanted.some(([low, high]) => u.number >= low && u.number <= high));
  if (found.length === 0)
    throw unusable(
      'NO_SUCH_UNIT',
      '--units',
      'no unit has one of these numbers',
      text,
      'Give numbers that the show has.',
    );
  return found.map((u) => u.id);
}

export const PATCH: CommandTable = {
  'sheet check': { command: sheetCheck, options: ['library'] },
  'sheet export': { command: sheetExport, options: [] },
  renumber: { command: renumber, options: ['units', 'group', 'order', 'start', 'gap', 'block', 'dry-run!'] },
};
