<script lang="ts">
  import { gridOf, sectionsOf } from '$core/song/grid.ts';
  import Button from '$lib/components/Button.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';
  import Maximize from '@lucide/svelte/icons/maximize-2';
  import Minus from '@lucide/svelte/icons/minus';
  import Pause from '@lucide/svelte/icons/pause';
  import Play from '@lucide/svelte/icons/play';
  import Plus from '@lucide/svelte/icons/plus';
  import Repeat from '@lucide/svelte/icons/repeat';

  /** Playing one song: play, loop, clicks, and how much of it is seen. */
  let { desk, light, bands = $bindable() }: { desk: SongDesk; light: LightDesk; bands: boolean } = $props();
  const app = getApp();
  let place = $state(0);
  $effect(() => {
    const timer = setInterval(() => (place = desk.place), 100);
    return () => clearInterval(timer);
  });
  const stretch = $derived(desk.stretch ?? sectionStretch());
  function sectionStretch(): { from: number; to: number } | null {
    const sections = sectionsOf(desk.song);
    const own = desk.section === null ? undefined : sections[desk.section];
    return own ? { from: own.at, to: sections[desk.section! + 1]?.at ?? desk.end } : null;
  }
  const rate = $derived(desk.on ? app.live.real!.song!.rate : 1);
  function slow(): void {
    const to = rate === 0.5 ? 1 : 0.5;
    if (desk.on) void app.live.command({ do: 'songRate', rate: to });
    else
      void app.live
        .command({ do: 'song', songId: desk.song.id, at: desk.cursor, play: false })
        .then(() => app.live.command({ do: 'songRate', rate: to }));
  }
  // Clicks are put in a little ahead, so that they are heard at their beats.
  let clicked = -1;
  $effect(() => {
    if (!desk.clicks || !desk.playing) return;
    const timer = setInterval(() => {
      const grid = gridOf(desk.song);
      const here = desk.place;
      grid.beats.forEach((at, i) => {
        if (at > here && at - here < 0.12 && Math.abs(at - clicked) > 0.05) {
          clicked = at;
          app.sound.click(app.live.now() + (at - here) * 1000, grid.places[i] === 0);
        }
      });
    }, 40);
    return () => clearInterval(timer);
  });
</script>

<div class="bar" role="toolbar" aria-label="Playing">
  <Button kind="main" aria-label={desk.playing ? 'Pause' : 'Play'} title="Space" onclick={() => desk.play()}>
    {#if desk.playing}<Pause size={16} /> Pause{:else}<Play size={16} /> Play{/if}
  </Button>
  <span class="num time" aria-label="Place in the song">{clockText(place, 1)}</span>
  <Button
    pressed={desk.loops !== null}
    disabled={desk.loops === null && stretch === null}
    title="Goes round in the stretch or section that is chosen"
    onclick={() => desk.loop(desk.loops ? null : stretch)}><Repeat size={16} /> Loop</Button
  >
  <Button pressed={rate === 0.5} title="Half speed" aria-label="Half speed" onclick={() => slow()}>½</Button>
  <Button pressed={desk.clicks} title="Clicks on every beat" onclick={() => (desk.clicks = !desk.clicks)}>Clicks</Button
  >
  <span class="gap"></span>
  <Button
    pressed={light.shown}
    title="The light of this song, on lanes under its sound"
    onclick={() => (light.shown = !light.shown)}>Light</Button
  >
  {#if light.shown}
    <Button
      pressed={light.plot}
      title="The rig at this moment, above the sound"
      onclick={() => (light.plot = !light.plot)}>Plot</Button
    >
  {/if}
  <Button pressed={bands} title="Where something begins: low, snare, high, notes" onclick={() => (bands = !bands)}
    >Onsets</Button
  >
  <Button pressed={desk.follows} title="The view goes along" onclick={() => (desk.follows = !desk.follows)}
    >Go along</Button
  >
  <Button kind="bare" aria-label="See more" onclick={() => desk.zoom(2, desk.place)}><Minus size={16} /></Button>
  <Button kind="bare" aria-label="See closer" onclick={() => desk.zoom(0.5, desk.place)}><Plus size={16} /></Button>
  <Button kind="bare" aria-label="See all of it" onclick={() => desk.see(0, desk.end)}><Maximize size={16} /></Button>
</div>

<style>
  .bar {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px;
    padding: 8px 12px;
    border-bottom: 1px solid var(--line);
  }
  .time {
    min-width: 64px;
    font-size: 17px;
  }
  .gap {
    flex: 1;
  }
</style>
