<script lang="ts">
  import { hexOf } from '$core/palette/colour.ts';
  import { isPaletteId } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';

  /** Colours one after the other: of their own, or those of palettes, which follow when the palette changes. */
  let { colours, change }: { colours: readonly string[]; change: (colours: string[]) => void } = $props();
  const app = getApp();
  const palettes = $derived(app.rig.palettes.filter((p) => p.family === 'colour'));
  const put = (i: number, colour: string): void => change(colours.map((c, j) => (j === i ? colour : c)));
</script>

<div class="colours" role="group" aria-label="Colours">
  {#each colours as colour, i (i)}
    <span class="one">
      {#if isPaletteId(colour)}
        <i style:background={hexOf(app.live.document, colour)}></i>
      {:else}
        <input
          type="color"
          value={colour}
          aria-label="Colour {i + 1}"
          onchange={(e) => put(i, e.currentTarget.value)}
        />
      {/if}
      {#if palettes.length > 0}
        <select
          aria-label="Palette of colour {i + 1}"
          value={isPaletteId(colour) ? colour : ''}
          onchange={(e) =>
            put(i, e.currentTarget.value === '' ? hexOf(app.live.document, colour) : e.currentTarget.value)}
        >
          <option value="">own</option>
          {#each palettes as palette (palette.id)}<option value={palette.id}>{palette.name}</option>{/each}
        </select>
      {/if}
      {#if colours.length > 1}
        <button
          type="button"
          aria-label="Take colour {i + 1} out"
          onclick={() => change(colours.filter((_, j) => j !== i))}><X size={12} /></button
        >
      {/if}
    </span>
  {/each}
  {#if colours.length < 16}
    <Button
      kind="bare"
      aria-label="Add a colour"
      title="Add a colour"
      onclick={() => change([...colours, hexOf(app.live.document, colours.at(-1) ?? '#ffffff')])}
      ><Plus size={16} /></Button
    >
  {/if}
</div>

<style>
  .colours {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
  }
  .one {
    display: inline-flex;
    align-items: center;
    gap: 3px;
    padding: 2px 4px;
    border: 1px solid var(--line);
    border-radius: 5px;
    background: var(--panel);
  }
  input,
  i {
    width: 30px;
    height: 26px;
    padding: 0;
    border: 1px solid var(--line-strong);
    border-radius: 4px;
    background: none;
  }
  select {
    max-width: 92px;
    border: 0;
    background: none;
    font-size: 12px;
  }
  option {
    background: var(--raised);
  }
  button {
    border: 0;
    background: none;
    color: var(--quiet);
    display: grid;
    place-items: center;
    width: 22px;
    height: 26px;
  }
</style>
