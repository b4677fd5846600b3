<script lang="ts">
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';
  let { light }: { light: LightDesk } = $props();
</script>

<p>{light.song.song.name}</p>
