<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import { SIGHTS, type PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import Lasso from '@lucide/svelte/icons/lasso';
  import MousePointer2 from '@lucide/svelte/icons/mouse-pointer-2';
  import Waypoints from '@lucide/svelte/icons/waypoints';
  import Button from '../Button.svelte';
  import Tabs from '../Tabs.svelte';
  import ChooseMenu from './ChooseMenu.svelte';

  /** What the papers and the room have in common. */
  interface Shown {
    fit(): void;
    fitSelection(): void;
  }
  let { desk, plot }: { desk: PlotDesk; plot: Shown | undefined } = $props();
  const app = getApp();
  const TOOLS = [
    ['select', 'Select', MousePointer2],
    ['lasso', 'Loop', Lasso],
  ] as const;
</script>

<Tabs label="Side" tabs={SIGHTS} value={desk.inRoom ? 'room' : desk.side} choose={(sight) => desk.look(sight)} />
<div class="buttons">
  {#if !desk.inRoom}
    {#each TOOLS as [tool, text, Icon] (tool)}
      <Button pressed={desk.tool === tool} onclick={() => desk.use(tool)}
        ><Icon size={16} aria-hidden="true" /> {text}</Button
      >
    {/each}
  {/if}
  <ChooseMenu {desk} />
  {#if !desk.inRoom}<Button
      pressed={desk.set.wiring}
      title="Draws the order of cells of what is selected"
      onclick={() => desk.change({ wiring: !desk.set.wiring })}
      ><Waypoints size={16} aria-hidden="true" /> Wiring</Button
    >{/if}
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
