<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveWhole } from '$lib/state/entry.ts';
  import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import { footprintOf } from '$core/profile/layout.ts';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import PropShape from '../kit/PropShape.svelte';

  /** What can be put on the paper: kinds of props, fixtures of the show, and by search all of the Kit. */
  let { desk }: { desk: PlotDesk } = $props();
  const app = getApp();
  const kit = $derived(desk.kit);
  const MOST = 30;
  interface Item {
    readonly id: string;
    readonly name: string;
    readonly hint: string;
  }
  const items = $derived.by((): Item[] => {
    const used = new Set<string>(app.rig.profiles.map((p) => p.id));
    // Without a search: what the show has. Props always, they are few.
    const profiles = kit.found.filter((p) => kit.query.trim() !== '' || used.has(p.id));
    return [
      ...kit.forms.map((f): Item => ({ id: f.id, name: f.name, hint: 'prop' })),
      ...profiles.map((p): Item => ({ id: p.id, name: p.model, hint: p.maker })),
    ];
  });
  function choose(id: string): void {
    desk.adding = { id, mode: '', madeOf: '', shape: null, count: desk.adding.count };
    desk.use('place');
  }
</script>

<input
  type="search"
  bind:value={kit.query}
  placeholder="arch, matrix, par, 16 ch"
  aria-label="What to add"
  onkeydown={(e) => e.key === 'Enter' && items[0] && choose(items[0].id)}
/>
<ul class="rows" aria-label="What can be added">
  {#each items.slice(0, MOST) as item (item.id)}
    <li>
      <button type="button" aria-pressed={item.id === desk.placing?.id} onclick={() => choose(item.id)}
        ><span class="grow">{item.name}</span><span class="quiet">{item.hint}</span></button
      >
    </li>
  {:else}
    <li class="quiet">Nothing is called so. <a href="/kit">Write it in the Kit</a>.</li>
  {/each}
  {#if items.length > MOST}<li class="quiet">{items.length - MOST} more: write another word.</li>{/if}
</ul>
{#if desk.placing}
  {@const { profile, mode, prop, called } = desk.placing}
  <h2>{called}</h2>
  <Field
    label="How many"
    numeric
    value={desk.adding.count}
    save={(t) => saveWhole(t, 1, 500, (n) => void (desk.adding.count = n))}
  />
  {#if prop}
    <PropShape
      shape={prop.shape}
      change={(shape) => (desk.adding.shape = shape)}
      profiles={desk.adding.id.startsWith('prop:') ? kit.propProfiles : [profile]}
      {profile}
      {mode}
      choose={(madeOf, key) => {
        desk.adding.madeOf = madeOf;
        desk.adding.mode = key;
      }}
    />
  {:else}
    <Choice
      label="Mode"
      value={mode}
      options={profile.modes.map((m) => ({ value: m.key, text: `${m.name}, ${footprintOf(m)} ch` }))}
      choose={(m) => (desk.adding.mode = m)}
    />
  {/if}
  <Button kind="main" pressed={desk.tool === 'place'} onclick={() => desk.use('place')}>Place on the paper</Button>
  <p class="quiet">
    Press on the paper once for a row, or drag: the pattern chosen under Arrange is laid from the first point to the
    second. They take the next free addresses.
  </p>
{/if}

<style>
  input {
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 5px 8px;
    min-width: 0;
  }
  ul {
    max-height: 38vh;
    overflow: auto;
  }
  .grow {
    flex: 1;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  li .quiet {
    font-size: 12px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    max-width: 45%;
  }
</style>
