<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import { SIDES, type PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import Lasso from '@lucide/svelte/icons/lasso';
  import MousePointer2 from '@lucide/svelte/icons/mouse-pointer-2';
  import Waypoints from '@lucide/svelte/icons/waypoints';
  import Button from '../Button.svelte';
  import Tabs from '../Tabs.svelte';
  import ChooseMenu from './ChooseMenu.svelte';
  import type Plot from './Plot.svelte';

  let { desk, plot }: { desk: PlotDesk; plot: Plot | undefined } = $props();
  const app = getApp();
  const TOOLS = [
    ['select', 'Select', MousePointer2],
    ['lasso', 'Loop', Lasso],
  ] as const;
</script>

<Tabs label="Side" tabs={SIDES} value={desk.side} choose={(side) => desk.look(side)} />
<div class="buttons">
  {#each TOOLS as [tool, text, Icon] (tool)}
    <Button pressed={desk.tool === tool} onclick={() => desk.use(tool)}
      ><Icon size={16} aria-hidden="true" /> {text}</Button
    >
  {/each}
  <ChooseMenu {desk} />
  <Button
    pressed={desk.set.wiring}
    title="Draws the order of cells of what is selected"
    onclick={() => desk.change({ wiring: !desk.set.wiring })}><Waypoints size={16} aria-hidden="true" /> Wiring</Button
  >
</div>
<div class="buttons">
  <Button onclick={() => plot?.fit()} title="Key 0">Show all</Button>
  <Button disabled={app.selection.ids.length === 0} onclick={() => plot?.fitSelection()} title="Key ."
    >Show selection</Button
  >
</div>

<style>
  .buttons {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
</style>
