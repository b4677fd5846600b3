<script lang="ts">
  import { initialLive } from '$core/show/index.ts';
  import { songOn, withSong } from '$core/show/live/songs.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import type { Peek } from '$lib/preview/messages.ts';
  import MomentFace from '../../auto/MomentFace.svelte';

  /** The rig as the light of this song has it where it plays or stands: a preview of the song alone. */
  let { desk }: { desk: SongDesk } = $props();
  const app = getApp();
  const HEIGHT = 116;
  /** It is looked at so often, ms. */
  const LOOK_MS = 66;
  let width = $state(0);
  let at = $state(0);
  $effect(() => {
    const timer = setInterval(() => (at = Math.round(desk.place * 50) / 50), LOOK_MS);
    return () => clearInterval(timer);
  });
  const peek = $derived.by<Peek>(() => {
    const { document } = app.live;
    const bpm = app.rig.show?.tempoBpm;
    return { live: withSong(initialLive(0, bpm), songOn(desk.song.id, 0, 0), document, 0), ms: at * 1000 };
  });
</script>

<div class="plot" bind:clientWidth={width}>
  {#if width > 0}<MomentFace {peek} width={Math.min(width - 16, HEIGHT * 4)} height={HEIGHT} />{/if}
</div>

<style>
  .plot {
    display: grid;
    flex: none;
    place-content: center;
    padding: 4px 8px;
    background: #0c0f15;
    border-bottom: 1px solid var(--line);
  }
</style>
