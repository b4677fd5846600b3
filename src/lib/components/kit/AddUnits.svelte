<script lang="ts">
  import { freeNumbers } from '$core/patch/naming.ts';
  import { newUnits } from '$core/patch/add.ts';
  import { parseAddress } from '$core/patch/address.ts';
  import { footprintOf } from '$core/profile/layout.ts';
  import type { ProfileRecord } from '$core/records/index.ts';
  import type { Kit } from '$lib/state/kit.svelte.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import Button from '../Button.svelte';

  /** Adds units of one mode: how many, what they are called, where they start. */
  let { profile, mode, kit }: { profile: ProfileRecord; mode: string; kit: Kit } = $props();
  const app = getApp();
  let countText = $state('1');
  let name = $state('');
  let start = $state('');
  let fault = $state<string | null>(null);
  const count = $derived(/^\d+$/.test(countText) ? Number(countText) : NaN);
  const countFault = $derived(
    Number.isInteger(count) && count >= 1 && count <= 500 ? null : 'Give a number of units from 1 to 500.',
  );
  const footprint = $derived(footprintOf(profile.modes.find((m) => m.key === mode) ?? profile.modes[0]!));
  const place = $derived(start.trim() === '' ? null : parseAddress(start));
  const startFault = $derived(place && !place.ok ? `${place.fault.message}. ${place.fault.remedy}` : null);
  /** What would be added, so that the addresses are seen before. */
  const preview = $derived.by(() => {
    if (countFault || startFault) return [];
    const numbers = freeNumbers(
      app.rig.units.map((u) => u.number),
      count,
    );
    let n = 0;
    const at = place?.ok
      ? { universe: place.value.universe as number, address: place.value.address as number }
      : undefined;
    return newUnits(
      app.live.document,
      { profile, mode, count, names: name.trim() || profile.model, firstNumber: numbers[0]!, start: at },
      () => `unit:preview${n++}`,
    );
  });
  const text = (unit: (typeof preview)[number] | undefined): string =>
    unit?.patch ? `${unit.patch.universe}.${unit.patch.address}` : 'no address left';

  function add(): void {
    fault = countFault ?? startFault;
    if (fault) return;
    const units = preview.map((unit) => ({ ...unit, id: app.newId('unit') }));
    if (
      !app.live.edit(`Add ${units.length} ${profile.model}`, {
        put: [...kit.recordsFor(profile), ...units],
        remove: [],
      })
    )
      return;
    app.selection.set(units.map((u) => u.id));
    countText = '1';
    name = '';
    start = '';
  }
</script>

<form
  onsubmit={(e) => {
    e.preventDefault();
    add();
  }}
>
  <h3>Add to the rig</h3>
  <div class="row">
    <label
      >Units <input class="num" inputmode="numeric" bind:value={countText} aria-invalid={countFault !== null} /></label
    >
    <label class="wide">Name <input bind:value={name} placeholder={`${profile.model} #`} maxlength="90" /></label>
  </div>
  <label
    >First address <input
      class="num"
      bind:value={start}
      placeholder="next free"
      aria-invalid={startFault !== null}
    /></label
  >
  {#if fault || startFault || countFault}
    <p class="fault" role="alert">▲ {startFault ?? countFault ?? fault}</p>
  {:else}
    <p class="quiet">
      {preview.length} × {footprint}
      {footprint === 1 ? 'slot' : 'slots'}: <span class="num">{text(preview[0])}</span>{#if preview.length > 1}
        to <span class="num">{text(preview.at(-1))}</span>{/if}, number{preview.length > 1 ? 's' : ''}
      <span class="num">{preview[0]?.number}{preview.length > 1 ? `-${preview.at(-1)?.number}` : ''}</span>
    </p>
  {/if}
  <Button kind="main" type="submit"
    ><Plus size={16} /> Add {Number.isInteger(count) && count > 1 ? `${count} units` : 'unit'}</Button
  >
</form>

<style>
  form {
    display: grid;
    gap: 10px;
    padding: 12px;
    border: 1px solid var(--line);
    border-radius: 8px;
  }
  .row {
    display: grid;
    grid-template-columns: 70px 1fr;
    gap: 10px;
  }
  label {
    display: grid;
    gap: 3px;
    color: var(--quiet);
    font-size: 12.5px;
    min-width: 0;
  }
  input {
    width: 100%;
    min-width: 0;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 6px 8px;
    color: var(--text);
  }
  input[aria-invalid='true'] {
    border-color: var(--wrong);
  }
  .fault {
    color: var(--wrong);
  }
</style>
