<script lang="ts">
  import type { SongRecord } from '$core/records/song.ts';
  import Removed from '$lib/components/Removed.svelte';
  import Step from '$lib/components/Step.svelte';
  import AddSongs from '$lib/components/music/AddSongs.svelte';
  import SongDetails from '$lib/components/music/SongDetails.svelte';
  import SongList from '$lib/components/music/SongList.svelte';
  import LiveSound from '$lib/components/music/LiveSound.svelte';
  import Tabs from '$lib/components/Tabs.svelte';
  import SetlistView from '$lib/components/music/SetlistView.svelte';
  import LightDetails from '$lib/components/music/light/LightDetails.svelte';
  import SongView from '$lib/components/music/SongView.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { filesOf } from '$lib/state/music/songs-in.svelte.ts';
  import { lightRoom } from '$lib/state/music/light-room.svelte.ts';
  import { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import { Opened, setAddress } from '$lib/state/opened.svelte.ts';
  import { page } from '$app/state';

  const app = getApp();
  const VIEWS = [
    ['songs', 'Songs'],
    ['live', 'Live sound'],
  ] as const;
  const view = $derived(page.url.searchParams.get('view') === 'live' ? 'live' : 'songs');
  const opened = new Opened('song', () => [...app.rig.songs, ...app.rig.setlists]);
  const record = $derived(opened.record);
  const chosen = $derived<SongRecord | null>(record?.kind === 'song' ? record : null);
  const list = $derived(record?.kind === 'setlist' ? record : null);
  let last = $state.raw<SongRecord | null>(null);
  $effect.pre(() => {
    if (chosen) last = chosen;
  });
  const desk = new SongDesk(app, () => chosen ?? last);
  const room = lightRoom(app, () => desk);
  /** The light of a song is made: it has the whole width. */
  const making = $derived(chosen !== null && view === 'songs' && room.light.shown);
  let over = $state(false);
  // Another song is seen from its beginning.
  let seen: string | null = null;
  $effect.pre(() => {
    if (!chosen || chosen.id === seen) return;
    seen = chosen.id;
    desk.reset();
    room.light.reset();
  });
  async function drop(event: DragEvent): Promise<void> {
    event.preventDefault();
    over = false;
    if (event.dataTransfer) app.songsIn.take(await filesOf(event.dataTransfer.items));
  }
</script>

<Step title="Music" detailsTitle={view === 'live' ? 'Live sound' : making ? 'Light' : chosen ? 'Song' : 'Details'}>
  {#snippet tools()}
    <Tabs
      label="What is heard"
      tabs={VIEWS}
      value={view}
      choose={(key) => setAddress({ view: key === 'songs' ? null : key })}
    />
    {#if view === 'songs'}<AddSongs />{/if}
  {/snippet}
  <div
    class="panes"
    class:over
    role="presentation"
    ondragover={(e) => {
      e.preventDefault();
      over = true;
    }}
    ondragleave={() => (over = false)}
    ondrop={drop}
  >
    {#if view === 'live'}<LiveSound />{:else}
      {#if !making}<SongList chosen={record?.id} open={(id) => opened.open(id)} />{/if}
      {#if chosen}
        {#key chosen.id}<SongView {desk} {room} />{/key}
      {:else if list}
        {#key list.id}<SetlistView {list} open={(id) => opened.open(id)} />{/key}
      {:else if opened.removed !== null}
        <Removed what="song" name={opened.removed} list="the list" />
      {:else}
        <div class="first">
          <p>Drop songs here, or a folder of them.</p>
          <p class="quiet">
            WAV, AIFF, MP3, FLAC, Ogg Vorbis, Opus; M4A where this browser decodes it. Each is heard once: where its
            beats and bars are, how its sections follow one another, and how much goes on in each.
          </p>
        </div>
      {/if}
    {/if}
  </div>
  {#snippet details()}
    {#if view === 'live'}<p class="quiet">
        The ear hears beats from the past alone and says each some 40 ms before it is. Where it is unsure, in silence
        and in speech, the tempo goes on as it was.
      </p>
    {:else if making}<LightDetails {...room} />
    {:else if chosen}{#key chosen.id}<SongDetails {desk} />{/key}
    {:else if list}
      <p class="quiet">
        The show goes from song to song by itself, whether a page plays the sound or not; its tempo follows each of
        them.
      </p>
    {:else}<p class="quiet">Nothing is open.</p>{/if}
  {/snippet}
</Step>

<style>
  .panes {
    display: flex;
    flex: 1;
    min-height: 0;
  }
  .panes.over {
    outline: 2px dashed var(--amber);
    outline-offset: -4px;
  }
  .first {
    display: grid;
    align-content: center;
    justify-items: center;
    flex: 1;
    gap: 6px;
    padding: 24px;
    text-align: center;
  }
  .first p {
    max-width: 52ch;
    margin: 0;
  }
  @media (max-width: 760px) {
    .panes {
      flex-direction: column;
      overflow-y: auto;
    }
  }
</style>
