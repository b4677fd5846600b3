<script lang="ts">
  import { areHeads } from '$core/aim/axes.ts';
  import { aimIn } from '$core/records/scene.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { byFolder, sendTo } from '$lib/state/plot/aim-edits.ts';
  import AimPicture from '../plot/AimPicture.svelte';

  /** Aims for the selected heads: a press, and they point there. */
  const app = getApp();
  const heads = $derived(areHeads(app.live.document, app.acting));
  const folders = $derived(byFolder(app.rig.aims));
  const now = $derived(
    new Set(
      heads.flatMap(({ id }) => {
        const aim = aimIn(app.hand.values[id]);
        return aim ? [aim] : [];
      }),
    ),
  );
</script>

{#if heads.length > 0}
  {#if folders.length === 0}
    <p class="quiet">No aims yet. <a href="/plot">Make the usual aims</a> under Plot, Aims.</p>
  {:else}
    <div class="aims" role="group" aria-label="Aims">
      {#each folders as [folder, aims] (folder)}
        {#each aims as aim (aim.id)}
          <button
            type="button"
            aria-pressed={now.has(aim.id)}
            title="{folder ? `${folder}: ` : ''}{aim.name}"
            onclick={() => sendTo(app, aim)}><AimPicture {aim} /><span>{aim.name}</span></button
          >
        {/each}
      {/each}
    </div>
  {/if}
{/if}

<style>
  .aims {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
    align-content: start;
    flex: 3 1 330px;
    min-width: 200px;
    overflow-y: auto;
  }
  button {
    display: inline-flex;
    gap: 4px;
    align-items: center;
    min-height: 34px;
    padding: 1px 8px 1px 2px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--raised);
    font-size: 12.5px;
  }
  button:hover {
    background: var(--hover);
  }
  button[aria-pressed='true'] {
    border-color: var(--amber);
    color: var(--amber-text);
  }
</style>
