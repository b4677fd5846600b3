<script lang="ts">
  import { thumbnailOf } from '$core/show/thumbnail.ts';
  import { songAlone } from '$core/timeline/frames.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import type { Peek } from '$lib/preview/messages.ts';
  import MomentFace from '../../auto/MomentFace.svelte';
  import { paintThumb } from '../../scenes/paint-thumb.ts';

  /** The rig where the song plays or stands: by the light of this song alone, or as it is really sent. */
  let { desk }: { desk: SongDesk } = $props();
  const app = getApp();
  const HEIGHT = 116;
  /** It is looked at so often, ms. */
  const LOOK_MS = 66;
  let width = $state(0);
  let at = $state(0);
  let sent = $state(false);
  let canvas = $state<HTMLCanvasElement>();
  const wide = $derived(Math.min(width - 150, HEIGHT * 4));
  $effect(() => {
    const timer = setInterval(() => {
      at = Math.round(desk.place * 50) / 50;
      const { document, frames } = app.live;
      if (sent && canvas && wide > 0) paintThumb(canvas, thumbnailOf(document, frames, new Map()), wide, HEIGHT);
    }, LOOK_MS);
    return () => clearInterval(timer);
  });
  const alone = $derived(songAlone(app.live.document, desk.song.id));
  const peek = $derived<Peek>({ live: alone, ms: at * 1000 });
</script>

<div class="plot" bind:clientWidth={width}>
  <label
    >Shown is <select
      aria-label="Shown on the plot"
      value={sent ? 'sent' : 'song'}
      onchange={(e) => (sent = e.currentTarget.value === 'sent')}
    >
      <option value="song">this song</option>
      <option value="sent">what is sent</option>
    </select></label
  >
  {#if sent}
    <canvas bind:this={canvas} style:width="{wide}px" style:height="{HEIGHT}px" aria-label="The rig as it is sent"
    ></canvas>
  {:else if wide > 0}<MomentFace {peek} width={wide} height={HEIGHT} />{/if}
</div>

<style>
  .plot {
    display: flex;
    flex: none;
    gap: 12px;
    align-items: center;
    justify-content: center;
    padding: 4px 8px;
    background: #0c0f15;
    border-bottom: 1px solid var(--line);
  }
  label {
    display: grid;
    gap: 4px;
    width: 118px;
    font-size: 12.5px;
    color: #a9b2c3;
  }
  canvas {
    border: 1px solid #2c3546;
    border-radius: 6px;
  }
</style>
