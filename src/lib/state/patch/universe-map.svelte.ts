import { applyChange } from '$core/document/change.ts';
import { isSevere, gapsOf, takenSpans, type Clash } from '$core/patch/clash.ts';
import { patchFaults } from '$core/patch/faults.ts';
import { patchOf } from '$core/patch/of-document.ts';
import { shiftUnits } from '$core/patch/pack.ts';
import type { App } from '../app.svelte.ts';
import { piecesOf, type Piece } from './map-pieces.ts';
import { plural } from '../words.ts';

/** Slots in a row of the map, from the widest view to one in which single slots are seen. */
export const ZOOMS = [512, 256, 128, 64, 32] as const;

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
