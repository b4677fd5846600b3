<script lang="ts">
  import Tabs from '$lib/components/Tabs.svelte';
  import type { LightCurves } from '$lib/state/music/light-curves.svelte.ts';
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';
  import type { LightStretches } from '$lib/state/music/light-stretches.svelte.ts';
  import BlockFields from './BlockFields.svelte';
  import CurveFields from './CurveFields.svelte';
  import FillFields from './FillFields.svelte';
  import LightLibrary from './LightLibrary.svelte';
  import LightOut from './LightOut.svelte';
  import MarksFields from './MarksFields.svelte';

  /** What is put, what is chosen, the stretch that is worked on, marks, and what goes out of it. */
  interface Props {
    light: LightDesk;
    curves: LightCurves;
    stretches: LightStretches;
  }
  let { light, curves, stretches }: Props = $props();
  const TABS = [
    ['put', 'Put'],
    ['stretch', 'Stretch'],
    ['marks', 'Marks'],
    ['out', 'Out'],
  ] as const;
  let tab = $state<(typeof TABS)[number][0]>('put');
</script>

<div class="all">
  <Tabs label="Light" tabs={TABS} value={tab} choose={(key) => (tab = key)} />
  {#if tab === 'put'}
    {#if light.first}<BlockFields {light} {stretches} />{/if}
    <CurveFields {light} {curves} />
    <LightLibrary {light} />
  {:else if tab === 'stretch'}<FillFields {light} {stretches} />
  {:else if tab === 'marks'}<MarksFields desk={light.song} />
  {:else}<LightOut {light} {stretches} />{/if}
</div>

<style>
  .all {
    display: grid;
    gap: 16px;
  }
  .all :global(section) {
    display: grid;
    gap: 8px;
  }
  .all > :global(section > p) {
    margin: 0;
    font-size: 12.5px;
    overflow-wrap: anywhere;
  }
  .all :global(.row) {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
  }
</style>
