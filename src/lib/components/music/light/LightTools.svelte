<script lang="ts">
  import type { ReachId } from '$core/records/effect.ts';
  import Button from '$lib/components/Button.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { DrawnTo, LightDesk } from '$lib/state/music/light-desk.svelte.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';

  /** What is in the hand, what blocks are drawn to, lanes that are added, and what is done to the blocks that are chosen. */
  let { desk, light }: { desk: SongDesk; light: LightDesk } = $props();
  const { rig } = getApp();
  const DRAWN: readonly [DrawnTo, string][] = [
    ['bars', 'bars'],
    [1, 'beats'],
    [2, 'halves'],
    [3, 'thirds'],
    [4, 'quarters'],
    ['onsets', 'onsets'],
    ['nothing', 'nothing'],
  ];
  const groups = $derived([...new Set(light.puttings.map(({ group }) => group))]);
  let adding = $state('');
  function add(): void {
    if (adding === '') return;
    if (adding === 'each') for (const id of rig.groups.map((g) => g.id)) light.addLane(id);
    else light.addLane(adding === 'rig' ? null : (adding as ReachId));
    adding = '';
  }
  const any = $derived(light.chosen.length > 0);
</script>

<div class="tools" role="toolbar" aria-label="Lanes">
  <label
    >In the hand
    <select
      aria-label="In the hand"
      value={light.hand?.key ?? ''}
      onchange={(e) => (light.hand = light.puttings.find(({ key }) => key === e.currentTarget.value) ?? null)}
    >
      <option value="">nothing</option>
      {#each groups as group (group)}
        <optgroup label={group}>
          {#each light.puttings.filter((p) => p.group === group) as { key, name } (key)}
            <option value={key}>{name}</option>
          {/each}
        </optgroup>
      {/each}
    </select></label
  >
  <label
    >Drawn to <select
      aria-label="Blocks are drawn to"
      value={String(light.drawnTo)}
      onchange={(e) => (light.drawnTo = DRAWN.find(([key]) => String(key) === e.currentTarget.value)![0])}
    >
      {#each DRAWN as [key, text] (key)}<option value={String(key)}>{text}</option>{/each}
    </select></label
  >
  <label
    >Lane for
    <select aria-label="Lane for" bind:value={adding} onchange={add}>
      <option value="">choose …</option>
      <option value="rig">the whole rig</option>
      {#if rig.groups.length > 0}
        <optgroup label="Groups">
          {#if rig.groups.length > 1}<option value="each">each group</option>{/if}
          {#each rig.groups as { id, name } (id)}<option value={id}>{name}</option>{/each}
        </optgroup>
      {/if}
      {#if rig.areas.length > 0}
        <optgroup label="Areas">
          {#each rig.areas as { id, name } (id)}<option value={id}>{name}</option>{/each}
        </optgroup>
      {/if}
      <optgroup label="Units and parts">
        {#each [...rig.units, ...rig.parts] as { id, name } (id)}<option value={id}>{name}</option>{/each}
      </optgroup>
    </select></label
  >
  <span class="gap"></span>
  <Button disabled={!any} title="X: cut in two where it stands" onclick={() => light.split(desk.place)}>Split</Button>
  <Button disabled={light.chosen.length < 2} onclick={() => light.join()}>Join</Button>
  <Button disabled={!any} title="Copies to the end of the section" onclick={() => light.repeat()}>Repeat</Button>
  <Button disabled={!any} title="Delete" onclick={() => light.remove()}>Remove</Button>
</div>

<style>
  .tools {
    display: flex;
    flex: none;
    gap: 4px 8px;
    align-items: center;
    padding: 3px 10px;
    overflow-x: auto;
    white-space: nowrap;
    scrollbar-width: thin;
  }
  .tools > :global(*) {
    flex: none;
  }
  .gap {
    flex: 1;
  }
  select {
    min-height: 30px;
    max-width: 132px;
  }
</style>
