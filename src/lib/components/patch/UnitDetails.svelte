<script lang="ts">
  import { toAbsolute } from '$core/patch/address.ts';
  import { isSevere } from '$core/patch/clash.ts';
  import { nextNumber } from '$core/naming.ts';
  import { duplicateWithParts } from '$core/edits/duplicate.ts';
  import { replaceUnits } from '$core/patch/replace.ts';
  import { relatedTo } from '$core/patch/of-document.ts';
  import { make, type UnitRecord } from '$core/records/index.ts';
  import { columnOf } from '$core/sheet/columns.ts';
  import { sheetFacts } from '$core/sheet/facts.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { KIND_WORDS } from '$lib/state/kinds.ts';
  import { plural } from '$lib/state/words.ts';
  import CopyPlus from '@lucide/svelte/icons/copy-plus';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import Beside from '../Beside.svelte';
  import Button from '../Button.svelte';
  import { lyingOn } from '$core/plot/overlap.ts';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import Mark from '../Mark.svelte';
  import SettingCard from './SettingCard.svelte';
  import UnitLink from './UnitLink.svelte';
  import UnitMovement from './UnitMovement.svelte';
  import UnitPlace from './UnitPlace.svelte';

  const app = getApp();
  const units = $derived(app.acting.flatMap((id) => app.rig.unit(id) ?? []));
  const first = $derived(units[0]);
  const ids = $derived(units.map((u) => u.id));
  const many = $derived(units.length > 1);
  const mixed = (of: (unit: UnitRecord) => unknown): boolean => units.some((u) => of(u) !== of(units[0]!));
  const clashes = $derived(many ? [] : (app.rig.clashesById.get(first?.id ?? 'unit:none') ?? []));
  const lying = $derived(many || !first ? [] : lyingOn(app.live.document, first.id));
  const profile = $derived(first && app.rig.profile(first.profileId));
  const sameProfile = $derived(!mixed((u) => u.profileId));
  const what = $derived(many ? plural(units.length, 'unit') : (first?.name ?? ''));
  const facts = $derived(sheetFacts(app.live.document));
  const place = $derived(first ? app.rig.place(first.id) : null);
  const leader = $derived(first?.relation ? app.rig.unit(relatedTo(first.relation)) : undefined);
  const followers = $derived(
    many || !first ? [] : app.rig.units.filter((u) => u.relation && relatedTo(u.relation) === first.id),
  );

  /** A field that is a column of the sheet: read and written as the sheet does. */
  const text = (column: string, unit = first!): string => columnOf(column)!.text(facts, unit);
  const write = (column: string, value: string): string | null =>
    app.cells.write(ids, column, value, `${columnOf(column)!.title} of ${what}`);
  const differs = (column: string): boolean => many && mixed((u) => text(column, u));

  const NAMED = [
    ['area', 'Area'],
    ['tag', 'Colour tag'],
    ['line', 'Line'],
  ] as const;
  function makeGroup(): void {
    const number = nextNumber(app.rig.groups);
    app.live.edit(`Group ${plural(units.length, 'unit')}`, {
      put: [make('group', { id: app.newId('group'), number, name: `Group ${number}`, unitIds: ids })],
      remove: [],
    });
  }
  function duplicate(): void {
    const { units: copies, parts } = duplicateWithParts(app.live.document, ids, {
      unit: () => app.newId('unit'),
      part: () => app.newId('part'),
    });
    if (app.live.edit(`Duplicate ${what}`, { put: [...copies, ...parts], remove: [] }))
      app.selection.set(copies.map((u) => u.id));
  }
</script>

{#if !first}
  <p class="quiet">
    Nothing selected. Select units to see and change what they are, where they listen and where they hang.
  </p>
{:else}
  {#if many}<p><b>{plural(units.length, 'unit')}</b> <span class="quiet">an edit applies to all</span></p>{/if}
  {#each clashes as clash, i (i)}<p class={isSevere(clash) ? 'wrong' : 'look'}>
      <Mark kind={isSevere(clash) ? 'wrong' : 'look'} />
      {clash.message}
    </p>{/each}
  {#if lying.length > 0}<p class="look">
      <Mark kind="look" /> lies on {lying.map((u) => `${u.number} ${u.name}`).join(', ')}: move one of them
    </p>{/if}
  <Beside>
    <Field label={many ? 'First number' : 'Number'} numeric value={first.number} save={(t) => write('number', t)} />
    <Field
      label={many ? 'First address' : 'Address'}
      numeric
      value={text('patch')}
      placeholder="none"
      save={(t) => write('patch', t)}
    />
  </Beside>
  {#if leader && first.relation}
    <p class="quiet">
      {'twinOf' in first.relation ? 'A twin of' : 'Follows'}
      <button class="link" type="button" onclick={() => app.selection.set([leader.id])}
        >{leader.number} {leader.name}</button
      >{'gap' in first.relation && first.relation.gap > 0 ? `, ${first.relation.gap} slots free between` : ''}.
      <button class="link" type="button" onclick={() => void write('follows', '')}>Stop following</button>
    </p>
  {:else if !many}
    <p class="quiet hint">Also: an absolute channel, “after 12”, “twin of 12”.</p>
  {/if}
  {#if followers.length > 0}
    <p class="quiet">
      Followed by {followers
        .slice(0, 4)
        .map((u) => `${u.name} (${app.rig.addressText(u.id)})`)
        .join(', ')}{followers.length > 4 ? ` and ${followers.length - 4} more` : ''}.
    </p>
  {/if}
  <Field label="Name" value={first.name} mixed={mixed((u) => u.name)} save={(t) => write('name', t)} />
  {#if sameProfile && profile}
    <p class="quiet">{profile.maker} {profile.model}, {KIND_WORDS[profile.fixtureKind]}</p>
    <Choice
      label="Mode"
      value={first.mode}
      mixed={mixed((u) => u.mode)}
      options={profile.modes.map((m) => ({
        value: m.key,
        text: `${m.name} (${app.rig.layout({ ...first, mode: m.key }).footprint} ch)`,
      }))}
      choose={(mode) => app.live.edit(`Mode of ${what}`, replaceUnits(app.live.document, ids, profile, mode).change)}
    />
  {:else}
    <p class="quiet">Different profiles</p>
  {/if}
  {#if !many && place}
    <h3>To set on the unit</h3>
    <SettingCard
      {profile}
      address={place.address}
      set={first.relation ? undefined : (address) => void write('patch', `${place.universe}.${address}`)}
    />
    <dl>
      <dt>Last slot</dt>
      <dd class="num">{text('last')}</dd>
      <dt>Absolute channel</dt>
      <dd class="num">{toAbsolute(place.universe, place.address, app.rig.slotsOf(place.universe)) ?? '-'}</dd>
    </dl>
  {/if}
  <Beside>
    <Field
      label="Expected end"
      numeric
      value={text('expected')}
      mixed={differs('expected')}
      placeholder="not given"
      save={(t) => write('expected', t)}
    />
    {#each NAMED as [key, label] (key)}
      <Field {label} value={text(key)} mixed={differs(key)} placeholder="none" save={(t) => write(key, t)} />
    {/each}
    {#if !many && text('line') !== ''}
      <Field label="Place in the line" numeric value={text('place')} save={(t) => write('place', t)} />
    {/if}
  </Beside>
  <Field
    label="Groups"
    value={text('groups')}
    mixed={differs('groups')}
    placeholder="none"
    save={(t) => write('groups', t)}
  />
  <UnitPlace {units} {what} {write} />
  <UnitMovement {units} {what} />
  {#key first.id}<UnitLink {units} {what} />{/key}
  <Field label="Notes" multiline value={first.notes} mixed={mixed((u) => u.notes)} save={(t) => write('notes', t)} />
  <div class="row">
    <Button onclick={duplicate} title="Copies go on after the last address"><CopyPlus size={16} /> Duplicate</Button>
    {#if many}<Button onclick={makeGroup}>Make a group</Button>{/if}
    <Button kind="wrong" onclick={() => app.removeUnits()}
      ><Trash2 size={16} /> Remove {many ? `${units.length} units` : 'unit'}</Button
    >
  </div>
{/if}

<style>
  .wrong {
    color: var(--wrong);
  }
  .look {
    color: var(--look);
  }
  .hint {
    font-size: 12px;
    margin-top: -8px;
  }
  .link {
    border: 0;
    background: none;
    padding: 0;
    color: var(--amber-text);
    text-decoration: underline;
  }
  dl {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 4px;
    margin: 0;
  }
  dt {
    color: var(--quiet);
  }
  dd {
    margin: 0;
    text-align: right;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
</style>
