export interface CellPlace {
  readonly row: number;
  readonly column: number;
}

/** Cells from one corner to the other, both included. */
export interface CellRange {
  readonly top: number;
  readonly bottom: number;
  readonly left: number;
  readonly right: number;
}

/** Where the cursor of a sheet stands, and the block of cells that is marked from an anchor to it. */
export class SheetCursor {
  at = $state.raw<CellPlace>({ row: 0, column: 0 });
  anchor = $state.raw<CellPlace>({ row: 0, column: 0 });
  readonly range: CellRange = $derived({
    top: Math.min(this.at.row, this.anchor.row),
    bottom: Math.max(this.at.row, this.anchor.row),
    left: Math.min(this.at.column, this.anchor.column),
    right: Math.max(this.at.column, this.anchor.column),
  });
  readonly single = $derived(this.at.row === this.anchor.row && this.at.column === this.anchor.column);

  /** Goes to a cell; with `extend` the anchor stays and the block grows. */
  go(to: CellPlace, extend: boolean): void {
    this.at = to;
    if (!extend) this.anchor = to;
  }

  /** Keeps cursor and anchor inside a sheet that became smaller. */
  within(rows: number, columns: number): void {
    const clamp = ({ row, column }: CellPlace): CellPlace => ({
      row: Math.max(0, Math.min(rows - 1, row)),
      column: Math.max(0, Math.min(columns - 1, column)),
    });
    const [at, anchor] = [clamp(this.at), clamp(this.anchor)];
    if (at.row !== this.at.row || at.column !== this.at.column) this.at = at;
    if (anchor.row !== this.anchor.row || anchor.column !== this.anchor.column) this.anchor = anchor;
  }
}
