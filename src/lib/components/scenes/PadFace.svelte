<script lang="ts">
  import { getRecord } from '$core/document/change.ts';
  import type { PaletteRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { blobAddress } from '$lib/state/pictures/blobs.ts';
  import type { PlayableRecord } from '$lib/state/rig.svelte.ts';
  import Thumb from './Thumb.svelte';

  /** How something is told at a glance: its own picture, else what it looks like on the plot, with its colour. */
  interface Props {
    item: PlayableRecord | PaletteRecord;
    width?: number;
    height?: number;
  }
  let { item, width = 52, height = 30 }: Props = $props();
  const app = getApp();
  const picture = $derived(
    item.kind !== 'palette' && item.pictureId ? getRecord(app.live.document, 'picture', item.pictureId) : undefined,
  );
</script>

<span class="face" style:--tint={item.colour} style:width="{item.kind === 'palette' ? 18 : width}px">
  {#if picture}
    <img src={blobAddress(picture.blob)} alt="" {width} {height} />
  {:else if item.kind === 'palette'}
    <i></i>
  {:else}
    <Thumb target={item.id} of={item} {width} {height} />
  {/if}
</span>

<style>
  .face {
    display: block;
    flex: none;
    border-bottom: 3px solid var(--tint);
    border-radius: 4px;
    overflow: hidden;
  }
  img {
    display: block;
    object-fit: cover;
  }
  i {
    display: block;
    width: 18px;
    height: 18px;
    background: var(--tint);
  }
</style>
