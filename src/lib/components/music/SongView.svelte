<script lang="ts">
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import type { LightRoom } from '$lib/state/music/light-room.svelte.ts';
  import CompareSongs from './light/CompareSongs.svelte';
  import SongLanes from './light/SongLanes.svelte';
  import SongPlot from './light/SongPlot.svelte';
  import SongBar from './SongBar.svelte';
  import SongWave from './SongWave.svelte';

  /** One song: playing it, and the pictures of it. Keys work wherever the picture has the focus. */
  let { desk, room }: { desk: SongDesk; room: LightRoom } = $props();
  const { light } = $derived(room);
  let bands = $state(true);
  function key(event: KeyboardEvent): void {
    if (event.ctrlKey || event.metaKey) return;
    const at = event.target as HTMLElement;
    if (at.closest('input, select, textarea')) return;
    // Space and Enter press the button that has the focus.
    if (at.closest('button') && [' ', 'Enter'].includes(event.key)) return;
    if (!mending(event) && !moving(event)) return;
    event.preventDefault();
    event.stopPropagation();
    desk.reveal(desk.place);
  }
  function mending({ key, altKey }: KeyboardEvent): boolean {
    if (key === 't' || key === 'T') desk.tap();
    else if (key === 'Enter' && desk.taps) desk.takeTaps();
    else if (key === 'Escape' && desk.taps) desk.taps = null;
    else if (key === '1') desk.setOne();
    else if (desk.beat !== null && altKey && key === 'ArrowLeft') desk.nudge(-0.005);
    else if (desk.beat !== null && altKey && key === 'ArrowRight') desk.nudge(0.005);
    else if (desk.beat !== null && key === 'Delete') desk.removeBeat();
    else return false;
    return true;
  }
  function moving({ key, shiftKey }: KeyboardEvent): boolean {
    const { beats } = desk.grid;
    const step = shiftKey ? 4 : 1;
    if (key === ' ') desk.play();
    else if (key === 'ArrowRight') desk.go(beats.find((at) => at > desk.place + 0.02) ?? desk.place + step);
    else if (key === 'ArrowLeft') desk.go(beats.findLast((at) => at < desk.place - 0.05) ?? 0);
    else if (key === 'Home') desk.go(0);
    else if (key === '+' || key === '=') desk.zoom(0.5, desk.place);
    else if (key === '-') desk.zoom(2, desk.place);
    else return false;
    return true;
  }
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
  class="view"
  role="application"
  tabindex="0"
  aria-label="{desk.song
    .name}. Space plays, arrows go from beat to beat, T taps along, 1 sets the one, plus and minus see closer or more."
  onkeydown={key}
>
  <SongBar {desk} bind:bands {light} />
  {#if light.shown && light.plot}<SongPlot {desk} />{/if}
  <SongWave {desk} {bands} low={light.shown} />
  {#if light.shown && light.compared}<CompareSongs {light} />
  {:else if light.shown}<SongLanes {desk} {...room} />{/if}
</div>

<style>
  .view {
    display: flex;
    flex-direction: column;
    flex: 1;
    min-width: 0;
    min-height: 0;
    overflow: hidden;
  }
  .view:focus-visible {
    outline-offset: -2px;
  }
  @media (max-width: 760px) {
    .view {
      min-height: 420px;
    }
  }
</style>
