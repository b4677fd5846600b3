import type { PartRecord } from '../records/index.ts';

/** Most cells of one part; what is named beyond is left out. */
const MOST = 65_536;

/** Cells of a part, from 1, in its order; each once. */
export function partCells(part: Pick<PartRecord, 'cells'>): number[] {
  const found = new Set<number>();
  for (const text of part.cells.split(',')) {
    const [from, to = from] = text.trim().split('-').map(Number) as [number, number?];
    const step = to! >= from ? 1 : -1;
    for (let cell = from; cell !== to! + step && found.size < MOST; cell += step) if (cell > 0) found.add(cell);
  }
  return [...found];
}

/** Cells as the ranges of a part record, in the order given: 1, 2, 3, 7 as `1-3, 7`. */
export function cellsText(cells: readonly number[]): string {
  const runs: { from: number; to: number; step: number }[] = [];
  for (const cell of cells) {
    const run = runs.at(-1);
    const step = run ? cell - run.to : 0;
    if (run && Math.abs(step) === 1 && (run.step === 0 || run.step === step)) {
      run.to = cell;
      run.step = step;
    } else runs.push({ from: cell, to: cell, step: 0 });
  }
  return runs.map(({ from, to }) => (from === to ? String(from) : `${from}-${to}`)).join(', ');
}
