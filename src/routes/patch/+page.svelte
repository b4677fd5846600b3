<script lang="ts">
  import { dipSwitches, formatAddress } from '$core/patch/address.ts';
  import type { UnitRecord } from '$core/records/index.ts';
  import Mark from '$lib/components/Mark.svelte';
  import Sheet from '$lib/components/Sheet.svelte';
  import Step from '$lib/components/Step.svelte';
  import UniverseStrip from '$lib/components/patch/UniverseStrip.svelte';
  import UnitDetails from '$lib/components/patch/UnitDetails.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { editAddress, editName, editNumber, type Edited } from '$lib/state/unit-edits.ts';

  const app = getApp();
  let filter = $state('');
  let onlyFaulty = $state(false);
  const textOf = (u: UnitRecord): string =>
    `${u.number} ${u.name} ${app.rig.profile(u.profileId)?.model ?? ''} ${app.rig.modeName(u)} ${address(u)} ${u.notes}`.toLowerCase();
  const address = (u: UnitRecord): string => (u.patch ? formatAddress(u.patch.universe, u.patch.address) : '');
  const words = $derived(filter.toLowerCase().split(/\s+/).filter(Boolean));
  const rows = $derived(
    app.rig.units.filter((u) => {
      if (onlyFaulty && !app.rig.clashesById.has(u.id)) return false;
      if (words.length === 0) return true;
      const text = textOf(u);
      return words.every((w) => text.includes(w));
    }),
  );
  const footprint = (u: UnitRecord): number => app.rig.layout(u).footprint;
  const last = (u: UnitRecord): string => {
    const span = app.rig.patchedById.get(u.id)?.spans.at(-1);
    return span ? formatAddress(span.universe, span.to) : '';
  };
  const switches = (u: UnitRecord): string =>
    u.patch ? dipSwitches(u.patch.address, app.rig.profile(u.profileId)?.addressFromZero).join(' ') : '';
  const order = (u: UnitRecord): number => (u.patch ? u.patch.universe * 1000 + u.patch.address : Infinity);
  const faultText = (u: UnitRecord): string => (app.rig.clashesById.get(u.id) ?? []).map((c) => c.message).join('; ');

  function carryOut(label: string, edited: Edited): string | null {
    if ('fault' in edited) return edited.fault;
    app.live.edit(label, edited.change);
    return null;
  }
  const faulty = $derived(app.rig.clashesById.size);
  const columns = $derived([
    {
      key: 'number',
      title: 'No.',
      width: '56px',
      numeric: true,
      text: (u: UnitRecord) => String(u.number),
      sort: (a: UnitRecord, b: UnitRecord) => a.number - b.number,
      save: (u: UnitRecord, t: string) => carryOut(`Number ${u.name}`, editNumber(app.live.document, [u.id], t)),
    },
    {
      key: 'name',
      title: 'Name',
      width: 'minmax(120px, 1fr)',
      text: (u: UnitRecord) => u.name,
      save: (u: UnitRecord, t: string) => carryOut(`Rename ${u.name}`, editName(app.live.document, [u.id], t)),
    },
    {
      key: 'profile',
      title: 'Profile, mode',
      width: faulty > 0 ? 'minmax(130px, 1.2fr)' : 'minmax(210px, 1.6fr)',
      text: (u: UnitRecord) => `${app.rig.profile(u.profileId)?.model ?? '?'}, ${app.rig.modeName(u)}`,
    },
    {
      key: 'address',
      title: 'Address',
      width: '84px',
      numeric: true,
      text: address,
      sort: (a: UnitRecord, b: UnitRecord) => order(a) - order(b),
      save: (u: UnitRecord, t: string) =>
        carryOut(`Address ${u.name}`, editAddress(app.live.document, [u.id], t, app.rig.slotsOf, footprint)),
    },
    {
      key: 'last',
      title: 'Last',
      width: '76px',
      numeric: true,
      text: last,
      sort: (a: UnitRecord, b: UnitRecord) => order(a) - order(b),
    },
    {
      key: 'footprint',
      title: 'Slots',
      width: '54px',
      numeric: true,
      text: (u: UnitRecord) => String(footprint(u)),
      sort: (a: UnitRecord, b: UnitRecord) => footprint(a) - footprint(b),
    },
    { key: 'switches', title: 'Switches', width: 'minmax(96px, .5fr)', text: switches },
    {
      key: 'state',
      title: 'What is wrong',
      width: faulty > 0 ? 'minmax(210px, 2fr)' : 'minmax(110px, .5fr)',
      text: faultText,
      sort: (a: UnitRecord, b: UnitRecord) =>
        (app.rig.clashesById.get(b.id)?.length ?? 0) - (app.rig.clashesById.get(a.id)?.length ?? 0),
    },
  ]);
  const MOST_STRIPS = 300;
  const strips = $derived((app.rig.universes.length > 0 ? app.rig.universes : [1]).slice(0, MOST_STRIPS));
</script>

<Step title="Patch" detailsTitle={app.selection.ids.length > 1 ? 'Units' : 'Unit'}>
  {#snippet tools()}
    <input type="search" bind:value={filter} placeholder="Filter: name, profile, 2.51" aria-label="Filter units" />
    {#if faulty > 0}
      <label class="check"
        ><input type="checkbox" bind:checked={onlyFaulty} />
        <Mark kind="wrong" count={faulty} /> only what is wrong</label
      >
    {/if}
    <span class="quiet"
      ><span class="num">{rows.length}</span> of <span class="num">{app.rig.units.length}</span> units</span
    >
    <a class="add" href="/kit">Add units from the Kit</a>
  {/snippet}
  <Sheet
    label="Patch sheet"
    {columns}
    {rows}
    selected={(id) => app.selection.has(id as UnitRecord['id'])}
    select={(row, event, ordered) =>
      app.selection.click(
        row.id,
        event,
        ordered.map((r) => r.id),
      )}
    remove={() =>
      app.selection.ids.length > 0 && app.remove(`Remove ${app.selection.ids.length} units`, app.selection.ids)}
  >
    {#snippet cell(row, column)}
      {#if column.key === 'state'}
        {@const clashes = app.rig.clashesById.get(row.id) ?? []}
        {#if clashes.length > 0}
          <span class="clash" title={faultText(row)}
            ><Mark kind={clashes.some((c) => c.code === 'OVERLAP' || c.code === 'OVERRUN') ? 'wrong' : 'look'} />
            {clashes[0]!.message}{clashes.length > 1 ? ` (+${clashes.length - 1})` : ''}</span
          >
        {/if}
      {:else if column.key === 'address' && !row.patch}<span class="quiet">none</span>{:else}{column.text(row)}{/if}
    {/snippet}
    {#snippet empty()}
      <p class="empty quiet">
        {app.rig.units.length === 0
          ? 'No units yet. Choose a profile in the Kit and add the first ones.'
          : 'No unit matches the filter.'}
      </p>
    {/snippet}
  </Sheet>
  <div class="strips" aria-label="Universes">
    <div class="scale quiet num">
      <span></span><span>1</span><span>65</span><span>129</span><span>193</span><span>257</span><span>321</span><span
        >385</span
      ><span>449</span>
    </div>
    {#each strips as universe (universe)}<UniverseStrip {universe} />{/each}
  </div>
  {#snippet details()}<UnitDetails />{/snippet}
</Step>

<style>
  input[type='search'] {
    width: 230px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 6px 10px;
  }
  .check {
    display: inline-flex;
    gap: 6px;
    align-items: center;
  }
  .check input {
    accent-color: var(--amber);
  }
  .add {
    margin-left: auto;
    color: var(--amber-text);
  }
  .clash {
    color: var(--wrong);
  }
  .empty {
    padding: 30px 8px;
  }
  .strips {
    border-top: 1px solid var(--line);
    padding: 6px 16px 10px;
    max-height: 34%;
    overflow-y: auto;
    flex: none;
  }
  .scale {
    display: grid;
    grid-template-columns: 92px repeat(8, 1fr);
    font-size: 11px;
  }
</style>
