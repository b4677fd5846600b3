import { effective, getRecord, type ChangeSet, type Document } from '../document/change.ts';
import { shorten, type Fault } from '../faults.ts';
import { readWhole } from '../numbers.ts';
import type { UnitId } from '../ids.ts';
import { columnLetters, type Grid, type GridRow } from '../format/grid.ts';
import { freeNumbers } from '../naming.ts';
import type { ProfileRecord, UnitRecord } from '../records/index.ts';
import { columnOf } from './columns.ts';
import type { NewId, SheetDraft } from './draft.ts';
import { writeContext } from './edit.ts';
import { sheetFacts } from './facts.ts';
import { columnsKeepingZeros, doubtsOf, mergedCells, type Cells } from './doubts.ts';
import { isDate, spansApart } from './spans.ts';
import { Identities } from './identify.ts';
import type { Mapping } from './match.ts';
import { findModeByText, type ProfileFinder } from './profiles.ts';
import { cellFault, nameFault, WRITERS, type WriteContext } from './write.ts';

/** What is wrong with one cell of a file: the row as the file numbers it, the column by its heading, and the way out. */
export interface RowFault {
  readonly row: number;
  readonly column: string;
  readonly value: string;
  readonly code: string;
  readonly message: string;
  readonly remedy: string;
}

export interface PlannedRow {
  readonly row: number;
  readonly does: 'add' | 'change' | 'same' | 'refused';
  /** Null for a row that is refused before it is known which unit it is. */
  readonly unitId: UnitId | null;
  readonly number: string;
  readonly name: string;
  /** What changes, by our column, before and after; all that is given for a new unit. */
  readonly changes: readonly { readonly column: string; readonly before: string; readonly after: string }[];
  /** Why it is refused. */
  readonly faults: readonly RowFault[];
  /** What does not stop it: doubtful readings, and clashes it would make. */
  readonly warnings: readonly RowFault[];
  /** The profile as it is written, where it is not known. */
  readonly unknownProfile: string | null;
}

export interface ImportPlan {
  readonly rows: readonly PlannedRow[];
  /** All of it as one edit: what is refused is not in it. */
  readonly change: ChangeSet;
  readonly counts: { readonly add: number; readonly change: number; readonly same: number; readonly refused: number };
}

export interface PlanOptions {
  readonly mapping: Mapping;
  readonly titles: readonly string[];
  /** Place of the heading row; rows up to it are not data. -1 where there is none. */
  readonly headingRow: number;
  readonly finder: ProfileFinder;
  /** Profiles chosen for names that are not known, by the name as it is written. */
  readonly choices?: ReadonlyMap<string, ProfileRecord>;
  /** True where an empty cell takes away what a unit has; otherwise it says nothing. */
  readonly clearEmpty?: boolean;
  readonly newId: NewId;
  readonly by: string;
  readonly now: number;
}

/** Columns that name something else are written last: by then the unit itself is known to be sound. */
const ORDER = [
  'number',
  'name',
  'mode',
  'follows',
  'expected',
  'x',
  'y',
  'z',
  'notes',
  'area',
  'tag',
  'groups',
  'line',
  'place',
  'port',
  'done',
];

/**
 * What an import would do, row by row: which units it would add, change or leave alone, and which rows it refuses and
 * why. A row is one unit: the one with its number, else the one with its name, else a new one. A refused row changes
 * nothing. Empty cells say nothing, unless `clearEmpty` has them take away what may be taken away.
 */
export function planImport(document: Document, grid: Grid, options: PlanOptions): ImportPlan {
  return new Planner(document, grid, options).plan();
}

class Planner {
  readonly #document: Document;
  readonly #grid: Grid;
  readonly #options: PlanOptions;
  readonly #draft: SheetDraft;
  readonly #context: WriteContext;
  readonly #identities: Identities;
  readonly #keepZeros: ReadonlySet<number>;

  constructor(document: Document, grid: Grid, options: PlanOptions) {
    this.#document = document;
    this.#grid = grid;
    this.#options = options;
    this.#context = writeContext(document, options);
    this.#draft = this.#context.draft;
    this.#keepZeros = grid.untyped ? columnsKeepingZeros(grid) : new Set();
    const given = this.#data().flatMap((row) => readWhole(this.#cells(row).get('number')?.text ?? '') ?? []);
    this.#identities = new Identities(this.#draft.units, given);
  }

  #data(): GridRow[] {
    return this.#grid.rows.slice(this.#options.headingRow + 1).filter((r) => r.cells.some((c) => c.trim() !== ''));
  }

  #cells(row: GridRow): Cells {
    const cells = new Map<string, { text: string; index: number }>();
    this.#options.mapping.forEach((key, index) => {
      if (key !== null && (WRITERS[key] || key === 'maker' || key === 'footprint'))
        cells.set(key, { text: row.cells[index] ?? '', index });
    });
    return spansApart(cells);
  }

  plan(): ImportPlan {
    const taken = this.#data().map((row) => this.#take(row));
    const change = effective(this.#document, this.#draft.change());
    const after = this.#draft.document();
    const rows = taken.map((row) => this.#finish(row, after));
    const count = (does: PlannedRow['does']): number => rows.filter((r) => r.does === does).length;
    return {
      rows,
      change,
      counts: { add: count('add'), change: count('change'), same: count('same'), refused: count('refused') },
    };
  }

  #take(row: GridRow): PlannedRow & { cells: Cells } {
    const cells = this.#cells(row);
    const title = (key: string): string => this.#title(cells.get(key)?.index, key);
    const asFault = (fault: Fault): RowFault => ({
      row: row.line,
      column: title(fault.path),
      value: String(shorten(cells.get(fault.path)?.text ?? '')),
      code: fault.code,
      message: fault.message,
      remedy: fault.remedy,
    });
    const warnings: RowFault[] = doubtsOf(this.#grid, row, cells, this.#keepZeros).map(asFault);
    let unit: UnitRecord | null = null;
    let isNew = false;
    const faults = this.#draft.attempt<Fault>(() => {
      const merged = mergedCells(this.#grid.merges, row, cells);
      if (merged.length > 0) return merged;
      const found = this.#identities.find(
        row.line,
        cells.get('number')?.text.trim() ?? '',
        cells.get('name')?.text.trim() ?? '',
      );
      if ('fault' in found) {
        const profile = this.#profileText(cells) === '' ? null : this.#profile(cells);
        return profile && 'fault' in profile ? [found.fault, profile.fault] : [found.fault];
      }
      if (found.unit) unit = found.unit;
      else {
        const made = this.#make(cells);
        if ('fault' in made) return [made.fault];
        unit = made.unit;
        isNew = true;
      }
      return this.#write(unit.id, cells, isNew);
    });
    const sound = faults.length === 0 && unit !== null;
    const known = unit as UnitRecord | null;
    if (sound && known) this.#identities.took(this.#draft.unit(known.id), row.line);
    const unknown = faults.some((f) => f.code === 'UNKNOWN_PROFILE') ? this.#profileText(cells) : null;
    return {
      row: row.line,
      does: !sound ? 'refused' : isNew ? 'add' : 'same',
      unitId: known?.id ?? null,
      number: cells.get('number')?.text.trim() ?? '',
      name: cells.get('name')?.text.trim().slice(0, 100) ?? '',
      changes: [],
      faults: faults.map(asFault),
      warnings,
      unknownProfile: unknown,
      cells,
    };
  }

  #title(index: number | undefined, key: string): string {
    const heading = index === undefined ? '' : (this.#options.titles[index] ?? '').trim();
    if (heading !== '') return heading.slice(0, 60);
    return index === undefined ? (columnOf(key)?.title ?? key) : columnLetters(index);
  }

  #profileText(cells: Cells): string {
    return [cells.get('maker')?.text ?? '', cells.get('profile')?.text ?? '']
      .map((t) => t.trim())
      .filter((t) => t !== '')
      .join(' ');
  }

  #profile(cells: Cells): { profile: ProfileRecord } | { fault: Fault } {
    const text = this.#profileText(cells);
    const chosen = this.#options.choices?.get(text);
    if (chosen) return { profile: chosen };
    if (text === '')
      return {
        fault: cellFault(
          'profile',
          'PROFILE_MISSING',
          'there is no profile, and the show has no such unit yet',
          '',
          'Name the profile, as maker and model.',
        ),
      };
    const found = this.#options.finder.find(text);
    return found.ok ? { profile: found.value } : { fault: found.fault };
  }

  #make(cells: Cells): { unit: UnitRecord } | { fault: Fault } {
    const found = this.#profile(cells);
    if ('fault' in found) return found;
    const given = cells.get('mode')?.text.trim() ?? '';
    const size = cells.get('footprint')?.text.trim() ?? '';
    const mode = findModeByText(found.profile, given === '' && /^\d+$/.test(size) ? size : given);
    if (!mode.ok) return { fault: given === '' && size !== '' ? { ...mode.fault, path: 'footprint' } : mode.fault };
    const number = readWhole(cells.get('number')?.text ?? '') ?? freeNumbers(this.#identities.numbers, 1)[0]!;
    const name = cells.get('name')?.text.trim() || `${found.profile.model} ${number}`;
    const fault = nameFault('name', name);
    if (fault) return { fault };
    return { unit: this.#draft.add({ number, name, mode: mode.value.key }, found.profile) };
  }

  #write(id: UnitId, cells: Cells, isNew: boolean): Fault[] {
    const faults: Fault[] = [];
    const profileText = this.#profileText(cells);
    if (!isNew && profileText !== '' && cells.has('profile')) {
      const found = this.#profile(cells);
      if ('fault' in found) return [found.fault];
      const unit = this.#draft.unit(id);
      if (found.profile.id !== unit.profileId) {
        const mode = findModeByText(found.profile, cells.get('mode')?.text ?? '');
        if (!mode.ok) return [mode.fault];
        this.#draft.useProfile(found.profile);
        this.#draft.set(id, { profileId: found.profile.id, mode: mode.value.key });
      }
    }
    faults.push(...this.#writeAddress(id, cells, isNew));
    for (const key of ORDER) {
      const text = cells.get(key)?.text;
      if (text === undefined || this.#skips(id, key, text, isNew)) continue;
      const fault = this.#writeOne(key, id, text);
      if (fault) faults.push(fault);
    }
    return faults;
  }

  /** An empty cell where something must stand says nothing, and a text that is there already changes nothing. */
  #skips(id: UnitId, key: string, text: string, isNew: boolean): boolean {
    if (text.trim() === '') return isNew || !this.#options.clearEmpty || !MAY_BE_EMPTIED.has(key);
    const unit = getRecord(this.#document, 'unit', id);
    return unit !== undefined && columnOf(key)!.text(sheetFacts(this.#document), unit) === text.trim();
  }

  /**
   * The address, in whichever ways it is written: as universe.address, as two numbers, as an absolute channel. What
   * stands there as it was does not count; where two ways say different things the row is refused.
   */
  #writeAddress(id: UnitId, cells: Cells, isNew: boolean): Fault[] {
    const filled = (key: string): boolean => (cells.get(key)?.text.trim() ?? '') !== '';
    const half = filled('universe') !== filled('slot') ? (filled('universe') ? 'slot' : 'universe') : null;
    if (half && !this.#draft.unit(id).patch && !filled('patch') && !filled('absolute')) {
      const remedy = 'Give both the universe and the address in it.';
      return [
        cellFault(half, 'HALF_ADDRESS', `the ${half === 'slot' ? 'address' : 'universe'} is missing`, '', remedy),
      ];
    }
    let said: { key: string; place: UnitRecord['patch'] } | null = null;
    for (const keys of [['universe', 'slot'], ['absolute'], ['patch']]) {
      const written = keys.filter((key) => cells.has(key) && !this.#skips(id, key, cells.get(key)!.text, isNew));
      if (written.length === 0) continue;
      for (const key of written) {
        const fault = this.#writeOne(key, id, cells.get(key)!.text);
        if (fault) return [fault];
      }
      const place = this.#draft.unit(id).patch;
      const differs = said && (said.place?.universe !== place?.universe || said.place?.address !== place?.address);
      if (said && differs) {
        const message = `does not agree with “${this.#title(cells.get(said.key)?.index, said.key)}”`;
        const text = cells.get(written[0]!)!.text;
        return [cellFault(written[0]!, 'ADDRESS_DISAGREES', message, text, 'Empty one of the two, or correct it.')];
      }
      said = { key: written[0]!, place };
    }
    return [];
  }

  #writeOne(key: string, id: UnitId, text: string): Fault | null {
    if (['patch', 'slot', 'absolute', 'expected'].includes(key) && isDate(text.trim())) {
      const remedy = 'Format the column as text and type the address again.';
      const message = `“${String(shorten(text.trim()))}” is a date: the spreadsheet made it of an address`;
      return cellFault(key, 'ADDRESS_DATE', message, text, remedy);
    }
    return WRITERS[key]!(this.#context, id, text);
  }

  #finish({ cells, ...row }: PlannedRow & { cells: Cells }, after: Document): PlannedRow {
    if (row.does === 'refused' || !row.unitId) return row;
    const [was, is] = [getRecord(this.#document, 'unit', row.unitId), getRecord(after, 'unit', row.unitId)!];
    const [before, now] = [sheetFacts(this.#document), sheetFacts(after)];
    const changes = [...cells.keys()]
      .filter((key) => columnOf(key)?.written)
      .map((key) => ({
        column: key,
        before: was ? columnOf(key)!.text(before, was) : '',
        after: columnOf(key)!.text(now, is),
      }))
      .filter((c) => c.before !== c.after);
    const old = new Set((was ? before.faults().get(row.unitId) : undefined)?.map((c) => `${c.code} ${c.message}`));
    const clashes = (now.faults().get(row.unitId) ?? [])
      .filter((c) => c.code !== 'NO_ROUTE' && !old.has(`${c.code} ${c.message}`))
      .map((clash): RowFault => {
        const key =
          clash.code === 'NUMBER_TWICE'
            ? 'number'
            : clash.code === 'EXPECTED_END'
              ? 'expected'
              : (['patch', 'slot', 'absolute', 'universe'].find((k) => cells.has(k)) ?? 'patch');
        return {
          row: row.row,
          column: this.#title(cells.get(key)?.index, key),
          value: cells.get(key)?.text.slice(0, 60) ?? '',
          code: clash.code,
          message: clash.message,
          remedy: CLASH_REMEDY[clash.code] ?? 'Give another address.',
        };
      });
    const does = row.does === 'add' ? 'add' : changes.length > 0 || was !== is ? 'change' : 'same';
    return { ...row, does, number: String(is.number), name: is.name, changes, warnings: [...row.warnings, ...clashes] };
  }
}

const CLASH_REMEDY: Readonly<Record<string, string>> = {
  OVERLAP: 'Give one of the two another address, or write “twin of” where it is on purpose.',
  OVERRUN: 'Start lower, or in the next universe.',
  NUMBER_TWICE: 'Give one of them another number.',
  NO_ADDRESS: 'Give it an address.',
  EXPECTED_END: 'Correct the start, the mode, or the end that is expected.',
};

/** Columns in which an empty cell takes away what is there; elsewhere it says nothing. */
const MAY_BE_EMPTIED: ReadonlySet<string> = new Set([
  'patch',
  'expected',
  'area',
  'tag',
  'groups',
  'line',
  'notes',
  'follows',
  'done',
]);
