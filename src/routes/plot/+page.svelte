<script lang="ts">
  import Step from '$lib/components/Step.svelte';
  import Plot from '$lib/components/plot/Plot.svelte';
  import UnitDetails from '$lib/components/patch/UnitDetails.svelte';
  import UnitList from '$lib/components/UnitList.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';

  const app = getApp();
</script>

<Step title="Plot" detailsTitle={app.selection.ids.length > 1 ? 'Units' : 'Unit'}>
  {#snippet tools()}<span class="quiet">Plan, seen from above. Light is what is really being sent.</span>{/snippet}
  <div class="panes">
    <UnitList />
    <Plot />
  </div>
  {#snippet details()}<UnitDetails />{/snippet}
</Step>

<style>
  .panes {
    display: flex;
    flex: 1;
    min-height: 0;
  }
</style>
