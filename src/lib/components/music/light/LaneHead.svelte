<script lang="ts">
  import { bindingsFor, type Branch } from '$core/timeline/tree.ts';
  import Button from '$lib/components/Button.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import Hand from '@lucide/svelte/icons/hand';
  import Headphones from '@lucide/svelte/icons/headphones';
  import Lock from '@lucide/svelte/icons/lock';
  import Star from '@lucide/svelte/icons/star';
  import VolumeX from '@lucide/svelte/icons/volume-x';
  import X from '@lucide/svelte/icons/x';

  /** A lane by name: folded, kept above, muted, alone, locked, under or over the hand; bound anew where it lost its place. */
  let { light, branch }: { light: LightDesk; branch: Branch } = $props();
  const app = getApp();
  const lane = $derived(branch.lane);
  const name = $derived(light.laneName(lane));
  const bindings = $derived(lane.lost === null ? [] : bindingsFor(app.live.document, lane.lost).slice(0, 300));
  const set = (label: string, fields: Parameters<LightDesk['changeLane']>[2]): void =>
    light.changeLane(lane, label, fields);
  const folded = $derived(light.folded.has(lane.id));
</script>

<div class="name" class:lost={lane.lost !== null} style:padding-left="{6 + branch.depth * 14}px">
  {#if branch.below > 0}
    <Button
      kind="bare"
      aria-label="{folded ? 'Unfold' : 'Fold'} {name}"
      aria-expanded={!folded}
      onclick={() => light.fold(lane.id)}
      >{#if folded}<ChevronRight size={14} />{:else}<ChevronDown size={14} />{/if}</Button
    >
  {/if}
  <button class="text" type="button" aria-pressed={light.laneId === lane.id} onclick={() => (light.laneId = lane.id)}
    >{name}</button
  >
  <span class="quiet num">{lane.blocks.length}{folded ? ` +${branch.below}` : ''}</span>
  {#if lane.lost !== null}
    <select
      aria-label="Bind {lane.lost} to"
      onchange={(e) =>
        set(`Bind ${lane.lost}`, { on: e.currentTarget.value as NonNullable<typeof lane.on>, lost: null })}
    >
      <option value="">plays on …</option>
      {#each bindings as { id, name: to, same } (id)}<option value={id}>{to}{same ? ' (same name)' : ''}</option>{/each}
    </select>
  {/if}
  <Button
    kind="bare"
    pressed={lane.favourite}
    aria-label="Keep {name} above"
    title="Stands above the others"
    onclick={() => set('Keep a lane above', { favourite: !lane.favourite })}><Star size={14} /></Button
  >
  <Button
    kind="bare"
    pressed={lane.muted}
    aria-label="Mute {name}"
    title="Does not play"
    onclick={() => set('Mute a lane', { muted: !lane.muted })}><VolumeX size={14} /></Button
  >
  <Button
    kind="bare"
    pressed={lane.solo}
    aria-label="Only {name}"
    title="Only this plays"
    onclick={() => set('Solo a lane', { solo: !lane.solo })}><Headphones size={14} /></Button
  >
  <Button
    kind="bare"
    pressed={lane.live}
    aria-label="Pads lie over {name}"
    title={lane.live ? 'What is played from pads lies over it' : 'It lies over what is played from pads; the hand wins'}
    onclick={() => set('Live lane', { live: !lane.live })}><Hand size={14} /></Button
  >
  <Button
    kind="bare"
    pressed={lane.locked}
    aria-label="Lock {name}"
    title="Cannot be changed"
    onclick={() => set('Lock a lane', { locked: !lane.locked })}><Lock size={14} /></Button
  >
  <Button
    kind="bare"
    aria-label="Remove the lane {name}"
    title="Remove the lane"
    disabled={lane.locked}
    onclick={() => light.removeLane(lane)}><X size={14} /></Button
  >
</div>

<style>
  .name {
    display: flex;
    gap: 6px;
    align-items: center;
    min-height: 24px;
    font-size: 12.5px;
    background: var(--panel);
  }
  .name :global(button) {
    min-height: 22px;
    padding: 0 5px;
  }
  .name :global([aria-pressed='true']) {
    color: var(--amber);
  }
  .text {
    overflow: hidden;
    max-width: 40%;
    text-overflow: ellipsis;
    white-space: nowrap;
    color: inherit;
    background: none;
    border: 0;
    cursor: pointer;
  }
  .lost {
    color: var(--amber);
  }
  select {
    min-height: 22px;
    max-width: 150px;
    padding-block: 0;
  }
</style>
