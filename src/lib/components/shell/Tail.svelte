<script lang="ts">
  import { partCells } from '$core/prop/parts.ts';
  import { toHex } from '$core/colour/convert.ts';
  import { plural } from '$lib/state/words.ts';
  import { readActivity, readCell, type CellLight } from '$core/patch/readout.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import ChevronsUpDown from '@lucide/svelte/icons/chevrons-up-down';
  import ChevronUp from '@lucide/svelte/icons/chevron-up';
  import Lightbulb from '@lucide/svelte/icons/lightbulb';
  import Button from '../Button.svelte';
  import Mark from '../Mark.svelte';
  import HandPanel from '../hand/HandPanel.svelte';
  import { heldBackWords } from '$lib/state/plot/held-back.ts';
  import HandMenu from '../hand/HandMenu.svelte';
  import StoreHand from '../hand/StoreHand.svelte';

  const app = getApp();
  /** Units and parts with what colours their bows: the unit's reader and which of its cells. */
  const selected = $derived(
    app.selection.lit.flatMap((id) => {
      const lit = app.rig.lit(id);
      if (!lit) return [];
      const { unit, part, name } = lit;
      return [{ id, number: unit.number, name, unitId: unit.id, cells: part ? partCells(part) : null }];
    }),
  );
  const many = $derived(selected.length === 1 ? '' : 's');
  const words = $derived(
    app.selection.parts.length === 0
      ? `unit${many}`
      : app.selection.ids.length === 0
        ? `part${many}`
        : 'units and parts',
  );
  const MOST_BOWS = 60;
  const bows = $derived(selected.slice(0, MOST_BOWS));
  const byId = $derived(new Map<string, (typeof bows)[number]>(bows.map((b) => [b.id, b])));

  const light: CellLight = { r: 0, g: 0, b: 0, strobing: false };
  /** Colours of the bows from the frames that are really sent, drawn at most 30 times a second. */
  function paint(): void {
    const strings = document.querySelectorAll<SVGGElement>('[data-bow]');
    for (const bow of strings) {
      const item = byId.get(bow.dataset['bow'] ?? '');
      const reader = item && app.rig.readers.get(item.unitId);
      if (!reader) continue;
      let [r, g, b] = [0, 0, 0];
      const count = item.cells?.length ?? reader.cells.length;
      for (let i = 0; i < count; i++) {
        const cell = item.cells ? item.cells[i]! - 1 : i;
        if (!reader.cells[cell]) continue;
        readCell(reader, cell, app.live.frames, light);
        r += light.r;
        g += light.g;
        b += light.b;
      }
      const n = Math.max(1, count);
      const busy = readActivity(reader, app.live.frames);
      const hex = r + g + b > 0.001 ? toHex({ r: r / n, g: g / n, b: b / n }) : busy > 0 ? '#8fa3c8' : 'transparent';
      if (bow.style.fill !== hex) bow.style.fill = hex;
    }
  }
  $effect(() => {
    void bows;
    void app.rig.readers;
    queueMicrotask(paint);
    return app.live.onFrame(paint);
  });
  const step = 26;
  const width = $derived(Math.max(60, bows.length * step + 34));
  const sway = (i: number): number => 18 + Math.sin(i * 0.9) * 5;
  const path = $derived(
    bows.reduce(
      (d, _, i) => `${d} Q ${20 + (i + 0.5) * step} ${sway(i + 0.5) + 3} ${32 + i * step} ${sway(i)}`,
      'M 20 14',
    ),
  );
  const identifying = $derived(app.identifying.length > 0);
  /** Identify says of heads that stay dark why they do. */
  let heldBack = $state('');
  $effect(() => {
    const ids = app.identifying;
    if (ids.length === 0) {
      heldBack = '';
      return;
    }
    const timer = setInterval(() => (heldBack = heldBackWords(app, ids)), 250);
    return () => clearInterval(timer);
  });
  const handCount = $derived(app.hand.unitIds.length);
  const effectCount = $derived(app.hand.effects.length);
  const rawCount = $derived(Object.keys(app.live.live?.raw ?? {}).length);
</script>

<footer class:open={app.tailOpen} aria-label="Selection and hand">
  <div class="bar">
    <Button
      kind="bare"
      aria-label={app.tailOpen ? 'Fold the tail' : 'Unfold the tail'}
      aria-expanded={app.tailOpen}
      title="Fold (T)"
      onclick={() => app.foldTail()}
    >
      {#if app.tailOpen}<ChevronDown size={18} />{:else}<ChevronUp size={18} />{/if}
    </Button>
    {#if app.tailOpen}
      <Button
        kind="bare"
        aria-label="Taller tail"
        pressed={app.tailTall}
        title="More room for what is by hand (Shift+T)"
        onclick={() => app.stretchTail()}><ChevronsUpDown size={16} /></Button
      >
    {/if}
    <div class="kite">
      {#if selected.length === 0}
        <span class="quiet none"
          >No units selected. Choose some on the plot, in the patch, with Ctrl+K, or a group below.</span
        >
      {:else}
        <svg
          {width}
          height="36"
          viewBox="0 0 {width} 36"
          role="img"
          aria-label="{selected.length} units selected: {selected
            .slice(0, 12)
            .map((u) => u.name)
            .join(', ')}"
        >
          <path class="kitebody" d="M10 3 18 12 9 21 3 10Z" />
          <path class="string" d={path} />
          {#each bows as unit, i (unit.id)}
            <g data-bow={unit.id} class="bow" transform="translate({32 + i * step} {sway(i)})">
              <title>{unit.number} {unit.name}</title>
              <path d="M0 0 -9 -6.5v13zM0 0 9-6.5v13z" />
            </g>
          {/each}
        </svg>
        <span class="count"
          ><b class="num">{selected.length}</b>
          {words}{#if selected.length === 1}: {selected[0]!.name}{/if}</span
        >
      {/if}
    </div>
    <Button
      pressed={identifying}
      disabled={selected.length === 0}
      title="Hold to light the selection at full white (hold F)"
      onpointerdown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        app.identify(app.selection.lit);
      }}
      onpointerup={() => app.identify([])}
      onpointercancel={() => app.identify([])}
      onkeydown={(e) => (e.key === ' ' || e.key === 'Enter') && !e.repeat && app.identify(app.selection.lit)}
      onkeyup={() => app.identify([])}
      onblur={() => app.identify([])}><Lightbulb size={16} /> Identify</Button
    >
    {#if heldBack}<span class="held" role="status">{heldBack}</span>{/if}
    <HandMenu />
    {#if handCount > 0 || rawCount > 0 || effectCount > 0}
      <span class="byhand"
        ><Mark kind="hand" /> by hand: {[
          ...(handCount > 0 ? [plural(handCount, 'unit')] : []),
          ...(effectCount > 0 ? [plural(effectCount, 'effect')] : []),
          ...(rawCount > 0 ? [plural(rawCount, 'raw slot')] : []),
        ].join(', ')}</span
      >
      {#if handCount > 0 || effectCount > 0}<StoreHand />{/if}
      <Button title="Let everything by hand go (L)" onclick={() => app.hand.letGo()}>Let go</Button>
    {/if}
  </div>
  {#if app.tailOpen}<HandPanel />{/if}
</footer>

<style>
  footer {
    background: var(--panel);
    border-top: 1px solid var(--line);
    min-width: 0;
  }
  .bar {
    display: flex;
    align-items: center;
    gap: 10px;
    height: 40px;
    padding: 0 12px 0 6px;
  }
  .kite {
    display: flex;
    align-items: center;
    gap: 10px;
    flex: 1;
    min-width: 0;
    overflow-x: auto;
    scrollbar-width: none;
  }
  .kitebody {
    fill: var(--amber);
  }
  .string {
    fill: none;
    stroke: var(--line-strong);
    stroke-width: 1.2;
  }
  .bow {
    fill: transparent;
    stroke: var(--quiet);
    stroke-width: 1;
    stroke-linejoin: round;
  }
  svg,
  .count {
    flex: none;
    white-space: nowrap;
  }
  .byhand {
    display: inline-flex;
    gap: 6px;
    align-items: center;
    color: var(--amber-text);
    white-space: nowrap;
  }
  .none {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .held {
    color: var(--look);
    font-size: 12.5px;
    max-width: 260px;
  }
</style>
