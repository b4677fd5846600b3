<script lang="ts">
  import { plainValues } from '$core/palette/resolve.ts';
  import { fractionToValue, homeFraction } from '$core/profile/layout.ts';
  import type { LitId } from '$core/ids.ts';
  import type { SceneRecord } from '$core/records/index.ts';
  import type { UnitValues } from '$core/records/scene.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { decimal } from '$lib/state/entry.ts';
  import { plural } from '$lib/state/words.ts';
  import Mark from '../Mark.svelte';
  import { columnsOf, keysIn, shownIn, whyAside, type Column } from './scene-words.ts';

  /**
   * Units down, attributes across: what is in the scene and what is not. A press on an empty field takes the attribute
   * in as it is now; on a full one it is chosen, and typed over or taken out. Heads of rows and columns do it to all.
   */
  let { scene }: { scene: SceneRecord } = $props();
  const app = getApp();
  const rows = $derived(
    app.rig.litRows([...new Set<LitId>([...(Object.keys(scene.values) as LitId[]), ...app.selection.lit])]),
  );
  const columns = $derived(columnsOf(rows.flatMap(({ layout }) => layout.programmable.map((p) => p.attribute))));
  const valuesOf = (id: LitId): UnitValues => (scene.values as Record<LitId, UnitValues>)[id] ?? {};
  const has = (row: (typeof rows)[number], column: Column): boolean =>
    row.layout.programmable.some((p) => column.attributes.includes(p.attribute));

  function put(label: string, changed: ReadonlyMap<LitId, UnitValues>): void {
    const values = { ...scene.values } as Record<LitId, UnitValues>;
    for (const [id, own] of changed) {
      if (Object.keys(own).length > 0) values[id] = own;
      else delete values[id];
    }
    app.live.edit(`${label} ${scene.name}`, { put: [{ ...scene, values }], remove: [] });
  }
  const without = (id: LitId, column: Column): UnitValues => {
    const out = new Set(keysIn(valuesOf(id), column));
    return Object.fromEntries(Object.entries(valuesOf(id)).filter(([key]) => !out.has(key)));
  };
  /** The attribute as it is at this moment, whoever sets it; at rest where that cannot be told. */
  async function take(list: readonly { row: (typeof rows)[number]; column: Column }[]): Promise<void> {
    const units = [...new Set(list.map(({ row }) => row.id))];
    const now = await app.live.preview.ask({ what: 'values', units, nowMs: app.live.now() });
    const changed = new Map<LitId, UnitValues>();
    for (const { row, column } of list) {
      const own = changed.get(row.id) ?? { ...valuesOf(row.id) };
      for (const item of row.layout.programmable) {
        if (!column.attributes.includes(item.attribute) || item.attribute in own) continue;
        const seen = now[row.id]?.[item.cells > 0 ? `${item.attribute}#1` : item.attribute];
        own[item.attribute] = seen ?? fractionToValue(item.channel, homeFraction(item));
      }
      changed.set(row.id, own);
    }
    put('Take into', changed);
  }
  function takeOut(list: readonly { row: (typeof rows)[number]; column: Column }[]): void {
    const changed = new Map<LitId, UnitValues>();
    for (const { row, column } of list) {
      const out = new Set(keysIn(changed.get(row.id) ?? valuesOf(row.id), column));
      const own = changed.get(row.id) ?? valuesOf(row.id);
      changed.set(row.id, Object.fromEntries(Object.entries(own).filter(([key]) => !out.has(key))));
    }
    put('Take out of', changed);
  }
  const isIn = (row: (typeof rows)[number], column: Column): boolean => keysIn(valuesOf(row.id), column).length > 0;
  /** All in where one is missing, else all out. */
  function toggle(list: readonly { row: (typeof rows)[number]; column: Column }[]): void {
    const able = list.filter(({ row, column }) => has(row, column));
    const missing = able.filter(({ row, column }) => !isIn(row, column));
    if (missing.length > 0) void take(missing);
    else takeOut(able);
  }

  let chosen = $state<{ id: LitId; key: string } | null>(null);
  let draft = $state('');
  let fault = $state('');
  function choose(row: (typeof rows)[number], column: Column): void {
    if (!isIn(row, column)) return void take([{ row, column }]);
    chosen = { id: row.id, key: column.key };
    const value = valuesOf(row.id)[column.attributes[0]!];
    draft = typeof value === 'number' && column.key !== 'colour' ? String(Math.round(value * 1000) / 10) : '';
    fault = '';
  }
  function save(row: (typeof rows)[number], column: Column): void {
    if (draft.trim() === '') return void (chosen = null);
    const value = decimal(draft.replace('%', ''), 0, 100);
    if (value === null) return void (fault = 'Give 0 to 100 percent.');
    put('Change', new Map([[row.id, { ...without(row.id, column), [column.attributes[0]!]: value / 100 }]]));
    chosen = null;
  }
  function keys(event: KeyboardEvent, r: number, c: number): void {
    if (event.key === 'Delete' || event.key === 'Backspace') return takeOut([{ row: rows[r]!, column: columns[c]! }]);
    const [dr, dc] = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[event.key] ?? [
      0, 0,
    ];
    if (dr === 0 && dc === 0) return;
    event.preventDefault();
    const next = (event.currentTarget as HTMLElement)
      .closest('table')!
      .querySelector<HTMLElement>(`[data-at="${r + dr!},${c + dc!}"]`);
    next?.focus();
  }
  const count = $derived(rows.reduce((sum, row) => sum + columns.filter((column) => isIn(row, column)).length, 0));
</script>

{#if rows.length === 0}
  <p class="quiet">Select units: their attributes are shown here, to be taken into the scene.</p>
{:else}
  <p class="quiet hint">
    {plural(count, 'attribute')} of {plural(rows.length, 'unit')} in the scene; empty ones stay with whatever plays below.
    Press an empty field to take it in, the head of a row or column for all of it; Delete takes out.
  </p>
  <div class="scroll">
    <table>
      <thead>
        <tr>
          <th class="unit">Unit</th>
          {#each columns as column (column.key)}
            <th
              ><button
                type="button"
                title="All {column.text} in or out"
                onclick={() => toggle(rows.map((row) => ({ row, column })))}>{column.text}</button
              ></th
            >
          {/each}
        </tr>
      </thead>
      <tbody>
        {#each rows as row, r (row.id)}
          {@const values = valuesOf(row.id)}
          {@const plain = plainValues(app.live.document, row.id, values)}
          <tr>
            <th class="unit"
              ><button
                type="button"
                title="Everything of {row.name} in or out"
                onclick={() => toggle(columns.map((column) => ({ row, column })))}
                ><span class="num quiet">{row.unit.number}</span> {row.name}</button
              ></th
            >
            {#each columns as column, c (column.key)}
              {@const shown = shownIn(values, plain, column, (id) => app.rig.referenceName(id))}
              {@const why = whyAside(row.layout, values, keysIn(values, column))}
              <td class:in={shown !== null} class:none={!has(row, column)}>
                {#if chosen?.id === row.id && chosen.key === column.key}
                  <!-- svelte-ignore a11y_autofocus -->
                  <input
                    autofocus
                    class="num"
                    bind:value={draft}
                    aria-label="{column.text} of {row.name} in percent"
                    aria-invalid={fault !== ''}
                    title={fault || 'Percent; Delete in the field takes it out'}
                    onblur={() => save(row, column)}
                    onkeydown={(e) => {
                      if (e.key === 'Enter') save(row, column);
                      else if (e.key === 'Escape') chosen = null;
                      else if (e.key === 'Delete' && draft === '') {
                        chosen = null;
                        takeOut([{ row, column }]);
                      }
                    }}
                  />
                {:else if has(row, column) || shown}
                  <button
                    type="button"
                    data-at="{r},{c}"
                    class="cell"
                    aria-label="{column.text} of {row.name}: {shown?.text ?? 'not in the scene'}"
                    title={why ? `Kept aside, not sent: ${why}` : undefined}
                    onclick={() => choose(row, column)}
                    onkeydown={(e) => keys(e, r, c)}
                  >
                    {#if why}<Mark kind="look" title="kept aside: {why}" />{/if}
                    {#if shown?.swatch}<i style:background={shown.swatch}></i>{/if}
                    {#if shown?.palette}<span class="palette">{shown.palette}</span>{:else}{shown?.text ?? ''}{/if}
                  </button>
                {/if}
              </td>
            {/each}
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  {#if fault}<p class="fault" role="alert">{fault}</p>{/if}
{/if}

<style>
  .hint {
    max-width: 78ch;
  }
  .scroll {
    overflow: auto;
    flex: 1;
    min-height: 120px;
    border: 1px solid var(--line);
    border-radius: 6px;
  }
  table {
    border-collapse: separate;
    border-spacing: 0;
  }
  th,
  td {
    border-right: 1px solid var(--line);
    border-bottom: 1px solid var(--line);
    height: 30px;
    padding: 0;
    text-align: left;
    font-weight: 400;
    background: var(--back);
  }
  thead th {
    position: sticky;
    top: 0;
    z-index: 2;
    background: var(--panel);
  }
  .unit {
    position: sticky;
    left: 0;
    z-index: 1;
    min-width: 170px;
    background: var(--panel);
  }
  thead .unit {
    z-index: 3;
    padding: 0 10px;
  }
  th button {
    width: 100%;
    min-height: 30px;
    border: 0;
    background: none;
    padding: 0 10px;
    text-align: left;
    white-space: nowrap;
  }
  th button:hover {
    background: var(--hover);
  }
  td {
    min-width: 84px;
  }
  td.in {
    background: var(--amber-wash);
  }
  td.none {
    background: var(--panel);
  }
  .cell {
    display: flex;
    gap: 6px;
    align-items: center;
    width: 100%;
    min-height: 30px;
    border: 0;
    background: none;
    padding: 0 8px;
    font-size: 12.5px;
    white-space: nowrap;
  }
  .cell:hover {
    background: var(--hover);
  }
  i {
    width: 14px;
    height: 14px;
    border-radius: 3px;
    border: 1px solid var(--line-strong);
  }
  .palette {
    padding: 0 7px;
    border: 1px solid var(--amber);
    border-radius: 9px;
  }
  input {
    width: 84px;
    height: 28px;
    border: 1px solid var(--amber);
    background: var(--panel);
    padding: 0 6px;
  }
  .fault {
    color: var(--wrong);
  }
</style>
