<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import Button from '../Button.svelte';

  /** After `G`: the first groups with their letters; press one, or touch it. */
  const app = getApp();
</script>

{#if app.groupKeys}
  <div class="keys" role="dialog" aria-label="Choose a group by its letter">
    {#each [...app.rig.letters] as [letter, group] (letter)}
      <Button
        onclick={() => {
          app.groupKeys = false;
          app.selection.set(app.rig.membersOf(group.id));
        }}
        ><b class="num">{letter}</b>
        {group.name} <span class="quiet num">{app.rig.membersOf(group.id).length}</span></Button
      >
    {/each}
    <Button kind="bare" onclick={() => (app.groupKeys = false)}>Esc</Button>
  </div>
{/if}

<style>
  .keys {
    position: fixed;
    left: 50%;
    bottom: 64px;
    translate: -50% 0;
    z-index: 45;
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    max-width: min(760px, 94vw);
    padding: 10px;
    background: var(--panel);
    border: 1px solid var(--amber);
    border-radius: 8px;
    box-shadow: 0 12px 40px rgb(0 0 0 / 45%);
  }
</style>
