<script lang="ts">
  import { applyChange } from '$core/document/change.ts';
  import { isSevere } from '$core/patch/clash.ts';
  import { parseAddressEntry } from '$core/patch/entry.ts';
  import { patchFaults } from '$core/patch/faults.ts';
  import { formatAddress } from '$core/patch/address.ts';
  import { packUnits } from '$core/patch/pack.ts';
  import { placeOf } from '$core/patch/of-document.ts';
  import { readWhole } from '$core/numbers.ts';
  import type { UnitOrder } from '$core/records/group.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { PatchDesk } from '$lib/state/patch/patch-desk.svelte.ts';
  import { faultWords, plural } from '$lib/state/words.ts';
  import Beside from '../Beside.svelte';
  import Button from '../Button.svelte';
  import Entry from '../Entry.svelte';
  import Choice from '../Choice.svelte';
  import MoveList from './MoveList.svelte';
  import { ORDER_WORDS } from './orders.ts';
  import ToolPanel from './ToolPanel.svelte';

  /** Packs the selected units from an address on, with every move seen before it is done. */
  let { desk }: { desk: PatchDesk } = $props();
  const app = getApp();
  const units = $derived(app.acting.flatMap((id) => app.rig.unit(id) ?? []));
  let order = $state<UnitOrder>('number');
  let startText = $state('');
  let gapText = $state('0');
  let blockText = $state('');
  /** The lowest address the selection has now: where packing begins unless told otherwise. */
  const lowest = $derived.by(() => {
    const places = units.flatMap((u) => placeOf(app.rig.patchedById.get(u.id)) ?? []);
    return places.sort((a, b) => a.universe - b.universe || a.address - b.address)[0] ?? { universe: 1, address: 1 };
  });
  const start = $derived.by(() => {
    if (startText.trim() === '') return { place: lowest };
    const entry = parseAddressEntry(startText, app.live.document, app.rig.slotsOf);
    if (!entry.ok) return { fault: faultWords(entry.fault) };
    return entry.value.kind === 'place' ? { place: entry.value.place } : { fault: 'Give an address to begin at.' };
  });
  const gap = $derived(readWhole(gapText || '0'));
  const block = $derived(blockText.trim() === '' ? 0 : readWhole(blockText));
  const fault = $derived(
    'fault' in start
      ? start.fault
      : gap === null || gap < 0 || gap > 511
        ? 'Leave 0 to 511 slots free.'
        : block === null || block < 0 || block > 512
          ? 'A block has 1 to 512 slots.'
          : null,
  );
  const packing = $derived.by(() => {
    if (fault !== null || !('place' in start) || !start.place || units.length === 0) return null;
    const ids = units.map((u) => u.id);
    return packUnits(app.live.document, ids, { order, start: start.place, gap: gap ?? 0, block: block ?? 0 });
  });
  const clashes = $derived.by(() => {
    if (!packing) return [];
    const moved = new Set(packing.moves.map((m) => m.unit.id));
    return patchFaults(applyChange(app.live.document, packing.change)).filter(
      (c) => isSevere(c) && moved.has(c.unitId),
    );
  });
  function apply(): void {
    if (!packing) return;
    if (app.live.edit(`Re-address ${plural(packing.moves.length, 'unit')}`, packing.change)) {
      startText = '';
      desk.open('details');
    }
  }
</script>

<ToolPanel title="Re-address" close={() => desk.open('details')}>
  {#if units.length === 0}
    <p class="quiet">Select the units that are to move. What is not selected stays, and is gone round.</p>
  {:else}
    <p><b>{plural(units.length, 'unit')}</b>, packed one after the other round everything else.</p>
    <Choice label="Order" value={order} options={ORDER_WORDS} choose={(o) => (order = o)} />
    <Entry
      label="From address"
      numeric
      bind:value={startText}
      placeholder={formatAddress(lowest.universe, lowest.address)}
      invalid={'fault' in start}
    />
    <Beside>
      <Entry label="Free slots between" numeric bind:value={gapText} />
      <Entry label="Blocks of" numeric bind:value={blockText} placeholder="none" />
    </Beside>
    {#if fault}<p class="wrong" role="alert">▲ {fault}</p>
    {:else if packing}
      {#if packing.moves.length === 0}<p class="quiet">Every unit stands there already.</p>
      {:else}
        <MoveList moves={packing.moves} />
        {#each packing.letGo as unit (unit.id)}<p class="look">● {unit.name} no longer follows another unit.</p>{/each}
        {#each packing.unplaced as unit (unit.id)}<p class="wrong">▲ No room is left for {unit.name}.</p>{/each}
        {#each clashes.slice(0, 4) as clash, i (i)}<p class="wrong">
            ▲ {app.rig.unit(clash.unitId)?.name}: {clash.message}
          </p>{/each}
        <p class="quiet">Scenes stay as they are: they know units, not addresses.</p>
        <Button kind="main" onclick={apply}>Re-address {plural(packing.moves.length, 'unit')}</Button>
      {/if}
    {/if}
  {/if}
</ToolPanel>

<style>
  .wrong {
    color: var(--wrong);
  }
  .look {
    color: var(--look);
  }
</style>
