<script lang="ts">
  import { paletteKeys } from '$core/palette/resolve.ts';
  import type { PaletteFamily } from '$core/records/palette.ts';
  import { getApp } from '$lib/state/app.svelte.ts';

  /** Palettes of a family that have something to say of the selection. */
  let { family }: { family: PaletteFamily } = $props();
  const app = getApp();
  const palettes = $derived(
    app.rig.palettes.filter(
      (p) => p.family === family && app.selection.lit.some((id) => paletteKeys(app.live.document, p, id).length > 0),
    ),
  );
</script>

{#if palettes.length > 0}
  <div class="palettes" aria-label="Palettes">
    {#each palettes as palette (palette.id)}
      <button type="button" title="Palette {palette.name}" onclick={() => app.hand.applyPalette(palette)}
        ><i style:background={palette.colour}></i>{palette.name}</button
      >
    {/each}
  </div>
{/if}

<style>
  .palettes {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
    align-content: start;
    max-width: 110px;
    flex: none;
  }
  button {
    display: inline-flex;
    gap: 6px;
    align-items: center;
    min-height: 26px;
    padding: 1px 8px;
    border: 1px solid var(--line);
    border-radius: 13px;
    background: var(--raised);
    font-size: 12.5px;
  }
  button:hover {
    background: var(--hover);
  }
  i {
    width: 10px;
    height: 10px;
    border-radius: 50%;
  }
</style>
