<script lang="ts" generics="Row extends { readonly id: string }">
  import { untrack, type Snippet } from 'svelte';
  import { createVirtualizer } from '@tanstack/svelte-virtual';

  /** A column of the sheet. `save` makes it editable: it takes the text and returns what is wrong, or null. */
  interface Column {
    readonly key: string;
    readonly title: string;
    readonly width: string;
    readonly text: (row: Row) => string;
    readonly sort?: (a: Row, b: Row) => number;
    readonly numeric?: boolean;
    readonly save?: (row: Row, text: string) => string | null;
  }
  interface Props {
    label: string;
    columns: readonly Column[];
    rows: readonly Row[];
    selected: (id: string) => boolean;
    /** A row was clicked or reached with the keyboard. `extend` adds to the selection. */
    select: (row: Row, event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }, order: readonly Row[]) => void;
    remove?: () => void;
    cell?: Snippet<[Row, Column]>;
    empty: Snippet;
  }
  let { label, columns, rows, selected, select, remove, cell, empty }: Props = $props();

  const ROW = 32;
  let sortKey = $state<string | null>(null);
  let descending = $state(false);
  const ordered = $derived.by(() => {
    const column = columns.find((c) => c.key === sortKey);
    if (!column) return rows;
    const compare =
      column.sort ?? ((a: Row, b: Row) => column.text(a).localeCompare(column.text(b), undefined, { numeric: true }));
    const sorted = [...rows].sort(compare);
    return descending ? sorted.reverse() : sorted;
  });
  let at = $state({ row: 0, column: 0 });
  let editing = $state<{ id: string; key: string; text: string; fault: string | null } | null>(null);
  let viewport = $state<HTMLElement>();
  const virtual = createVirtualizer<HTMLElement, HTMLElement>({
    count: 0,
    getScrollElement: () => viewport ?? null,
    estimateSize: () => ROW,
    overscan: 12,
  });
  $effect(() => {
    const count = ordered.length;
    const element = viewport;
    untrack(() =>
      $virtual.setOptions({ count, getScrollElement: () => element ?? null, estimateSize: () => ROW, overscan: 12 }),
    );
  });
  const template = $derived(columns.map((c) => c.width).join(' '));
  const cellId = (row: number, column: number): string =>
    `${label.replace(/\W/g, '')}-${ordered[row]?.id ?? ''}-${columns[column]?.key}`;

  function go(
    row: number,
    column: number,
    event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean } = {
      shiftKey: false,
      ctrlKey: false,
      metaKey: false,
    },
    choose = true,
  ): void {
    const next = {
      row: Math.min(ordered.length - 1, Math.max(0, row)),
      column: Math.min(columns.length - 1, Math.max(0, column)),
    };
    const moved = next.row !== at.row;
    at = next;
    if (moved && choose && ordered[next.row]) select(ordered[next.row]!, event, ordered);
    $virtual.scrollToIndex(next.row);
    queueMicrotask(() => document.getElementById(cellId(next.row, next.column))?.focus({ preventScroll: true }));
  }
  function edit(text?: string): void {
    const [row, column] = [ordered[at.row], columns[at.column]];
    if (row && column?.save) editing = { id: row.id, key: column.key, text: text ?? column.text(row), fault: null };
  }
  function commit(then?: () => void): void {
    if (!editing) return;
    const { id, key, text } = editing;
    const [row, column] = [ordered.find((r) => r.id === id), columns.find((c) => c.key === key)];
    if (!row || !column?.save || text === column.text(row)) editing = null;
    else {
      const fault = column.save(row, text);
      editing = fault === null ? null : { ...editing, fault };
    }
    if (editing === null) {
      // The row may have moved to another place by its new value: the cursor follows it.
      const index = ordered.findIndex((r) => r.id === id);
      if (index >= 0) at = { ...at, row: index };
      (then ?? (() => go(at.row, at.column)))();
    }
  }
  const MOVES: Readonly<Record<string, readonly [number, number]>> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
    PageUp: [-15, 0],
    PageDown: [15, 0],
  };
  function key(event: KeyboardEvent): void {
    if (editing) return;
    const move = MOVES[event.key];
    if (move) {
      event.preventDefault();
      event.stopPropagation();
      go(at.row + move[0], at.column + move[1], event);
    } else if (event.key === 'Home') go(0, at.column, event);
    else if (event.key === 'End') go(ordered.length - 1, at.column, event);
    else if (event.key === 'Enter' || event.key === 'F2') {
      event.preventDefault();
      edit();
    } else if (event.key === ' ' && ordered[at.row]) {
      event.preventDefault();
      select(ordered[at.row]!, { shiftKey: false, ctrlKey: true, metaKey: false }, ordered);
    } else if (event.key === 'Delete' && remove) remove();
    else if (event.key.length === 1 && !event.ctrlKey && !event.metaKey && !event.altKey && columns[at.column]?.save) {
      event.preventDefault();
      event.stopPropagation();
      edit(event.key);
    }
  }
  function editKey(event: KeyboardEvent): void {
    if (event.key === 'Enter') commit(() => go(at.row + 1, at.column, undefined, true));
    else if (event.key === 'Tab') {
      event.preventDefault();
      commit(() => go(at.row, at.column + (event.shiftKey ? -1 : 1)));
    } else if (event.key === 'Escape') {
      editing = null;
      go(at.row, at.column);
    } else return event.stopPropagation();
    event.stopPropagation();
  }
  const focusInput = (node: HTMLInputElement): void => {
    node.focus();
    node.setSelectionRange(node.value.length, node.value.length);
  };
  function sortBy(column: Column): void {
    if (sortKey !== column.key) [sortKey, descending] = [column.key, false];
    else if (!descending) descending = true;
    else sortKey = null;
  }
</script>

<div class="sheet" role="grid" aria-label={label} aria-rowcount={ordered.length + 1} tabindex="-1" onkeydown={key}>
  <div class="head" role="row" style:grid-template-columns={template}>
    {#each columns as column (column.key)}
      <button
        type="button"
        role="columnheader"
        class:numeric={column.numeric}
        aria-sort={sortKey === column.key ? (descending ? 'descending' : 'ascending') : 'none'}
        onclick={() => sortBy(column)}
      >
        {column.title}{#if sortKey === column.key}<span aria-hidden="true">{descending ? ' ▾' : ' ▴'}</span>{/if}
      </button>
    {/each}
  </div>
  <div class="body" bind:this={viewport}>
    {#if ordered.length === 0}{@render empty()}{/if}
    <div class="all" style:height="{$virtual.getTotalSize()}px">
      {#each $virtual.getVirtualItems() as item (ordered[item.index]?.id ?? item.index)}
        {@const row = ordered[item.index]}
        {#if row}
          <div
            class="row"
            role="row"
            aria-rowindex={item.index + 2}
            aria-selected={selected(row.id)}
            class:on={selected(row.id)}
            style:transform="translateY({item.start}px)"
            style:grid-template-columns={template}
          >
            {#each columns as column, c (column.key)}
              {#if editing && editing.id === row.id && editing.key === column.key}
                <div class="edit" role="gridcell">
                  <input
                    aria-label="{column.title} of row {item.index + 1}"
                    class:numeric={column.numeric}
                    class:num={column.numeric}
                    aria-invalid={editing.fault !== null}
                    bind:value={editing.text}
                    onkeydown={editKey}
                    onblur={() => commit(() => undefined)}
                    {@attach focusInput}
                  />
                  {#if editing.fault}<p role="alert">▲ {editing.fault}</p>{/if}
                </div>
              {:else}
                <div
                  id={cellId(item.index, c)}
                  class="cell"
                  class:numeric={column.numeric}
                  class:num={column.numeric}
                  role="gridcell"
                  tabindex={at.row === item.index && at.column === c ? 0 : -1}
                  onclick={(e) => {
                    at = { row: item.index, column: c };
                    select(row, e, ordered);
                    e.currentTarget.focus({ preventScroll: true });
                  }}
                  ondblclick={() => edit()}
                  onkeydown={() => undefined}
                >
                  {#if cell}{@render cell(row, column)}{:else}{column.text(row)}{/if}
                </div>
              {/if}
            {/each}
          </div>
        {/if}
      {/each}
    </div>
  </div>
</div>

<style>
  .sheet {
    display: flex;
    flex-direction: column;
    min-height: 0;
    flex: 1;
    outline: none;
    overflow-x: auto;
  }
  .head,
  .row {
    display: grid;
  }
  .head {
    min-width: 860px;
    border-bottom: 1px solid var(--line-strong);
    padding: 0 16px 0 19px;
    scrollbar-gutter: stable;
    overflow: hidden;
    flex: none;
  }
  .head button {
    text-align: left;
    border: 0;
    background: none;
    color: var(--quiet);
    padding: 6px 8px;
    font-size: 12.5px;
    white-space: nowrap;
  }
  .head .numeric,
  .numeric {
    text-align: right;
  }
  .body {
    flex: 1;
    overflow-y: auto;
    overflow-x: hidden;
    scrollbar-gutter: stable;
    min-height: 60px;
    min-width: 860px;
    padding: 0 16px;
  }
  .all {
    position: relative;
  }
  .row {
    position: absolute;
    left: 0;
    right: 0;
    top: 0;
    height: 32px;
    border-bottom: 1px solid var(--line);
    border-left: 3px solid transparent;
  }
  .row:hover {
    background: var(--hover);
  }
  .row.on {
    background: var(--amber-wash);
    border-left-color: var(--amber);
  }
  .cell {
    padding: 6px 8px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    cursor: default;
  }
  .cell:focus {
    outline: 2px solid var(--amber);
    outline-offset: -2px;
  }
  .edit {
    position: relative;
    z-index: 3;
  }
  .edit input {
    width: 100%;
    height: 31px;
    border: 2px solid var(--amber);
    background: var(--raised);
    padding: 0 6px;
    outline: none;
  }
  .edit input[aria-invalid='true'] {
    border-color: var(--wrong);
  }
  .edit p {
    position: absolute;
    left: 0;
    top: 32px;
    width: 300px;
    padding: 6px 8px;
    background: var(--raised);
    border: 1px solid var(--wrong);
    color: var(--wrong);
    border-radius: 0 0 6px 6px;
    white-space: normal;
    text-align: left;
    font-family: var(--font);
  }
</style>
