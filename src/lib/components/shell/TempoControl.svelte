<script lang="ts">
  import { beatAt, bpmAround, tappedBpm, TAPS_COUNTED } from '$core/show/index.ts';
  import { barBeats } from '$core/show/live/bar.ts';
  import { songAt } from '$core/show/live/songs.ts';
  import { gridOf } from '$core/song/grid.ts';
  import { modulo } from '$core/units.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveNumber, saveWhole } from '$lib/state/entry.ts';
  import ChevronLeft from '@lucide/svelte/icons/chevron-left';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import Button from '../Button.svelte';
  import Field from '../Field.svelte';
  import Pop from '../Pop.svelte';

  /** The show's one tempo: tapped, typed, nudged, halved or doubled; the bar and the beat it is at. */
  const app = getApp();
  const live = app.live;
  const tempo = $derived(live.real?.tempo);
  const bpm = $derived(tempo ? bpmAround(tempo, live.now()) : 120);
  const beats = $derived(live.real ? barBeats(live.real, live.document) : (app.rig.show?.beatsPerBar ?? 4));
  let taps: number[] = [];
  /** Tempo from the last taps; a pause of two seconds starts afresh. A beat falls on each tap. */
  function tap(): void {
    taps = [...taps, performance.now()].slice(-TAPS_COUNTED);
    const tapped = tappedBpm(taps);
    if (tapped !== null) set(tapped, true);
  }
  const set = (to: number, beatNow = false): void =>
    void live.command({ do: 'tempo', bpm: Math.min(300, Math.max(20, to)), beatNow });
  const nudge = (by: number): void => void live.command({ do: 'nudge', beats: by });

  /** Bar and beat of the song that plays, as it counts them; null without one. */
  function songPlace(): { bar: number; beat: number } | null {
    const song = live.real?.song;
    const record = song?.playing ? app.rig.songs.find(({ id }) => id === song.songId) : null;
    if (!song || !record) return null;
    const grid = gridOf(record);
    const at = songAt(song, live.now());
    const i = grid.beats.findLastIndex((beat) => beat <= at);
    return i < 0 ? null : { bar: grid.bars[i]!, beat: grid.places[i]! + 1 };
  }
  let place = $state('');
  let first = $state(false);
  /** Bar and beat, looked at 20 times a second. */
  $effect(() => {
    void tempo;
    const show = (): void => {
      if (!tempo) return;
      const inSong = songPlace();
      if (inSong) {
        [place, first] = [`${inSong.bar}.${inSong.beat}`, inSong.beat === 1];
        return;
      }
      const at = Math.floor(beatAt(tempo, live.now()) + 1e-6);
      const beat = modulo(at, beats);
      place = `${Math.floor(at / beats) + 1}.${beat + 1}`;
      first = beat === 0;
    };
    const timer = setInterval(show, 50);
    show();
    return () => clearInterval(timer);
  });
</script>

<div class="tempo">
  <Button onclick={tap} title="Tap in time with the music">Tap</Button>
  <Pop label="Tempo" side="bottom" align="end" width={270}>
    {#snippet button(props)}
      <button {...props} type="button" class="bpm" title="Change the tempo">
        <span class="visually-hidden">Tempo</span>
        <b class="num">{bpm.toFixed(bpm % 1 === 0 ? 0 : 1)}</b> <span class="quiet">bpm</span>
        <span class="num place" class:first title="Bar and beat">{place}</span>
      </button>
    {/snippet}
    {#snippet children(_close)}
      <h2>Tempo</h2>
      <Field
        label="Beats a minute (20-300)"
        numeric
        value={bpm}
        save={(t) => saveNumber(t, 20, 300, (to) => set(Math.round(to * 100) / 100))}
      />
      <div class="row">
        <Button disabled={bpm / 2 < 20} onclick={() => set(bpm / 2)}>Half</Button>
        <Button disabled={bpm * 2 > 300} onclick={() => set(bpm * 2)}>Double</Button>
        <Button onclick={tap}>Tap</Button>
      </div>
      <div class="row">
        <Button aria-label="Beats a little earlier" title="Beats earlier" onclick={() => nudge(-0.05)}
          ><ChevronLeft size={16} /> Earlier</Button
        >
        <Button aria-label="Beats a little later" title="Beats later" onclick={() => nudge(0.05)}
          >Later <ChevronRight size={16} /></Button
        >
      </div>
      <Button title="A bar begins at this moment" onclick={() => live.command({ do: 'tempo', bpm, barNow: beats })}
        >The bar begins now</Button
      >
      {#if app.rig.show}
        <Field
          label="Beats in a bar"
          numeric
          value={app.rig.show.beatsPerBar}
          save={(t) =>
            saveWhole(t, 1, 32, (beatsPerBar) => {
              live.edit('Beats in a bar', { put: [{ ...app.rig.show!, beatsPerBar }], remove: [] });
            })}
        />
      {/if}
      <p class="quiet num">Bar and beat: {place}</p>
    {/snippet}
  </Pop>
</div>

<style>
  .tempo {
    display: flex;
    align-items: center;
    gap: 4px;
    flex: none;
    white-space: nowrap;
  }
  .bpm {
    display: flex;
    align-items: baseline;
    gap: 5px;
    min-height: 32px;
    padding: 4px 8px;
    border: 1px solid transparent;
    border-radius: var(--radius);
    background: none;
    align-items: center;
  }
  .bpm:hover {
    border-color: var(--line-strong);
  }
  .place {
    min-width: 42px;
    text-align: right;
    color: var(--quiet);
  }
  .place.first {
    color: var(--amber-text);
  }
  .row {
    display: flex;
    gap: 6px;
  }
</style>
