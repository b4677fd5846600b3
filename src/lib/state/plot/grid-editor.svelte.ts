import { FaultError, type Fault } from '$core/faults.ts';
import {
  GRID_SIDE,
  gridBlock,
  gridJumps,
  gridNumbers,
  gridOf,
  packGrid,
  unpackGrid,
  type DrawnGrid,
  type GridPlace,
} from '$core/records/grid.ts';
import { readGridFile, readGridText, type GridText } from '$core/format/grid-text.ts';
import type { Shape } from '$core/records/shape.ts';
import type { UnitRecord } from '$core/records/index.ts';
import type { App } from '../app.svelte.ts';

type GridShape = Extract<Shape, { shape: 'grid' }>;

/** Something to look at in a drawn grid: where it is, and in words. */
export interface GridFinding extends GridPlace {
  readonly kind: 'wrong' | 'look';
  readonly text: string;
}

/** The drawn grid of a prop, edited like a sheet; every change is one edit of the show. Rows and columns from 1. */
export class GridEditor {
  readonly #app: App;
  readonly #unitId: UnitRecord['id'];
  cursor = $state.raw<GridPlace>({ row: 1, column: 1 });
  /** What was typed into the cell under the cursor; null while nothing is. */
  typed = $state<string | null>(null);
  /** `paint`: a press writes the next number; `clear`: it takes numbers away. */
  mode = $state<'edit' | 'paint' | 'clear'>('edit');
  /** What could not be read of the last paste or file; the drawing is as it was. */
  refused = $state.raw<readonly Fault[]>([]);
  /** Texts of the last paste that were no numbers, where they stood. */
  notNumbers = $state.raw<DrawnGrid['notNumbers']>([]);
  /** Numbers while a stroke is painted. */
  stroke = $state.raw<Uint16Array | null>(null);

  constructor(app: App, unitId: UnitRecord['id']) {
    this.#app = app;
    this.#unitId = unitId;
  }

  readonly unit = $derived.by(() => this.#app.rig.unit(this.#unitId));
  readonly shape = $derived.by((): GridShape | null => {
    const shape = this.unit?.prop?.shape;
    return shape?.shape === 'grid' ? shape : null;
  });
  readonly columns = $derived(this.shape?.columns ?? 1);
  readonly rows = $derived(this.shape?.rows ?? 1);
  readonly stored = $derived.by(() => {
    const numbers = new Uint16Array(this.columns * this.rows);
    if (this.shape) numbers.set(unpackGrid(this.shape.numbers).subarray(0, numbers.length));
    return numbers;
  });
  readonly numbers = $derived(this.stroke ?? this.stored);
  readonly reading = $derived.by((): DrawnGrid => gridOf(this.numbers, this.columns));
  readonly highest = $derived(this.reading.last?.number ?? 0);
  readonly findings = $derived.by((): GridFinding[] => {
    const { missing, repeated } = this.reading;
    return [
      ...this.notNumbers.map((n) => ({
        ...n,
        kind: 'wrong' as const,
        text: `“${n.text}” is no number and was left out`,
      })),
      ...missing.map((m) => ({ ...m, kind: 'wrong' as const, text: `${m.number} is missing` })),
      ...repeated.map((r) => ({ ...r, kind: 'look' as const, text: `${r.number} stands twice` })),
      ...gridJumps(this.reading).map((j) => ({
        row: j.row,
        column: j.column,
        kind: 'look' as const,
        text: `${j.from} to ${j.to} are ${j.apart} cells apart`,
      })),
    ];
  });

  at({ row, column }: GridPlace): number {
    return this.numbers[(row - 1) * this.columns + column - 1] ?? 0;
  }

  #put(numbers: Uint16Array, columns: number, rows: number, does: string): boolean {
    const { unit, shape } = this;
    if (!unit?.prop || !shape) return false;
    const next = { ...shape, columns, rows, numbers: packGrid(numbers) };
    return this.#app.live.edit(`${does} in ${unit.name}`, {
      put: [{ ...unit, prop: { ...unit.prop, shape: next } }],
      remove: [],
    });
  }

  move(rows: number, columns: number): void {
    const { row, column } = this.cursor;
    this.cursor = {
      row: Math.min(this.rows, Math.max(1, row + rows)),
      column: Math.min(this.columns, Math.max(1, column + columns)),
    };
  }

  /** Takes over what was typed; what is no number stays typed and is told. */
  commit(): boolean {
    if (this.typed === null) return true;
    const text = this.typed.trim();
    const value = text === '' ? 0 : /^\d{1,5}$/.test(text) ? Number(text) : -1;
    if (value < 0 || value > 65_535) {
      this.#app.live.tell(
        'error',
        `“${text.slice(0, 20)}” is no place in the wiring order`,
        'Give 1 to 65535, or nothing.',
      );
      return false;
    }
    this.typed = null;
    if (value === this.at(this.cursor)) return true;
    const numbers = this.stored.slice();
    numbers[(this.cursor.row - 1) * this.columns + this.cursor.column - 1] = value;
    return this.#put(numbers, this.columns, this.rows, value === 0 ? 'Clear a cell' : `Cell ${value}`);
  }

  /** A stroke over cells: in turn the next numbers, or nothing. */
  begin(): void {
    this.stroke = this.stored.slice();
  }
  over({ row, column }: GridPlace): void {
    if (!this.stroke || row < 1 || column < 1 || row > this.rows || column > this.columns) return;
    const at = (row - 1) * this.columns + column - 1;
    const next = this.stroke.slice();
    if (this.mode === 'clear') next[at] = 0;
    else if (next[at] === 0) next[at] = Math.min(65_535, this.highest + 1);
    else return;
    this.stroke = next;
  }
  end(): void {
    const done = this.stroke;
    this.stroke = null;
    if (done && done.some((n, i) => n !== this.stored[i]))
      this.#put(done, this.columns, this.rows, this.mode === 'clear' ? 'Clear cells' : 'Paint cells');
  }

  /** Lays a block over the drawing with its upper left at the cursor; a drawing that is empty takes its size. */
  paste(text: string): void {
    this.#take(() => readGridText(text), 'Paste');
  }
  async file(file: File): Promise<void> {
    const bytes = new Uint8Array(await file.arrayBuffer());
    this.cursor = { row: 1, column: 1 };
    this.#take(() => readGridFile(bytes), `Import ${file.name.slice(0, 60)}`, true);
  }

  #take(read: () => GridText, does: string, whole = this.reading.cells === 0): void {
    this.refused = [];
    let found: GridText;
    try {
      found = read();
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      this.refused = error.faults;
      return;
    }
    const { grid, faults } = found;
    if (!grid) {
      this.refused = faults;
      return;
    }
    this.notNumbers = grid.notNumbers;
    const fresh = gridNumbers(grid);
    if (whole) {
      this.#put(fresh, Math.max(1, grid.columns), Math.max(1, grid.rows), does);
      return;
    }
    const [top, left] = [this.cursor.row - 1, this.cursor.column - 1];
    const columns = Math.min(GRID_SIDE, Math.max(this.columns, left + grid.columns));
    const rows = Math.min(GRID_SIDE, Math.max(this.rows, top + grid.rows));
    const numbers = this.#resized(columns, rows);
    for (let row = 0; row < grid.rows && top + row < rows; row++)
      for (let column = 0; column < grid.columns && left + column < columns; column++)
        numbers[(top + row) * columns + left + column] = fresh[row * grid.columns + column]!;
    this.#put(numbers, columns, rows, does);
  }

  #resized(columns: number, rows: number): Uint16Array {
    const numbers = new Uint16Array(columns * rows);
    for (let row = 0; row < Math.min(rows, this.rows); row++)
      for (let column = 0; column < Math.min(columns, this.columns); column++)
        numbers[row * columns + column] = this.stored[row * this.columns + column]!;
    return numbers;
  }
  /** Another size; what lies outside is cut. */
  resize(columns: number, rows: number): void {
    this.#put(this.#resized(columns, rows), columns, rows, 'Size');
  }

  /** Numbers from 1 without gaps, in the order they have: twins stay twins. */
  closeUp(): void {
    const place = new Map([...this.reading.order.keys()].map((number, i) => [number, i + 1]));
    this.#put(
      this.stored.map((n) => place.get(n) ?? 0),
      this.columns,
      this.rows,
      'Close the gaps',
    );
  }

  text(): string {
    return gridBlock(this.numbers, this.columns)
      .map((row) => row.join('\t'))
      .join('\n');
  }
}
