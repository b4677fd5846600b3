<script lang="ts" generics="Row extends { readonly id: string }">
  import { untrack, type Snippet } from 'svelte';
  import { createVirtualizer } from '@tanstack/svelte-virtual';
  import { SheetCursor, type CellRange } from './sheet-cursor.svelte.ts';

  interface Column {
    readonly key: string;
    readonly title: string;
    readonly about?: string;
    /** Pixels; the column called `grow` takes what is left over. */
    readonly width: number;
    readonly grow?: boolean;
    readonly numeric?: boolean;
    readonly editable: boolean;
    readonly text: (row: Row) => string;
  }
  interface Props {
    label: string;
    columns: readonly Column[];
    /** Filtered and sorted by whoever owns the sheet. */
    rows: readonly Row[];
    sort: { readonly column: string; readonly descending: boolean } | null;
    sortBy: (column: string) => void;
    selected: (id: string) => boolean;
    /** `set`: these and no others; `toggle`: the one changes sides. */
    select: (ids: readonly string[], how: 'set' | 'toggle') => void;
    /** Takes the text of one cell, or (`all`) of that column in all selected rows. Returns what is wrong, or null. */
    save: (row: Row, column: string, text: string, all: boolean) => string | null;
    copy: (range: CellRange) => { readonly text: string; readonly html: string } | null;
    paste: (text: string, html: string, range: CellRange) => void;
    fill: (range: CellRange) => void;
    /** Empties cells. */
    clear: (range: CellRange) => void;
    selectAll: () => void;
    cell: Snippet<[Row, Column]>;
    empty: Snippet;
    cursor?: SheetCursor;
    /** True where a click adds a row or takes it away, for hands without a Ctrl key. */
    several?: boolean;
  }
  let {
    label,
    columns,
    rows,
    sort,
    sortBy,
    selected,
    select,
    save,
    copy,
    paste,
    fill,
    clear,
    selectAll,
    cell,
    empty,
    cursor = new SheetCursor(),
    several = false,
  }: Props = $props();

  const ROW = 32;
  const PAGE = 15;
  let editing = $state<{ id: string; key: string; text: string; fault: string | null } | null>(null);
  let viewport = $state<HTMLElement>();
  const virtual = createVirtualizer<HTMLElement, HTMLElement>({
    count: 0,
    getScrollElement: () => viewport ?? null,
    estimateSize: () => ROW,
    overscan: 5,
  });
  $effect(() => {
    const count = rows.length;
    const element = viewport;
    untrack(() =>
      $virtual.setOptions({ count, getScrollElement: () => element ?? null, estimateSize: () => ROW, overscan: 5 }),
    );
  });
  /**
   * Rows that scroll out lend their elements to those that scroll in: text changes, nothing is built. There are as many
   * as were ever drawn at once, so that no two share one.
   */
  let most = 1;
  const items = $derived.by(() => {
    const drawn = $virtual.getVirtualItems();
    most = Math.max(most, drawn.length);
    return drawn.map((item) => ({ index: item.index, start: item.start, place: item.index % most }));
  });
  $effect(() => cursor.within(rows.length, columns.length));
  const template = $derived(columns.map((c) => (c.grow ? `minmax(${c.width}px, 1fr)` : `${c.width}px`)).join(' '));
  const width = $derived(columns.reduce((sum, c) => sum + c.width, 0) + 35);
  const prefix = $derived(label.replace(/\W/g, ''));
  const cellId = (row: number, column: number): string =>
    `${prefix}-${rows[row]?.id ?? ''}-${columns[column]?.key ?? ''}`;

  function focusCell(): void {
    // Far jumps draw their rows in the next frame; only then is there a cell to go to.
    const focus = (): boolean => {
      const cell = document.getElementById(cellId(cursor.at.row, cursor.at.column));
      cell?.focus({ preventScroll: true });
      return cell !== null;
    };
    queueMicrotask(() => {
      if (!focus()) requestAnimationFrame(() => requestAnimationFrame(focus));
    });
  }
  function go(row: number, column: number, extend = false, choose = true): void {
    const to = {
      row: Math.max(0, Math.min(rows.length - 1, row)),
      column: Math.max(0, Math.min(columns.length - 1, column)),
    };
    const moved = to.row !== cursor.at.row || extend;
    cursor.go(to, extend);
    if (moved && choose) selectRange();
    show(to.row);
    focusCell();
  }
  /** Scrolls only as far as it takes to see a row; one that is seen already costs nothing. */
  function show(row: number): void {
    if (!viewport) return;
    const [top, bottom] = [row * ROW, (row + 1) * ROW];
    if (top < viewport.scrollTop) viewport.scrollTop = top;
    else if (bottom > viewport.scrollTop + viewport.clientHeight) viewport.scrollTop = bottom - viewport.clientHeight;
  }
  function selectRange(): void {
    const { top, bottom } = cursor.range;
    const ids = rows.slice(top, bottom + 1).map((r) => r.id);
    select(cursor.at.row < cursor.anchor.row ? ids.reverse() : ids, 'set');
  }
  function click(event: MouseEvent, row: number, column: number): void {
    const to = { row, column };
    const again = cursor.single && cursor.at.row === row && cursor.at.column === column;
    // A second touch of the same cell writes into it; a mouse has the double click.
    if (again && !several && (event as PointerEvent).pointerType === 'touch') return edit();
    if (event.ctrlKey || event.metaKey || several) {
      cursor.go(to, false);
      select([rows[row]!.id], 'toggle');
    } else {
      cursor.go(to, event.shiftKey);
      selectRange();
    }
    focusCell();
  }
  function edit(text?: string): void {
    const [row, column] = [rows[cursor.at.row], columns[cursor.at.column]];
    if (row && column?.editable) editing = { id: row.id, key: column.key, text: text ?? column.text(row), fault: null };
  }
  function commit(then: (() => void) | null, all = false): void {
    if (!editing) return;
    const { id, key, text } = editing;
    const [row, column] = [rows.find((r) => r.id === id), columns.find((c) => c.key === key)];
    if (!row || !column || (text === column.text(row) && !all)) editing = null;
    else {
      const fault = save(row, key, text, all);
      editing = fault === null ? null : { ...editing, fault };
    }
    if (editing !== null) return;
    // The row may stand somewhere else now that it has another value: the cursor goes with it.
    const index = rows.findIndex((r) => r.id === id);
    if (index >= 0 && index !== cursor.at.row) cursor.go({ row: index, column: cursor.at.column }, false);
    then?.();
  }
  const MOVES: Readonly<Record<string, readonly [number, number]>> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
    PageUp: [-PAGE, 0],
    PageDown: [PAGE, 0],
  };
  function key(event: KeyboardEvent): void {
    if (editing) return;
    const move = MOVES[event.key];
    const command = event.ctrlKey || event.metaKey;
    const { row, column } = cursor.at;
    if (move && !event.altKey) {
      stop(event);
      const far = command ? rows.length + columns.length : 1;
      go(row + move[0] * far, column + move[1] * far, event.shiftKey);
    } else if (event.key === 'Home' || event.key === 'End') {
      stop(event);
      const last = event.key === 'End';
      if (command) go(last ? rows.length - 1 : 0, column, event.shiftKey);
      else go(row, last ? columns.length - 1 : 0, event.shiftKey);
    } else if (event.key === 'Enter' || event.key === 'F2') {
      stop(event);
      edit();
    } else if (event.key === 'Tab' && (event.shiftKey ? column > 0 : column < columns.length - 1)) {
      stop(event);
      go(row, column + (event.shiftKey ? -1 : 1));
    } else if (event.key === ' ' && rows[row]) {
      stop(event);
      select([rows[row].id], 'toggle');
    } else if (event.key === 'Backspace' && columns[column]?.editable) {
      stop(event);
      edit('');
    } else if (event.key === 'Delete') {
      stop(event);
      clear(cursor.range);
    } else if (command && event.key.toLowerCase() === 'a') {
      stop(event);
      // All rows, in the column the cursor is in.
      cursor.go({ row: 0, column }, false);
      cursor.go({ row: rows.length - 1, column }, true);
      selectAll();
    } else if (command && event.key.toLowerCase() === 'd') {
      stop(event);
      fill(cursor.range);
    } else if (event.key.length === 1 && !command && !event.altKey && columns[column]?.editable) {
      stop(event);
      edit(event.key);
    }
  }
  function stop(event: Event): void {
    event.preventDefault();
    event.stopPropagation();
  }
  function editKey(event: KeyboardEvent): void {
    event.stopPropagation();
    if (event.key === 'Enter') {
      event.preventDefault();
      if (event.ctrlKey || event.metaKey) commit(focusCell, true);
      else commit(() => go(cursor.at.row + 1, cursor.at.column));
    } else if (event.key === 'Tab') {
      event.preventDefault();
      commit(() => go(cursor.at.row, cursor.at.column + (event.shiftKey ? -1 : 1)));
    } else if (event.key === 'Escape') {
      editing = null;
      focusCell();
    }
  }
  function clipboard(event: ClipboardEvent): void {
    if (editing || !event.clipboardData) return;
    if (event.type === 'paste') {
      event.preventDefault();
      paste(event.clipboardData.getData('text/plain'), event.clipboardData.getData('text/html'), cursor.range);
      return;
    }
    const copied = copy(cursor.range);
    if (!copied) return;
    event.preventDefault();
    event.clipboardData.setData('text/plain', copied.text);
    event.clipboardData.setData('text/html', copied.html);
  }
  const focusInput = (node: HTMLInputElement): void => {
    node.focus();
    node.setSelectionRange(node.value.length, node.value.length);
  };
</script>

<div
  class="sheet"
  role="grid"
  aria-label={label}
  aria-rowcount={rows.length + 1}
  aria-multiselectable="true"
  tabindex="-1"
  onkeydown={key}
  oncopy={clipboard}
  onpaste={clipboard}
>
  <div class="head" role="row" style:grid-template-columns={template} style:min-width="{width}px">
    {#each columns as column (column.key)}
      {@const by = sort?.column === column.key ? sort : null}
      <span role="columnheader" aria-sort={by ? (by.descending ? 'descending' : 'ascending') : 'none'}
        ><button
          type="button"
          class:numeric={column.numeric}
          title={column.about}
          tabindex="-1"
          onclick={() => sortBy(column.key)}
          >{column.title}{#if by}<span aria-hidden="true">{by.descending ? ' ▾' : ' ▴'}</span>{/if}</button
        ></span
      >
    {/each}
  </div>
  <div class="body" bind:this={viewport} style:min-width="{width}px">
    {#if rows.length === 0}{@render empty()}{/if}
    <div class="all" style:height="{$virtual.getTotalSize()}px">
      {#each items as item (item.place)}
        {@const row = rows[item.index]}
        {#if row}
          {@const marked = !cursor.single && item.index >= cursor.range.top && item.index <= cursor.range.bottom}
          {@const here = cursor.at.row === item.index ? cursor.at.column : -1}
          {@const edited = editing?.id === row.id ? editing : null}
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
              {#if edited && edited.key === column.key && editing}
                <div class="edit" role="gridcell">
                  <input
                    aria-label="{column.title} of row {item.index + 1}"
                    dir="auto"
                    class:numeric={column.numeric}
                    class:num={column.numeric}
                    aria-invalid={editing.fault !== null}
                    bind:value={editing.text}
                    onkeydown={editKey}
                    onblur={() => commit(null)}
                    use:focusInput
                  />
                  {#if editing.fault}<p role="alert">▲ {editing.fault}</p>{/if}
                </div>
              {:else}
                <div
                  id={cellId(item.index, c)}
                  class="cell"
                  class:numeric={column.numeric}
                  class:num={column.numeric}
                  class:marked={marked && c >= cursor.range.left && c <= cursor.range.right}
                  class:fixed={!column.editable}
                  class:at={here === c}
                  role="gridcell"
                  tabindex={here === c ? 0 : -1}
                  onclick={(e) => click(e, item.index, c)}
                  ondblclick={() => edit()}
                  onkeydown={() => undefined}
                >
                  {@render cell(row, column)}
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
    overflow: hidden;
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
    contain: strict;
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
    unicode-bidi: plaintext;
    user-select: none;
  }
  .fixed {
    color: var(--quiet);
  }
  .marked {
    background: var(--amber-wash);
    box-shadow: inset 0 0 0 1px var(--amber);
  }
  .cell:focus {
    outline: none;
  }
  /* The cursor is where the state says, not where an element that was lent out has the focus. */
  .sheet:focus-within .cell.at {
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
