<script lang="ts">
  import { songAt, songBy } from '$core/show/live/songs.ts';
  import AutoButton from '$lib/components/auto/AutoButton.svelte';
  import Button from '$lib/components/Button.svelte';
  import Strip from '$lib/components/shell/Strip.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { openIn } from '$lib/state/opened.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';
  import Pause from '@lucide/svelte/icons/pause';
  import Play from '@lucide/svelte/icons/play';
  import SkipBack from '@lucide/svelte/icons/skip-back';
  import SkipForward from '@lucide/svelte/icons/skip-forward';
  import X from '@lucide/svelte/icons/x';
  import SoundFrom from './SoundFrom.svelte';
  import SoundTrim from './SoundTrim.svelte';

  /** The song that is on, wherever one is in the program; and which page its sound comes from. */
  const app = getApp();
  const { live, sound } = app;
  const song = $derived(live.real?.song ?? null);
  const record = $derived(song && app.rig.songs.find(({ id }) => id === song.songId));
  const player = $derived(live.real?.soundPlayer ?? null);
  /** What the sound card that plays says. */
  const said = $derived(player && live.sound?.key === player.key ? live.sound : null);
  const trouble = $derived(said?.trouble ?? null);
  const [before, after] = $derived([
    song ? songBy(live.document, song, -1) : null,
    song ? songBy(live.document, song, 1) : null,
  ]);
  $effect(() => {
    void [song, player, live.document];
    sound.look();
  });
  let at = $state(0);
  $effect(() => {
    if (!song) return;
    const on = song;
    at = songAt(on, live.now());
    const timer = setInterval(() => (at = songAt(on, live.now())), 250);
    return () => clearInterval(timer);
  });
</script>

{#snippet off(ms: number | null)}
  {#if ms !== null}<span class="num" data-off={ms}>, {ms.toFixed(1)} ms</span>{/if}
{/snippet}
{#snippet trim()}
  <SoundTrim player={player?.card ? player : null} />
  <Button title="The lights go on without sound" onclick={() => live.command({ do: 'soundPlayer', player: null })}
    >Quiet</Button
  >
{/snippet}

{#if song && record}
  <Strip label="Song">
    <Button
      kind="bare"
      aria-label={song.playing ? 'Pause the song' : 'Play the song'}
      onclick={() => {
        if (sound.own) sound.allow();
        void live.command({ do: 'songPlay', on: !song.playing });
      }}
      >{#if song.playing}<Pause size={16} />{:else}<Play size={16} />{/if}</Button
    >
    {#if song.list}
      <Button
        kind="bare"
        aria-label="The song before"
        disabled={!before}
        onclick={() => live.command({ do: 'songBy', by: -1 })}><SkipBack size={16} /></Button
      >
      <Button
        kind="bare"
        aria-label="The next song"
        disabled={!after}
        onclick={() => live.command({ do: 'songBy', by: 1 })}><SkipForward size={16} /></Button
      >
    {/if}
    <a class="name" href="/music" onclick={() => openIn('/music', record.id, 'song')}>{record.name}</a>
    <span class="num quiet">{clockText(at)}{record.lengthS === null ? '' : ` / ${clockText(record.lengthS)}`}</span>
    <AutoButton />
    {#snippet right()}
      {#if sound.own && sound.blocked}
        <Button kind="main" onclick={() => sound.allow()}>Press to hear it</Button>
      {:else if sound.own && sound.fault}
        <span class="wrong" role="alert">▲ {sound.fault}</span>
      {:else if sound.own}
        <span class="quiet">{sound.fetching ? 'fetching the sound …' : 'sound: here'}{@render off(sound.offMs)}</span>
        {@render trim()}
      {:else if player?.card && trouble}
        <span class="wrong" role="alert">▲ {trouble.message}. {trouble.remedy}</span>
        <SoundFrom main />
      {:else if player?.card}
        <span class="quiet">sound: {player.name}{@render off(said?.offMs ?? null)}</span>
        {@render trim()}
      {:else}
        <span class="quiet"
          >{!player
            ? 'no sound: the lights follow alone'
            : sound.gone
              ? 'the page that played the sound is gone'
              : `sound: ${player.name || 'another page'}`}</span
        >
        <SoundFrom main={!player || sound.gone} />
      {/if}
      <Button kind="bare" aria-label="End the song" onclick={() => live.command({ do: 'songOff' })}
        ><X size={16} /></Button
      >
    {/snippet}
  </Strip>
{/if}

<style>
  .name {
    overflow: hidden;
    max-width: 26ch;
    text-overflow: ellipsis;
    white-space: nowrap;
    color: var(--text);
  }
  .wrong {
    color: var(--wrong);
  }
</style>
