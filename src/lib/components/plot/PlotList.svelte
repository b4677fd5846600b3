<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import Mark from '../Mark.svelte';
  import Tabs from '../Tabs.svelte';
  import PlotAdd from './PlotAdd.svelte';

  /** Units and groups as a list beside the paper, so that all can be chosen without a pointer; and what can be added. */
  let { desk }: { desk: PlotDesk } = $props();
  const app = getApp();
  let wanted = $state<'units' | 'add' | null>(null);
  /** An empty paper asks for something first. */
  const shown = $derived(wanted ?? (app.rig.units.length === 0 ? 'add' : 'units'));
  let filter = $state('');
  const units = $derived(
    app.rig.units.filter((u) => `${u.number} ${u.name}`.toLowerCase().includes(filter.trim().toLowerCase())),
  );
  const order = $derived(units.map((u) => u.id));
  const MOST = 300;
  function drag(event: DragEvent, id: (typeof order)[number]): void {
    const ids = app.selection.has(id) ? app.selection.ids : [id];
    event.dataTransfer?.setData('text/amber-units', JSON.stringify(ids));
  }

  function open(tab: 'units' | 'add'): void {
    wanted = tab;
    desk.use(tab === 'add' ? 'place' : 'select');
  }
</script>

<div class="list">
  <Tabs
    label="List"
    tabs={[
      ['units', 'Units'],
      ['add', 'Add'],
    ]}
    value={shown}
    choose={open}
  />
  {#if shown === 'units'}
    <input type="search" bind:value={filter} placeholder="Filter units" aria-label="Filter units" />
    {#if app.rig.groups.length > 0}
      <h2>Groups</h2>
      <ul class="rows">
        {#each app.rig.groups as group (group.id)}
          <li>
            <button
              type="button"
              onclick={(e) =>
                e.shiftKey || e.ctrlKey
                  ? app.selection.add(app.rig.membersOf(group.id))
                  : app.selection.set(app.rig.membersOf(group.id))}
              ><span>{group.name}</span><span class="num quiet">{app.rig.membersOf(group.id).length}</span></button
            >
          </li>
        {/each}
      </ul>
    {/if}
    <h2>Units</h2>
    <ul class="rows">
      {#each units.slice(0, MOST) as unit (unit.id)}
        <li>
          <button
            type="button"
            class:on={app.selection.has(unit.id)}
            aria-pressed={app.selection.has(unit.id)}
            draggable="true"
            ondragstart={(e) => drag(e, unit.id)}
            onclick={(e) => app.selection.click(unit.id, e, order)}
          >
            <span class="num quiet">{unit.number}</span><span class="grow">{unit.name}</span>
            {#if app.hand.values[unit.id]}<Mark kind="hand" title="by hand" />{/if}
          </button>
        </li>
      {/each}
      {#if units.length > MOST}<li class="quiet">{units.length - MOST} more: filter to see them.</li>{/if}
    </ul>
  {:else}<PlotAdd {desk} />
  {/if}
</div>

<style>
  .list {
    display: flex;
    flex-direction: column;
    gap: 6px;
  }
  input {
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 5px 8px;
  }
  h2 {
    padding-top: 4px;
  }
  button {
    justify-content: space-between;
  }
  button > span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .grow {
    flex: 1;
  }
</style>
