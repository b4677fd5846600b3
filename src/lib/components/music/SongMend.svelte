<script lang="ts">
  import { METRES } from '$core/records/song.ts';
  import { tappedBpm } from '$core/show/index.ts';
  import { bpmNear } from '$core/song/grid.ts';
  import { asHeard, barsShifted, beatAdded, doubled, halved, metreFrom, metreThroughout } from '$core/song/mend.ts';
  import Button from '$lib/components/Button.svelte';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';

  /** Beats and bars set right: each press is one edit, and Undo takes it back. */
  let { desk }: { desk: SongDesk } = $props();
  const chosen = $derived(desk.beat);
  const place = $derived(chosen === null ? null : desk.grid.beats[chosen]!);
  let metre = $state(4);
  let fromHere = $state(false);
</script>

<section aria-label="Beats and bars">
  <h3>Beats and bars</h3>
  {#if desk.taps}
    <p>
      {desk.taps.length} tapped{#if desk.taps.length > 1}: about {tappedBpm(desk.taps.map((s) => s * 1000))?.toFixed(
          1,
        ) ?? '?'} a minute{/if}.
    </p>
    <div class="row">
      <Button kind="main" onclick={() => desk.tap()}>Tap</Button>
      <Button onclick={() => desk.takeTaps()}>Take these beats</Button>
      <Button kind="bare" onclick={() => (desk.taps = null)}>Leave it</Button>
    </div>
  {:else}
    <div class="row">
      <Button title="T, on every beat while it plays" onclick={() => desk.tap()}>Tap along</Button>
      <Button title="Half as many beats" onclick={() => desk.mend('Half as fast', halved(desk.song, desk.end))}
        >Half</Button
      >
      <Button title="Twice as many beats" onclick={() => desk.mend('Twice as fast', doubled(desk.song, desk.end))}
        >Double</Button
      >
    </div>
  {/if}
  <div class="row">
    <Button
      title="A bar begins at the beat that is chosen, or nearest to where it stands (1)"
      onclick={() => desk.setOne()}>The one is here</Button
    >
    <Button
      title="Bars begin a beat earlier"
      onclick={() => desk.mend('Bars a beat earlier', barsShifted(desk.song, -1))}>One earlier</Button
    >
    <Button title="Bars begin a beat later" onclick={() => desk.mend('Bars a beat later', barsShifted(desk.song, 1))}
      >One later</Button
    >
  </div>
  <div class="row">
    <label>
      Bars of
      <select bind:value={metre} aria-label="Beats of a bar">
        {#each METRES as beats (beats)}<option value={beats}>{beats}</option>{/each}
      </select>
    </label>
    <label><input type="checkbox" bind:checked={fromHere} /> from here on</label>
    <Button
      onclick={() =>
        desk.mend(
          `Bars of ${metre}`,
          fromHere ? metreFrom(desk.song, desk.toolsAt, metre) : metreThroughout(desk.song, metre),
        )}>Set</Button
    >
  </div>
  <div class="row" role="group" aria-label="One beat">
    <Button aria-label="The beat before" onclick={() => desk.stepBeat(-1)}>‹</Button>
    <span class="num at">
      {#if place === null}no beat chosen{:else}beat {desk.grid.places[chosen!]! + 1} of bar {desk.grid.bars[chosen!]} · {clockText(
          place,
          3,
        )}{/if}
    </span>
    <Button aria-label="The next beat" onclick={() => desk.stepBeat(1)}>›</Button>
  </div>
  <div class="row">
    <Button disabled={chosen === null} title="Alt ←" onclick={() => desk.nudge(-0.005)}>−5 ms</Button>
    <Button disabled={chosen === null} title="Alt →" onclick={() => desk.nudge(0.005)}>+5 ms</Button>
    <Button disabled={chosen === null} title="Delete" onclick={() => desk.removeBeat()}>Remove</Button>
    <Button onclick={() => desk.mend('Add a beat', beatAdded(desk.song, desk.place, desk.end))}>Add here</Button>
  </div>
  {#if desk.song.heard && (desk.song.mended.stretches.length > 0 || desk.song.mended.bars)}
    <div class="row">
      <Button
        title="Takes back what was set right: in the stretch that is drawn over, or throughout"
        onclick={() =>
          desk.stretch
            ? desk.mend('As it was heard', asHeard(desk.song, desk.stretch.from, desk.stretch.to))
            : desk.mend('As it was heard', { ...desk.song.mended, stretches: [], bars: null })}
        >As it was heard{desk.stretch ? ', in the stretch' : ''}</Button
      >
    </div>
  {/if}
  <p class="quiet">
    {desk.grid.beats.length} beats{#if bpmNear(desk.grid, desk.cursor)}, {bpmNear(desk.grid, desk.cursor)!.toFixed(1)} a minute
      at {clockText(desk.cursor, 1)}{/if}. Drag a bead to move a beat; drag over the wave to choose a stretch.
  </p>
</section>

<style>
  section {
    display: grid;
    gap: 8px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px;
  }
  select {
    padding: 2px 6px;
  }
  .at {
    flex: 1;
    text-align: center;
    font-size: 12.5px;
  }
  p {
    margin: 0;
    font-size: 12.5px;
  }
</style>
