import type { Grid, GridReading } from '$core/format/grid.ts';
import { makeId } from '$core/ids.ts';
import { seeded } from '$core/random.ts';
import type { ProfileRecord } from '$core/records/index.ts';
import { findHeadings, matchByValues, untaken, type Mapping } from '$core/sheet/match.ts';
import { readSheet } from '$core/sheet/read.ts';
import { planImport, type ImportPlan } from '$core/sheet/plan.ts';
import type { App } from '../app.svelte.ts';
import { plural } from '../words.ts';

const readFile = async (file: File, sheet?: string): Promise<GridReading> =>
  readSheet(new Uint8Array(await file.arrayBuffer()), file.name, sheet);

/**
 * A table on its way into the patch. Nothing is done before `apply`: what it would do is worked out anew from the show
 * as it is now, the columns as they are matched, and the cells as they were mended here.
 */
export class SheetImport {
  readonly #app: App;
  readonly from: string;
  /** The file, where there is one: another sheet of a workbook can be chosen. */
  file: File | null = null;
  sheets = $state.raw<readonly string[]>([]);
  sheet = $state<string | null>(null);
  grid = $state.raw<Grid>({ rows: [], merges: [] });
  headingRow = $state(-1);
  mapping = $state.raw<Mapping>([]);
  /** Whether empty cells take away what units have. */
  clearEmpty = $state(false);
  titles = $state.raw<readonly string[]>([]);
  choices = $state.raw<ReadonlyMap<string, ProfileRecord>>(new Map());
  /** Ids that a plan hands out stay the same while it is looked at. */
  readonly #seed = crypto.getRandomValues(new Uint32Array(1))[0]!;

  constructor(app: App, from: string, grid: Grid) {
    this.#app = app;
    this.from = from;
    this.#take(grid);
  }

  static async ofFile(app: App, file: File): Promise<SheetImport | null> {
    const reading = await readFile(file);
    if (!reading.grid) {
      const [fault] = reading.faults;
      app.live.tell('error', `${file.name}: ${fault?.message ?? 'cannot be read'}`, fault?.remedy);
      return null;
    }
    const found = new SheetImport(app, file.name, reading.grid);
    found.file = file;
    found.sheets = reading.sheets;
    found.sheet = reading.sheet;
    for (const fault of reading.faults.slice(0, 3)) app.live.tell('note', fault.message, fault.remedy);
    return found;
  }

  async useSheet(name: string): Promise<void> {
    if (!this.file) return;
    const { grid } = await readFile(this.file, name);
    if (!grid) return;
    this.sheet = name;
    this.#take(grid);
  }

  #take(grid: Grid): void {
    this.grid = grid;
    const { row, titles, mapping } = matchByValues(findHeadings(grid), grid, this.#app.cells.finder);
    const width = Math.max(0, ...grid.rows.slice(0, 200).map((r) => r.cells.length));
    this.headingRow = row;
    this.titles = row >= 0 ? titles : Array.from({ length: width }, () => '');
    this.mapping = Array.from({ length: Math.max(width, titles.length) }, (_, i) => mapping[i] ?? null);
  }

  readonly plan: ImportPlan = $derived.by(() => {
    const random = seeded(this.#seed);
    return planImport(this.#app.live.document, this.grid, {
      mapping: this.mapping,
      titles: this.titles,
      headingRow: this.headingRow,
      finder: this.#app.cells.finder,
      choices: this.choices,
      clearEmpty: this.clearEmpty,
      newId: (kind) => makeId(kind, random),
      by: this.#app.personName,
      now: this.#app.live.now(),
    });
  });
  /** Columns of the file that hold something and are taken for nothing. */
  readonly untaken = $derived.by(() =>
    untaken({ row: this.headingRow, titles: this.titles, mapping: this.mapping }, this.grid),
  );
  readonly unknownProfiles = $derived([
    ...new Set(this.plan.rows.flatMap((r) => (r.unknownProfile === null ? [] : [r.unknownProfile]))),
  ]);

  /** Which column of ours a column of the file is; each of ours is taken once. */
  match(index: number, key: string | null): void {
    this.mapping = this.mapping.map((old, i) => (i === index ? key : old === key ? null : old));
  }

  choose(text: string, profile: ProfileRecord): void {
    this.choices = new Map(this.choices).set(text, profile);
  }

  /** Mends a cell here; the file stays as it is. */
  mend(line: number, column: number, text: string): void {
    const rows = this.grid.rows.map((row) => {
      if (row.line !== line) return row;
      const cells = Array.from({ length: Math.max(row.cells.length, column + 1) }, (_, i) => row.cells[i] ?? '');
      cells[column] = text;
      const numbers = new Set([...(row.numbers ?? [])].filter((i) => i !== column));
      return { ...row, cells, numbers };
    });
    // What is mended by hand has a value of its own.
    const merges = this.grid.merges.filter(
      (m) => line < m.fromLine || line > m.toLine || column < m.fromColumn || column > m.toColumn,
    );
    this.grid = { rows, merges };
  }

  /** Leaves a row out. */
  drop(line: number): void {
    this.grid = { ...this.grid, rows: this.grid.rows.filter((r) => r.line !== line) };
  }

  /** Does it, as one step. True when it is done. */
  apply(): boolean {
    const { change, counts } = this.plan;
    const parts = [counts.add > 0 ? `${counts.add} added` : '', counts.change > 0 ? `${counts.change} changed` : ''];
    const label = `Import from ${this.from.slice(0, 60)}: ${parts.filter(Boolean).join(', ') || 'nothing'}`;
    if (!this.#app.live.edit(label, change)) return false;
    const left = counts.refused > 0 ? `${plural(counts.refused, 'row')} refused and left out.` : '';
    this.#app.live.tell('note', label, [left, 'Ctrl+Z takes all of it back.'].filter(Boolean).join(' '));
    return true;
  }
}
