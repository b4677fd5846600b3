<script lang="ts">
  import { isPlaying } from '$core/show/index.ts';
  import type { PaletteRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { PlayableRecord } from '$lib/state/rig.svelte.ts';
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import Play from '@lucide/svelte/icons/play';
  import Square from '@lucide/svelte/icons/square';
  import TagMark from '../patch/TagMark.svelte';
  import PadFace from './PadFace.svelte';

  /** Everything that can be played, and palettes: by kind and folder, found by name, folder or tag. */
  let { chosen, open }: { chosen: string | undefined; open: (id: string) => void } = $props();
  const app = getApp();
  type Item = PlayableRecord | PaletteRecord;
  let search = $state('');
  /** On a phone the list is folded behind what is chosen. */
  let unfolded = $state(false);
  let kind = $state<'all' | Item['kind']>('all');
  const KINDS = [
    ['scene', 'Scenes', 'None yet. Select units, change them in the tail, and Store.'],
    ['chase', 'Chases', 'None yet.'],
    ['effect', 'Effects', 'None yet. Touch a ready one in the tail, and Store.'],
    ['palette', 'Palettes', 'None yet. Store what is by hand as a palette.'],
  ] as const;
  const tags = $derived(new Map((app.rig.show?.tags ?? []).map((t) => [t.key, t])));
  const all = $derived<readonly Item[]>([...app.rig.playables, ...app.rig.palettes]);
  const matches = (item: Item): boolean => {
    const words = search.trim().toLowerCase();
    if (words === '') return true;
    const text = [item.name, item.folder, ...item.tags.map((k) => tags.get(k)?.name ?? '')].join(' ').toLowerCase();
    return words.split(/\s+/).every((word) => text.includes(word));
  };
  /** Items of a kind by folder, those in none first. */
  const foldersOf = (of: Item['kind']): [folder: string, items: Item[]][] => {
    const found = new Map<string, Item[]>();
    for (const item of all.filter((i) => i.kind === of && matches(i)))
      found.set(item.folder, [...(found.get(item.folder) ?? []), item]);
    return [...found].sort((a, b) => (a[0] < b[0] ? -1 : 1));
  };
  const shownKinds = $derived(KINDS.filter(([k]) => kind === 'all' || kind === k));
</script>

<button type="button" class="fold" aria-expanded={unfolded} onclick={() => (unfolded = !unfolded)}>
  <span class="name">{all.find((item) => item.id === chosen)?.name ?? 'Scenes and chases'}</span>
  <span class="quiet">{unfolded ? 'close the list' : 'choose another'}</span><ChevronDown size={16} />
</button>
<nav aria-label="Scenes and chases" class:open={unfolded}>
  <input
    class="search"
    type="search"
    placeholder="Find by name, folder, tag"
    aria-label="Find by name, folder or tag"
    bind:value={search}
  />
  <div class="kinds" role="group" aria-label="Kind">
    {#each [['all', 'All'], ...KINDS] as [key, text] (key)}
      <button type="button" aria-pressed={kind === key} onclick={() => (kind = key as typeof kind)}>{text}</button>
    {/each}
  </div>
  {#each shownKinds as [key, title, none] (key)}
    {@const folders = foldersOf(key)}
    <h2>{title}</h2>
    {#each folders as [folder, items] (folder)}
      {#if folder}<h3>{folder}</h3>{/if}
      <ul>
        {#each items as item (item.id)}
          {@const on = item.kind !== 'palette' && app.live.live ? isPlaying(app.live.live, item.id) : false}
          <li class:chosen={item.id === chosen}>
            <button
              type="button"
              class="pick"
              aria-current={item.id === chosen}
              onclick={() => {
                open(item.id);
                unfolded = false;
              }}
              ><PadFace {item} /><span class="name">{item.name}</span>
              {#each item.tags as tag (tag)}{@const known = tags.get(tag)}{#if known}<TagMark
                    tag={known}
                    bare
                  />{/if}{/each}</button
            >
            {#if item.kind !== 'palette'}
              <button
                type="button"
                class="play"
                class:on
                aria-pressed={on}
                aria-label="{on ? 'Let go' : 'Play'} {item.name}"
                onclick={() => app.live.command({ do: on ? 'release' : 'play', target: item.id })}
              >
                {#if on}<Square size={14} fill="currentColor" />{:else}<Play size={14} />{/if}
              </button>
            {/if}
          </li>
        {/each}
      </ul>
    {:else}
      <p class="quiet">{search ? 'Nothing of that name.' : none}</p>
    {/each}
  {/each}
</nav>

<style>
  nav {
    width: 268px;
    flex: none;
    overflow-y: auto;
    padding: 0 8px 16px 16px;
    border-right: 1px solid var(--line);
  }
  .search {
    width: 100%;
    min-height: 32px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 4px 10px;
  }
  .kinds {
    display: flex;
    flex-wrap: wrap;
    gap: 2px;
    padding-top: 6px;
  }
  .kinds button {
    border: 0;
    background: none;
    padding: 4px 7px;
    border-radius: 4px;
    color: var(--quiet);
    font-size: 12.5px;
  }
  .kinds [aria-pressed='true'] {
    color: var(--text);
    background: var(--hover);
  }
  h2 {
    padding: 10px 0 4px;
  }
  h3 {
    margin: 0;
    padding: 4px 0 2px 4px;
    font-size: 12px;
    font-weight: 400;
    color: var(--quiet);
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li {
    display: flex;
    border-left: 3px solid transparent;
  }
  li.chosen {
    background: var(--amber-wash);
    border-left-color: var(--amber);
  }
  .pick {
    display: flex;
    align-items: center;
    gap: 8px;
    flex: 1;
    min-width: 0;
    min-height: 40px;
    border: 0;
    background: none;
    text-align: left;
    padding: 2px 6px;
  }
  .name {
    flex: 1;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .pick:hover {
    background: var(--hover);
  }
  .play {
    display: grid;
    place-items: center;
    width: 36px;
    border: 0;
    background: none;
    color: var(--quiet);
  }
  .play:hover {
    color: var(--text);
  }
  .play.on {
    color: var(--amber-text);
  }
  .fold {
    display: none;
  }
  @media (max-width: 760px) {
    .fold {
      display: flex;
      align-items: center;
      gap: 8px;
      flex: none;
      min-height: 44px;
      margin: 0 16px 8px;
      padding: 4px 12px;
      border: 1px solid var(--line-strong);
      border-radius: var(--radius);
      background: var(--raised);
      text-align: left;
    }
    nav {
      display: none;
      width: auto;
      border-right: 0;
      padding-right: 16px;
    }
    nav.open {
      display: block;
    }
  }
</style>
