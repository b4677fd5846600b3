<script lang="ts">
  import Choice from '$lib/components/Choice.svelte';
  import Step from '$lib/components/Step.svelte';
  import Plot from '$lib/components/plot/Plot.svelte';
  import UnitDetails from '$lib/components/patch/UnitDetails.svelte';
  import UnitList from '$lib/components/UnitList.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';

  const app = getApp();
  let seen = $state<'sent' | 'received'>('sent');
</script>

<Step title="Plot" detailsTitle={app.selection.ids.length > 1 ? 'Units' : 'Unit'}>
  {#snippet tools()}
    <span class="quiet"
      >Plan, seen from above. {seen === 'sent'
        ? 'Light is what is really being sent.'
        : 'Light is what the desk sends that comes in; the rest is ours.'}</span
    >
    {#if app.rig.inputs.length > 0}
      <Choice
        hideLabel
        label="Whose light"
        value={seen}
        options={[
          { value: 'sent', text: 'our light' },
          { value: 'received', text: 'light of the desk that comes in' },
        ]}
        choose={(s) => (seen = s)}
      />
    {/if}
  {/snippet}
  <div class="panes">
    <UnitList />
    <Plot {seen} />
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
