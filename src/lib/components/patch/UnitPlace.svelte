<script lang="ts">
  import { LENGTH_UNIT, lengthNumber, parsePlace } from '$core/plot/lengths.ts';
  import { tidy } from '$core/plot/paper.ts';
  import type { UnitRecord } from '$core/records/index.ts';
  import { axesOf } from '$core/aim/axes.ts';
  import { drawnPlainly } from '$core/room/beam-unit.ts';
  import { POINTED } from '$core/room/focus.ts';
  import { HANGS } from '$core/room/thing-parts.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveLength, saveNumber } from '$lib/state/entry.ts';
  import { aimSelection } from '$lib/state/plot/aim-hand.ts';
  import { hangSelection, lookAtSelection } from '$lib/state/plot/thing-edits.ts';
  import Beside from '../Beside.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import UnitFocus from './UnitFocus.svelte';

  /** Where units are in the room: place, turns, what they hang on, and what fixed lamps point at. */
  interface Props {
    units: readonly UnitRecord[];
    what: string;
    write: (column: string, value: string) => string | null;
  }
  let { units, what, write }: Props = $props();
  const app = getApp();
  const first = $derived(units[0]!);
  const mixed = (of: (unit: UnitRecord) => unknown): boolean => units.some((u) => of(u) !== of(units[0]!));
  const pointed = $derived(units.some((u) => POINTED.has(app.rig.profile(u.profileId)?.fixtureKind ?? 'other')));
  const heads = $derived(units.some((u) => axesOf(app.live.document, u) !== null));
  const plainly = $derived(
    units.length > 1 ? [] : drawnPlainly(app.rig.profile(first.profileId), app.rig.readers.get(first.id)),
  );
  const bearers = $derived(app.rig.things.filter((t) => HANGS.has(t.shape)));

  const turn = (axis: 'x' | 'y' | 'z', value: string): string | null =>
    saveNumber(value, -360, 360, (degrees) => {
      const put = units.map((u) => ({ ...u, rotation: { ...u.rotation, [axis]: degrees } }));
      return app.live.edit(`Turn of ${what}`, { put, remove: [] }) ? null : 'Not changed.';
    });
  const AXES = [
    ['x', 'X, stage left'],
    ['y', 'Y, up-stage'],
    ['z', 'Height'],
  ] as const;
  const lengths = $derived(app.rig.show?.lengths ?? 'metres');
  /** Places are typed in the show's unit, or with a unit of their own, and kept in metres. */
  const place3 = (axis: 'x' | 'y' | 'z', value: string): string | null =>
    saveLength(value, lengths, (metres) => write(axis, String(tidy(metres))));
  const TURNS = [
    ['z', 'Turned'],
    ['x', 'Leant'],
    ['y', 'Rolled'],
  ] as const;
  /** Three lengths with commas or spaces between: across, deep, high. */
  function aimAt(value: string): string | null {
    const target = parsePlace(value, lengths);
    if (!target) return 'Give three lengths such as 2; -1.5; 0: across, deep and high.';
    return aimSelection(app, target) ? null : 'There is no way there from where they are.';
  }
  function pointAt(value: string): string | null {
    const target = parsePlace(value, lengths);
    if (!target) return 'Give three lengths such as 2; -1.5; 0: across, deep and high.';
    return lookAtSelection(app, target) ? null : 'They look there already, or are locked.';
  }
</script>

<h3>Place</h3>
<Beside columns={3}>
  {#each AXES as [axis, label] (axis)}
    <Field
      {label}
      numeric
      suffix={LENGTH_UNIT[lengths]}
      value={lengthNumber(first.position[axis], lengths)}
      mixed={mixed((u) => u.position[axis])}
      save={(t) => place3(axis, t)}
    />
  {/each}
</Beside>
<Beside columns={3}>
  {#each TURNS as [axis, label] (axis)}
    <Field
      {label}
      numeric
      suffix="°"
      value={first.rotation[axis]}
      mixed={mixed((u) => u.rotation[axis])}
      save={(t) => turn(axis, t)}
    />
  {/each}
</Beside>
{#if bearers.length > 0}
  <Choice
    label="Hangs on"
    value={first.hungOn ?? 'nothing'}
    mixed={mixed((u) => u.hungOn)}
    options={[{ value: 'nothing', text: 'nothing' }, ...bearers.map((t) => ({ value: t.id, text: t.name }))]}
    choose={(id) => hangSelection(app, bearers.find((t) => t.id === id) ?? null)}
  />
{/if}
<Field label="{pointed ? 'Point' : 'Front'} at (across, deep, high)" value="" placeholder="0; 0; 0" save={pointAt} />
{#if heads}
  <Field label="Aim at (across, deep, high)" value="" placeholder="0; 0; 0" save={aimAt} />
{/if}
{#if pointed || heads}
  <p class="quiet">Or press and hold the spot in the room.</p>
{/if}
{#if pointed}<UnitFocus {units} {what} />{/if}
{#if plainly.length > 0}
  <p class="quiet">In the room drawn plainly, because the profile does not say it: {plainly.join(', ')}.</p>
{/if}

<style>
</style>
