<script lang="ts">
  import Mark from '$lib/components/Mark.svelte';
  import Step from '$lib/components/Step.svelte';
  import Tabs from '$lib/components/Tabs.svelte';
  import ColumnMenu from '$lib/components/patch/ColumnMenu.svelte';
  import GroupsView from '$lib/components/patch/GroupsView.svelte';
  import ImportSheet from '$lib/components/patch/ImportSheet.svelte';
  import NamesNumbers from '$lib/components/patch/NamesNumbers.svelte';
  import PatchSheet from '$lib/components/patch/PatchSheet.svelte';
  import ReAddress from '$lib/components/patch/ReAddress.svelte';
  import Refused from '$lib/components/patch/Refused.svelte';
  import Replace from '$lib/components/patch/Replace.svelte';
  import SheetFiles from '$lib/components/patch/SheetFiles.svelte';
  import SwitchReader from '$lib/components/patch/SwitchReader.svelte';
  import UniverseMap from '$lib/components/patch/UniverseMap.svelte';
  import UniverseStrip from '$lib/components/patch/UniverseStrip.svelte';
  import UnitDetails from '$lib/components/patch/UnitDetails.svelte';
  import WalkLink from '$lib/components/patch/WalkLink.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { PatchDesk, type PatchTab, type PatchTool } from '$lib/state/patch/patch-desk.svelte.ts';
  import { Opened } from '$lib/state/opened.svelte.ts';
  import Footprints from '@lucide/svelte/icons/footprints';
  import Hash from '@lucide/svelte/icons/hash';
  import ListOrdered from '@lucide/svelte/icons/list-ordered';
  import Replaced from '@lucide/svelte/icons/replace';
  import ToggleLeft from '@lucide/svelte/icons/toggle-left';
  import Button from '$lib/components/Button.svelte';

  const app = getApp();
  const desk = new PatchDesk(app);
  const TABS: readonly (readonly [PatchTab, string])[] = [
    ['sheet', 'Sheet'],
    ['universes', 'Universes'],
    ['groups', 'Groups'],
  ];
  const tabs = new Opened('tab', () => TABS.map(([id, name]) => ({ id, name })));
  // Pre-flight and others come here to a tab of their choice.
  $effect.pre(() => {
    desk.tab = (tabs.record?.id ?? 'sheet') as PatchTab;
  });

  $effect(() => app.show(() => (desk.tab === 'sheet' && !desk.import ? desk.rows.map((u) => u.id) : null)));

  const faulty = $derived(new Set(app.rig.clashes.map((c) => c.unitId)).size);
  const TOOLS: readonly (readonly [PatchTool, string, typeof Hash])[] = [
    ['address', 'Re-address', ListOrdered],
    ['names', 'Names', Hash],
    ['replace', 'Replace', Replaced],
    ['switches', 'Switches', ToggleLeft],
    ['walk', 'Walk', Footprints],
  ];
  const MOST_STRIPS = 24;
  const universes = $derived(app.rig.universes.length > 0 ? app.rig.universes : [1]);
</script>

<Step title="Patch" detailsTitle={desk.tool === 'details' ? (app.acting.length > 1 ? 'Units' : 'Unit') : ''}>
  {#snippet tools()}
    <Tabs label="Patch" tabs={TABS} value={desk.tab} choose={(tab) => tabs.open(tab)} />
    <div class="buttons">
      {#each TOOLS as [tool, text, Icon] (tool)}
        <Button
          pressed={desk.tool === tool && app.detailsOpen}
          onclick={() => desk.open(desk.tool === tool && app.detailsOpen ? 'details' : tool)}
          ><Icon size={16} aria-hidden="true" /> {text}</Button
        >
      {/each}
    </div>
  {/snippet}
  {#if desk.import}
    <ImportSheet incoming={desk.import} close={() => (desk.import = null)} />
  {:else if desk.tab === 'sheet'}
    <div class="bar">
      <input
        type="search"
        bind:value={desk.filter}
        placeholder="Filter: name, profile, 2.51"
        aria-label="Filter units"
      />
      {#if faulty > 0}
        <label class="check"
          ><input type="checkbox" bind:checked={desk.onlyFaulty} />
          <Mark kind={desk.severe.size > 0 ? 'wrong' : 'look'} count={faulty} /> only what is wrong</label
        >
      {/if}
      <span class="quiet count"
        ><span class="num">{desk.rows.length}</span> of <span class="num">{app.rig.units.length}</span> units</span
      >
      <span class="touch"
        ><Button pressed={app.selection.several} onclick={() => (app.selection.several = !app.selection.several)}
          >Select several</Button
        ></span
      >
      <span class="end"><ColumnMenu {desk} /><SheetFiles {desk} /><a class="add" href="/kit">Add units</a></span>
    </div>
    <PatchSheet {desk} />
    <div class="strips" aria-label="Universes">
      <div class="scale quiet num">
        <span></span><span>1</span><span>65</span><span>129</span><span>193</span><span>257</span><span>321</span><span
          >385</span
        ><span>449</span>
      </div>
      {#each universes.slice(0, MOST_STRIPS) as universe (universe)}<UniverseStrip {universe} />{/each}
      {#if universes.length > MOST_STRIPS}
        <Button kind="bare" onclick={() => tabs.open('universes')}
          >and {universes.length - MOST_STRIPS} more: see Universes</Button
        >
      {/if}
    </div>
  {:else if desk.tab === 'universes'}<UniverseMap />
  {:else}<GroupsView />{/if}
  {#snippet details()}
    {@const hidden = app.selection.ids.length - app.acting.length}
    {#if hidden > 0}
      <p class="look">
        <Mark kind="look" />
        {hidden} selected {hidden === 1 ? 'unit is' : 'units are'} hidden by the filter and left out here.
      </p>
    {/if}
    {#if desk.tool === 'address'}<ReAddress {desk} />
    {:else if desk.tool === 'names'}<NamesNumbers {desk} />
    {:else if desk.tool === 'replace'}<Replace {desk} />
    {:else if desk.tool === 'switches'}<SwitchReader {desk} />
    {:else if desk.tool === 'refused'}<Refused {desk} />
    {:else if desk.tool === 'walk'}<WalkLink {desk} />
    {:else}<UnitDetails />{/if}
  {/snippet}
</Step>

<style>
  .look {
    color: var(--look);
    margin-bottom: 8px;
  }
  .buttons {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    margin-left: auto;
  }
  .bar {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: center;
    padding: 2px 16px 8px;
  }
  input[type='search'] {
    width: 200px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 6px 10px;
  }
  .check {
    display: inline-flex;
    gap: 6px;
    align-items: center;
    white-space: nowrap;
  }
  .count {
    white-space: nowrap;
  }
  .touch {
    display: none;
  }
  @media (pointer: coarse) {
    .touch {
      display: inline;
    }
  }
  .end {
    display: inline-flex;
    gap: 8px;
    align-items: center;
    margin-left: auto;
  }
  .add {
    color: var(--amber-text);
    white-space: nowrap;
  }
  .strips {
    border-top: 1px solid var(--line);
    padding: 6px 16px 10px;
    max-height: 26%;
    overflow-y: auto;
    flex: none;
  }
  .scale {
    display: grid;
    grid-template-columns: 92px repeat(8, 1fr);
    font-size: 11px;
  }
  @media (max-width: 760px) {
    .bar {
      position: relative;
      flex-wrap: nowrap;
      overflow-x: auto;
      scrollbar-width: none;
      padding: 0 8px 2px;
    }
    .bar > :global(*) {
      flex: none;
    }
    .bar input {
      width: 150px;
    }
    .strips {
      display: none;
    }
  }
</style>
