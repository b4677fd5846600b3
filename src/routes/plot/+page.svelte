<script lang="ts">
  import Step from '$lib/components/Step.svelte';
  import GridEdit from '$lib/components/plot/GridEdit.svelte';
  import Plot from '$lib/components/plot/Plot.svelte';
  import PlotBar from '$lib/components/plot/PlotBar.svelte';
  import PlotDetails from '$lib/components/plot/PlotDetails.svelte';
  import PlotList from '$lib/components/plot/PlotList.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { PlotDesk } from '$lib/state/plot-desk.svelte.ts';

  const app = getApp();
  const desk = new PlotDesk(app);
  let plot = $state<Plot>();
  $effect(() => app.show(() => desk.shown.map((u) => u.id)));
</script>

<Step title="Plot" detailsTitle="">
  {#snippet tools()}
    {#if !desk.grid}<PlotBar {desk} {plot} />{/if}
  {/snippet}
  <div class="panes">
    {#if desk.grid}
      {#key desk.grid}<GridEdit unitId={desk.grid} close={() => (desk.grid = null)} />{/key}
    {:else}
      <PlotList {desk} />
      <Plot bind:this={plot} {desk} />
    {/if}
  </div>
  {#snippet details()}<PlotDetails {desk} />{/snippet}
</Step>

<style>
  .panes {
    display: flex;
    flex: 1;
    min-height: 0;
  }
</style>
