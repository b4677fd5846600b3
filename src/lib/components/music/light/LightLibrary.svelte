<script lang="ts">
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';

  /** What can be put on lanes, as tiles: pressed it is in the hand, dragged to a lane it is there. */
  let { light }: { light: LightDesk } = $props();
  let find = $state('');
  const found = $derived(
    light.puttings.filter(({ name, group }) => `${name} ${group}`.toLowerCase().includes(find.trim().toLowerCase())),
  );
  const groups = $derived([...new Set(found.map(({ group }) => group))]);
</script>

<section aria-label="To be put">
  <input class="find" type="search" placeholder="Find" aria-label="Find something to put" bind:value={find} />
  {#each groups as group (group)}
    <details open={group === 'On the spot' || find.trim() !== ''}>
      <summary>{group}</summary>
      <div class="tiles">
        {#each found.filter((p) => p.group === group) as putting (putting.key)}
          <button
            type="button"
            draggable="true"
            aria-pressed={light.hand?.key === putting.key}
            title="Into the hand; drag it to a lane"
            onclick={() => (light.hand = light.hand?.key === putting.key ? null : putting)}
            ondragstart={(e) => {
              e.dataTransfer?.setData('text/x-amber-putting', putting.key);
              if (e.dataTransfer) e.dataTransfer.effectAllowed = 'copy';
            }}>{putting.name}</button
          >
        {/each}
      </div>
    </details>
  {/each}
</section>

<style>
  section {
    display: grid;
    gap: 6px;
  }
  .find {
    width: 100%;
    padding: 4px 8px;
  }
  summary {
    font-size: 12.5px;
    color: var(--quiet);
    cursor: pointer;
  }
  .tiles {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
    padding: 4px 0;
  }
  button {
    min-height: 28px;
    padding: 2px 8px;
    font-size: 12.5px;
    color: var(--text);
    background: var(--raised);
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    cursor: grab;
  }
  button[aria-pressed='true'] {
    color: var(--amber);
    border-color: var(--amber);
  }
</style>
