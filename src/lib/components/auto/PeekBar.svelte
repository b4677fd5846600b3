<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Strip from '$lib/components/shell/Strip.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';
  import Eye from '@lucide/svelte/icons/eye';

  /** While a moment of a plan is looked at: which, another one, and the way back to what is sent. */
  const { auto: desk } = getApp();
  const looking = $derived(desk.looking);
</script>

{#if looking}
  <Strip label="A moment of the plan">
    <Eye size={16} />
    <span
      ><b>{looking.song.name}</b> as Auto will play it, {clockText(looking.at)}. The show goes on; this is not sent.</span
    >
    <input
      type="range"
      min="0"
      max={looking.song.lengthS ?? 1}
      step="0.1"
      value={looking.at}
      aria-label="Moment of the plan"
      aria-valuetext={clockText(looking.at)}
      oninput={(e) => desk.look(looking.song, looking.show, Number(e.currentTarget.value))}
    />
    {#snippet right()}<Button onclick={() => desk.lookNoMore()}>Back to what is sent</Button>{/snippet}
  </Strip>
{/if}

<style>
  input {
    flex: 1;
    min-width: 140px;
    min-height: 32px;
    accent-color: var(--amber);
  }
</style>
