import type { UnitId } from '$core/ids.ts';
import type { ModeLayout } from '$core/profile/layout.ts';

/** A part of a unit that lies in one row of a universe's map. Slots from 1, both ends included. */
export interface Piece {
  readonly id: UnitId;
  readonly row: number;
  readonly from: number;
  readonly to: number;
  /** True for the first piece of a span: the one that is named and reached with the keyboard. */
  readonly head: boolean;
  readonly spanFrom: number;
  readonly spanTo: number;
  /** Slots of the unit before this piece. */
  readonly index: number;
}

/** Units as pieces row by row, by universe. */
export function piecesOf(
  patched: Iterable<{ readonly id: UnitId; readonly spans: readonly { universe: number; from: number; to: number }[] }>,
  perRow: number,
): Map<number, Piece[]> {
  const byUniverse = new Map<number, Piece[]>();
  for (const { id, spans } of patched) {
    let before = 0;
    for (const { universe, from, to } of spans) {
      let list = byUniverse.get(universe);
      if (!list) byUniverse.set(universe, (list = []));
      const last = Math.min(512, to);
      for (let at = from; at <= last;) {
        const row = Math.floor((at - 1) / perRow);
        const end = Math.min(last, (row + 1) * perRow);
        list.push({
          id,
          row,
          from: at,
          to: end,
          head: at === from,
          spanFrom: from,
          spanTo: to,
          index: before + at - from,
        });
        at = end + 1;
      }
      before += to - from + 1;
    }
  }
  for (const list of byUniverse.values()) list.sort((a, b) => a.from - b.from);
  return byUniverse;
}

/** Where the cells of a unit lie when they stand in one run: the slot of the first, slots of each. Null without cells. */
export function cellRun(layout: ModeLayout): { readonly first: number; readonly size: number } | null {
  if (layout.cells < 2 || layout.cellFootprint < 1) return null;
  let first = Infinity;
  for (const { cell, offsets } of layout.channels) if (cell === 1) first = Math.min(first, ...offsets);
  return Number.isFinite(first) ? { first, size: layout.cellFootprint } : null;
}

/** Slots from the beginning of a piece to the first border of a cell in it. */
export const toFirstBorder = (run: { first: number; size: number }, index: number): number =>
  index <= run.first ? run.first - index : (run.size - ((index - run.first) % run.size)) % run.size;
