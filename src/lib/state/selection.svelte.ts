import type { UnitId } from '$core/ids.ts';

/** The selected units, in the order they were selected. One selection for all screens. */
export class Selection {
  ids = $state.raw<readonly UnitId[]>([]);
  /** Without a keyboard: every touch adds to the selection or takes from it. */
  several = $state(false);
  readonly #set = $derived(new Set(this.ids));

  has(id: UnitId): boolean {
    return this.#set.has(id);
  }
  set(ids: Iterable<UnitId>): void {
    this.ids = [...new Set(ids)];
  }
  add(ids: Iterable<UnitId>): void {
    this.set([...this.ids, ...ids]);
  }
  toggle(id: UnitId): void {
    this.ids = this.has(id) ? this.ids.filter((other) => other !== id) : [...this.ids, id];
  }
  clear(): void {
    if (this.ids.length > 0) this.ids = [];
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
  keep(exists: (id: UnitId) => boolean): void {
    if (this.ids.some((id) => !exists(id))) this.ids = this.ids.filter(exists);
  }
}
