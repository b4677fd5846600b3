import { fromBase64, toBase64 } from '../base64.ts';
import { FaultError } from '../faults.ts';

/** Most columns and rows of a drawn grid. */
export const GRID_SIDE = 400;
/** Highest place in the wiring order. */
const HIGHEST = 65_535;
/** Most of each kind of finding that is told. */
const MOST_TOLD = 1000;

/** A place in the sheet as the spreadsheet counts: from 1. */
export interface GridPlace {
  readonly row: number;
  readonly column: number;
}

/**
 * What a drawn grid says: a block of a spreadsheet in which a number is the place in the wiring order (1 = the start
 * address) and an empty cell is nothing. Numbers may skip and repeat: a repeat is a twin cell.
 */
export interface DrawnGrid {
  readonly columns: number;
  readonly rows: number;
  /** Different numbers there are. */
  readonly cells: number;
  readonly first: ({ readonly number: number } & GridPlace) | null;
  readonly last: ({ readonly number: number } & GridPlace) | null;
  /** Numbers below the last that are nowhere, each with the place of the nearest number before it. */
  readonly missing: readonly ({ readonly number: number } & GridPlace)[];
  /** Places where a number stands that stood before, each with the first place of that number. */
  readonly repeated: readonly ({
    readonly number: number;
    readonly firstRow: number;
    readonly firstColumn: number;
  } & GridPlace)[];
  readonly notNumbers: readonly ({ readonly text: string } & GridPlace)[];
  /** Places of every number, in the order of the numbers. */
  readonly order: ReadonlyMap<number, readonly GridPlace[]>;
}

/** Reads the block. Throws FaultError when it is larger than 400 x 400. Linear in the cells of the block. */
export function readDrawnGrid(block: readonly (readonly string[])[]): DrawnGrid {
  const rows = lastFilled(block.map((row) => row.some((text) => text.trim() !== '')));
  const columns = block.reduce((most, row) => Math.max(most, lastFilled(row.map((text) => text.trim() !== ''))), 0);
  if (rows > GRID_SIDE || columns > GRID_SIDE)
    throw new FaultError({
      code: 'GRID_TOO_LARGE',
      path: 'grid',
      message: `the grid has ${columns} columns and ${rows} rows`,
      received: `${columns} x ${rows}`,
      remedy: `At most ${GRID_SIDE} x ${GRID_SIDE}: cut it into several props.`,
    });
  const numbers = new Uint16Array(columns * rows);
  const notNumbers: DrawnGrid['notNumbers'][number][] = [];
  for (let row = 1; row <= rows; row++)
    for (let column = 1; column <= columns; column++) {
      const text = (block[row - 1]![column - 1] ?? '').trim();
      const number = text === '' ? 0 : numberOf(text);
      if (number === null) notNumbers.push({ text: text.slice(0, 40), row, column });
      else numbers[(row - 1) * columns + column - 1] = number;
    }
  return gridOf(numbers, columns, notNumbers);
}

/** What a grid of numbers says, row by row from the top, 0 for nothing. Linear in its places. */
export function gridOf(numbers: Uint16Array, columns: number, notNumbers: DrawnGrid['notNumbers'] = []): DrawnGrid {
  const places = new Map<number, GridPlace[]>();
  const repeated: DrawnGrid['repeated'][number][] = [];
  numbers.forEach((number, i) => {
    if (number === 0) return;
    const [row, column] = [Math.floor(i / columns) + 1, (i % columns) + 1];
    const known = places.get(number);
    if (!known) places.set(number, [{ row, column }]);
    else {
      repeated.push({ number, row, column, firstRow: known[0]!.row, firstColumn: known[0]!.column });
      known.push({ row, column });
    }
  });
  const order = new Map([...places].sort((a, b) => a[0] - b[0]));
  const inUse = [...order.keys()];
  const at = (number: number | undefined) => (number === undefined ? null : { number, ...order.get(number)![0]! });
  return {
    columns,
    rows: columns === 0 ? 0 : numbers.length / columns,
    cells: order.size,
    first: at(inUse[0]),
    last: at(inUse.at(-1)),
    missing: missingOf(inUse, order),
    repeated: repeated.slice(0, MOST_TOLD),
    notNumbers: notNumbers.slice(0, MOST_TOLD),
    order,
  };
}

/** Numbers of a grid, row by row from the top, 0 for nothing: two bytes each, little-endian, as base64. */
export function packGrid(numbers: ArrayLike<number>): string {
  const bytes = new Uint8Array(numbers.length * 2);
  const view = new DataView(bytes.buffer);
  for (let i = 0; i < numbers.length; i++) view.setUint16(i * 2, numbers[i]!, true);
  return toBase64(bytes);
}

export function unpackGrid(packed: string): Uint16Array {
  const bytes = fromBase64(packed);
  const view = new DataView(bytes.buffer);
  return Uint16Array.from({ length: bytes.length >> 1 }, (_, i) => view.getUint16(i * 2, true));
}

/** The numbers of a block that was read, in the form `packGrid` takes; what is no number is nothing. */
export function gridNumbers(grid: DrawnGrid): Uint16Array {
  const numbers = new Uint16Array(grid.columns * grid.rows);
  for (const [number, places] of grid.order)
    for (const { row, column } of places) numbers[(row - 1) * grid.columns + column - 1] = number;
  return numbers;
}

/** A grid as a block of text again, for a spreadsheet: '' for nothing. */
export function gridBlock(numbers: Uint16Array, columns: number): string[][] {
  return Array.from({ length: Math.ceil(numbers.length / columns) }, (_, row) =>
    Array.from(numbers.subarray(row * columns, (row + 1) * columns), (n) => (n === 0 ? '' : String(n))),
  );
}

/** Where the wire leaps: numbers that follow one another but stand more than `cells` apart across or down. */
export function gridJumps(
  grid: Pick<DrawnGrid, 'order'>,
  cells = 2,
): readonly ({ readonly from: number; readonly to: number; readonly apart: number } & GridPlace)[] {
  const jumps: ({ from: number; to: number; apart: number } & GridPlace)[] = [];
  let before: { number: number; place: GridPlace } | null = null;
  for (const [number, places] of grid.order) {
    const place = places[0]!;
    const apart = before
      ? Math.max(Math.abs(place.row - before.place.row), Math.abs(place.column - before.place.column))
      : 0;
    if (before && apart > cells && jumps.length < MOST_TOLD)
      jumps.push({ from: before.number, to: number, apart, ...place });
    before = { number, place };
  }
  return jumps;
}

const lastFilled = (filled: readonly boolean[]): number => filled.lastIndexOf(true) + 1;

/** A place in the wiring order: 1 to 65,535, also as a spreadsheet writes it (`12.0`, spaces round it). */
function numberOf(text: string): number | null {
  const found = /^(\d{1,5})(?:\.0+)?$/.exec(text);
  const value = found ? Number(found[1]) : 0;
  return value >= 1 && value <= HIGHEST ? value : null;
}

function missingOf(numbers: readonly number[], order: ReadonlyMap<number, readonly GridPlace[]>): DrawnGrid['missing'] {
  const missing: DrawnGrid['missing'][number][] = [];
  let before = 0;
  for (const number of numbers) {
    const near = order.get(before === 0 ? number : before)![0]!;
    for (let gap = before + 1; gap < number && missing.length < MOST_TOLD; gap++)
      missing.push({ number: gap, ...near });
    before = number;
  }
  return missing;
}
