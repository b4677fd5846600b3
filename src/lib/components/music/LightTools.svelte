<script lang="ts">
  import type { ReachId } from '$core/records/effect.ts';
  import Button from '$lib/components/Button.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';

  /** What is in the hand, what blocks are drawn to, lanes that are added, and what is done to the blocks that are chosen. */
  let { desk, light }: { desk: SongDesk; light: LightDesk } = $props();
  const { rig } = getApp();
  const PARTS = [
    [1, 'beats'],
    [2, 'halves'],
    [3, 'thirds'],
    [4, 'quarters'],
    [0, 'nothing'],
  ] as const;
  const groups = $derived([...new Set(light.puttings.map(({ group }) => group))]);
  let adding = $state('');
  function add(): void {
    if (adding === '') return;
    light.addLane(adding === 'rig' ? null : (adding as ReachId));
    adding = '';
  }

  const first = $derived(light.first);
  const seconds = (text: string): number | null => {
    const n = Number(text);
    return text.trim() !== '' && Number.isFinite(n) && n >= 0 && n <= 600 ? n : null;
  };
</script>

<div class="tools">
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
    >Drawn to <select aria-label="Blocks are drawn to" bind:value={light.parts}>
      {#each PARTS as [n, text] (n)}<option value={n}>{text}</option>{/each}
    </select></label
  >
  <label
    >Lane for
    <select aria-label="Lane for" bind:value={adding} onchange={add}>
      <option value="">choose …</option>
      <option value="rig">the whole rig</option>
      {#if rig.groups.length > 0}
        <optgroup label="Groups">
          {#each rig.groups as { id, name } (id)}<option value={id}>{name}</option>{/each}
        </optgroup>
      {/if}
      {#if rig.areas.length > 0}
        <optgroup label="Areas">
          {#each rig.areas as { id, name } (id)}<option value={id}>{name}</option>{/each}
        </optgroup>
      {/if}
      <optgroup label="Units">
        {#each rig.units as { id, name } (id)}<option value={id}>{name}</option>{/each}
      </optgroup>
    </select></label
  >
  <span class="gap"></span>
  <Button disabled={!first} title="At the place where it plays or stands (X)" onclick={() => light.split(desk.place)}
    >Split</Button
  >
  <Button disabled={light.chosen.length < 2} onclick={() => light.join()}>Join</Button>
  <Button disabled={!first} title="Copies to the end of the section" onclick={() => light.repeat()}>Repeat</Button>
  <Button disabled={!first} onclick={() => light.remove()}>Remove</Button>
</div>
{#if first}
  <div class="tools one">
    <b>{light.chosen.length > 1 ? `${light.chosen.length} blocks` : light.nameOf(first)}</b>
    <span class="num quiet">{clockText(first.at, 2)}, {first.length.toFixed(2)} s</span>
    {#each [['fadeIn', 'Fade in'], ['fadeOut', 'Fade out']] as const as [field, label] (field)}
      <label
        >{label}
        <input
          type="number"
          min="0"
          max="600"
          step="0.1"
          value={first[field]}
          aria-label={label}
          onchange={(e) => {
            const n = seconds(e.currentTarget.value);
            if (n === null) e.currentTarget.value = String(first[field]);
            else light.set(label, { [field]: n });
          }}
        /> s</label
      >
    {/each}
    <label
      >Layer <select
        aria-label="Layer"
        value={first.layer}
        onchange={(e) => light.set('Layer of blocks', { layer: Number(e.currentTarget.value) })}
      >
        {#each [0, 1, 2, 3] as n (n)}<option value={n}>{n + 1}</option>{/each}
      </select></label
    >
    {#if light.hand}
      <Button onclick={() => light.set(`Play ${light.hand!.name}`.slice(0, 120), { plays: light.hand!.plays })}
        >Play {light.hand.name} instead</Button
      >
    {/if}
  </div>
{/if}

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
  .one {
    background: var(--panel);
  }
  .gap {
    flex: 1;
  }
  select,
  input {
    min-height: 30px;
    max-width: 132px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    color: var(--text);
  }
  input {
    width: 64px;
  }
</style>
