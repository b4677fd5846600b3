<script lang="ts">
  import { isSevere } from '$core/patch/clash.ts';
  import type { UnitId } from '$core/ids.ts';
  import { getApp } from '$lib/state/app.svelte.ts';

  /** One universe as a strip of 512 slots, units as blocks; shared slots are hatched. */
  let { universe }: { universe: number } = $props();
  const app = getApp();
  interface Block {
    readonly id: UnitId;
    readonly label: string;
    readonly title: string;
    readonly from: number;
    readonly to: number;
    readonly wrong: boolean;
  }
  const limit = $derived(app.rig.slotsOf(universe));
  const blocks = $derived.by((): Block[] =>
    (app.rig.spansByUniverse.get(universe) ?? []).map(({ unit, from, to }) => {
      const clash = (app.rig.clashesById.get(unit.id) ?? []).filter(isSevere);
      const title = `${unit.number} ${unit.name}: ${universe}.${from}-${to}${clash.map((c) => `; ${c.message}`).join('')}`;
      return { id: unit.id, label: `${unit.number}`, title, from, to: Math.min(512, to), wrong: clash.length > 0 };
    }),
  );
  const used = $derived.by(() => {
    const taken = new Uint8Array(513);
    for (const b of blocks) taken.fill(1, b.from, b.to + 1);
    return taken.reduce((sum, v) => sum + v, 0);
  });
  const at = (slot: number): string => `${((slot - 1) / 512) * 100}%`;
</script>

<div class="strip">
  <div class="name"><b class="num">{universe}</b><span class="quiet num">{limit - used} free</span></div>
  <div class="slots" role="group" aria-label="Universe {universe}, {used} of {limit} slots taken">
    {#each [65, 129, 193, 257, 321, 385, 449] as tick (tick)}<i style:left={at(tick)}></i>{/each}
    {#if limit < 512}<span class="limit" style:left={at(limit + 1)} title="Devices here use {limit} slots"></span>{/if}
    {#each blocks as block (block.id)}
      <button
        type="button"
        class:on={app.selection.has(block.id)}
        class:wrong={block.wrong}
        title={block.title}
        aria-label={block.title}
        style:left={at(block.from)}
        style:width="max(3px, {((block.to - block.from + 1) / 512) * 100}%)"
        onclick={(e) =>
          app.selection.click(
            block.id,
            e,
            blocks.map((b) => b.id),
          )}>{block.to - block.from >= 9 ? block.label : ''}</button
      >
    {/each}
  </div>
</div>

<style>
  .strip {
    display: grid;
    grid-template-columns: 84px 1fr;
    align-items: center;
    gap: 8px;
    height: 28px;
  }
  .name {
    display: flex;
    justify-content: space-between;
    font-size: 12.5px;
  }
  .slots {
    position: relative;
    height: 24px;
    background: var(--panel);
    border: 1px solid var(--line);
    border-radius: 4px;
    overflow: hidden;
  }
  i {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 1px;
    background: var(--line);
  }
  .limit {
    position: absolute;
    top: 0;
    bottom: 0;
    right: 0;
    background: repeating-linear-gradient(45deg, var(--line) 0 3px, transparent 3px 6px);
  }
  button {
    position: absolute;
    top: 2px;
    bottom: 2px;
    min-width: 3px;
    padding: 0;
    border: 0;
    border-right: 1px solid var(--back);
    border-radius: 2px;
    background: var(--line-strong);
    color: var(--text);
    font-size: 11px;
    overflow: hidden;
  }
  button:hover {
    filter: brightness(1.2);
  }
  button.on {
    background: var(--amber);
    color: var(--on-amber);
  }
  button.wrong {
    background: repeating-linear-gradient(45deg, var(--wrong) 0 4px, #5a2413 4px 8px);
    color: #fff;
  }
  button.wrong.on {
    outline: 2px solid var(--amber);
    outline-offset: -2px;
  }
  :global([data-theme='light']) button:not(.on, .wrong) {
    background: #b9c3d1;
  }
</style>
