import { applyChange } from '$core/document/change.ts';
import type { UnitId } from '$core/ids.ts';
import { isSevere, gapsOf, takenSpans, type Clash } from '$core/patch/clash.ts';
import { patchFaults } from '$core/patch/faults.ts';
import { patchOf } from '$core/patch/of-document.ts';
import { shiftUnits } from '$core/patch/pack.ts';
import type { App } from './app.svelte.ts';
import { plural } from './words.ts';

/** Slots in a row of the map, from the widest view to one in which single slots are seen. */
export const ZOOMS = [512, 256, 128, 64, 32] as const;

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
}

/** Units as pieces row by row, by universe. */
export function piecesOf(
  patched: Iterable<{ readonly id: UnitId; readonly spans: readonly { universe: number; from: number; to: number }[] }>,
  perRow: number,
): Map<number, Piece[]> {
  const byUniverse = new Map<number, Piece[]>();
  for (const { id, spans } of patched)
    for (const { universe, from, to } of spans) {
      let list = byUniverse.get(universe);
      if (!list) byUniverse.set(universe, (list = []));
      const last = Math.min(512, to);
      for (let at = from; at <= last;) {
        const row = Math.floor((at - 1) / perRow);
        const end = Math.min(last, (row + 1) * perRow);
        list.push({ id, row, from: at, to: end, head: at === from, spanFrom: from, spanTo: to });
        at = end + 1;
      }
    }
  for (const list of byUniverse.values()) list.sort((a, b) => a.from - b.from);
  return byUniverse;
}

/** A move that has not been made: where it would bring the units, and what would clash. */
export interface PendingMove {
  readonly bySlots: number;
  readonly pieces: ReadonlyMap<number, readonly Piece[]>;
  readonly clashes: readonly Clash[];
  /** Null where it would lead out of the universes. */
  readonly possible: boolean;
}

/** The map of universes: how close it is looked at, and what is being moved in it. */
export class UniverseMapState {
  readonly #app: App;
  zoom = $state(2);
  /** Set while units are dragged; nothing is moved before they are dropped. */
  pending = $state.raw<PendingMove | null>(null);

  constructor(app: App) {
    this.#app = app;
  }

  readonly perRow = $derived<number>(ZOOMS[this.zoom]!);
  readonly pieces = $derived.by(() => piecesOf(this.#app.rig.patched, this.perRow));
  readonly taken = $derived.by(() => takenSpans(this.#app.rig.patched));
  /** Universes in use, those between them, and the next free one: where something could be dropped. */
  readonly universes = $derived.by(() => {
    const used = this.#app.rig.universes;
    const list = used.length > 0 ? [...used] : [1];
    const next = list.at(-1)! + 1;
    return next <= 63_999 ? [...list, next] : list;
  });

  gaps(universe: number): { from: number; to: number }[] {
    return gapsOf(this.taken.get(universe), this.#app.rig.slotsOf(universe));
  }

  /** What moving the selection by so many slots would do. */
  try(bySlots: number): void {
    if (bySlots === 0) return void (this.pending = null);
    if (this.pending?.bySlots === bySlots) return;
    const { document } = this.#app.live;
    const change = shiftUnits(document, this.#app.selection.ids, bySlots);
    if (!change) {
      this.pending = { bySlots, pieces: new Map(), clashes: [], possible: false };
      return;
    }
    const after = applyChange(document, change);
    const before = patchOf(document);
    const moved = patchOf(after).units.filter((p) => before.get(p.id) !== p);
    const ids = new Set(moved.map((p) => p.id));
    const clashes = patchFaults(after).filter((c) => isSevere(c) && ids.has(c.unitId));
    this.pending = { bySlots, pieces: piecesOf(moved, this.perRow), clashes, possible: true };
  }

  /** Moves the selection by so many slots, as one step. */
  move(bySlots: number): void {
    this.pending = null;
    if (bySlots === 0) return;
    const { ids } = this.#app.selection;
    const change = shiftUnits(this.#app.live.document, ids, bySlots);
    if (change)
      this.#app.live.edit(`Move ${plural(ids.length, 'unit')} by ${plural(Math.abs(bySlots), 'slot')}`, change);
    else this.#app.live.tell('note', 'That is outside the universes', 'They go from 1.1 to 63999.512.');
  }
}
