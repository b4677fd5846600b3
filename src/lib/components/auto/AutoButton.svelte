<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Sparkles from '@lucide/svelte/icons/sparkles';

  /** Light that runs by itself, on and off. */
  const app = getApp();
  const on = $derived(app.live.real?.auto?.on ?? false);
</script>

<Button
  pressed={on}
  disabled={app.live.blind !== null}
  title={app.live.blind
    ? 'It runs in the show, not in what is tried blind'
    : 'The light follows the music by itself, under everything that is played by hand'}
  onclick={() => app.live.command({ do: 'auto', on: !on })}><Sparkles size={16} /> Auto</Button
>
