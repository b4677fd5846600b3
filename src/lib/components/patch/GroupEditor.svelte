<script lang="ts">
  import { dndzone, type DndEvent } from 'svelte-dnd-action';
  import { orderUnits } from '$core/patch/order.ts';
  import { readWhole } from '$core/numbers.ts';
  import type { UnitId } from '$core/ids.ts';
  import type { GroupRecord } from '$core/records/index.ts';
  import type { GroupRule, UnitOrder } from '$core/records/group.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import ArrowDown from '@lucide/svelte/icons/arrow-down';
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import { ORDER_WORDS } from './orders.ts';

  /** One group: its name and number, its units in their order, or the rule that gathers them. */
  let { group }: { group: GroupRecord } = $props();
  const app = getApp();
  const members = $derived(app.rig.membersOf(group.id));
  const tags = $derived(app.rig.show?.tags ?? []);
  const ANY = '';
  const STAYS = '';

  function put(label: string, fields: Partial<GroupRecord>): boolean {
    return app.live.edit(`${label} of ${group.name}`, { put: [{ ...group, ...fields }], remove: [] });
  }
  function setRule(fields: Partial<GroupRule>): boolean {
    return group.rule !== null && put('Rule', { rule: { ...group.rule, ...fields } });
  }
  function whole(text: string, low: number, high: number, save: (n: number) => void): string | null {
    const value = readWhole(text);
    if (value === null || value < low || value > high) return `Give ${low} to ${high}.`;
    save(value);
    return null;
  }
  function reorder(order: UnitOrder): void {
    const units = members.flatMap((id) => app.rig.unit(id) ?? []);
    put('Order', { unitIds: orderUnits(app.live.document, units, order).map((u) => u.id) });
  }
  function shift(index: number, by: number): void {
    const unitIds = [...group.unitIds];
    const [id] = unitIds.splice(index, 1);
    unitIds.splice(index + by, 0, id!);
    put('Order', { unitIds });
  }
  /** While a unit is dragged its list is here; the show has it when it is dropped. */
  let dragged = $state.raw<{ id: UnitId }[] | null>(null);
  const items = $derived(dragged ?? group.unitIds.map((id) => ({ id })));
  function drop(event: CustomEvent<DndEvent<{ id: UnitId }>>): void {
    dragged = null;
    put('Order', { unitIds: event.detail.items.map((i) => i.id) });
  }
</script>

<h2>{group.name}</h2>
<div class="two">
  <Field
    label="Name"
    value={group.name}
    save={(t) =>
      t.trim() === '' || t.length > 100
        ? 'Give a name of at most 100 characters.'
        : (put('Name', { name: t.trim() }), null)}
  />
  <Field
    label="Number"
    numeric
    value={group.number}
    save={(t) => whole(t, 1, 99_999, (number) => put('Number', { number }))}
  />
</div>
<Choice
  label="Colour tag"
  value={group.tag ?? ANY}
  options={[{ value: ANY, text: 'none' }, ...tags.map((t) => ({ value: t.key, text: t.name }))]}
  choose={(key) => put('Colour tag', { tag: key === ANY ? null : key })}
/>
<Field
  label="Levels at most"
  numeric
  suffix="%"
  value={Math.round(group.levelLimit * 100)}
  save={(t) => whole(t, 0, 100, (percent) => put('Limit of levels', { levelLimit: percent / 100 }))}
/>
{#if group.rule}
  {@const rule = group.rule}
  <h3>Gathers by itself</h3>
  <Choice
    label="Profile"
    value={rule.profileId ?? ANY}
    options={[
      { value: ANY, text: 'any' },
      ...app.rig.profiles.map((p) => ({ value: p.id as string, text: `${p.maker} ${p.model}` })),
    ]}
    choose={(id) => setRule({ profileId: id === ANY ? null : (id as GroupRule['profileId']) })}
  />
  <Choice
    label="Area"
    value={rule.areaId ?? ANY}
    options={[{ value: ANY, text: 'any' }, ...app.rig.areas.map((a) => ({ value: a.id as string, text: a.name }))]}
    choose={(id) => setRule({ areaId: id === ANY ? null : (id as GroupRule['areaId']) })}
  />
  <Choice
    label="Units with the colour tag"
    value={rule.tag ?? ANY}
    options={[{ value: ANY, text: 'any' }, ...tags.map((t) => ({ value: t.key, text: t.name }))]}
    choose={(key) => setRule({ tag: key === ANY ? null : key })}
  />
  <Choice label="Order" value={rule.order} options={ORDER_WORDS} choose={(order) => setRule({ order })} />
  <div class="two">
    <Field label="Every" numeric value={rule.every} save={(t) => whole(t, 1, 1000, (every) => setRule({ every }))} />
    <Field
      label="Beginning with"
      numeric
      value={rule.from}
      save={(t) => whole(t, 1, 1000, (from) => setRule({ from }))}
    />
  </div>
  <div class="row">
    <Button pressed={rule.every === 2 && rule.from === 1} onclick={() => setRule({ every: 2, from: 1 })}>Odd</Button>
    <Button pressed={rule.every === 2 && rule.from === 2} onclick={() => setRule({ every: 2, from: 2 })}>Even</Button>
    <Button pressed={rule.every === 1} onclick={() => setRule({ every: 1, from: 1 })}>All</Button>
    <Button
      onclick={() => put('List', { unitIds: [...members], rule: null })}
      title="Keeps the units it has now as a list">Make it a list</Button
    >
  </div>
  <p class="quiet">{plural(members.length, 'unit')} now; the list follows the rig.</p>
  <ol>
    {#each members.slice(0, 200) as id (id)}<li>
        <span class="num quiet">{app.rig.unit(id)?.number}</span>
        {app.rig.unit(id)?.name}
      </li>{/each}
  </ol>
{:else}
  <div class="row">
    <Button
      disabled={app.selection.ids.length === 0}
      onclick={() => put('Units', { unitIds: [...new Set([...group.unitIds, ...app.selection.ids])] })}
      >Add the selection</Button
    >
    <Choice
      label="Put in order"
      hideLabel
      value={STAYS}
      options={[{ value: STAYS, text: 'put in order …' }, ...ORDER_WORDS]}
      choose={(order) => order !== STAYS && reorder(order)}
    />
  </div>
  <ol
    use:dndzone={{
      items,
      flipDurationMs: 0,
      dropTargetStyle: {},
      dragDisabled: group.unitIds.length < 2 || group.unitIds.length > 300,
    }}
    onconsider={(e) => (dragged = e.detail.items)}
    onfinalize={drop}
    aria-label="Units of {group.name}"
  >
    {#each items as { id }, i (id)}
      <li>
        <span class="num quiet">{app.rig.unit(id)?.number}</span>
        <span class="grow">{app.rig.unit(id)?.name}</span>
        <Button kind="bare" aria-label="Up" disabled={i === 0} onclick={() => shift(i, -1)}
          ><ArrowUp size={14} /></Button
        >
        <Button kind="bare" aria-label="Down" disabled={i === items.length - 1} onclick={() => shift(i, 1)}
          ><ArrowDown size={14} /></Button
        >
        <Button
          kind="bare"
          aria-label="Take out {app.rig.unit(id)?.name}"
          onclick={() => put('Units', { unitIds: group.unitIds.filter((other) => other !== id) })}
          ><X size={14} /></Button
        >
      </li>
    {/each}
  </ol>
{/if}
<Button kind="wrong" onclick={() => app.remove(`Delete the group ${group.name}`, [group.id])}
  ><Trash2 size={16} /> Delete the group</Button
>

<style>
  .two {
    display: grid;
    grid-template-columns: 1.6fr 1fr;
    gap: 10px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
  }
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
    max-height: 340px;
    overflow: auto;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    min-height: 20px;
  }
  li {
    display: flex;
    gap: 8px;
    align-items: center;
    min-height: 30px;
    padding: 0 8px;
    border-bottom: 1px solid var(--line);
    background: var(--back);
  }
  .grow {
    flex: 1;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
