<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { DetailsTab, PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import UnitDetails from '../patch/UnitDetails.svelte';
  import Tabs from '../Tabs.svelte';
  import ArrangePanel from './details/ArrangePanel.svelte';
  import AimsPanel from './details/AimsPanel.svelte';
  import AreasPanel from './details/AreasPanel.svelte';
  import LayersPanel from './details/LayersPanel.svelte';
  import PicturesPanel from './details/PicturesPanel.svelte';
  import PropPanel from './details/PropPanel.svelte';
  import ThingsPanel from './details/ThingsPanel.svelte';

  let { desk }: { desk: PlotDesk } = $props();
  const app = getApp();
  const TABS = $derived<readonly (readonly [DetailsTab, string])[]>([
    ['unit', app.selection.ids.length > 1 ? 'Units' : 'Unit'],
    ['prop', 'Prop'],
    ['arrange', 'Arrange'],
    ['areas', 'Areas'],
    ['things', 'Things'],
    ['aims', 'Aims'],
    ['pictures', 'Pictures'],
    ['layers', 'Paper'],
  ]);
</script>

<div class="tabs"><Tabs label="Details" tabs={TABS} value={desk.tab} choose={(tab) => (desk.tab = tab)} /></div>
{#if !desk.tells}
  <p class="visually-hidden">Nothing selected: choose units on the paper or in the list.</p>
{:else if desk.tab === 'unit'}<UnitDetails />
{:else if desk.tab === 'prop'}<PropPanel {desk} />
{:else if desk.tab === 'arrange'}<ArrangePanel {desk} />
{:else if desk.tab === 'areas'}<AreasPanel {desk} />
{:else if desk.tab === 'things'}<ThingsPanel {desk} />
{:else if desk.tab === 'aims'}<AimsPanel {desk} />
{:else if desk.tab === 'pictures'}<PicturesPanel {desk} />
{:else}<LayersPanel {desk} />{/if}

<style>
  .tabs :global([role='tab']) {
    padding-inline: 5px;
  }
</style>
