<script lang="ts">
  import { gridOf } from '$core/song/grid.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import SongBar from './SongBar.svelte';
  import type SongMend from './SongMend.svelte';
  import SongWave from './SongWave.svelte';

  /** One song: playing it, and the pictures of it. Keys work wherever the picture has the focus. */
  let { desk, mend }: { desk: SongDesk; mend: SongMend | undefined } = $props();
  let bands = $state(true);
  function key(event: KeyboardEvent): void {
    if (event.ctrlKey || event.metaKey || (event.target as HTMLElement).closest('input, select, textarea')) return;
    const { beats } = gridOf(desk.song);
    const step = event.shiftKey ? 4 : 1;
    if (event.key === ' ') desk.play();
    else if (mend?.key(event)) void 0;
    else if (event.key === 'ArrowRight') desk.go(beats.find((at) => at > desk.place + 0.02) ?? desk.place + step);
    else if (event.key === 'ArrowLeft') desk.go(beats.findLast((at) => at < desk.place - 0.05) ?? 0);
    else if (event.key === 'Home') desk.go(0);
    else if (event.key === '+' || event.key === '=') desk.zoom(0.5, desk.place);
    else if (event.key === '-') desk.zoom(2, desk.place);
    else return;
    event.preventDefault();
    event.stopPropagation();
    desk.reveal(desk.place);
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
  <SongBar {desk} bind:bands />
  <SongWave {desk} {bands} />
</div>

<style>
  .view {
    display: flex;
    flex-direction: column;
    flex: 1;
    min-width: 0;
    min-height: 0;
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
