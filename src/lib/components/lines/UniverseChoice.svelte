<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import Choice from '../Choice.svelte';

  /** One of the universes that are sent. */
  let {
    value,
    choose,
    hideLabel = true,
  }: { value: number; choose: (universe: number) => void; hideLabel?: boolean } = $props();
  const app = getApp();
</script>

<Choice
  {hideLabel}
  label="Universe"
  value={String(value)}
  options={app.live.universes.map((u) => ({ value: String(u), text: `Universe ${u}` }))}
  choose={(u) => choose(Number(u))}
/>
