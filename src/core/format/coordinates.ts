import type { Fault } from '../faults.ts';
import type { GridRow } from './grid.ts';
import { parseNumber, readWhole } from '../numbers.ts';
import type { CellPlace } from '../prop/cells.ts';

export interface Coordinates {
  /** In wiring order; empty where there are faults. */
  readonly places: readonly CellPlace[];
  readonly faults: readonly Fault[];
}

const FAULT_LIMIT = 50;
const MOST_CELLS = 65_536;
const LIMIT_M = 32.767;

/**
 * Places of cells from a table with the columns x, y, z and index (from 1, the wiring order), in metres. A first line
 * of names may put them in any order and leave z or index out; without one they stand in this order. Without an index
 * the order of the lines counts. Every fault names its line and column.
 */
export function readCoordinates(rows: readonly GridRow[]): Coordinates {
  const faults: Fault[] = [];
  const say = (line: number, column: string, message: string, received: unknown, remedy: string): void => {
    if (faults.length < FAULT_LIMIT)
      faults.push({ code: 'COORDINATES', path: `line ${line}, column ${column}`, message, received, remedy });
  };
  const filled = rows.filter((row) => row.cells.some((c) => c.trim() !== ''));
  const head = headOf(filled[0]);
  const columns = head ?? ['x', 'y', 'z', 'index'];
  const body = head ? filled.slice(1) : filled;
  if (head && !(head.includes('x') && head.includes('y')))
    say(
      filled[0]!.line,
      'x',
      'there must be a column x and a column y',
      head.join(', '),
      'Name the columns x, y, z, index.',
    );
  if (body.length === 0) say(1, 'x', 'there are no places', 0, 'Give a line for each cell: x, y, z, index.');
  if (body.length > MOST_CELLS)
    say(body[MOST_CELLS]!.line, 'x', `${body.length} places are too many`, body.length, `At most ${MOST_CELLS}.`);
  const places = new Map<number, CellPlace>();
  for (const [i, row] of body.slice(0, MOST_CELLS).entries()) {
    const text = (name: string): string => (row.cells[columns.indexOf(name)] ?? '').trim();
    const metres = (name: string): number => {
      if (name === 'z' && text('z') === '') return 0;
      const value = parseNumber(text(name));
      if (value !== null && Math.abs(value) <= LIMIT_M) return value;
      say(
        row.line,
        name,
        `“${text(name).slice(0, 40)}” is no place`,
        text(name).slice(0, 40),
        `Give metres from -${LIMIT_M} to ${LIMIT_M}.`,
      );
      return 0;
    };
    const place: CellPlace = [metres('x'), metres('y'), metres('z')];
    const index = text('index') === '' ? i + 1 : readWhole(text('index'));
    if (index === null || index < 1 || index > MOST_CELLS)
      say(
        row.line,
        'index',
        `“${text('index').slice(0, 40)}” is no index`,
        text('index').slice(0, 40),
        `Give 1 to ${MOST_CELLS}.`,
      );
    else if (places.has(index)) say(row.line, 'index', `cell ${index} stands twice`, index, 'Give each cell one line.');
    else places.set(index, place);
  }
  const count = places.size;
  for (let cell = 1; cell <= count && faults.length === 0; cell++)
    if (!places.has(cell)) say(1, 'index', `cell ${cell} is missing`, cell, 'Number the cells from 1 without gaps.');
  return {
    places: faults.length > 0 ? [] : Array.from({ length: count }, (_, i) => places.get(i + 1)!),
    faults,
  };
}

function headOf(row: GridRow | undefined): string[] | null {
  const names = row?.cells.map((c) => c.trim().toLowerCase()) ?? [];
  return names.some((n) => /^(x|y|z|index)$/.test(n)) ? names : null;
}

/** Places moved so that the middle of their foot is at 0 0 0, as every shape has it. */
export function aboutFoot(places: readonly CellPlace[]): CellPlace[] {
  const middle = (axis: 0 | 1): number => {
    const low = places.reduce((least, p) => Math.min(least, p[axis]), Infinity);
    const high = places.reduce((most, p) => Math.max(most, p[axis]), -Infinity);
    return (low + high) / 2;
  };
  if (places.length === 0) return [];
  const [x, y] = [middle(0), middle(1)];
  const z = places.reduce((low, p) => Math.min(low, p[2]), Infinity);
  return places.map((p) => [p[0] - x, p[1] - y, p[2] - z]);
}
