<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Mark from '$lib/components/Mark.svelte';
  import Removed from '$lib/components/Removed.svelte';
  import Step from '$lib/components/Step.svelte';
  import Tabs from '$lib/components/Tabs.svelte';
  import CablesView from '$lib/components/lines/CablesView.svelte';
  import DevicesView from '$lib/components/lines/DevicesView.svelte';
  import FadersView from '$lib/components/lines/FadersView.svelte';
  import InputDetails from '$lib/components/lines/InputDetails.svelte';
  import InputsView from '$lib/components/lines/InputsView.svelte';
  import LineDetails from '$lib/components/lines/LineDetails.svelte';
  import LinkDetails from '$lib/components/lines/LinkDetails.svelte';
  import Monitor from '$lib/components/lines/Monitor.svelte';
  import OutputDetails from '$lib/components/lines/OutputDetails.svelte';
  import OutputsView from '$lib/components/lines/OutputsView.svelte';
  import PathView from '$lib/components/lines/PathView.svelte';
  import RdmDetails from '$lib/components/lines/RdmDetails.svelte';
  import RdmView from '$lib/components/lines/RdmView.svelte';
  import StandinsView from '$lib/components/lines/StandinsView.svelte';
  import TestView from '$lib/components/lines/TestView.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { addOutput } from '$lib/state/found.ts';
  import { LINES_TABS, LinesDesk, type LinesTab } from '$lib/state/lines/lines-desk.svelte.ts';
  import Plus from '@lucide/svelte/icons/plus';

  const app = getApp();
  const desk = new LinesDesk(app);
  const chosen = $derived(desk.output.record);
  const tabs = $derived(app.live.system.standins ? LINES_TABS : LINES_TABS.filter(([tab]) => tab !== 'standins'));
  const TITLES: Partial<Record<LinesTab, string>> = {
    path: 'Link',
    outputs: 'Output',
    cables: 'Line',
    rdm: 'Device',
    inputs: 'Desk',
  };
  const titled = $derived(TITLES[desk.tab] !== undefined);
  function add(): void {
    const id = addOutput(app);
    if (!id) return;
    desk.output.open(id);
    desk.open('outputs');
  }
</script>

{#snippet details()}
  {#if desk.tab === 'path'}<LinkDetails {desk} />
  {:else if desk.tab === 'outputs'}
    {#if chosen}
      {#key chosen.id}<OutputDetails output={chosen} />{/key}
    {:else if desk.output.removed !== null}<Removed what="output" name={desk.output.removed} list="the list" />
    {:else}<p class="quiet">Add an output: sACN or Art-Net, a USB interface, a hub of smart lamps.</p>{/if}
  {:else if desk.tab === 'cables'}
    {#if desk.line.record}{#key desk.line.record.id}<LineDetails line={desk.line.record} />{/key}
    {:else if desk.line.removed !== null}<Removed what="line" name={desk.line.removed} list="the list" />
    {:else}<p class="quiet">Add a line: the units of one cable run in the order of the cable.</p>{/if}
  {:else if desk.tab === 'rdm'}<RdmDetails {desk} />
  {:else if desk.tab === 'inputs'}
    {#if desk.input.record}{#key desk.input.record.id}<InputDetails input={desk.input.record} />{/key}
    {:else if desk.input.removed !== null}<Removed what="desk" name={desk.input.removed} list="the list" />
    {:else}<p class="quiet">Add a desk to take it in.</p>{/if}
  {/if}
{/snippet}

<Step title="Lines" detailsTitle={TITLES[desk.tab] ?? ''} details={titled ? details : undefined}>
  {#snippet tools()}
    <Tabs label="Lines" {tabs} value={desk.tab} choose={(tab) => desk.open(tab)} />
    {#if desk.tab === 'outputs'}<Button onclick={add}><Plus size={16} /> Output</Button>{/if}
    {#each app.rig.unrouted.slice(0, 3) as universe (universe)}<span class="wrong"
        ><Mark kind="wrong" title="Universe {universe} has units but goes nowhere" /> universe {universe} goes nowhere</span
      >{/each}
  {/snippet}
  {#if desk.tab === 'path'}<PathView {desk} />
  {:else if desk.tab === 'outputs'}<OutputsView chosen={chosen?.id} open={(id) => desk.output.open(id)} />
  {:else if desk.tab === 'devices'}<DevicesView {desk} />
  {:else if desk.tab === 'cables'}<CablesView {desk} />
  {:else if desk.tab === 'monitor'}<Monitor {desk} />
  {:else if desk.tab === 'test'}<TestView {desk} />
  {:else if desk.tab === 'faders'}<FadersView {desk} />
  {:else if desk.tab === 'rdm'}<RdmView {desk} />
  {:else if desk.tab === 'inputs'}<InputsView {desk} />
  {:else}<StandinsView />{/if}
</Step>

<style>
  .wrong {
    color: var(--wrong);
  }
</style>
