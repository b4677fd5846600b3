<script lang="ts">
  import { isSevere } from '$core/patch/clash.ts';
  import type { UnitId } from '$core/ids.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { cellRun, toFirstBorder, type Piece } from '$lib/state/patch/map-pieces.ts';
  import type { UniverseMapState } from '$lib/state/patch/universe-map.svelte.ts';

  /** One universe: its slots row by row, units as blocks, gaps with their sizes. */
  interface Props {
    universe: number;
    map: UniverseMapState;
    rowHeight: number;
    down: (event: PointerEvent, id: UnitId) => void;
    choose: (event: MouseEvent, id: UnitId, order: readonly UnitId[]) => void;
  }
  let { universe, map, rowHeight, down, choose }: Props = $props();
  const app = getApp();
  const perRow = $derived(map.perRow);
  const rows = $derived(Math.ceil(512 / perRow));
  const slots = $derived(app.rig.slotsOf(universe));
  const pieces = $derived(map.pieces.get(universe) ?? []);
  const order = $derived(pieces.filter((p) => p.head).map((p) => p.id));
  const ghosts = $derived(map.pending?.pieces.get(universe) ?? []);
  const gaps = $derived(map.gaps(universe));
  const free = $derived(gaps.reduce((sum, g) => sum + g.to - g.from + 1, 0));
  const largest = $derived(gaps.reduce((most, g) => Math.max(most, g.to - g.from + 1), 0));
  const outputs = $derived(
    app.rig.routes
      .filter((r) => r.universe === universe && r.enabled)
      .map((r) => app.rig.output(r.outputId)?.name)
      .filter(Boolean)
      .join(', '),
  );
  /** Gaps by row, only where a word fits. */
  const gapPieces = $derived(
    gaps.flatMap((gap) => {
      const row = Math.floor((gap.from - 1) / perRow);
      const end = Math.min(gap.to, (row + 1) * perRow);
      return end - gap.from + 1 >= perRow / 14 ? [{ row, from: gap.from, to: end, size: gap.to - gap.from + 1 }] : [];
    }),
  );
  const left = (slot: number): string => `${(((slot - 1) % perRow) / perRow) * 100}%`;
  const wide = (from: number, to: number): string => `${((to - from + 1) / perRow) * 100}%`;
  /** A quiet colour for each profile, so that rows of the same fixture read as one. */
  const HUES = [212, 168, 268, 96, 320, 190, 242, 132];
  const hueOf = (id: UnitId): number => {
    const profile = app.rig.unit(id)?.profileId ?? '';
    let sum = 0;
    for (let i = 0; i < profile.length; i++) sum = (sum * 31 + profile.charCodeAt(i)) >>> 0;
    return HUES[sum % HUES.length]!;
  };
  const isWrong = (id: UnitId): boolean => (app.rig.clashesById.get(id) ?? []).some(isSevere);
  function titleOf(piece: Piece): string {
    const unit = app.rig.unit(piece.id);
    const clash = (app.rig.clashesById.get(piece.id) ?? []).filter((c) => c.code !== 'NO_ROUTE');
    return `${unit?.number} ${unit?.name}: ${universe}.${piece.spanFrom}-${piece.spanTo}${clash.map((c) => `; ${c.message}`).join('')}`;
  }
  const cells = $derived(perRow <= 64);
  /** Lines between the cells of a unit, where they are wide enough to be told apart: where they begin, how far apart. */
  function borders(piece: Piece): { left: string; step: string } | null {
    const unit = perRow <= 128 ? app.rig.unit(piece.id) : undefined;
    const run = unit && cellRun(app.rig.layout(unit));
    if (!run) return null;
    const slots = piece.to - piece.from + 1;
    const first = toFirstBorder(run, piece.index);
    if (first >= slots) return null;
    return { left: `${(first / slots) * 100}%`, step: `${(run.size / (slots - first)) * 100}%` };
  }
  const marks = $derived(Array.from({ length: rows }, (_, r) => r * perRow + 1).filter((slot) => slot <= 512));
</script>

<section aria-label="Universe {universe}">
  <header>
    <b class="num">{universe}</b>
    <span class="quiet">{outputs || 'no output'}</span>
    <span class="quiet right"
      ><span class="num">{free}</span> of <span class="num">{slots}</span> free{#if largest > 0 && gaps.length > 1},
        largest gap
        <span class="num">{largest}</span>{/if}</span
    >
  </header>
  <div class="grid">
    <div class="scale num quiet">
      {#each marks as slot (slot)}<span style:height="{rowHeight}px">{slot}</span>{/each}
    </div>
    <div
      class="slots"
      class:cells
      data-universe={universe}
      style:height="{rows * rowHeight}px"
      style:--row="{rowHeight}px"
      style:--cell="{100 / perRow}%"
    >
      {#each marks as slot, r (slot)}<i style:top="{r * rowHeight}px" style:height="{rowHeight}px"></i>{/each}
      {#if slots < 512}
        <span
          class="limit"
          style:top="{(rows - 1) * rowHeight}px"
          style:left={left(slots + 1)}
          style:width={wide(slots + 1, 512)}
          title="Devices here use {slots} slots"
        ></span>
      {/if}
      {#each gapPieces as gap (gap.from)}
        <span
          class="gap num"
          style:top="{gap.row * rowHeight}px"
          style:left={left(gap.from)}
          style:width={wide(gap.from, gap.to)}
          title="{universe}.{gap.from}: {gap.size} slots free">{gap.size} free</span
        >
      {/each}
      {#each pieces as piece (`${piece.id} ${piece.from}`)}
        {@const lines = borders(piece)}
        <button
          type="button"
          class:on={app.selection.has(piece.id)}
          class:wrong={isWrong(piece.id)}
          class:tail={!piece.head}
          data-head={piece.head ? piece.id : undefined}
          tabindex={piece.head ? 0 : -1}
          aria-hidden={piece.head ? undefined : 'true'}
          aria-pressed={app.selection.has(piece.id)}
          aria-label={titleOf(piece)}
          title={titleOf(piece)}
          style:top="{piece.row * rowHeight + 2}px"
          style:height="{rowHeight - 4}px"
          style:left={left(piece.from)}
          style:width="max(4px, {wide(piece.from, piece.to)})"
          style:--hue={hueOf(piece.id)}
          onpointerdown={(e) => down(e, piece.id)}
          onclick={(e) => choose(e, piece.id, order)}
          ondragstart={(e) => e.preventDefault()}
          >{#if piece.to - piece.from + 1 >= perRow / 40}<b class="num"
              >{piece.head ? `${app.rig.unit(piece.id)?.number} ` : '… '}</b
            >{#if piece.to - piece.from + 1 >= perRow / 14}<span>{app.rig.unit(piece.id)?.name}</span
              >{/if}{/if}{#if lines}<i class="lines" style:left={lines.left} style:--step={lines.step}></i>{/if}</button
        >
      {/each}
      {#each ghosts as ghost (`${ghost.id} ${ghost.from}`)}
        <span
          class="ghost"
          class:bad={map.pending?.clashes.some((c) => c.unitId === ghost.id)}
          style:top="{ghost.row * rowHeight + 1}px"
          style:height="{rowHeight - 2}px"
          style:left={left(ghost.from)}
          style:width="max(4px, {wide(ghost.from, ghost.to)})">{ghost.head ? `${universe}.${ghost.from}` : ''}</span
        >
      {/each}
    </div>
  </div>
</section>

<style>
  header {
    display: flex;
    gap: 12px;
    align-items: baseline;
    height: 30px;
    padding-top: 6px;
  }
  .right {
    margin-left: auto;
  }
  .grid {
    display: grid;
    grid-template-columns: 40px 1fr;
    gap: 6px;
  }
  .scale span {
    display: flex;
    align-items: center;
    justify-content: flex-end;
    font-size: 11px;
  }
  .slots {
    position: relative;
    background: var(--panel);
    border-radius: 4px;
    overflow: hidden;
  }
  .slots > i {
    position: absolute;
    left: 0;
    right: 0;
    border-bottom: 1px solid var(--line);
  }
  .cells > i {
    background: repeating-linear-gradient(
      90deg,
      transparent 0,
      transparent calc(var(--cell) - 1px),
      var(--line) calc(var(--cell) - 1px),
      var(--line) var(--cell)
    );
  }
  .gap,
  .limit {
    position: absolute;
    height: var(--row);
    display: flex;
    align-items: center;
    justify-content: center;
    font-size: 11px;
    color: var(--quiet);
    overflow: hidden;
    white-space: nowrap;
    pointer-events: none;
  }
  .limit {
    background: repeating-linear-gradient(45deg, var(--line) 0 3px, transparent 3px 6px);
  }
  button {
    position: absolute;
    padding: 0 5px;
    border: 0;
    border-left: 3px solid hsl(var(--hue) 45% 62%);
    border-radius: 3px;
    background: hsl(var(--hue) 22% 27%);
    color: #eef1f6;
    font-size: 12px;
    text-align: left;
    overflow: hidden;
    white-space: nowrap;
    text-overflow: ellipsis;
    cursor: grab;
    touch-action: pan-y;
    user-select: none;
  }
  button b {
    font-weight: 500;
    margin-right: 6px;
  }
  .lines {
    position: absolute;
    top: 0;
    bottom: 0;
    right: 0;
    pointer-events: none;
    background: repeating-linear-gradient(
      90deg,
      rgb(255 255 255 / 30%) 0,
      rgb(255 255 255 / 30%) 1px,
      transparent 1px,
      transparent var(--step)
    );
  }
  :global([data-theme='light']) .lines {
    filter: invert(1);
  }
  button.tail {
    border-left-style: dotted;
  }
  button:hover {
    filter: brightness(1.15);
  }
  button.wrong {
    background: repeating-linear-gradient(45deg, #8a3218 0 5px, #5a2413 5px 10px);
    border-left-color: var(--wrong);
    color: #fff;
  }
  button.on {
    background: var(--amber);
    border-left-color: var(--on-amber);
    color: var(--on-amber);
  }
  button.wrong.on {
    outline: 2px solid var(--wrong);
    outline-offset: -2px;
  }
  .ghost {
    position: absolute;
    border: 2px dashed var(--amber);
    background: rgb(255 179 71 / 18%);
    border-radius: 3px;
    font: 11px/1 var(--mono);
    padding: 2px 4px;
    pointer-events: none;
    overflow: hidden;
    white-space: nowrap;
    color: var(--text);
  }
  .ghost.bad {
    border-color: var(--wrong);
    background: repeating-linear-gradient(45deg, rgb(255 122 82 / 45%) 0 5px, rgb(255 122 82 / 15%) 5px 10px);
  }
  :global([data-theme='light']) button:not(.on, .wrong) {
    background: hsl(var(--hue) 32% 84%);
    border-left-color: hsl(var(--hue) 45% 45%);
    color: var(--text);
  }
</style>
