import type { UnitId } from '$core/ids.ts';
import { isSevere } from '$core/patch/clash.ts';
import type { UnitRecord } from '$core/records/index.ts';
import type { SheetViewRecord } from '$core/records/show.ts';
import { parseCsv, writeTabs } from '$core/format/csv.ts';
import { columnOf, DEFAULT_COLUMNS, NARROW_COLUMNS, sortUnits, type SheetColumn } from '$core/sheet/columns.ts';
import { fillDown, type CellEdit, type CellFault } from '$core/sheet/edit.ts';
import { sheetRows } from '$core/sheet/export.ts';
import { sheetFacts } from '$core/sheet/facts.ts';
import { findHeadings } from '$core/sheet/match.ts';
import type { CellRange } from '../../components/sheet-cursor.svelte.ts';
import type { App } from '../app.svelte.ts';
import { SheetImport } from './sheet-import.svelte.ts';
import { mergesInHtml, tableHtml } from './table-html.ts';
import { plural } from '../words.ts';

/** What stands in the column at the right: a unit's details, or one of the tools. */
export type PatchTool = 'details' | 'address' | 'names' | 'replace' | 'switches' | 'refused' | 'walk';
export type PatchTab = 'sheet' | 'universes' | 'groups';

const KEPT = 'amber-sheet';

/** The patch page: how the sheet is looked at, which tool is open, what an import would do. */
export class PatchDesk {
  readonly #app: App;
  tab = $state<PatchTab>('sheet');
  tool = $state<PatchTool>('details');
  /** The columns where nothing was chosen: as many as this window shows. */
  readonly #usual = typeof window !== 'undefined' && window.innerWidth <= 760 ? NARROW_COLUMNS : DEFAULT_COLUMNS;
  keys = $state.raw<readonly string[]>(this.#usual);
  sort = $state.raw<{ readonly column: string; readonly descending: boolean } | null>(null);
  filter = $state('');
  onlyFaulty = $state(false);
  /** Cells that a paste could not fill, to be mended. */
  refused = $state.raw<readonly CellFault[]>([]);
  import = $state.raw<SheetImport | null>(null);

  constructor(app: App) {
    this.#app = app;
    this.#restore();
  }

  readonly facts = $derived.by(() => sheetFacts(this.#app.live.document));
  readonly columns = $derived(this.keys.map(columnOf).filter((c): c is SheetColumn => c !== undefined));
  readonly #words = $derived(this.filter.toLowerCase().split(/\s+/).filter(Boolean));
  readonly #filtered = $derived.by(() => {
    const faults = this.onlyFaulty ? this.facts.faults() : null;
    if (!faults && this.#words.length === 0) return this.#app.rig.units;
    return this.#app.rig.units.filter((u) => (!faults || faults.has(u.id)) && this.#matches(u));
  });
  /** The units that are shown, in the order in which they are shown. */
  readonly rows: readonly UnitRecord[] = $derived.by(() => {
    const column = this.sort && columnOf(this.sort.column);
    return column ? sortUnits(this.facts, this.#filtered, column, this.sort!.descending) : this.#filtered;
  });
  readonly severe = $derived.by(() => new Set(this.#app.rig.clashes.filter(isSevere).map((c) => c.unitId)));

  #matches(unit: UnitRecord): boolean {
    const text = ['number', 'name', 'profile', 'mode', 'patch', 'area', 'tag', 'line', 'groups', 'notes', 'done']
      .map((key) => columnOf(key)!.text(this.facts, unit))
      .join(' ')
      .toLowerCase();
    return this.#words.every((word) => text.includes(word));
  }

  open(tool: PatchTool): void {
    this.tool = tool;
    if (!this.#app.detailsOpen) this.#app.foldDetails();
  }

  sortBy(column: string): void {
    const now = this.sort?.column === column ? this.sort : null;
    this.sort = !now ? { column, descending: false } : now.descending ? null : { column, descending: true };
    this.#keep();
  }

  setColumns(keys: readonly string[]): void {
    this.keys = keys.length > 0 ? keys : this.#usual;
    this.#keep();
  }

  useView(view: SheetViewRecord | null): void {
    this.keys = view?.columns.filter((key) => columnOf(key)) ?? this.#usual;
    this.sort = view?.sort ?? null;
    this.filter = view?.filter ?? '';
    this.#keep();
  }

  #keep(): void {
    localStorage.setItem(KEPT, JSON.stringify({ keys: this.keys, sort: this.sort }));
  }

  #restore(): void {
    try {
      const kept = JSON.parse(localStorage.getItem(KEPT) ?? '{}') as { keys?: unknown; sort?: unknown };
      const keys = Array.isArray(kept.keys)
        ? kept.keys.filter((k): k is string => columnOf(String(k)) !== undefined)
        : [];
      if (keys.length > 0) this.keys = keys;
      const sort = kept.sort as { column?: unknown; descending?: unknown } | null | undefined;
      if (sort && columnOf(String(sort.column)))
        this.sort = { column: String(sort.column), descending: sort.descending === true };
    } catch {
      localStorage.removeItem(KEPT);
    }
  }

  save(row: UnitRecord, column: string, text: string, all: boolean): string | null {
    const ids = all && this.#app.selection.has(row.id) ? this.#inOrder() : [row.id];
    const what = ids.length > 1 ? plural(ids.length, 'unit') : row.name;
    return this.#app.cells.write(ids, column, text, `${columnOf(column)?.title ?? column} of ${what}`);
  }

  /** The selection in the order of the sheet: what counts up counts that way. */
  #inOrder(): UnitId[] {
    return this.rows.filter((r) => this.#app.selection.has(r.id)).map((r) => r.id);
  }

  copy(range: CellRange): { text: string; html: string } | null {
    const units = this.rows.slice(range.top, range.bottom + 1);
    const keys = this.keys.slice(range.left, range.right + 1);
    const [, ...rows] = sheetRows(this.#app.live.document, units, keys);
    return rows.length > 0 ? { text: writeTabs(rows), html: tableHtml(rows) } : null;
  }

  /** The whole sheet as it is shown, with its headings. */
  copyAll(): { text: string; html: string } {
    const rows = sheetRows(this.#app.live.document, this.rows, this.keys);
    return { text: writeTabs(rows), html: tableHtml(rows) };
  }

  /**
   * A block from a spreadsheet. With headings it is an import, looked at before anything happens; without, it goes
   * into the cells from the cursor on, and what is refused is listed.
   */
  paste(text: string, html: string, range: CellRange): void {
    const { grid, faults } = parseCsv(text, '\t');
    if (!grid || grid.rows.length === 0) {
      if (faults[0]) this.#app.live.tell('error', faults[0].message, faults[0].remedy);
      return;
    }
    const merges = mergesInHtml(html);
    if (findHeadings(grid).row >= 0) {
      this.import = new SheetImport(this.#app, 'the clipboard', { ...grid, merges });
      return;
    }
    const block = grid.rows.map((r) => r.cells);
    const [one] = block;
    const single = block.length === 1 && one!.length === 1;
    const height = single ? range.bottom - range.top + 1 : block.length;
    const edits: CellEdit[] = [];
    for (let r = 0; r < height; r++) {
      const unit = this.rows[range.top + r];
      const cells = single ? one! : block[r]!;
      if (!unit) continue;
      cells.forEach((cell, c) => {
        const column = this.keys[range.left + c];
        if (column !== undefined) edits.push({ unitId: unit.id, column, text: cell });
      });
    }
    this.refused = this.#app.cells.writeAll(edits, `Paste ${plural(edits.length, 'cell')}`);
    const lost = Math.max(0, range.top + height - this.rows.length);
    const notes = [
      this.refused.length > 0 ? `${this.refused.length} refused: see at the right` : '',
      lost > 0 ? `${plural(lost, 'row')} had no unit to go to; paste with headings to add units` : '',
      merges.length > 0 ? 'merged cells came in as empty ones' : '',
    ].filter(Boolean);
    this.#app.live.tell('note', `Pasted ${plural(edits.length - this.refused.length, 'cell')}`, notes.join('. '));
    if (this.refused.length > 0) this.open('refused');
  }

  /** Empties the marked cells; what cannot be empty stays and is told. */
  clear(range: CellRange): void {
    const units = this.rows.slice(range.top, range.bottom + 1);
    const columns = this.columns.slice(range.left, range.right + 1).filter((c) => c.written);
    const edits = units.flatMap((unit) =>
      columns.flatMap((c) => (c.text(this.facts, unit) === '' ? [] : [{ unitId: unit.id, column: c.key, text: '' }])),
    );
    if (edits.length === 0) return;
    const refused = this.#app.cells.writeAll(edits, `Clear ${plural(edits.length, 'cell')}`);
    const kept = [...new Set(refused.map(({ edit }) => columnOf(edit.column)?.title ?? edit.column))].join(', ');
    const cleared = edits.length - refused.length;
    const hint = 'To remove units: Remove in Details.';
    if (cleared === 0) this.#app.live.tell('note', `${kept} cannot be empty`, hint);
    else
      this.#app.live.tell(
        'note',
        `Cleared ${plural(cleared, 'cell')}`,
        kept ? `${kept} cannot be empty and stay` : '',
        {
          text: 'Undo',
          act: () => void this.#app.live.undo(),
        },
      );
  }

  /** Fills the marked cells down from the first; one marked row fills the selected units. */
  fill(range: CellRange): void {
    const marked = this.rows.slice(range.top, range.bottom + 1).map((r) => r.id);
    const ids = marked.length > 1 ? marked : this.#inOrder();
    if (ids.length < 2) {
      this.#app.live.tell('note', 'Mark several rows first', 'Fill down goes on from the first of them.');
      return;
    }
    const keys = this.keys.slice(range.left, range.right + 1).filter((key) => columnOf(key)?.written);
    const edits = keys.flatMap((key) => fillDown(this.#app.live.document, ids, key));
    this.refused = this.#app.cells.writeAll(edits, `Fill down ${plural(ids.length, 'unit')}`);
    if (this.refused.length > 0) this.open('refused');
  }
}
