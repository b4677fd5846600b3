<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { PatchDesk } from '$lib/state/patch/patch-desk.svelte.ts';
  import { isOutdated } from '$core/sheet/columns.ts';
  import { qrPicture, reach } from '$lib/state/patch/own-addresses.ts';
  import Field from '../Field.svelte';
  import ToolPanel from './ToolPanel.svelte';

  /** The address walk on a phone: the code to point it at, and how far everybody is. */
  let { desk }: { desk: PatchDesk } = $props();
  const app = getApp();
  let addresses = $state.raw<readonly string[]>([]);
  let picture = $state('');
  let fault = $state<string | null>(null);
  const target = $derived(addresses[0] ? `${addresses[0]}/walk` : null);
  $effect(() => {
    reach().then(
      (found) => (addresses = found),
      (error: Error) => (fault = error.message),
    );
  });
  $effect(() => {
    if (target === null) return;
    qrPicture(target, 2).then(
      (found) => (picture = found),
      (error: Error) => (fault = error.message),
    );
  });
  const units = $derived(app.rig.units);
  const done = $derived(units.filter((u) => u.walk?.state === 'done' && !isOutdated(desk.facts, u)).length);
  const skipped = $derived(units.filter((u) => u.walk?.state === 'skipped'));
  const old = $derived(units.filter((u) => u.walk?.state === 'done' && isOutdated(desk.facts, u)));
</script>

<ToolPanel title="Address walk" close={() => desk.open('details')}>
  {#if target && picture}
    <p>Point the phone at this. It goes from unit to unit, shows what to set and lights each one up.</p>
    <img src={picture} alt="QR code of {target}" />
    <p class="num address"><a href="/walk">{target}</a></p>
  {:else if fault}<p class="wrong" role="alert">▲ {fault}</p>
  {:else}
    <p class="look">
      ● A phone cannot reach this machine: Amber Kite listens to it alone. Start it with AMBER_HOST=0.0.0.0 on a network
      you trust.
    </p>
    <p><a href="/walk">Open the walk here</a></p>
  {/if}
  <progress max={Math.max(1, units.length)} value={done} aria-label="Units ticked off"></progress>
  <p><b class="num">{done}</b> of <b class="num">{units.length}</b> ticked off</p>
  {#each app.live.walkers as walker (walker.clientId)}
    <p>
      <b>{walker.name || 'Somebody'}</b>
      {#if walker.unitId && app.rig.unit(walker.unitId)}is at
        <button type="button" class="link" onclick={() => app.selection.set([walker.unitId!])}
          >{app.rig.unit(walker.unitId)?.name}</button
        >{:else}is walking{/if}
    </p>
  {/each}
  {#if skipped.length > 0}
    <h3>Skipped</h3>
    {#each skipped as unit (unit.id)}<button type="button" class="line" onclick={() => app.selection.set([unit.id])}
        >{unit.number}
        {unit.name}: {unit.walk?.reason || 'no reason given'}
        <span class="quiet">({unit.walk?.by || 'somebody'})</span></button
      >{/each}
  {/if}
  {#if old.length > 0}
    <h3>Ticked for another address</h3>
    {#each old as unit (unit.id)}<button type="button" class="line look" onclick={() => app.selection.set([unit.id])}
        >● {unit.number} {unit.name}</button
      >{/each}
  {/if}
  <Field
    label="Your name, for ticks made here"
    value={app.personName}
    save={(t) => (t.trim().length > 60 ? 'At most 60 characters.' : (app.setPersonName(t), null))}
  />
</ToolPanel>

<style>
  img {
    width: 220px;
    height: 220px;
    background: #fff;
    border-radius: 8px;
    align-self: center;
  }
  .address {
    font-size: 12.5px;
    overflow-wrap: anywhere;
  }
  a,
  .link {
    color: var(--amber-text);
  }
  .link,
  .line {
    border: 0;
    background: none;
    padding: 2px 0;
    text-align: left;
  }
  .link {
    text-decoration: underline;
  }
  progress {
    width: 100%;
    accent-color: var(--amber);
  }
  .wrong {
    color: var(--wrong);
  }
  .look {
    color: var(--look);
  }
</style>
