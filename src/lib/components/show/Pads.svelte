<script lang="ts">
  import { givesNoLight } from '$core/show/live/bring-light.ts';
  import type { Values } from '$core/show/live/store.ts';
  import { isPlaying, type LiveCommand } from '$core/show/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { PlayableRecord } from '$lib/state/rig.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import { clockText } from '$lib/state/music/song-words.ts';
  import Music from '@lucide/svelte/icons/music';
  import PadFace from '../scenes/PadFace.svelte';

  /** A pad for everything that can be played. Touch plays, touch again lets go; in flash it plays while it is held. */
  interface Props {
    /** Fade in place of each one's own, s; null for its own. */
    fadeS: number | null;
    /** Whatever else plays is let go. */
    instead: boolean;
    flash: boolean;
  }
  let { fadeS, instead, flash }: Props = $props();
  const app = getApp();
  const live = $derived(app.live.live);
  const fadeMs = $derived(fadeS === null ? undefined : fadeS * 1000);
  const send = (command: LiveCommand): void => void app.live.command(command);
  function toggle(item: PlayableRecord): void {
    if (flash) return;
    if (live && isPlaying(live, item.id)) send({ do: 'release', target: item.id, fadeOutMs: fadeMs });
    else send({ do: 'play', target: item.id, fadeInMs: fadeMs, instead });
  }
  const hold = (item: PlayableRecord, on: boolean): void => {
    if (flash) send({ do: 'flash', target: item.id, on });
  };
  const KINDS = [
    ['scene', 'Scenes'],
    ['chase', 'Chases'],
    ['effect', 'Effects'],
  ] as const;
  const groups = $derived(
    KINDS.map(([kind, title]) => ({ title, items: app.rig.playables.filter((p) => p.kind === kind) })).filter(
      (g) => g.items.length > 0,
    ),
  );
  const size = (item: PlayableRecord): string =>
    item.kind === 'chase'
      ? plural(item.steps.length, 'step')
      : item.kind === 'scene'
        ? plural(Object.keys(item.values).length, 'unit')
        : plural(item.parts.length, 'part');
  /** Songs, and lists of them: pressed again they end. */
  const songs = $derived.by(() => {
    const { rig, sound, personName } = app;
    const song = live?.song ?? null;
    const press = (on: boolean, play: LiveCommand | null) => () => {
      if (!on) sound.ready(personName);
      if (on) send({ do: 'songOff' });
      else if (play) send(play);
    };
    return [
      ...rig.songs.map(({ id, name, lengthS }) => {
        const on = song?.songId === id && song.list === null;
        const words = lengthS === null ? 'song' : clockText(lengthS);
        return { key: id as string, name, words, on, press: press(on, { do: 'song', songId: id }) };
      }),
      ...rig.setlists.map(({ id, name, songs: ids }) => {
        const on = song?.list?.id === id;
        const [first] = ids;
        const play: LiveCommand | null = first ? { do: 'song', songId: first, list: id } : null;
        return { key: id as string, name, words: plural(ids.length, 'song'), on, press: press(on, play) };
      }),
    ];
  });
  const darkScene = (item: PlayableRecord): boolean =>
    item.kind === 'scene' && givesNoLight(app.live.document, item.values as Values);
</script>

<div class="pads">
  {#if groups.length === 0}
    <p class="quiet">
      No pads yet: every scene, chase and effect gets one. Touch something under <i>Ready</i>, or
      <a href="/scenes">make a scene</a>.
    </p>
  {/if}
  {#each groups as { title, items } (title)}
    <h2>{title}</h2>
    <div class="grid">
      {#each items as item (item.id)}
        {@const on = live ? isPlaying(live, item.id) : false}
        {@const flashed = live?.playing.some((p) => p.target === item.id && p.flash) ?? false}
        {@const fading = !on && !flashed && (live?.playing.some((p) => p.target === item.id) ?? false)}
        <button
          type="button"
          class="pad"
          class:on={on || flashed}
          class:fading
          aria-pressed={on}
          style:--tint={item.colour}
          onclick={() => toggle(item)}
          onpointerdown={(e) => {
            if (!flash) return;
            e.currentTarget.setPointerCapture(e.pointerId);
            hold(item, true);
          }}
          onpointerup={() => hold(item, false)}
          onpointercancel={() => hold(item, false)}
          onkeydown={(e) => (e.key === ' ' || e.key === 'Enter') && !e.repeat && hold(item, true)}
          onkeyup={() => hold(item, false)}
        >
          <PadFace {item} width={132} height={44} />
          <span class="name">{item.name}</span>
          <span class="quiet"
            >{on
              ? darkScene(item)
                ? 'playing, gives no light'
                : 'playing'
              : flashed
                ? 'flash'
                : fading
                  ? 'fading out'
                  : size(item)}</span
          >
        </button>
      {/each}
    </div>
  {/each}
  {#if songs.length > 0}
    <h2>Songs</h2>
    <div class="grid">
      {#each songs as { key, name, words, on, press } (key)}
        <button type="button" class="pad song" class:on aria-pressed={on} style:--tint="#ffb347" onclick={press}>
          <Music size={20} aria-hidden="true" />
          <span class="name">{name}</span>
          <span class="quiet">{on ? 'playing' : words}</span>
        </button>
      {/each}
    </div>
  {/if}
</div>

<style>
  .pads {
    flex: 1;
    overflow: auto;
    padding: 0 16px 24px;
  }
  h2 {
    padding: 10px 0 8px;
    color: var(--quiet);
  }
  .grid {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(156px, 1fr));
    gap: 10px;
  }
  .pad {
    display: flex;
    flex-direction: column;
    gap: 2px;
    align-items: flex-start;
    min-height: 104px;
    padding: 10px 12px;
    text-align: left;
    background: var(--raised);
    border: 1px solid var(--line);
    border-radius: 8px;
    transition: background var(--quick);
    touch-action: manipulation;
    user-select: none;
  }
  .pad:hover {
    background: var(--hover);
  }
  .pad .name {
    font-weight: 600;
    margin-top: auto;
  }
  .pad .quiet {
    font-size: 12.5px;
  }
  .pad.on {
    background: color-mix(in srgb, var(--tint) 28%, var(--raised));
    border-color: var(--tint);
    box-shadow: inset 0 0 0 2px var(--tint);
  }
  .pad.on .quiet {
    color: var(--text);
  }
  .pad.fading {
    background: color-mix(in srgb, var(--tint) 10%, var(--raised));
  }
  a {
    color: var(--amber-text);
  }
  @media (max-width: 760px) {
    .pads {
      padding: 0 10px 16px;
    }
    h2 {
      padding: 4px 0;
    }
  }
</style>
