<script lang="ts">
  import type { Block, LaneRecord } from '$core/records/lane.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import { stripFor } from './strips.ts';

  /** A block as the light it makes: time across, its cells down. Drawn by the page's worker when it comes into sight. */
  let { desk, lane, block, px }: { desk: SongDesk; lane: LaneRecord; block: Block; px: number } = $props();
  const app = getApp();
  let canvas = $state<HTMLCanvasElement>();
  const columns = $derived(px < 24 ? 4 : px < 160 ? 16 : px < 700 ? 48 : 128);
  $effect(() => {
    const element = canvas;
    if (!element || block.plays.is === 'gone') return;
    let gone = false;
    void stripFor(app, desk, lane, $state.snapshot(block) as Block, columns).then((strip) => {
      if (gone || !strip || strip.rows === 0) return;
      element.width = strip.pixels.length / 4 / strip.rows;
      element.height = strip.rows;
      element.getContext('2d')!.putImageData(new ImageData(strip.pixels, element.width, strip.rows), 0, 0);
    });
    return () => void (gone = true);
  });
</script>

<canvas bind:this={canvas} aria-hidden="true"></canvas>

<style>
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    image-rendering: pixelated;
    pointer-events: none;
  }
</style>
