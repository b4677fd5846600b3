<script lang="ts">
  import { readWhole } from '$core/numbers.ts';
  import { orderUnits } from '$core/patch/order.ts';
  import { NAME_PARTS, renameUnits, renumberUnits } from '$core/patch/rename.ts';
  import type { UnitOrder } from '$core/records/group.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { PatchDesk } from '$lib/state/patch/patch-desk.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Button from '../Button.svelte';
  import Entry from '../Entry.svelte';
  import Choice from '../Choice.svelte';
  import { ORDER_WORDS } from './orders.ts';
  import ToolPanel from './ToolPanel.svelte';

  /** Names by a pattern, and numbers that keep their holes or close them. Each seen before it is done. */
  let { desk }: { desk: PatchDesk } = $props();
  const app = getApp();
  const units = $derived(app.acting.flatMap((id) => app.rig.unit(id) ?? []));
  let order = $state<UnitOrder>('number');
  const ordered = $derived(orderUnits(app.live.document, units, order));
  const ids = $derived(ordered.map((u) => u.id));

  let pattern = $state('');
  let countFrom = $state('1');
  const first = $derived(readWhole(countFrom));
  const renaming = $derived(
    pattern.trim() !== '' && first !== null ? renameUnits(app.live.document, ids, pattern, first) : null,
  );
  const badNames = $derived(renaming?.names.filter((n) => n.fault !== null) ?? []);

  let numberText = $state('');
  let holes = $state<'keep' | 'close'>('close');
  const number = $derived(numberText.trim() === '' ? null : readWhole(numberText));
  const renumbering = $derived(
    number !== null && number >= 1 ? renumberUnits(app.live.document, ids, { first: number, holes, order }) : null,
  );
  const taken = $derived(renumbering?.numbers.filter((n) => n.clash !== null) ?? []);
  const tooHigh = $derived(renumbering?.numbers.some((n) => n.number > 99_999) ?? false);

  function rename(): void {
    if (renaming && app.live.edit(`Rename ${plural(renaming.change.put.length, 'unit')}`, renaming.change))
      pattern = '';
  }
  function renumber(): void {
    if (renumbering && app.live.edit(`Number ${plural(renumbering.change.put.length, 'unit')}`, renumbering.change))
      numberText = '';
  }
</script>

<ToolPanel title="Names and numbers" close={() => desk.open('details')}>
  {#if units.length === 0}
    <p class="quiet">Select the units to name or number.</p>
  {:else}
    <p><b>{plural(units.length, 'unit')}</b></p>
    <Choice label="Order" value={order} options={ORDER_WORDS} choose={(o) => (order = o)} />
    <h3>Names</h3>
    <div class="two">
      <Entry label="Pattern" bind:value={pattern} placeholder="Wash ##" />
      <Entry label="Count from" numeric bind:value={countFrom} invalid={first === null} />
    </div>
    <p class="quiet">
      # counts, ## with a zero before. {NAME_PARTS.map((p) => `[${p}]`).join(' ')} stand for what the unit has.
    </p>
    {#if renaming}
      <ul aria-label="Names before and after">
        {#each renaming.names.slice(0, 60) as { unit, name, fault } (unit.id)}
          <li><span class="quiet">{unit.name}</span> → <b class:wrong={fault}>{fault ?? name}</b></li>
        {/each}
        {#if renaming.names.length > 60}<li class="quiet">and {renaming.names.length - 60} more</li>{/if}
      </ul>
      {#if badNames.length > 0}<p class="wrong" role="alert">
          ▲ {plural(badNames.length, 'name')} cannot be: left as they are.
        </p>{/if}
      <Button kind="main" disabled={renaming.change.put.length === 0} onclick={rename}
        >Rename {plural(renaming.change.put.length, 'unit')}</Button
      >
    {/if}
    <h3>Numbers</h3>
    <div class="two">
      <Entry label="First number" numeric bind:value={numberText} placeholder={String(ordered[0]?.number ?? 1)} />
      <Choice
        label="Holes"
        value={holes}
        options={[
          { value: 'close', text: 'close them' },
          { value: 'keep', text: 'keep them' },
        ]}
        choose={(h) => (holes = h)}
      />
    </div>
    {#if numberText.trim() !== '' && number === null}<p class="wrong" role="alert">
        ▲ Give a whole number from 1 to 99999.
      </p>{/if}
    {#if renumbering}
      <ul aria-label="Numbers before and after">
        {#each renumbering.numbers.slice(0, 60) as { unit, number: next, clash } (unit.id)}
          <li class="num">
            <span class="quiet">{unit.number}</span> → <b>{next}</b> <span class="name">{unit.name}</span>
            {#if clash}<span class="look">● also {clash.name}</span>{/if}
          </li>
        {/each}
      </ul>
      {#if tooHigh}<p class="wrong" role="alert">▲ Numbers end at 99999: begin lower.</p>{/if}
      {#if taken.length > 0}<p class="look">● {plural(taken.length, 'number')} would be there twice.</p>{/if}
      <Button kind="main" disabled={renumbering.change.put.length === 0} onclick={renumber}
        >Number {plural(renumbering.change.put.length, 'unit')}</Button
      >
    {/if}
  {/if}
</ToolPanel>

<style>
  .two {
    display: grid;
    grid-template-columns: 1.4fr 1fr;
    gap: 10px;
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 4px 8px;
    max-height: 180px;
    overflow: auto;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    font-size: 13px;
  }
  .wrong {
    color: var(--wrong);
  }
  .look {
    color: var(--look);
  }
  .name {
    font-family: var(--font);
  }
</style>
