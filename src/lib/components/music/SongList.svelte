<script lang="ts">
  import type { SongId } from '$core/ids.ts';
  import { nextNumber } from '$core/naming.ts';
  import { make } from '$core/records/index.ts';
  import type { SongRecord } from '$core/records/song.ts';
  import Button from '$lib/components/Button.svelte';
  import TagMark from '$lib/components/patch/TagMark.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { clockText, factsOf, stateOf } from '$lib/state/music/song-words.ts';
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import Plus from '@lucide/svelte/icons/plus';
  import X from '@lucide/svelte/icons/x';

  /** Songs of the show, and files on their way in. */
  interface Props {
    chosen: string | undefined;
    open: (id: string) => void;
  }
  let { chosen, open }: Props = $props();
  const app = getApp();
  const { live } = app;
  let search = $state('');
  let unfolded = $state(false);
  const tags = $derived(new Map((app.rig.show?.tags ?? []).map((t) => [t.key, t])));
  const ORDERS = [
    ['number', 'as added'],
    ['name', 'by name'],
    ['bpm', 'by tempo'],
    ['lengthS', 'by length'],
  ] as const;
  let order = $state<(typeof ORDERS)[number][0]>('number');
  const matches = (song: SongRecord): boolean => {
    const { bpm, metre, mood } = factsOf(song);
    const own = song.tags.map((key) => tags.get(key)?.name ?? '');
    const text = [song.name, song.artist, song.album, song.file, bpm, metre, mood ?? '', ...own]
      .join(' ')
      .toLowerCase();
    return search
      .trim()
      .toLowerCase()
      .split(/\s+/)
      .every((word) => text.includes(word));
  };
  const shown = $derived.by(() => {
    const list = app.rig.songs.filter(matches);
    if (order === 'name') list.sort((a, b) => a.name.localeCompare(b.name));
    else if (order === 'bpm') list.sort((a, b) => Number(factsOf(a).bpm) - Number(factsOf(b).bpm));
    else if (order === 'lengthS') list.sort((a, b) => (a.lengthS ?? 0) - (b.lengthS ?? 0));
    return list;
  });
  function newList(): void {
    const number = nextNumber(app.rig.setlists);
    const name = `List ${number}`;
    const songs = app.rig.songs.map(({ id }) => id as SongId);
    const list = make('setlist', { id: app.newId('setlist'), number, name, songs });
    if (live.edit(`New list ${name}`, { put: [list], remove: [] })) open(list.id);
  }
  const on = $derived(app.live.real?.song?.songId);
  function words(song: SongRecord): string {
    const state = stateOf(song, app.live.hearing);
    if (state.is === 'hearing') return `hearing ${Math.round(state.share * 100)} %`;
    if (state.is === 'waiting') return 'to be heard';
    if (state.is === 'fault') return 'not heard';
    if (song.blob === null) return 'plain time';
    if (state.is === 'off') return 'not to be heard';
    const { bpm, metre, mood } = factsOf(song);
    return [bpm, metre, mood].filter(Boolean).join(' · ');
  }
</script>

<button type="button" class="fold" aria-expanded={unfolded} onclick={() => (unfolded = !unfolded)}>
  <span class="name">{app.rig.songs.find((song) => song.id === chosen)?.name ?? 'Songs'}</span>
  <span class="quiet">{unfolded ? 'close the list' : 'choose another'}</span><ChevronDown size={16} />
</button>
<nav aria-label="Songs" class:open={unfolded}>
  <div class="find">
    <input
      type="search"
      placeholder="Find a song, tempo, tag"
      aria-label="Find a song, tempo or tag"
      bind:value={search}
    />
    <select aria-label="Order of the songs" bind:value={order}>
      {#each ORDERS as [key, text] (key)}<option value={key}>{text}</option>{/each}
    </select>
  </div>
  {#each app.songsIn.coming as { key, file, share, fault } (key)}
    <div class="coming" class:wrong={fault !== null}>
      <span class="name">{file}</span>
      {#if fault}
        <Button kind="bare" aria-label="Put {file} away" onclick={() => app.songsIn.putAway(key)}
          ><X size={14} /></Button
        >
        <p role="alert">▲ {fault}</p>
      {:else}<span class="quiet num">{Math.round(share * 100)} %</span>{/if}
    </div>
  {/each}
  <ul>
    {#each shown as song (song.id)}
      {@const state = stateOf(song, app.live.hearing)}
      <li class:chosen={song.id === chosen}>
        <button
          type="button"
          aria-current={song.id === chosen}
          onclick={() => {
            open(song.id);
            unfolded = false;
          }}
        >
          <span class="row">
            <span class="name"
              >{#if on === song.id}<span class="on" title="It is on">♪</span>{/if}{song.name}</span
            >
            {#each song.tags as tag (tag)}{@const known = tags.get(tag)}{#if known}<TagMark
                  tag={known}
                  bare
                />{/if}{/each}
            <span class="num quiet">{song.lengthS === null ? '' : clockText(song.lengthS)}</span>
          </span>
          <span class="row quiet small" class:wrong={state.is === 'fault'}>
            <span>{words(song)}</span><span class="artist">{song.artist}</span>
          </span>
          {#if state.is === 'hearing'}<span class="share" style:width="{state.share * 100}%"></span>{/if}
        </button>
      </li>
    {:else}
      {#if search || app.songsIn.coming.length === 0}
        <li class="quiet none">
          {search ? 'Nothing of that name.' : 'No songs yet. Drop files or a folder here, or press “Add songs”.'}
        </li>
      {/if}
    {/each}
  </ul>
  <h2>Lists</h2>
  <ul>
    {#each app.rig.setlists as list (list.id)}
      <li class:chosen={list.id === chosen}>
        <button
          type="button"
          aria-current={list.id === chosen}
          onclick={() => {
            open(list.id);
            unfolded = false;
          }}
        >
          <span class="row">
            <span class="name"
              >{#if live.real?.song?.list?.id === list.id}<span class="on" title="It is on">♪</span
                >{/if}{list.name}</span
            >
            <span class="num quiet">{list.songs.length}</span>
          </span>
        </button>
      </li>
    {/each}
  </ul>
  <Button onclick={newList}><Plus size={14} /> List</Button>
</nav>

<style>
  nav {
    width: 268px;
    flex: none;
    overflow-y: auto;
    padding: 0 8px 16px 16px;
    border-right: 1px solid var(--line);
  }
  .find {
    display: grid;
    grid-template-columns: 1fr 92px;
    gap: 6px;
    padding: 8px 0;
  }
  input,
  select {
    min-width: 0;
    min-height: 32px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 4px 8px;
  }
  ul {
    display: grid;
    gap: 2px;
    margin: 0;
    padding: 0;
    list-style: none;
  }
  li button {
    border: 0;
    background: none;
    position: relative;
    display: grid;
    gap: 2px;
    width: 100%;
    padding: 7px 8px;
    border-radius: var(--radius);
    text-align: left;
    overflow: hidden;
  }
  li button:hover {
    background: var(--hover);
  }
  .chosen button {
    background: var(--amber-wash);
  }
  .row {
    display: flex;
    gap: 8px;
    align-items: baseline;
    min-width: 0;
  }
  .name {
    flex: 1;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .on {
    color: var(--amber-text);
    margin-right: 4px;
  }
  .small {
    font-size: 12.5px;
    justify-content: space-between;
  }
  .artist {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .wrong {
    color: var(--wrong);
  }
  .share {
    position: absolute;
    left: 0;
    bottom: 0;
    height: 2px;
    background: var(--amber);
  }
  .coming {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px;
    padding: 6px 8px;
    border-left: 2px solid var(--amber);
  }
  .coming.wrong {
    border-color: var(--wrong);
  }
  .coming p {
    margin: 0;
    width: 100%;
    font-size: 12.5px;
  }
  .none {
    padding: 8px;
  }
  h2 {
    margin: 16px 0 6px;
    font-size: 13px;
    color: var(--quiet);
  }
  .fold {
    display: none;
  }
  @media (max-width: 760px) {
    .fold {
      display: flex;
      align-items: center;
      gap: 8px;
      min-height: 44px;
      padding: 4px 12px;
      border: 0;
      border-bottom: 1px solid var(--line);
      background: var(--panel);
      text-align: left;
    }
    nav {
      display: none;
      width: auto;
      border-right: 0;
    }
    nav.open {
      display: block;
    }
  }
</style>
