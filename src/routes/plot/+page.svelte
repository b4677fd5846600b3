<script lang="ts">
  import Step from '$lib/components/Step.svelte';
  import GridEdit from '$lib/components/plot/GridEdit.svelte';
  import type RoomView from '$lib/components/plot/room/Room.svelte';
  import Plot from '$lib/components/plot/Plot.svelte';
  import PlotBar from '$lib/components/plot/PlotBar.svelte';
  import PlotDetails from '$lib/components/plot/PlotDetails.svelte';
  import PlotList from '$lib/components/plot/PlotList.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';

  const app = getApp();
  const desk = new PlotDesk(app);
  let plot = $state<Plot>();
  let room = $state<RoomView>();
  $effect(() => app.show(() => desk.shown.map((u) => u.id)));
</script>

<Step title="Plot" detailsTitle="">
  {#snippet tools()}
    {#if !desk.grid}<PlotBar {desk} plot={desk.inRoom ? room : plot} />{/if}
  {/snippet}
  <div class="panes">
    {#if desk.grid}
      {#key desk.grid}<GridEdit unitId={desk.grid} close={() => (desk.grid = null)} />{/key}
    {:else if desk.inRoom}
      {#await import('$lib/components/plot/room/Room.svelte')}
        <p class="quiet wait">The room is being fetched ...</p>
      {:then { default: Room }}<Room bind:this={room} {desk} />
      {:catch}
        <p class="wait" role="alert">The room could not be fetched. Load the page again; the papers go on.</p>
      {/await}
    {:else}
      <Plot bind:this={plot} {desk} />
    {/if}
  </div>
  {#snippet details()}
    <div class="side">
      <div class="list"><PlotList {desk} /></div>
      <div class="about" class:silent={!desk.tells}><PlotDetails {desk} /></div>
    </div>
  {/snippet}
</Step>

<style>
  .panes {
    display: flex;
    flex: 1;
    min-height: 0;
  }
  .wait {
    margin: auto;
  }
  .side {
    display: flex;
    flex-direction: column;
    gap: 8px;
    flex: 1;
    min-height: 0;
  }
  .list {
    flex: 2 1 0;
    min-height: 120px;
    overflow-y: auto;
  }
  .about {
    flex: 3 1 0;
    min-height: 160px;
    overflow-y: auto;
    border-top: 1px solid var(--line);
    padding-top: 4px;
    display: flex;
    flex-direction: column;
    gap: 14px;
  }
  .about.silent {
    flex: none;
    min-height: 0;
  }
  /* On a phone the two scroll as one. */
  @media (max-width: 760px) {
    .side,
    .list,
    .about {
      flex: none;
      overflow: visible;
    }
  }
</style>
