<script lang="ts">
  import { freeNumbers, nextNumber } from '$core/naming.ts';
  import { applyChange } from '$core/document/change.ts';
  import { newUnits, whyNotThere, type NewUnits } from '$core/edits/add.ts';
  import { formatAddress } from '$core/patch/address.ts';
  import { patchedUnit, unitLayout } from '$core/patch/of-document.ts';
  import type { Prop } from '$core/records/prop.ts';
  import { parseAddressEntry } from '$core/patch/entry.ts';
  import { afterLast } from '$core/patch/place.ts';
  import { readWhole } from '$core/numbers.ts';
  import { make, type GroupRecord, type ProfileRecord } from '$core/records/index.ts';
  import { faultWords } from '$lib/state/words.ts';
  import type { Kit } from '$lib/state/kit/kit.svelte.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import Beside from '../Beside.svelte';
  import Button from '../Button.svelte';
  import Entry from '../Entry.svelte';

  /** Adds units of one mode: how many, what they are called, where they start, how they are spaced and gathered. */
  interface Props {
    profile: ProfileRecord;
    mode: string;
    kit: Kit;
    /** Shape of each, and what they are called, where they are props. */
    prop?: Prop | null;
    called?: string;
  }
  let { profile, mode, kit, prop = null, called = profile.model }: Props = $props();
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
  const footprint = $derived(unitLayout(profile, { mode, prop }).footprint);
  const place = $derived.by((): { fault: string } | { at: NewUnits['start'] } => {
    if (start.trim() === '') return { at: atEnd ? afterLast(app.rig.patched, app.rig.slotsOf) : undefined };
    const entry = parseAddressEntry(start, app.live.document, app.rig.slotsOf);
    if (!entry.ok) return { fault: faultWords(entry.fault) };
    if (entry.value.kind === 'place') return { at: entry.value.place };
    if (entry.value.kind === 'relation' && 'after' in entry.value.relation) return { at: entry.value.relation };
    return { fault: 'Give an address such as 3.145, an absolute channel, or “after 19”.' };
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
  const wanted = $derived.by((): NewUnits | null => {
    if (wrong !== null || count === null || 'fault' in place) return null;
    const numbers = freeNumbers(
      app.rig.units.map((u) => u.number),
      count,
      firstNumber ? firstNumber - 1 : 0,
    );
    return {
      profile,
      mode,
      prop,
      count,
      names: name.trim() || `${called} #`,
      firstNumber: numbers[0]!,
      start: place.at,
      gap: gap ?? 0,
      block: block ?? 0,
    };
  });
  /** What would be added, so that the addresses are seen before; chained ones as the patch would have them. */
  const preview = $derived.by(() => {
    let n = 0;
    return wanted ? newUnits(app.live.document, wanted, () => `unit:preview${n++}`) : [];
  });
  const spans = $derived.by(() => {
    if (preview.length === 0) return [];
    const seen = applyChange(app.live.document, { put: [profile, ...preview], remove: [] });
    return [preview[0]!, preview.at(-1)!].map((unit) => patchedUnit(seen, unit).spans[0]);
  });
  const notThere = $derived(wanted && start.trim() !== '' ? whyNotThere(app.live.document, wanted, preview) : null);
  const text = (span: (typeof spans)[number]): string =>
    span ? formatAddress(span.universe, span.from) : 'no address left';

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
    if (!wanted || notThere) return;
    const units = newUnits(app.live.document, wanted, () => app.newId('unit'));
    const ids = units.map((u) => u.id);
    const put = [...kit.recordsFor(profile), ...units, ...grouped(ids)];
    if (!app.live.edit(`Add ${units.length === 1 ? units[0]!.name : `${units.length} ${called}`}`, { put, remove: [] }))
      return;
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
    <Entry label="Name" bind:value={name} placeholder={`${called} #`} maxlength={90} />
  </div>
  <Entry
    label="First address"
    numeric
    bind:value={start}
    placeholder={atEnd ? 'after the last' : 'next free'}
    invalid={'fault' in place || notThere !== null}
  />
  <button type="button" class="more" aria-expanded={more} onclick={() => (more = !more)}
    >{more ? '▾' : '▸'} Spacing, numbers, group</button
  >
  {#if more}
    <Beside>
      <Entry label="Free slots between" numeric bind:value={gapText} placeholder="0" invalid={gap === null} />
      <Entry
        label="Blocks of"
        numeric
        bind:value={blockText}
        placeholder="none"
        title="For desks with fixed blocks: 20 gives 1, 21, 41 ..."
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
    </Beside>
    <datalist id="groups-there-are">
      {#each app.rig.groups.filter((g) => !g.rule) as group (group.id)}<option value={group.name}></option>{/each}
    </datalist>
    <label class="check"
      ><input type="checkbox" bind:checked={atEnd} /> after the last address in use, not in a gap</label
    >
  {/if}
  {#if wrong}
    <p class="fault" role="alert">▲ {wrong}</p>
  {:else if notThere}
    <p class="fault" role="alert">▲ {faultWords(notThere)}</p>
    {#if notThere.next}
      {@const next = formatAddress(notThere.next.universe, notThere.next.address)}
      <Button onclick={() => (start = next)}>Start at <span class="num">{next}</span></Button>
    {/if}
  {:else}
    <p class="quiet">
      {preview.length} × {footprint}
      {footprint === 1 ? 'slot' : 'slots'}:
      <span class="num">{text(spans[0])}</span>{#if preview.length > 1}&#32;to <span class="num">{text(spans[1])}</span
        >{/if}, number{preview.length > 1 ? 's' : ''}
      <span class="num">{preview[0]?.number}{preview.length > 1 ? `-${preview.at(-1)?.number}` : ''}</span>
    </p>
  {/if}
  <Button kind="main" type="submit" disabled={wanted === null || notThere !== null}
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
