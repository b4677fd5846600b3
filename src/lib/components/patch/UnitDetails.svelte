<script lang="ts">
  import { dipSwitches, toAbsolute } from '$core/patch/address.ts';
  import { removalOf } from '$core/document/rules.ts';
  import type { UnitRecord } from '$core/records/index.ts';
  import { KIND_WORDS } from '$lib/state/kinds.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { editAddress, editMeasure, editName, editNumber, type Edited } from '$lib/state/unit-edits.ts';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import Mark from '../Mark.svelte';
  import DipSwitches from './DipSwitches.svelte';

  const app = getApp();
  const units = $derived(app.selection.ids.flatMap((id) => app.rig.unit(id) ?? []));
  const first = $derived(units[0]);
  const ids = $derived(units.map((u) => u.id));
  const many = $derived(units.length > 1);
  const mixed = (of: (unit: UnitRecord) => unknown): boolean => units.some((u) => of(u) !== of(units[0]!));
  const clashes = $derived(many ? [] : (app.rig.clashesById.get(first?.id ?? 'unit:none') ?? []));
  const profile = $derived(first && app.rig.profile(first.profileId));
  const sameProfile = $derived(!mixed((u) => u.profileId));
  const what = $derived(many ? `${units.length} units` : (first?.name ?? ''));
  const addressText = (u: UnitRecord): string => (u.patch ? `${u.patch.universe}.${u.patch.address}` : '');

  function carryOut(label: string, edited: Edited): string | null {
    if ('fault' in edited) return edited.fault;
    app.live.edit(label, edited.change);
    return null;
  }
  const measure = (
    label: string,
    text: string,
    limits: [number, number],
    apply: (u: UnitRecord, v: number) => Partial<UnitRecord>,
  ): string | null => carryOut(`${label} of ${what}`, editMeasure(app.live.document, ids, text, limits, apply));
  const AXES = [
    ['x', 'X, stage left'],
    ['y', 'Y, up-stage'],
    ['z', 'Height'],
  ] as const;
  function remove(): void {
    app.live.edit(`Remove ${what}`, removalOf(app.live.document, ids));
  }
  function makeGroup(): void {
    const number = Math.max(0, ...app.rig.groups.map((g) => g.number)) + 1;
    app.live.edit(`Group ${units.length} units`, {
      put: [{ kind: 'group', id: app.newId('group'), number, name: `Group ${number}`, unitIds: ids }],
      remove: [],
    });
  }
</script>

{#if !first}
  <p class="quiet">
    Nothing selected. Select units to see and change what they are, where they listen and where they hang.
  </p>
{:else}
  {#if many}<p><b>{units.length} units</b> <span class="quiet">an edit applies to all</span></p>{/if}
  {#each clashes as clash, i (i)}<p class="clash">
      <Mark kind={clash.code === 'OVERLAP' || clash.code === 'OVERRUN' ? 'wrong' : 'look'} />
      {clash.message}
    </p>{/each}
  <div class="two">
    <Field
      label={many ? 'First number' : 'Number'}
      numeric
      value={first.number}
      save={(t) => carryOut(`Number ${what}`, editNumber(app.live.document, ids, t))}
    />
    <Field
      label={many ? 'First address' : 'Address'}
      numeric
      value={addressText(first)}
      placeholder="none"
      save={(t) =>
        carryOut(
          `Address ${what}`,
          editAddress(app.live.document, ids, t, app.rig.slotsOf, (u) => app.rig.layout(u).footprint),
        )}
    />
  </div>
  <Field
    label="Name"
    value={first.name}
    mixed={mixed((u) => u.name)}
    save={(t) => carryOut(`Rename ${what}`, editName(app.live.document, ids, t))}
  />
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
      choose={(mode) => app.live.edit(`Mode of ${what}`, { put: units.map((u) => ({ ...u, mode })), remove: [] })}
    />
  {:else}
    <p class="quiet">Different profiles</p>
  {/if}
  {#if !many && first.patch}
    <dl>
      <dt>Absolute channel</dt>
      <dd class="num">
        {toAbsolute(first.patch.universe, first.patch.address, app.rig.slotsOf(first.patch.universe)) ?? '-'}
      </dd>
      <dt>Switches on</dt>
      <dd class="num">{dipSwitches(first.patch.address, profile?.addressFromZero).join(' ') || 'none'}</dd>
    </dl>
    <DipSwitches
      address={first.patch.address}
      countsFromZero={profile?.addressFromZero ?? false}
      set={(address) =>
        carryOut(
          `Address ${what}`,
          editAddress(app.live.document, ids, `${first.patch!.universe}.${address}`, app.rig.slotsOf, () => 0),
        )}
    />
  {/if}
  <h3>Place</h3>
  <div class="three">
    {#each AXES as [axis, label] (axis)}
      <Field
        {label}
        numeric
        suffix="m"
        value={first.position[axis]}
        mixed={mixed((u) => u.position[axis])}
        save={(t) => measure(label, t, [-1000, 1000], (u, v) => ({ position: { ...u.position, [axis]: v } }))}
      />
    {/each}
  </div>
  <Field
    label="Turned on the plan"
    numeric
    suffix="°"
    value={first.rotation.z}
    mixed={mixed((u) => u.rotation.z)}
    save={(t) => measure('Turn', t, [-360, 360], (u, v) => ({ rotation: { ...u.rotation, z: v } }))}
  />
  {#if app.rig.layout(first).programmable.some((p) => p.attribute === 'Pan')}
    <div class="checks">
      <label
        ><input
          type="checkbox"
          checked={first.invertPan}
          onchange={(e) =>
            app.live.edit(`Invert pan of ${what}`, {
              put: units.map((u) => ({ ...u, invertPan: e.currentTarget.checked })),
              remove: [],
            })}
        /> Invert pan</label
      >
      <label
        ><input
          type="checkbox"
          checked={first.invertTilt}
          onchange={(e) =>
            app.live.edit(`Invert tilt of ${what}`, {
              put: units.map((u) => ({ ...u, invertTilt: e.currentTarget.checked })),
              remove: [],
            })}
        /> Invert tilt</label
      >
    </div>
  {/if}
  {#if profile?.fixtureKind === 'dimmer' || first.gel}
    <div class="gel">
      <label
        >Gel <input
          type="color"
          value={first.gel ?? '#ffffff'}
          onchange={(e) =>
            app.live.edit(`Gel of ${what}`, {
              put: units.map((u) => ({ ...u, gel: e.currentTarget.value })),
              remove: [],
            })}
        /></label
      >
      {#if first.gel}<Button
          kind="bare"
          onclick={() =>
            app.live.edit(`No gel on ${what}`, { put: units.map((u) => ({ ...u, gel: null })), remove: [] })}
          >Take out</Button
        >{/if}
    </div>
  {/if}
  <Field
    label="Notes"
    multiline
    value={first.notes}
    mixed={mixed((u) => u.notes)}
    save={(notes) =>
      notes.length > 4000
        ? 'At most 4000 characters.'
        : (app.live.edit(`Notes of ${what}`, { put: units.map((u) => ({ ...u, notes })), remove: [] }), null)}
  />
  <div class="row">
    {#if many}<Button onclick={makeGroup}>Make a group</Button>{/if}
    <Button kind="wrong" onclick={remove}><Trash2 size={16} /> Remove {many ? `${units.length} units` : 'unit'}</Button>
  </div>
{/if}

<style>
  .two,
  .three {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 10px;
  }
  .three {
    grid-template-columns: 1fr 1fr 1fr;
    align-items: end;
  }
  .clash {
    color: var(--wrong);
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
  }
  .checks,
  .row,
  .gel {
    display: flex;
    gap: 12px;
    align-items: center;
    flex-wrap: wrap;
  }
  input[type='checkbox'] {
    accent-color: var(--amber);
    width: 16px;
    height: 16px;
    vertical-align: -3px;
  }
  input[type='color'] {
    width: 44px;
    height: 28px;
    padding: 0;
    border: 1px solid var(--line-strong);
    background: none;
    vertical-align: middle;
  }
</style>
