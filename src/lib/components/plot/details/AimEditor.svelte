<script lang="ts">
  import { anchored, headsIn } from '$core/aim/target.ts';
  import type { HeadsId, Where, AnchorId } from '$core/records/aim.ts';
  import type { AimRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveLength, saveNumber } from '$lib/state/entry.ts';
  import { freshWhere, AIM_WORDS, missesOf, moveInOrder, putAim, removeAim } from '$lib/state/plot/aim-edits.ts';
  import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Beside from '../../Beside.svelte';
  import Button from '../../Button.svelte';
  import Check from '../../Check.svelte';
  import Choice from '../../Choice.svelte';
  import Field from '../../Field.svelte';
  import NameField from '../../NameField.svelte';
  import { ORDER_WORDS } from '../../patch/orders.ts';

  let { desk, aim }: { desk: PlotDesk; aim: AimRecord } = $props();
  const app = getApp();
  const { where } = $derived(aim);
  const heads = $derived(headsIn(app.live.document, aim));
  const misses = $derived(missesOf(app, aim, heads));
  const corrections = $derived(Object.keys(aim.corrections).length);

  const put = (part: Partial<AimRecord>, does: string): string | null =>
    putAim(app, does, { ...aim, ...part }) ? null : 'Not changed.';
  const here = (part: object, does = 'Move'): string | null => put({ where: { ...where, ...part } as Where }, does);
  const length = (text: string, take: (metres: number) => string | null): string | null =>
    saveLength(text, desk.lengths, take);
  const degrees = (text: string, from: number, to: number, key: string): string | null =>
    saveNumber(text, from, to, (deg) => here({ [key]: deg }, 'Turn'));

  type Places = 'at' | 'from' | 'to';
  const PLACES = $derived.by((): readonly (readonly [Places, string])[] => {
    if (where.is === 'spread')
      return [
        ['from', 'first'],
        ['to', 'last'],
      ];
    return where.is === 'home' || where.is === 'direction' ? [] : [['at', where.is === 'ring' ? 'middle' : '']];
  });
  const placeOf = (key: Places) => (where as unknown as Record<Places, { x: number; y: number; z: number }>)[key];
  const AXES = [
    ['x', 'Across'],
    ['y', 'Deep'],
    ['z', 'Height'],
  ] as const;

  const anchors = $derived([
    { value: 'room', text: 'the room' },
    ...app.rig.things.map((t) => ({ value: t.id as string, text: t.name })),
    ...app.rig.areas.filter((a) => a.outline).map((a) => ({ value: a.id as string, text: `${a.name} (area)` })),
  ]);
  const orders: { value: AimRecord['order']; text: string }[] = [
    ...ORDER_WORDS,
    { value: 'given' as const, text: 'as they were chosen' },
  ];
  const taking = $derived(
    aim.heads === null ? 'all' : aim.heads.length === 1 && aim.heads[0]!.startsWith('group:') ? aim.heads[0]! : 'these',
  );
  const takers = $derived([
    { value: 'all', text: 'all heads' },
    ...app.rig.groups.map((g) => ({ value: g.id as string, text: g.name })),
    { value: 'these', text: taking === 'these' ? plural(heads.length, 'chosen head') : 'the selected heads' },
  ]);
  function take(value: string): void {
    if (value === 'all') return void put({ heads: null }, 'Heads of');
    if (value.startsWith('group:')) return void put({ heads: [value as HeadsId], order: 'given' }, 'Heads of');
    const ids = app.acting.filter((id) => id.startsWith('unit:')) as HeadsId[];
    if (ids.length > 0) put({ heads: ids, order: 'given' }, 'Heads of');
    else app.live.tell('note', 'Nothing is selected', 'Select the heads first, in the order in which they take part.');
  }
</script>

<NameField value={aim.name} save={(name) => put({ name }, 'Name')} />
<Beside>
  <Choice
    label="Kind"
    value={where.is}
    options={Object.entries(AIM_WORDS).map(([value, text]) => ({ value: value as Where['is'], text }))}
    choose={(is) => put({ where: freshWhere(is), corrections: {} }, 'Kind of')}
  />
  <Field label="Folder" value={aim.folder} save={(folder) => put({ folder: folder.trim() }, 'Folder of')} />
</Beside>
{#if where.is !== 'home'}
  <Choice
    label="Stands on"
    value={aim.anchor ?? 'room'}
    options={anchors}
    choose={(id) => putAim(app, 'Stand', anchored(app.live.document, aim, id === 'room' ? null : (id as AnchorId)))}
  />
{/if}
{#each PLACES as [key, words] (key)}
  <Beside columns={3}>
    {#each AXES as [axis, label] (axis)}
      <Field
        label="{label}{words ? `, ${words}` : ''}"
        numeric
        suffix={desk.unitWord}
        value={desk.shownLength(placeOf(key)[axis])}
        save={(t) => length(t, (at) => here({ [key]: { ...placeOf(key), [axis]: at } }))}
      />
    {/each}
  </Beside>
{/each}
{#if where.is === 'pair'}
  <Check label="Crossing" checked={where.crossing} change={(crossing) => here({ crossing }, 'Cross')} />
{:else if where.is === 'spread'}
  <Field
    label="Bow towards up-stage"
    numeric
    suffix={desk.unitWord}
    value={desk.shownLength(where.bowM)}
    save={(t) => length(t, (bowM) => here({ bowM }))}
  />
{:else if where.is === 'ring'}
  <Beside>
    <Field
      label="Radius"
      numeric
      suffix={desk.unitWord}
      value={desk.shownLength(where.radiusM)}
      save={(t) => saveLength(t, desk.lengths, (radiusM) => here({ radiusM }), 0)}
    />
    <Field label="First at" numeric suffix="°" value={where.fromDeg} save={(t) => degrees(t, -360, 360, 'fromDeg')} />
  </Beside>
{:else if where.is === 'direction'}
  <Beside columns={3}>
    <Field label="Turned" numeric suffix="°" value={where.turnDeg} save={(t) => degrees(t, -360, 360, 'turnDeg')} />
    <Field label="Up" numeric suffix="°" value={where.riseDeg} save={(t) => degrees(t, -90, 90, 'riseDeg')} />
    <Field label="Fanned" numeric suffix="°" value={where.fanDeg} save={(t) => degrees(t, -360, 360, 'fanDeg')} />
  </Beside>
  <p class="quiet">0° is to the audience, 90° to stage left.</p>
{/if}
<Beside>
  <Choice label="Takes part" value={taking} options={takers} choose={take} />
  <Choice label="In order" value={aim.order} options={orders} choose={(order) => put({ order }, 'Order of')} />
</Beside>
<p>
  {plural(heads.length, 'head')}{misses.length === 0 && heads.length > 0 ? ', all reach it.' : '.'}
  {#if misses.length > 0}
    <strong class="miss">
      {misses.length === heads.length ? 'None' : `${misses.length} of them do not`} reach it:
      {misses
        .slice(0, 3)
        .map(({ unit, deg }) => `${unit.number} misses by ${Math.round(deg)}°`)
        .join(', ')}{misses.length > 3 ? ' …' : ''}
    </strong>
  {/if}
</p>
{#if corrections > 0}
  <p>
    Corrected on {plural(corrections, 'head')}.
    <Button kind="bare" onclick={() => put({ corrections: {} }, 'Corrections of')}>Forget corrections</Button>
  </p>
{/if}
<div class="row">
  <Button kind="bare" onclick={() => moveInOrder(app, aim, -1)}>Earlier</Button>
  <Button kind="bare" onclick={() => moveInOrder(app, aim, 1)}>Later</Button>
  <Button kind="wrong" onclick={() => removeAim(app, aim)}>Take it away</Button>
</div>

<style>
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  p {
    margin: 0;
  }
  .miss {
    color: var(--wrong);
    font-weight: 400;
  }
</style>
