<script lang="ts">
  import { freeNumbers, nextNumber } from '$core/patch/naming.ts';
  import { newUnits } from '$core/patch/add.ts';
  import { parseAddressEntry } from '$core/patch/entry.ts';
  import { afterLast } from '$core/patch/place.ts';
  import { readWhole } from '$core/numbers.ts';
  import { footprintOf } from '$core/profile/layout.ts';
  import { make, type GroupRecord, type ProfileRecord } from '$core/records/index.ts';
  import { faultWords } from '$lib/state/words.ts';
  import type { Kit } from '$lib/state/kit.svelte.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import Button from '../Button.svelte';
  import Entry from '../Entry.svelte';

  /** Adds units of one mode: how many, what they are called, where they start, how they are spaced and gathered. */
  let { profile, mode, kit }: { profile: ProfileRecord; mode: string; kit: Kit } = $props();
  const app = getApp();
  let countText = $state('1');
  let name = $state('');
  let start = $state('');
  let more = $state(false);
  let gapText = $state('');
  let blockText = $state('');
  let numberText = $state('');
  let groupName = $state('');
  let atEnd = $state(false);
  let fault = $state<string | null>(null);

  /** A whole number in a field, `otherwise` where it is empty; null where it is not one within its limits. */
  function whole(text: string, low: number, high: number, otherwise: number): number | null {
    if (text.trim() === '') return otherwise;
    const value = readWhole(text);
    return value !== null && value >= low && value <= high ? value : null;
  }
  const count = $derived(whole(countText || 'x', 1, 500, 1));
  const gap = $derived(whole(gapText, 0, 511, 0));
  const block = $derived(whole(blockText, 1, 512, 0));
  const firstNumber = $derived(whole(numberText, 1, 99_999, 0));
  const footprint = $derived(footprintOf(profile.modes.find((m) => m.key === mode) ?? profile.modes[0]!));
  const place = $derived.by((): { fault: string } | { at: { universe: number; address: number } | undefined } => {
    if (start.trim() === '') return { at: atEnd ? afterLast(app.rig.patched, app.rig.slotsOf) : undefined };
    const entry = parseAddressEntry(start, app.live.document, app.rig.slotsOf);
    if (!entry.ok) return { fault: faultWords(entry.fault) };
    return entry.value.kind === 'place'
      ? { at: entry.value.place }
      : { fault: 'Give an address such as 3.145, or an absolute channel.' };
  });
  const wrong = $derived(
    count === null
      ? 'Give a number of units from 1 to 500.'
      : 'fault' in place
        ? place.fault
        : gap === null
          ? 'Leave 0 to 511 slots free.'
          : block === null
            ? 'A block has 1 to 512 slots.'
            : firstNumber === null
              ? 'Numbers go from 1 to 99999.'
              : groupName.length > 100
                ? 'A group has a name of at most 100 characters.'
                : null,
  );
  /** What would be added, so that the addresses are seen before. */
  const preview = $derived.by(() => {
    if (wrong !== null || count === null || 'fault' in place) return [];
    const numbers = freeNumbers(
      app.rig.units.map((u) => u.number),
      count,
      firstNumber ? firstNumber - 1 : 0,
    );
    let n = 0;
    return newUnits(
      app.live.document,
      {
        profile,
        mode,
        count,
        names: name.trim() || profile.model,
        firstNumber: numbers[0]!,
        start: place.at,
        gap: gap ?? 0,
        block: block ?? 0,
      },
      () => `unit:preview${n++}`,
    );
  });
  const text = (unit: (typeof preview)[number] | undefined): string =>
    unit?.patch ? `${unit.patch.universe}.${unit.patch.address}` : 'no address left';

  /** The group of that name with the new units at its end, or a new one. */
  function grouped(ids: GroupRecord['unitIds']): GroupRecord[] {
    const wanted = groupName.trim();
    if (wanted === '') return [];
    const known = app.rig.groups.find((g) => !g.rule && g.name.toLowerCase() === wanted.toLowerCase());
    if (known) return [{ ...known, unitIds: [...known.unitIds, ...ids] }];
    const number = nextNumber(app.rig.groups);
    return [make('group', { id: app.newId('group'), number, name: wanted, unitIds: ids })];
  }
  function add(): void {
    fault = wrong;
    if (fault) return;
    const units = preview.map((unit) => ({ ...unit, id: app.newId('unit') }));
    const ids = units.map((u) => u.id);
    const put = [...kit.recordsFor(profile), ...units, ...grouped(ids)];
    if (!app.live.edit(`Add ${units.length} ${profile.model}`, { put, remove: [] })) return;
    app.selection.set(ids);
    countText = '1';
    name = '';
    start = '';
    numberText = '';
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
    <Entry label="Units" numeric bind:value={countText} invalid={count === null} />
    <Entry label="Name" bind:value={name} placeholder={`${profile.model} #`} maxlength={90} />
  </div>
  <Entry
    label="First address"
    numeric
    bind:value={start}
    placeholder={atEnd ? 'after the last' : 'next free'}
    invalid={'fault' in place}
  />
  <button type="button" class="more" aria-expanded={more} onclick={() => (more = !more)}
    >{more ? '▾' : '▸'} Spacing, numbers, group</button
  >
  {#if more}
    <div class="two">
      <Entry label="Free slots between" numeric bind:value={gapText} placeholder="0" invalid={gap === null} />
      <Entry
        label="Blocks of"
        numeric
        bind:value={blockText}
        placeholder="none"
        title="For desks with fixed blocks: 16 gives 1, 17, 33 ..."
        invalid={block === null}
      />
      <Entry
        label="First number"
        numeric
        bind:value={numberText}
        placeholder="next free"
        invalid={firstNumber === null}
      />
      <Entry label="Into the group" bind:value={groupName} placeholder="none" list="groups-there-are" />
    </div>
    <datalist id="groups-there-are">
      {#each app.rig.groups.filter((g) => !g.rule) as group (group.id)}<option value={group.name}></option>{/each}
    </datalist>
    <label class="check"
      ><input type="checkbox" bind:checked={atEnd} /> after the last address in use, not in a gap</label
    >
  {/if}
  {#if wrong}
    <p class="fault" role="alert">▲ {wrong}</p>
  {:else}
    <p class="quiet">
      {preview.length} × {footprint}
      {footprint === 1 ? 'slot' : 'slots'}: <span class="num">{text(preview[0])}</span>{#if preview.length > 1}
        to <span class="num">{text(preview.at(-1))}</span>{/if}, number{preview.length > 1 ? 's' : ''}
      <span class="num">{preview[0]?.number}{preview.length > 1 ? `-${preview.at(-1)?.number}` : ''}</span>
    </p>
  {/if}
  <Button kind="main" type="submit"
    ><Plus size={16} /> Add {count !== null && count > 1 ? `${count} units` : 'unit'}</Button
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
  .two {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 10px;
  }
  .more {
    justify-self: start;
    border: 0;
    background: none;
    padding: 0;
    color: var(--amber-text);
  }
  .check {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  .check input {
    width: auto;
  }
  .fault {
    color: var(--wrong);
  }
</style>
