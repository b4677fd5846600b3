<script lang="ts">
  import { untrack } from 'svelte';
  import { createVirtualizer } from '@tanstack/svelte-virtual';
  import { parseAddress } from '$core/patch/address.ts';
  import type { UnitId } from '$core/ids.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { UniverseMapState, ZOOMS } from '$lib/state/patch/universe-map.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import ChevronLeft from '@lucide/svelte/icons/chevron-left';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import ZoomIn from '@lucide/svelte/icons/zoom-in';
  import ZoomOut from '@lucide/svelte/icons/zoom-out';
  import Button from '../Button.svelte';
  import MapUniverse from './MapUniverse.svelte';

  /** Every universe slot by slot, units as blocks: drag them, nudge them, see the gaps and what would clash. */
  const app = getApp();
  const map = new UniverseMapState(app);
  const HEAD = 30;
  const ROW = 30;
  let search = $state('');
  let viewport = $state<HTMLElement>();
  const rowsOf = $derived(Math.ceil(512 / map.perRow));
  const virtual = createVirtualizer<HTMLElement, HTMLElement>({
    count: 0,
    getScrollElement: () => viewport ?? null,
    estimateSize: () => 100,
    overscan: 2,
  });
  $effect(() => {
    const count = map.universes.length;
    const size = HEAD + rowsOf * ROW + 12;
    const element = viewport;
    untrack(() => {
      $virtual.setOptions({ count, getScrollElement: () => element ?? null, estimateSize: () => size, overscan: 2 });
      $virtual.measure();
    });
  });

  function find(): void {
    const text = search.trim();
    if (text === '') return;
    const alone = /^\d+$/.test(text) ? Number(text) : null;
    const place = alone === null ? parseAddress(text) : null;
    const byName = app.rig.units.find((u) => u.name.toLowerCase().includes(text.toLowerCase()));
    const at = place?.ok ? place.value : null;
    const owner = at
      ? app.rig.patched.find((p) =>
          p.spans.some((s) => s.universe === at.universe && s.from <= at.address && s.to >= at.address),
        )?.id
      : alone === null
        ? byName?.id
        : undefined;
    const universe = alone ?? at?.universe ?? (byName && app.rig.place(byName.id)?.universe) ?? null;
    if (owner) app.selection.set([owner]);
    const index = universe === null ? -1 : map.universes.indexOf(universe);
    if (index >= 0) $virtual.scrollToIndex(index, { align: 'start' });
    else
      app.live.tell(
        'note',
        `Nothing in use is called “${text.slice(0, 40)}”`,
        'Try a universe, an address such as 3.145, or a name.',
      );
  }

  /** The slot under the pointer, counted from 1 through its universe; null outside of the maps. */
  function slotAt(x: number, y: number): { universe: number; slot: number } | null {
    const box = document
      .elementsFromPoint(x, y)
      .map((e) => (e as HTMLElement).closest<HTMLElement>('[data-universe]'))
      .find((e) => e !== null);
    if (!box) return null;
    const area = box.getBoundingClientRect();
    const column = Math.floor(((x - area.left) / area.width) * map.perRow);
    const row = Math.floor((y - area.top) / ROW);
    const slot = Math.max(0, Math.min(map.perRow - 1, column)) + 1 + Math.max(0, row) * map.perRow;
    return { universe: Number(box.dataset['universe']), slot: Math.min(512, slot) };
  }

  const clash = $derived.by(() => {
    const [first, ...more] = map.pending?.clashes ?? [];
    const words = first && `${app.rig.unit(first.unitId)?.name} ${first.message}`;
    return words && `${words}${more.length > 0 ? ` (+${more.length})` : ''}`;
  });

  let drag: { id: UnitId; universe: number; slot: number; x: number; y: number; moving: boolean } | null = null;
  function down(event: PointerEvent, id: UnitId): void {
    if (event.button !== 0 || event.pointerType === 'touch') return;
    const at = slotAt(event.clientX, event.clientY);
    if (at) drag = { id, ...at, x: event.clientX, y: event.clientY, moving: false };
  }
  /** Slots from one place to another, counted through the universes between. */
  function distance(from: { universe: number; slot: number }, to: { universe: number; slot: number }): number {
    let slots = to.slot - from.slot;
    const [low, high] = [Math.min(from.universe, to.universe), Math.max(from.universe, to.universe)];
    for (let u = low; u < high; u++) slots += (to.universe > from.universe ? 1 : -1) * app.rig.slotsOf(u);
    return slots;
  }
  function moving(event: PointerEvent): void {
    if (!drag) return;
    if (!drag.moving && Math.hypot(event.clientX - drag.x, event.clientY - drag.y) < 5) return;
    if (!drag.moving) {
      drag.moving = true;
      if (!app.selection.has(drag.id)) app.selection.set([drag.id]);
      viewport?.setPointerCapture(event.pointerId);
    }
    const area = viewport!.getBoundingClientRect();
    if (event.clientY < area.top + 30) viewport!.scrollBy(0, -16);
    else if (event.clientY > area.bottom - 30) viewport!.scrollBy(0, 16);
    const at = slotAt(event.clientX, event.clientY);
    if (at) map.try(distance(drag, at));
  }
  function drop(): void {
    const by = map.pending?.possible ? map.pending.bySlots : 0;
    if (drag?.moving) {
      map.move(by);
      // The click that ends a drag is no choice.
      justDropped = true;
      setTimeout(() => (justDropped = false));
    }
    cancel();
  }
  let justDropped = false;
  function cancel(): void {
    drag = null;
    map.pending = null;
  }
  function choose(event: MouseEvent, id: UnitId, order: readonly UnitId[]): void {
    if (!justDropped) app.selection.click(id, event, order);
  }
  function key(event: KeyboardEvent): void {
    if (event.key === 'Escape' && drag) {
      event.stopPropagation();
      return cancel();
    }
    if (event.altKey) {
      const by: Record<string, number> = {
        ArrowLeft: -1,
        ArrowRight: 1,
        ArrowUp: -map.perRow,
        ArrowDown: map.perRow,
        PageUp: -512,
        PageDown: 512,
      };
      const step = by[event.key];
      if (step === undefined) return;
      event.preventDefault();
      event.stopPropagation();
      map.move(step);
      return;
    }
    if (!['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'].includes(event.key)) return;
    const heads = [...(viewport?.querySelectorAll<HTMLElement>('[data-head]') ?? [])];
    const index = heads.indexOf(document.activeElement as HTMLElement);
    if (index < 0) return;
    event.preventDefault();
    event.stopPropagation();
    const next = heads[index + (event.key === 'ArrowLeft' || event.key === 'ArrowUp' ? -1 : 1)];
    if (!next) return;
    next.focus();
    const id = next.dataset['head'] as UnitId;
    if (event.shiftKey) app.selection.add([id]);
    else app.selection.set([id]);
  }
</script>

<div class="bar">
  <form
    onsubmit={(e) => {
      e.preventDefault();
      find();
    }}
  >
    <input
      type="search"
      bind:value={search}
      placeholder="Go to: 12, 3.145, a name"
      aria-label="Go to universe, address or unit"
    />
  </form>
  <Button aria-label="Wider" disabled={map.zoom === 0} onclick={() => map.zoom--}><ZoomOut size={16} /></Button>
  <span class="num quiet">{map.perRow} a row</span>
  <Button aria-label="Closer" disabled={map.zoom === ZOOMS.length - 1} onclick={() => map.zoom++}
    ><ZoomIn size={16} /></Button
  >
  <span class="nudge">
    <Button
      aria-label="Move the selection one slot down"
      disabled={app.selection.ids.length === 0}
      onclick={() => map.move(-1)}><ChevronLeft size={16} /></Button
    >
    <span class="quiet">{app.selection.ids.length > 0 ? plural(app.selection.ids.length, 'unit') : 'move'}</span>
    <Button
      aria-label="Move the selection one slot up"
      disabled={app.selection.ids.length === 0}
      onclick={() => map.move(1)}><ChevronRight size={16} /></Button
    >
  </span>
  <span class="says" role="status">
    {#if map.pending}
      {#if !map.pending.possible}<span class="wrong">▲ outside the universes</span>
      {:else if clash}<span class="wrong">▲ {clash}</span>
      {:else}<span class="fine">fits</span>{/if}
    {/if}
  </span>
</div>
<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<div
  class="map"
  bind:this={viewport}
  role="region"
  aria-label="Universe map"
  tabindex="-1"
  onpointermove={moving}
  onpointerup={drop}
  onpointercancel={cancel}
  onkeydown={key}
>
  <div class="all" style:height="{$virtual.getTotalSize()}px">
    {#each $virtual.getVirtualItems() as item (map.universes[item.index] ?? `gone ${item.index}`)}
      {@const universe = map.universes[item.index]}
      {#if universe !== undefined}
        <div class="place" style:transform="translateY({item.start}px)">
          <MapUniverse {universe} {map} rowHeight={ROW} {down} {choose} />
        </div>
      {/if}
    {/each}
  </div>
</div>

<style>
  .bar {
    display: flex;
    gap: 8px;
    align-items: center;
    padding: 2px 16px 8px;
  }
  input {
    width: 210px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 6px 10px;
  }
  .bar > span {
    white-space: nowrap;
  }
  .nudge {
    display: inline-flex;
    align-items: center;
    gap: 4px;
    margin-left: 8px;
  }
  .says {
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .wrong {
    color: var(--wrong);
  }
  .fine {
    color: var(--amber-text);
  }
  .map {
    flex: 1;
    min-height: 0;
    overflow: auto;
    padding: 0 16px;
    outline: none;
  }
  .all {
    position: relative;
  }
  .place {
    position: absolute;
    left: 0;
    right: 0;
    top: 0;
  }
</style>
