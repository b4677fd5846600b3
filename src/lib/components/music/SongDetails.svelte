<script lang="ts">
  import Beside from '$lib/components/Beside.svelte';
  import Button from '$lib/components/Button.svelte';
  import Field from '$lib/components/Field.svelte';
  import { EAR } from '$core/music/version.ts';
  import { bpmOf } from '$core/song/grid.ts';
  import { saveNumber } from '$lib/state/entry.ts';
  import { evenTime } from '$lib/state/music/plain-time.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import { stateOf } from '$lib/state/music/song-words.ts';
  import SongCharts from './SongCharts.svelte';
  import SongMend from './SongMend.svelte';
  import SongSections from './SongSections.svelte';

  /** What is known of a song, how sure the ear is, and what sets it right. */
  let { desk }: { desk: SongDesk } = $props();
  const app = getApp();
  const song = $derived(desk.song);
  const state = $derived(stateOf(song, app.live.hearing));
  const bpm = $derived(Math.round((bpmOf(desk.grid) ?? 120) * 100) / 100);
  const time = (lengthS: number, n: number): void => desk.change('Plain time', evenTime(lengthS, n));
  const percent = (share: number): string => `${Math.round(share * 100)} %`;
  const text = (key: 'name' | 'artist' | 'album' | 'notes', label: string) => (given: string) => {
    if (key === 'name' && given.trim() === '') return 'Give it a name.';
    desk.change(label, { [key]: given.trim().slice(0, key === 'name' ? 100 : key === 'notes' ? 4000 : 200) });
    return null;
  };
</script>

{#snippet anew()}
  <Button
    title="What was set right stays"
    onclick={() => desk.change('Hear anew', { heard: null, fault: null, listen: true })}>Hear it anew</Button
  >
{/snippet}

<div class="all">
  {#if song.blob === null}
    <section aria-label="Plain time">
      <p class="quiet">Plain time, without sound.</p>
      <Beside>
        <Field
          label="Length"
          suffix="s"
          numeric
          value={song.lengthS ?? 180}
          save={(given) => saveNumber(given, 1, 3600, (lengthS) => time(lengthS, bpm))}
        />
        <Field
          label="Beats a minute"
          numeric
          value={bpm}
          save={(given) => saveNumber(given, 20, 300, (n) => time(song.lengthS ?? 180, n))}
        />
      </Beside>
    </section>
  {/if}
  <section>
    {#if state.is === 'hearing'}
      <p role="status">Hearing it: {percent(state.share)}.</p>
      <Button onclick={() => desk.change('Stop hearing', { listen: false })}>Stop hearing it</Button>
    {:else if state.is === 'fault'}
      <p class="wrong" role="alert">▲ {state.words}</p>
      <Button onclick={() => desk.change('Hear again', { fault: null, listen: true })}>Hear it again</Button>
    {:else if song.blob === null}
      <p class="quiet">{desk.grid.beats.length} even beats.</p>
    {:else if state.is === 'off'}
      <p>It is not to be heard by itself.</p>
      <Button onclick={() => desk.change('Hear', { listen: true })}>Hear it</Button>
    {:else if state.is === 'waiting'}
      <p role="status">It is heard in a moment. Where its file is elsewhere, add the file again.</p>
    {:else if song.heard}
      <p class="quiet">
        Sure of beats {percent(song.heard.confidence.beats)}, of bars {percent(song.heard.confidence.bars)}, of sections {percent(
          song.heard.confidence.sections,
        )}. {song.heard.loudness.toFixed(1)} LUFS.
      </p>
      {#if song.heard.beats.length < 2 && desk.grid.beats.length < 2}
        <p class="look">No beats were found. Play it and tap along.</p>
      {/if}
      {#if song.heard.ear < EAR}
        <p>The ear hears better now than when this was heard.</p>
        {@render anew()}
      {/if}
    {/if}
  </section>
  <SongMend {desk} />
  <SongSections {desk} />
  {#if song.heard || song.mended.stretches.length > 0}<SongCharts {desk} />{/if}
  <details>
    <summary>Name and notes</summary>
    {#key song.id}
      <div class="fields">
        <Field label="Name" value={song.name} save={text('name', 'Name')} />
        <Beside>
          <Field label="Artist" value={song.artist} save={text('artist', 'Artist')} />
          <Field label="Album" value={song.album} save={text('album', 'Album')} />
        </Beside>
        <Field label="Notes" value={song.notes} multiline save={text('notes', 'Notes')} />
        {#if app.rig.show?.tags.length}
          <div class="tags" role="group" aria-label="Tags">
            {#each app.rig.show.tags as tag (tag.key)}
              <Button
                pressed={song.tags.includes(tag.key)}
                onclick={() =>
                  desk.change('Tag', {
                    tags: song.tags.includes(tag.key)
                      ? song.tags.filter((key) => key !== tag.key)
                      : [...song.tags, tag.key].slice(0, 8),
                  })}>{tag.name}</Button
              >
            {/each}
          </div>
        {/if}
        {#if song.blob}<p class="quiet">{song.file} · {(song.bytes / 1e6).toFixed(1)} MB</p>{/if}
        {#if song.heard && song.heard.ear >= EAR}{@render anew()}{/if}
        <Button kind="wrong" onclick={() => app.remove(`Remove ${song.name}`, [song.id])}>Remove the song</Button>
      </div>
    {/key}
  </details>
</div>

<style>
  .all {
    display: grid;
    gap: 18px;
  }
  section,
  .fields {
    display: grid;
    gap: 8px;
  }
  p {
    margin: 0;
    font-size: 12.5px;
  }
  .wrong {
    color: var(--wrong);
  }
  .look {
    color: var(--look);
  }
  .tags {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
</style>
