<script lang="ts">
  import { makeId, type PartId } from '$core/ids.ts';
  import { cellCount } from '$core/prop/cells.ts';
  import { cellsText, partCells } from '$core/prop/parts.ts';
  import { naturalParts } from '$core/prop/sets.ts';
  import { removalOf } from '$core/rules/removal.ts';
  import { make, type PartRecord, type UnitRecord } from '$core/records/index.ts';
  import { partSchema } from '$core/records/part.ts';
  import type { Prop } from '$core/records/prop.ts';
  import { nextNumber } from '$core/naming.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import X from '@lucide/svelte/icons/x';
  import Beside from '../../Beside.svelte';
  import Button from '../../Button.svelte';
  import Choice from '../../Choice.svelte';
  import Field from '../../Field.svelte';

  let { unit, prop }: { unit: UnitRecord; prop: Prop } = $props();
  const app = getApp();
  const parts = $derived(app.rig.parts.filter((p) => p.unitId === unit.id));
  const count = $derived(cellCount(prop.shape));
  const ways = $derived(naturalParts(prop.shape));
  const MOST = 400;
  let name = $state('');

  function add(rows: readonly { readonly name: string; readonly cells: readonly number[] }[]): void {
    const from = nextNumber(app.rig.parts);
    const put = rows.slice(0, MOST).map((row, i) =>
      make('part', {
        id: app.newId('part'),
        unitId: unit.id,
        number: from + i,
        name: row.name,
        cells: cellsText(row.cells),
      }),
    );
    app.live.edit(`Parts of ${unit.name}`, { put, remove: [] });
  }
  function addOwn(text: string): string | null {
    const fields = {
      kind: 'part',
      id: makeId('part', () => 0.5),
      unitId: unit.id,
      number: 1,
      name: name || 'Part',
      cells: text.trim(),
    };
    const parsed = partSchema.safeParse(fields);
    if (!parsed.success) return `Give cells such as 1-12, 20.`;
    const cells = partCells(parsed.data);
    const beyond = cells.find((c) => c > count);
    if (beyond !== undefined) return `There is no cell ${beyond}: ${unit.name} has ${count}.`;
    add([{ name: name.trim() || `Part ${nextNumber(app.rig.parts)}`, cells }]);
    name = '';
    return null;
  }
  function cellsOf(part: PartRecord, text: string): string | null {
    const parsed = partSchema.shape.cells.safeParse(text.trim());
    if (!parsed.success) return 'Give cells such as 1-12, 20.';
    return app.live.edit(`Cells of ${part.name}`, { put: [{ ...part, cells: text.trim() }], remove: [] })
      ? null
      : 'Not changed.';
  }
  const pick = (id: PartId, event: MouseEvent): void => app.selection.pickPart(id, event);
</script>

<h3>Parts</h3>
{#if parts.length === 0}<p class="quiet">A part such as “left wing” is selected and lit like a unit.</p>{/if}
<ul>
  {#each parts as part (part.id)}
    <li>
      <button
        type="button"
        class:on={app.selection.hasPart(part.id)}
        aria-pressed={app.selection.hasPart(part.id)}
        onclick={(e) => pick(part.id, e)}>{part.name} <span class="num quiet">{partCells(part).length}</span></button
      >
      <Field label="Cells of {part.name}" hideLabel value={part.cells} save={(t) => cellsOf(part, t)} />
      <Button
        kind="bare"
        aria-label="Remove {part.name}"
        onclick={() => app.live.edit(`Remove ${part.name}`, removalOf(app.live.document, [part.id]))}
        ><X size={14} /></Button
      >
    </li>
  {/each}
</ul>
<Beside>
  <Field label="Name of a new part" value={name} save={(t) => ((name = t), null)} />
  <Field label="Its cells" placeholder="1-12, 20" value="" save={addOwn} />
</Beside>
<Choice
  label="Parts it falls into"
  value={null}
  options={[...ways].map(([word, list]) => ({ value: word, text: `${word}: ${plural(list.length, 'part')}` }))}
  choose={(word) => add(ways.get(word) ?? [])}
/>

<style>
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
    display: grid;
    gap: 4px;
    flex: none;
    max-height: 260px;
    overflow: auto;
  }
  li {
    display: grid;
    grid-template-columns: minmax(0, 1.1fr) minmax(0, 1fr) auto;
    gap: 6px;
    align-items: center;
  }
  li > button:first-child {
    min-height: 30px;
    border: 0;
    border-left: 3px solid transparent;
    background: none;
    text-align: left;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .on {
    background: var(--amber-wash) !important;
    border-left-color: var(--amber) !important;
  }
</style>
