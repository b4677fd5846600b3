<script lang="ts">
  import Room from '$lib/components/plot/room/Room.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';

  /** The room in a window of its own, for a second screen; it follows the show that is open. */
  const app = getApp();
  const desk = new PlotDesk(app);
</script>

<svelte:head><title>Room of {app.rig.show?.name ?? 'the show'}</title></svelte:head>
<div><Room {desk} alone /></div>

<style>
  div {
    position: fixed;
    inset: 0;
    display: flex;
  }
</style>
