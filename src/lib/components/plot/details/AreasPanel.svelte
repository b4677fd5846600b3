<script lang="ts">
  import { removalOf } from '$core/rules/removal.ts';
  import type { AreaId, UnitId } from '$core/ids.ts';
  import { areaChain, areaMembers } from '$core/patch/areas.ts';
  import type { AreaRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveWhole } from '$lib/state/entry.ts';
  import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Button from '../../Button.svelte';
  import Check from '../../Check.svelte';
  import Choice from '../../Choice.svelte';
  import Field from '../../Field.svelte';
  import Slider from '../../Slider.svelte';
  import KeepOutFields from '../KeepOutFields.svelte';
  import TagMark from '../../patch/TagMark.svelte';

  let { desk }: { desk: PlotDesk } = $props();
  const app = getApp();
  const area = $derived(app.rig.areas.find((a) => a.id === desk.area));
  const tags = $derived(app.rig.show?.tags ?? []);
  /** Units of each area with those of the areas in it. */
  const inside = $derived.by(() => {
    const found = new Map<AreaId, UnitId[]>();
    for (const [own, ids] of areaMembers(app.live.document))
      for (const id of areaChain(app.live.document, own)) {
        const list = found.get(id);
        if (list) list.push(...ids);
        else found.set(id, [...ids]);
      }
    return found;
  });
  /** Areas under the one they lie in. */
  const rows = $derived.by(() => {
    const list: { area: AreaRecord; depth: number }[] = [];
    const add = (parent: AreaId | null, depth: number): void => {
      for (const a of app.rig.areas)
        if (a.parentId === parent && depth < 20) {
          list.push({ area: a, depth });
          add(a.id, depth + 1);
        }
    };
    add(null, 0);
    return list;
  });
  const NONE = '-';
  function put(part: Partial<AreaRecord>, what: string): boolean {
    return !!area && app.live.edit(`${what} of ${area.name}`, { put: [{ ...area, ...part }], remove: [] });
  }
  const level = (id: AreaId, value: number): void => void app.live.command({ do: 'area', areaId: id, level: value });
</script>

<div class="row">
  <Button kind="main" pressed={desk.tool === 'area'} onclick={() => desk.use('area')}>Draw a rectangle</Button>
  <Button pressed={desk.tool === 'outline'} onclick={() => desk.use('outline')}>Draw an outline</Button>
</div>
{#if desk.side !== 'plan'}<p class="quiet">
    Areas lie on the plan. <button class="link" type="button" onclick={() => desk.look('plan')}>Look at it</button>
  </p>{/if}
{#if desk.tool === 'area'}<p class="quiet">Press at one corner, release at the other.</p>{/if}
{#if desk.tool === 'outline'}
  <p class="quiet">
    Press corner after corner; Enter, two clicks or the first corner end it, Backspace takes one back.
  </p>
  <div class="row">
    <Button disabled={desk.corners.length < 3} onclick={() => desk.finish()}>Close it</Button>
    <Button onclick={() => desk.stepBack()}>Back</Button>
  </div>
{/if}
{#if rows.length === 0}
  <p class="quiet">No areas yet. An area has its own level, and what stands in it follows.</p>
{/if}
<ul class="rows">
  {#each rows as { area: item, depth } (item.id)}
    {@const tag = tags.find((t) => t.key === item.tag)}
    <li style:padding-left="{depth * 14}px">
      <button type="button" class:on={desk.area === item.id} onclick={() => (desk.area = item.id)}>
        <span class="num quiet">{item.number}</span>
        {#if tag}<TagMark {tag} />{/if}
        <span class="grow">{item.name}</span>
        <span class="num quiet">{(inside.get(item.id) ?? []).length}</span>
      </button>
      <Slider hideLabel label="Level of {item.name}" value={app.areaLevel(item.id)} change={(v) => level(item.id, v)} />
    </li>
  {/each}
</ul>
{#if area}
  <h3>{area.name}</h3>
  <div class="two">
    <Field
      label="Number"
      numeric
      value={area.number}
      save={(t) => saveWhole(t, 1, 99_999, (number) => (put({ number }, 'Number') ? null : 'Not changed.'))}
    />
    <Field label="Name" value={area.name} save={(t) => (put({ name: t.trim() }, 'Name') ? null : 'Give a name.')} />
  </div>
  <Choice
    label="Lies in"
    value={area.parentId ?? NONE}
    options={[
      { value: NONE, text: 'no other area' },
      ...app.rig.areas
        .filter((a) => !areaChain(app.live.document, a.id).includes(area.id))
        .map((a) => ({ value: a.id, text: a.name })),
    ]}
    choose={(id) => put({ parentId: id === NONE ? null : (id as AreaId) }, 'Place')}
  />
  <Choice
    label="Colour tag"
    value={area.tag ?? NONE}
    options={[{ value: NONE, text: 'none' }, ...tags.map((t) => ({ value: t.key, text: t.name }))]}
    choose={(tag) => put({ tag: tag === NONE ? null : tag }, 'Tag')}
  />
  {#if area.outline}
    <KeepOutFields {desk} value={area.keepOut} over put={(keepOut) => put({ keepOut }, 'Keep-out')} />
  {/if}
  <Check label="Locked: does not move" checked={area.locked} change={(locked) => put({ locked }, 'Lock')} />
  <div class="row">
    {#if area.outline}<Button onclick={() => desk.lookAt(area.outline!)}>Show it</Button>{/if}
    <Button disabled={!inside.get(area.id)} onclick={() => app.selection.set(inside.get(area.id) ?? [])}
      >Select {plural((inside.get(area.id) ?? []).length, 'unit')}</Button
    >
    <Button kind="wrong" onclick={() => app.live.edit(`Remove ${area.name}`, removalOf(app.live.document, [area.id]))}
      >Remove area</Button
    >
  </div>
{/if}

<style>
  ul {
    display: grid;
    gap: 4px;
  }
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 96px;
    gap: 8px;
    align-items: center;
  }
  .grow {
    flex: 1;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .two {
    display: grid;
    grid-template-columns: 90px 1fr;
    gap: 10px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  .link {
    border: 0;
    background: none;
    padding: 0;
    color: var(--amber-text);
    text-decoration: underline;
  }
</style>
