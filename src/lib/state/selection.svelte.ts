import type { LitId, PartId, UnitId } from '$core/ids.ts';

/** The selected units, in the order they were selected. One selection for all screens. */
export class Selection {
  ids = $state.raw<readonly UnitId[]>([]);
  /** Parts of props that are selected besides; they are lit like units. */
  parts = $state.raw<readonly PartId[]>([]);
  /** All that the hand and identify reach: units, then parts. */
  readonly lit = $derived<readonly LitId[]>([...this.ids, ...this.parts]);
  /** Without a keyboard: every touch adds to the selection or takes from it. */
  several = $state(false);
  readonly #set = $derived(new Set(this.ids));

  has(id: UnitId): boolean {
    return this.#set.has(id);
  }
  set(ids: Iterable<UnitId>): void {
    this.ids = [...new Set(ids)];
    this.parts = [];
  }
  /** Units and parts. */
  setLit(ids: readonly LitId[]): void {
    this.ids = ids.filter((id): id is UnitId => id.startsWith('unit:'));
    this.parts = ids.filter((id): id is PartId => id.startsWith('part:'));
  }
  add(ids: Iterable<UnitId>): void {
    this.ids = [...new Set([...this.ids, ...ids])];
  }
  hasPart(id: PartId): boolean {
    return this.parts.includes(id);
  }
  /** A part alone, without its unit; with Shift or Ctrl added or taken away. */
  pickPart(id: PartId, event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }): void {
    if (event.shiftKey || event.ctrlKey || event.metaKey || this.several)
      this.parts = this.hasPart(id) ? this.parts.filter((other) => other !== id) : [...this.parts, id];
    else {
      this.ids = [];
      this.parts = [id];
    }
  }
  toggle(id: UnitId): void {
    this.ids = this.has(id) ? this.ids.filter((other) => other !== id) : [...this.ids, id];
  }
  clear(): void {
    if (this.ids.length > 0) this.ids = [];
    if (this.parts.length > 0) this.parts = [];
  }
  /** Click with or without Shift or Ctrl. `order` is the list the range is taken from. */
  click(id: UnitId, event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }, order: readonly UnitId[]): void {
    const anchor = this.ids.at(-1);
    if (event.shiftKey && anchor) {
      const [from, to] = [order.indexOf(anchor), order.indexOf(id)];
      if (from >= 0 && to >= 0)
        return this.add(from < to ? order.slice(from, to + 1) : order.slice(to, from + 1).reverse());
    }
    if (event.ctrlKey || event.metaKey || this.several) this.toggle(id);
    else this.set([id]);
  }
  /** Forgets what the show no longer has. */
  keep(exists: (id: LitId) => boolean): void {
    if (this.ids.some((id) => !exists(id))) this.ids = this.ids.filter(exists);
    if (this.parts.some((id) => !exists(id))) this.parts = this.parts.filter(exists);
  }
}
