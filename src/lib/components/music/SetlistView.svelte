<script lang="ts">
  import { dndzone, type DndEvent } from 'svelte-dnd-action';
  import type { SongId } from '$core/ids.ts';
  import type { SetlistRecord } from '$core/records/song.ts';
  import { orderOf } from '$core/show/live/songs.ts';
  import Button from '$lib/components/Button.svelte';
  import Choice from '$lib/components/Choice.svelte';
  import Field from '$lib/components/Field.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveNumber } from '$lib/state/entry.ts';
  import { clockText, factsOf } from '$lib/state/music/song-words.ts';
  import ArrowDown from '@lucide/svelte/icons/arrow-down';
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import Play from '@lucide/svelte/icons/play';
  import X from '@lucide/svelte/icons/x';

  /** A list of songs: their order, what is between them, and playing it. */
  let { list, open }: { list: SetlistRecord; open: (id: string) => void } = $props();
  const app = getApp();
  const { live, sound } = app;
  const byId = $derived(new Map(app.rig.songs.map((song) => [song.id as string, song])));
  interface Item {
    readonly id: number;
    readonly song: SongId;
  }
  let dragged = $state.raw<Item[] | null>(null);
  const items = $derived<Item[]>(dragged ?? list.songs.map((song, id) => ({ id, song })));
  const others = $derived(app.rig.songs);
  const total = $derived(
    list.songs.reduce((sum, id) => sum + (byId.get(id)?.lengthS ?? 0), 0) +
      Math.max(0, list.songs.length - 1) * list.gapS,
  );
  const on = $derived(live.real?.song?.list?.id === list.id ? live.real.song : null);

  function change(label: string, fields: Partial<SetlistRecord>): void {
    live.edit(`${label}: ${list.name}`.slice(0, 120), { put: [{ ...list, ...fields }], remove: [] });
  }
  const reorder = (songs: SongId[]): void => change('Order of songs', { songs });
  function move(from: number, by: number): void {
    const songs = [...list.songs];
    const [song] = songs.splice(from, 1);
    songs.splice(from + by, 0, song!);
    reorder(songs);
  }
  function play(from?: SongId): void {
    sound.ready(app.personName);
    // A shuffled list begins with whatever comes first by the seed it gets.
    const seed = Math.floor(live.now()) % 2 ** 31;
    const first = from ?? orderOf(live.document, { id: list.id, seed })[0];
    if (first) void live.command({ do: 'song', songId: first, list: list.id });
  }
  const consider = ({ detail }: CustomEvent<DndEvent<Item>>): void => void (dragged = detail.items);
  function finalize({ detail }: CustomEvent<DndEvent<Item>>): void {
    dragged = null;
    const songs = detail.items.map(({ song }) => song);
    if (songs.some((song, i) => song !== list.songs[i])) reorder(songs);
  }
  let adding = $state('');
</script>

<div class="view">
  <header>
    <div class="name">
      {#key list.id}
        <Field
          label="Name of the list"
          hideLabel
          value={list.name}
          save={(text) => {
            if (text.trim() === '') return 'Give it a name.';
            change('Name', { name: text.trim().slice(0, 100) });
            return null;
          }}
        />
      {/key}
    </div>
    <Button kind="main" disabled={list.songs.length === 0} onclick={() => play()}
      ><Play size={16} /> Play the list</Button
    >
    <span class="quiet num">{list.songs.length} songs, {clockText(total)}</span>
  </header>
  <div class="how">
    <Field
      label="Silence between (below 0: they fade over)"
      suffix="s"
      numeric
      value={list.gapS}
      save={(text) => saveNumber(text, -30, 600, (gapS) => change('Between songs', { gapS }))}
    />
    <Choice
      label="Order"
      value={list.order}
      options={[
        { value: 'listed', text: 'as listed' },
        { value: 'shuffled', text: 'shuffled' },
      ]}
      choose={(order: 'listed' | 'shuffled') => change('Order', { order })}
    />
    <Button pressed={list.repeat} onclick={() => change('Again from the start', { repeat: !list.repeat })}
      >Again from the start</Button
    >
  </div>
  <ol
    use:dndzone={{ items, flipDurationMs: 140, dropTargetStyle: {}, zoneTabIndex: -1, zoneItemTabIndex: -1 }}
    onconsider={consider}
    onfinalize={finalize}
  >
    {#each items as item, i (item.id)}
      {@const song = byId.get(item.song)}
      <li class:on={on?.songId === item.song}>
        <span class="num quiet">{i + 1}</span>
        <Button kind="bare" aria-label="Play from {song?.name ?? 'it'} on" onclick={() => play(item.song)}
          ><Play size={14} /></Button
        >
        <button type="button" class="title" onclick={() => open(item.song)}>{song?.name ?? 'gone'}</button>
        <span class="num quiet">{song ? factsOf(song).bpm : ''}</span>
        <span class="num quiet">{song && song.lengthS !== null ? clockText(song.lengthS) : ''}</span>
        <Button kind="bare" aria-label="Earlier" disabled={i === 0} onclick={() => move(i, -1)}
          ><ArrowUp size={14} /></Button
        >
        <Button kind="bare" aria-label="Later" disabled={i === items.length - 1} onclick={() => move(i, 1)}
          ><ArrowDown size={14} /></Button
        >
        <Button
          kind="bare"
          aria-label="Take {song?.name ?? 'it'} out of the list"
          onclick={() => change('Take out a song', { songs: list.songs.filter((_, k) => k !== i) })}
          ><X size={14} /></Button
        >
      </li>
    {/each}
  </ol>
  <div class="add">
    <Choice
      label="Add a song"
      value={adding || null}
      options={others.map(({ id, name }) => ({ value: id, text: name }))}
      choose={(id: string) => {
        adding = '';
        change('Add a song', { songs: [...list.songs, id as SongId] });
      }}
    />
    <Button onclick={() => change('Add all songs', { songs: app.rig.songs.map(({ id }) => id as SongId) })}
      >All songs</Button
    >
    <Button kind="wrong" onclick={() => app.remove(`Remove ${list.name}`, [list.id])}>Remove the list</Button>
  </div>
</div>

<style>
  .view {
    display: grid;
    align-content: start;
    gap: 14px;
    flex: 1;
    min-width: 0;
    padding: 14px 18px;
    overflow-y: auto;
  }
  header,
  .how,
  .add {
    display: flex;
    flex-wrap: wrap;
    align-items: end;
    gap: 10px;
  }
  header {
    align-items: center;
  }
  .name {
    width: 220px;
  }
  ol {
    display: grid;
    gap: 2px;
    margin: 0;
    padding: 0;
    list-style: none;
  }
  li {
    display: grid;
    grid-template-columns: 24px auto 1fr 52px 48px auto auto auto;
    align-items: center;
    gap: 6px;
    padding: 2px 6px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--panel);
  }
  li.on {
    border-color: var(--amber);
  }
  .title {
    overflow: hidden;
    min-width: 0;
    padding: 6px 0;
    border: 0;
    background: none;
    text-align: left;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
