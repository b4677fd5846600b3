<script lang="ts">
  import type { LaneHands } from '$lib/state/music/lane-hands.svelte.ts';
  import type { LightCurves } from '$lib/state/music/light-curves.svelte.ts';
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';
  import type { LightStretches } from '$lib/state/music/light-stretches.svelte.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import LaneBody from './LaneBody.svelte';
  import LaneHead from './LaneHead.svelte';
  import LightTools from './LightTools.svelte';
  import MarksLine from './MarksLine.svelte';

  /** The lanes of a song under its sound, on the same line of time: what is put there is drawn as the light it makes. */
  interface Props {
    desk: SongDesk;
    light: LightDesk;
    hands: LaneHands;
    curves: LightCurves;
    stretches: LightStretches;
  }
  let { desk, light, hands, curves, stretches }: Props = $props();
  let width = $state(0);
  let list = $state<HTMLElement>();
  // A wheel that sees closer must not scroll: only a listener that says so may stop it.
  $effect(() => {
    const element = list;
    element?.addEventListener('wheel', hands.wheel, { passive: false });
    return () => element?.removeEventListener('wheel', hands.wheel);
  });

  function keys(event: KeyboardEvent): void {
    if ((event.target as HTMLElement).closest('input, select, textarea')) return;
    if (event.ctrlKey || event.metaKey ? !withControl(event) : !plain(event)) return;
    event.preventDefault();
    event.stopPropagation();
  }
  function withControl({ key }: KeyboardEvent): boolean {
    if (key === 'c' || key === 'x') stretches.copyChosen(key === 'x');
    else if (key === 'v') stretches.paste();
    else if (key === 'a') light.chooseIn({ from: 0, to: Infinity });
    else return false;
    return true;
  }
  function plain({ key, altKey }: KeyboardEvent): boolean {
    if (key === 'Escape') return escape();
    if (curves.of && curves.index !== null && (key === 'Delete' || key === 'Backspace')) {
      curves.remove(curves.index);
      return true;
    }
    if (light.chosen.length === 0) return false;
    const step = altKey ? 1 / (light.app.rig.show?.frameRate ?? 40) : light.beatS(light.first?.at ?? 0);
    if (key === 'Delete' || key === 'Backspace') light.remove();
    else if (key === 'ArrowRight') light.move(step);
    else if (key === 'ArrowLeft') light.move(-step);
    else if (key === 'x' || key === 'X') light.split(desk.place);
    else return false;
    return true;
  }
  /** Lets go of one thing after the other: the curve, the hand, what is chosen. */
  function escape(): boolean {
    if (curves.of) curves.of = null;
    else if (light.hand) light.hand = null;
    else if (light.chosen.length > 0) light.chosen = [];
    else return false;
    return true;
  }
  let head = $state<HTMLElement>();
  $effect(() => {
    let frame = 0;
    const place = (): void => {
      if (head) {
        const part = (desk.place - desk.from) / desk.span;
        head.style.left = `${part * 100}%`;
        head.style.visibility = part < 0 || part > 1 ? 'hidden' : 'visible';
      }
      frame = requestAnimationFrame(place);
    };
    frame = requestAnimationFrame(place);
    return () => cancelAnimationFrame(frame);
  });
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<section class="light" aria-label="Light of the song" onkeydown={keys}>
  <LightTools {desk} {light} />
  {#if desk.song.marks.length > 0}<MarksLine {desk} {width} />{/if}
  <div class="lanes" bind:this={list}>
    <div class="measure" bind:clientWidth={width}></div>
    {#each light.branches as branch (branch.lane.id)}
      <div class="lane">
        <LaneHead {light} {branch} />
        <LaneBody {desk} {light} {hands} {curves} {width} lane={branch.lane} />
      </div>
    {:else}
      <p class="quiet none">
        No light of its own yet. Add a lane for what is to play, take something in the hand, and paint it on the lane: a
        press puts one beat, a drag as much as you draw. Esc empties the hand. Or let Auto propose a section, in the
        details.
      </p>
    {/each}
    <span class="headline" bind:this={head}></span>
  </div>
</section>

<style>
  .light {
    display: flex;
    flex-direction: column;
    flex: 1.6;
    min-height: 160px;
    border-top: 1px solid var(--line);
  }
  .lanes {
    position: relative;
    user-select: none;
    flex: 1;
    min-height: 0;
    overflow-y: auto;
    overflow-x: hidden;
    background: var(--back);
    scrollbar-width: none;
  }
  .lane {
    content-visibility: auto;
    contain-intrinsic-size: auto 69px;
  }
  .measure {
    height: 0;
  }
  .headline {
    position: absolute;
    top: 0;
    bottom: 0;
    z-index: 3;
    width: 2px;
    margin-left: -1px;
    background: var(--amber);
    pointer-events: none;
  }
  .none {
    padding: 12px 16px;
  }
</style>
