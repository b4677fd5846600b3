<script lang="ts">
  import { untrack } from 'svelte';
  import { createVirtualizer } from '@tanstack/svelte-virtual';
  import { columnLetters } from '$core/format/grid.ts';
  import { columnOf, SHEET_COLUMNS } from '$core/sheet/columns.ts';
  import type { PlannedRow, RowFault } from '$core/sheet/plan.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { SheetImport } from '$lib/state/patch/sheet-import.svelte.ts';
  import { plural, sentence } from '$lib/state/words.ts';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import Mark from '../Mark.svelte';

  /** What an import would do, row by row, before it does it; what it refuses is mended here. */
  let { incoming, close }: { incoming: SheetImport; close: () => void } = $props();
  const app = getApp();
  const plan = $derived(incoming.plan);
  type Show = 'all' | 'refused' | 'warned' | 'add' | 'change';
  let show = $state<Show>('all');
  const warned = $derived(plan.rows.filter((r) => r.warnings.length > 0).length);
  const rows = $derived(
    plan.rows.filter((r) => show === 'all' || (show === 'warned' ? r.warnings.length > 0 : r.does === show)),
  );
  const FILTERS = $derived<readonly (readonly [Show, string, number])[]>([
    ['all', 'All', plan.rows.length],
    ['add', 'Added', plan.counts.add],
    ['change', 'Changed', plan.counts.change],
    ['refused', 'Refused', plan.counts.refused],
    ['warned', 'Worth a look', warned],
  ]);
  const options = [
    { value: '', text: 'not taken' },
    { value: 'maker', text: 'Maker' },
    { value: 'footprint', text: 'Slots (to find the mode)' },
    ...SHEET_COLUMNS.filter((c) => c.written).map((c) => ({ value: c.key, text: c.title })),
  ];
  const sample = (index: number): string =>
    incoming.grid.rows
      .slice(incoming.headingRow + 1, incoming.headingRow + 12)
      .map((r) => r.cells[index] ?? '')
      .find((c) => c.trim() !== '') ?? '';
  const DOES: Readonly<Record<PlannedRow['does'], string>> = {
    add: 'added',
    change: 'changed',
    same: 'as it is',
    refused: 'refused',
  };
  /** The place of a fault's cell in the file: by the heading it names. */
  function columnOfFault(fault: RowFault): number {
    const byTitle = incoming.titles.findIndex((t) => t.trim().slice(0, 60) === fault.column);
    if (byTitle >= 0) return byTitle;
    const byKey = incoming.mapping.findIndex(
      (key, i) => key !== null && (columnOf(key)?.title === fault.column || columnLetters(i) === fault.column),
    );
    return byKey;
  }
  function mend(fault: RowFault, text: string): string | null {
    const column = columnOfFault(fault);
    if (column < 0) return `There is no column “${fault.column}” in the file.`;
    incoming.mend(fault.row, column, text);
    return null;
  }
  const cellText = (fault: RowFault): string =>
    incoming.grid.rows.find((r) => r.line === fault.row)?.cells[columnOfFault(fault)] ?? '';

  let viewport = $state<HTMLElement>();
  const heightOf = (row: PlannedRow | undefined): number =>
    row ? 34 + row.faults.length * 78 + Math.min(3, row.warnings.length) * 24 : 34;
  const virtual = createVirtualizer<HTMLElement, HTMLElement>({
    count: 0,
    getScrollElement: () => viewport ?? null,
    estimateSize: () => 34,
    overscan: 8,
  });
  $effect(() => {
    const list = rows;
    const element = viewport;
    untrack(() => {
      $virtual.setOptions({
        count: list.length,
        getScrollElement: () => element ?? null,
        estimateSize: (i) => heightOf(list[i]),
        getItemKey: (i) => list[i]?.row ?? i,
        overscan: 8,
      });
      $virtual.measure();
    });
  });
  function apply(): void {
    if (incoming.apply()) close();
  }
</script>

<section class="import" aria-label="Import preview">
  <header>
    <div>
      <h2>From {incoming.from}</h2>
      <p class="quiet">
        {plural(plan.counts.add, 'unit')} added, {plan.counts.change} changed, {plan.counts.same} as they are,
        <span class:wrong={plan.counts.refused > 0}>{plural(plan.counts.refused, 'row')} refused</span>. Nothing is done
        yet.
      </p>
    </div>
    {#if incoming.sheets.length > 1}
      <Choice
        label="Sheet"
        value={incoming.sheet}
        options={incoming.sheets.map((s) => ({ value: s, text: s }))}
        choose={(s) => void incoming.useSheet(s)}
      />
    {/if}
    <Button onclick={close}>Leave it</Button>
    <Button kind="main" disabled={plan.change.put.length === 0} onclick={apply}
      >Take {plural(plan.counts.add + plan.counts.change, 'row')}</Button
    >
  </header>
  {#if incoming.headingRow < 0}
    <p class="look">● No row with headings was found: say below which column is what.</p>
  {/if}
  {#if incoming.untaken.length > 0}
    <p class="look">
      ● Not taken: {incoming.untaken
        .slice(0, 6)
        .map((c) => `“${c.title.slice(0, 30)}”`)
        .join(', ')}{incoming.untaken.length > 6 ? ` and ${incoming.untaken.length - 6} more` : ''}. Say below what they
      are, or leave them.
    </p>
  {/if}
  <div class="columns" aria-label="Columns of the file">
    {#each incoming.mapping as key, i (i)}
      <div class="match" class:off={key === null}>
        <Choice
          label={incoming.titles[i]?.trim() ? incoming.titles[i]!.slice(0, 40) : `Column ${columnLetters(i)}`}
          value={key ?? ''}
          {options}
          choose={(value) => incoming.match(i, value === '' ? null : value)}
        />
        <span class="quiet sample" dir="auto">{sample(i).slice(0, 40)}</span>
      </div>
    {/each}
  </div>
  {#each incoming.unknownProfiles.slice(0, 6) as text (text)}
    <div class="unknown">
      <span class="wrong">▲ No profile “{text.slice(0, 60)}”.</span>
      <span class="quiet">Use instead:</span>
      {#each app.cells.finder.offers(text) as profile (profile.id)}
        <Button onclick={() => incoming.choose(text, profile)}>{profile.maker} {profile.model}</Button>
      {:else}<span class="quiet">nothing like it is in the Kit.</span>{/each}
    </div>
  {/each}
  <div class="filters" role="group" aria-label="Rows shown">
    {#each FILTERS as [key, text, count] (key)}
      <Button pressed={show === key} disabled={count === 0 && key !== 'all'} onclick={() => (show = key)}
        >{text} <span class="num">{count}</span></Button
      >
    {/each}
    <label class="empties"
      ><input type="checkbox" bind:checked={incoming.clearEmpty} /> empty cells take away what is there</label
    >
  </div>
  <div class="rows" bind:this={viewport} role="table" aria-label="Rows of the file" aria-rowcount={rows.length}>
    <div class="all" style:height="{$virtual.getTotalSize()}px">
      {#each $virtual.getVirtualItems() as item (rows[item.index]?.row ?? `gone ${item.index}`)}
        {@const row = rows[item.index]}
        {#if row}
          <div
            class="row {row.does}"
            role="row"
            style:transform="translateY({item.start}px)"
            style:height="{item.size}px"
          >
            <div class="line">
              <span class="num quiet" role="cell">{row.row}</span>
              <span class="does" role="cell"
                >{#if row.does === 'refused'}<Mark kind="wrong" />{:else if row.warnings.length > 0}<Mark
                    kind="look"
                  />{/if}
                {DOES[row.does]}</span
              >
              <span class="num" role="cell">{row.number}</span>
              <span class="name" role="cell" dir="auto">{row.name}</span>
              <span class="changes quiet" role="cell" dir="auto">
                {#if row.does === 'change'}{row.changes
                    .map((c) => `${columnOf(c.column)?.title}: ${c.before || 'none'} → ${c.after || 'none'}`)
                    .join('; ')}
                {:else if row.does === 'add'}{row.changes
                    .filter((c) => ['profile', 'mode', 'patch', 'universe', 'slot'].includes(c.column))
                    .map((c) => c.after)
                    .join(', ')}{/if}
              </span>
            </div>
            {#each row.faults as fault, i (i)}
              <div class="fault">
                <p class="wrong" title={fault.remedy}>▲ {fault.column}: {sentence(fault.message)}. {fault.remedy}</p>
                <div class="mend">
                  <Field
                    label="{fault.column} of row {fault.row}"
                    hideLabel
                    value={cellText(fault)}
                    save={(text) => mend(fault, text)}
                  />
                  <Button onclick={() => incoming.drop(fault.row)}>Leave the row out</Button>
                </div>
              </div>
            {/each}
            {#each row.warnings.slice(0, 3) as warning, i (i)}
              <p class="look warning" title={warning.remedy}>● {warning.column}: {warning.message}</p>
            {/each}
          </div>
        {/if}
      {/each}
    </div>
  </div>
</section>

<style>
  .import {
    display: flex;
    flex-direction: column;
    gap: 10px;
    padding: 4px 16px 10px;
    min-height: 0;
    flex: 1;
  }
  header {
    display: flex;
    gap: 10px;
    align-items: center;
  }
  header > div:first-child {
    flex: 1;
    min-width: 0;
  }
  .columns {
    display: flex;
    gap: 10px;
    overflow-x: auto;
    padding-bottom: 6px;
    flex: none;
  }
  .match {
    width: 128px;
    flex: none;
    display: grid;
    gap: 2px;
  }
  .match.off {
    opacity: 0.65;
  }
  .sample {
    font-size: 12px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .unknown,
  .filters {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
  }
  .empties {
    margin-left: auto;
  }
  .rows {
    flex: 1;
    min-height: 80px;
    overflow: auto;
    border: 1px solid var(--line);
    border-radius: var(--radius);
  }
  .all {
    position: relative;
  }
  .row {
    position: absolute;
    left: 0;
    right: 0;
    top: 0;
    padding: 6px 10px;
    border-bottom: 1px solid var(--line);
    overflow: hidden;
  }
  .row.refused {
    background: var(--wrong-wash);
  }
  .line {
    display: grid;
    grid-template-columns: 44px 92px 60px minmax(110px, 1fr) 2.4fr;
    gap: 10px;
    height: 22px;
  }
  .does {
    white-space: nowrap;
  }
  .name,
  .changes,
  .warning,
  .fault p {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .fault {
    height: 78px;
    padding-left: 54px;
    display: grid;
    gap: 4px;
    align-content: center;
  }
  .mend {
    display: grid;
    grid-template-columns: minmax(120px, 260px) auto 1fr;
    gap: 8px;
    align-items: center;
  }
  .warning {
    padding-left: 54px;
    height: 24px;
  }
  .wrong {
    color: var(--wrong);
  }
  .look {
    color: var(--look);
  }
</style>
