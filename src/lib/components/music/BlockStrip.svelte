<script lang="ts">
  import type { Block, LaneRecord } from '$core/records/lane.ts';
  import type { SongRecord } from '$core/records/song.ts';
  import { getApp } from '$lib/state/app.svelte.ts';

  /** A block as the light it makes: time across, its cells down. Drawn by the page's worker when it comes into sight. */
  let { lane, block, song }: { lane: LaneRecord; block: Block; song: SongRecord } = $props();
  const app = getApp();
  let canvas = $state<HTMLCanvasElement>();
  const COLUMNS = 48;
  /** What it plays as it is now: a scene that is edited is drawn anew. */
  const played = $derived(
    block.plays.is === 'play' ? app.live.document.get(block.plays.target as `scene:${string}`) : null,
  );
  const asked = $derived(JSON.stringify([lane.on, block.plays, block.length, block.fadeIn, block.fadeOut, block.slip]));
  $effect(() => {
    void [played, asked];
    const element = canvas;
    if (!element || block.plays.is === 'gone') return;
    let gone = false;
    const observer = new IntersectionObserver((entries) => {
      if (!entries.some((e) => e.isIntersecting)) return;
      observer.disconnect();
      void app.live.preview
        .ask({ what: 'strip', songId: song.id, on: lane.on, block: $state.snapshot(block) as Block, columns: COLUMNS })
        .then((strip) => {
          if (gone || strip.rows === 0) return;
          element.width = COLUMNS;
          element.height = strip.rows;
          element.getContext('2d')!.putImageData(new ImageData(strip.pixels, COLUMNS, strip.rows), 0, 0);
        })
        .catch(() => undefined);
    });
    observer.observe(element);
    return () => {
      gone = true;
      observer.disconnect();
    };
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
