<script lang="ts">
  import { songTroubles, type SongTrouble } from '$core/check/song.ts';
  import { anotherVersion } from '$core/timeline/versions.ts';
  import { codeAt, codeText, readCode } from '$core/protocol/timecode.ts';
  import { nextNumber } from '$core/naming.ts';
  import Button from '$lib/components/Button.svelte';
  import Field from '$lib/components/Field.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { Film } from '$lib/state/music/film.svelte.ts';
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';
  import type { LightStretches } from '$lib/state/music/light-stretches.svelte.ts';

  /** What is wrong with the light of a song, its versions, its place in a time code, and what goes to paper and film. */
  let { light, stretches }: { light: LightDesk; stretches: LightStretches } = $props();
  const app = getApp();
  const desk = $derived(light.song);
  const troubles = $derived(songTroubles(app.live.document, desk.song, light.laneName));
  let flashes = $state.raw<readonly SongTrouble[] | null>(null);
  let looking = $state(false);
  const RATE = '25';
  const others = $derived(
    app.rig.songs.filter(({ id, blob }) => id !== desk.song.id && (blob === desk.song.blob || blob === null)),
  );
  const film = new Film(app);
  async function look(): Promise<void> {
    looking = true;
    flashes = await app.live.preview.ask({ what: 'flashes', songId: desk.song.id }).catch(() => null);
    looking = false;
  }
  function another(): void {
    const id = app.newId('song');
    const name = `${desk.song.name.slice(0, 80)}, another`;
    const put = anotherVersion(desk.song, light.lanes, {
      id,
      number: nextNumber(app.rig.songs),
      name,
      newLane: () => app.newId('lane'),
    });
    app.live.edit(`Another version of ${desk.song.name}`.slice(0, 120), { put, remove: [] });
    app.live.tell('note', `“${name}” is in the list of songs`, 'It has the same sound, and all the light of this one.');
  }
  const go = (at: number): void => {
    desk.go(at);
    desk.reveal(at);
  };
</script>

<section aria-label="Check">
  <h3>Check</h3>
  {#if troubles.length === 0}<p class="quiet">Every lane and block has what it plays, within the song.</p>{/if}
  {#each [...troubles, ...(flashes ?? [])].slice(0, 60) as { where, message, remedy, at, code }, i (i)}
    <p class="trouble" class:wrong={code === 'FLASHES'}>
      ● {#if at !== null}<button type="button" class="link" onclick={() => go(at)}>{where}</button>{:else}{where}{/if}: {message}.
      <span class="quiet">{remedy}</span>
    </p>
  {/each}
  {#if flashes?.length === 0}<p role="status">Nothing flashes faster than the show allows.</p>{/if}
  <Button disabled={looking} title="Plays the song through and counts" onclick={look}
    >{looking ? 'Playing it through …' : 'Look for fast flashes'}</Button
  >
</section>

<section aria-label="Versions">
  <h3>Versions</h3>
  <div class="row">
    <Button title="The same sound, and all its light, under another name" onclick={another}>Another version</Button>
    {#if others.length > 0}
      <select
        aria-label="Compare with"
        value={light.compared ?? ''}
        onchange={(e) => (light.compared = (e.currentTarget.value || null) as typeof light.compared)}
      >
        <option value="">Compare with …</option>
        {#each others as { id, name } (id)}<option value={id}>{name}</option>{/each}
      </select>
    {/if}
  </div>
</section>

<section aria-label="Time code">
  <h3>Time code</h3>
  <Field
    label="Begins at (25 frames a second)"
    value={desk.song.codeAt === null ? '' : codeText(codeAt(desk.song.codeAt, RATE))}
    placeholder="01:00:00:00"
    save={(text) => {
      if (text.trim() === '') {
        desk.change('Follow no time code', { codeAt: null });
        return null;
      }
      const at = readCode(text, RATE);
      if (at === null) return 'Write hours:minutes:seconds:frames, such as 01:00:00:00.';
      desk.change('Place in the time code', { codeAt: at });
      return null;
    }}
  />
  <p class="quiet">Choose what hears the code in Live sound.</p>
</section>

<section aria-label="Paper and film">
  <h3>Paper and film</h3>
  <div class="row">
    <a href="/music/print?song={encodeURIComponent(desk.song.id)}" target="_blank" rel="noopener">Cue sheet</a>
    {#if film.share === null}
      <Button
        title="The rig with the sound, as WebM; it takes as long as it plays"
        onclick={() => film.make(desk, { from: 0, to: desk.end })}>Film of the song</Button
      >
      <Button onclick={() => film.make(desk, stretches.stretch)}>Film of {stretches.stretch.name}</Button>
    {:else}
      <span role="status" class="num">{Math.round(film.share * 100)} %</span>
      <Button onclick={() => film.stop()}>Stop</Button>
    {/if}
  </div>
  {#if film.share !== null}<p class="quiet">Keep this page in front until it is done.</p>{/if}
  {#if film.fault}<p class="wrong" role="alert">▲ {film.fault}</p>{/if}
</section>

<style>
  section {
    justify-items: start;
  }
  .trouble {
    color: var(--look);
  }
  .wrong {
    color: var(--wrong);
  }
  .link {
    padding: 0;
    color: inherit;
    text-decoration: underline;
    background: none;
    border: 0;
    cursor: pointer;
  }
</style>
