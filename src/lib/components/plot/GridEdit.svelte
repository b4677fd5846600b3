<script lang="ts">
  import { untrack } from 'svelte';
  import { GRID_SIDE, type GridPlace } from '$core/records/grid.ts';
  import type { UnitId } from '$core/ids.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveWhole } from '$lib/state/entry.ts';
  import { GridEditor } from '$lib/state/plot/grid-editor.svelte.ts';
  import { pictureImages } from '$lib/state/pictures/picture-images.svelte.ts';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import ImportFile from '../ImportFile.svelte';
  import Mark from '../Mark.svelte';

  let { unitId, close }: { unitId: UnitId; close: () => void } = $props();
  const app = getApp();
  const grid = new GridEditor(
    app,
    untrack(() => unitId),
  );
  const images = pictureImages(app);
  let canvas = $state<HTMLCanvasElement>();
  let box = $state<HTMLElement>();
  let field = $state<HTMLElement>();
  // An open drawing is what is typed and pasted into: nobody has to press a cell first.
  $effect(() => field?.focus({ preventScroll: true }));
  function paste(event: ClipboardEvent): void {
    const { target } = event;
    if (event.defaultPrevented || (target instanceof Element && target.closest('input, textarea, select, dialog')))
      return;
    event.preventDefault();
    grid.paste(event.clipboardData?.getData('text/plain') ?? '');
  }
  let size = $state.raw({ width: 0, height: 0 });
  let zoom = $state(1);
  let under = $state('-');
  const NONE = '-';

  /** Side of a cell on the screen: as large as fits, times the zoom. */
  const cell = $derived.by(() => {
    const fits = Math.min((size.width - 24) / grid.columns, (size.height - 24) / grid.rows);
    // Numbers can be read from 18 pixels on; a drawing of ordinary size is scrolled rather than made smaller.
    const least = grid.columns <= 80 && grid.rows <= 80 ? 18 : 3;
    return Math.max(least, Math.min(44, fits)) * zoom;
  });
  const colour = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

  $effect(() => {
    void app.theme;
    const g = canvas?.getContext('2d');
    if (!g || !canvas) return;
    const ratio = window.devicePixelRatio || 1;
    const [w, h] = [grid.columns * cell, grid.rows * cell];
    canvas.width = Math.ceil(w * ratio);
    canvas.height = Math.ceil(h * ratio);
    canvas.style.width = `${w}px`;
    canvas.style.height = `${h}px`;
    g.setTransform(ratio, 0, 0, ratio, 0, 0);
    g.clearRect(0, 0, w, h);
    const { image } = under === NONE ? { image: null } : images.of(under as never);
    if (image) {
      g.globalAlpha = 0.5;
      g.drawImage(image, 0, 0, w, h);
      g.globalAlpha = 1;
    }
    const [line, text, amber, raised] = ['--line', '--text', '--amber', '--raised'].map(colour) as [
      string,
      string,
      string,
      string,
    ];
    g.font = `${Math.min(13, cell * 0.42)}px "Atkinson Hyperlegible Mono Variable", monospace`;
    g.textAlign = 'center';
    g.textBaseline = 'middle';
    for (let row = 0; row < grid.rows; row++)
      for (let column = 0; column < grid.columns; column++) {
        const number = grid.numbers[row * grid.columns + column]!;
        const [x, y] = [column * cell, row * cell];
        if (number > 0) {
          g.fillStyle = raised;
          g.fillRect(x + 0.5, y + 0.5, cell - 1, cell - 1);
          if (cell >= 15) {
            g.fillStyle = text;
            g.fillText(String(number), x + cell / 2, y + cell / 2 + 1);
          } else {
            g.fillStyle = amber;
            g.fillRect(x + cell * 0.25, y + cell * 0.25, cell * 0.5, cell * 0.5);
          }
        }
        if (cell >= 7) {
          g.strokeStyle = line;
          g.lineWidth = 1;
          g.strokeRect(x + 0.5, y + 0.5, cell, cell);
        }
      }
    g.lineWidth = 2;
    for (const { row, column, kind } of grid.findings) {
      g.strokeStyle = colour(kind === 'wrong' ? '--wrong' : '--look');
      g.strokeRect((column - 1) * cell + 2, (row - 1) * cell + 2, cell - 4, cell - 4);
    }
    const { row, column } = grid.cursor;
    g.strokeStyle = amber;
    g.strokeRect((column - 1) * cell + 1, (row - 1) * cell + 1, cell - 1, cell - 1);
    if (grid.typed !== null && cell >= 15) {
      g.fillStyle = raised;
      g.fillRect((column - 1) * cell + 2, (row - 1) * cell + 2, cell - 4, cell - 4);
      g.fillStyle = amber;
      g.fillText(`${grid.typed}|`, (column - 0.5) * cell, (row - 0.5) * cell + 1);
    }
  });
  $effect(() => {
    const observer = new ResizeObserver(
      ([entry]) => (size = { width: entry!.contentRect.width, height: entry!.contentRect.height }),
    );
    observer.observe(box!);
    return () => observer.disconnect();
  });

  const gridPlaceOf = (event: PointerEvent): GridPlace => {
    const at = canvas!.getBoundingClientRect();
    return {
      row: Math.floor((event.clientY - at.top) / cell) + 1,
      column: Math.floor((event.clientX - at.left) / cell) + 1,
    };
  };
  /** Scrolls so that the cell under the cursor is seen. */
  function reveal(): void {
    const [x, y] = [(grid.cursor.column - 1) * cell, (grid.cursor.row - 1) * cell];
    const { scrollLeft: left, scrollTop: top, clientWidth: width, clientHeight: height } = box!;
    box!.scrollTo(Math.min(x, Math.max(left, x + cell * 2 - width)), Math.min(y, Math.max(top, y + cell * 2 - height)));
  }
  function down(event: PointerEvent): void {
    // What is pressed must not move away under the pointer.
    field!.focus({ preventScroll: true });
    const place = gridPlaceOf(event);
    if (!grid.commit()) return;
    grid.cursor = {
      row: Math.min(grid.rows, Math.max(1, place.row)),
      column: Math.min(grid.columns, Math.max(1, place.column)),
    };
    if (grid.mode === 'edit') return;
    canvas!.setPointerCapture(event.pointerId);
    grid.begin();
    grid.over(place);
  }
  const MOVES: Readonly<Record<string, readonly [number, number]>> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
    Tab: [0, 1],
    Enter: [1, 0],
  };
  function key(event: KeyboardEvent): void {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const move = event.key === 'Tab' && event.shiftKey ? ([0, -1] as const) : MOVES[event.key];
    // At the end of a row Tab leaves the grid, as everywhere.
    if (event.key === 'Tab' && (event.shiftKey ? grid.cursor.column === 1 : grid.cursor.column === grid.columns))
      return;
    if (move) {
      if (grid.commit()) grid.move(...move);
      reveal();
    } else if (/^\d$/.test(event.key)) grid.typed = (grid.typed ?? '') + event.key;
    else if (event.key === 'Backspace' && grid.typed !== null) grid.typed = grid.typed.slice(0, -1);
    else if (event.key === 'Delete' || event.key === 'Backspace') {
      grid.typed = '';
      grid.commit();
    } else if (event.key === 'Escape' && grid.typed !== null) grid.typed = null;
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
  const shown = $derived(grid.findings.slice(0, 200));
</script>

<svelte:window onpaste={paste} />

<div class="grid">
  <header>
    <Button onclick={close}>Back to the plot</Button>
    <b>{grid.unit?.name}</b>
    <span class="quiet"
      ><span class="num">{grid.reading.cells}</span> cells{grid.highest > 0 ? `, 1 to ${grid.highest}` : ''}</span
    >
    <div class="modes" role="group" aria-label="What a press does">
      <Button pressed={grid.mode === 'edit'} onclick={() => (grid.mode = 'edit')}>Type</Button>
      <Button pressed={grid.mode === 'paint'} onclick={() => (grid.mode = 'paint')}>Paint in order</Button>
      <Button pressed={grid.mode === 'clear'} onclick={() => (grid.mode = 'clear')}>Clear</Button>
    </div>
    <Field
      label="Columns"
      hideLabel
      suffix="columns"
      numeric
      value={grid.columns}
      save={(t) => saveWhole(t, 1, GRID_SIDE, (n) => grid.resize(n, grid.rows))}
    />
    <Field
      label="Rows"
      hideLabel
      suffix="rows"
      numeric
      value={grid.rows}
      save={(t) => saveWhole(t, 1, GRID_SIDE, (n) => grid.resize(grid.columns, n))}
    />
    <Button onclick={() => (zoom = Math.min(8, zoom * 1.5))} aria-label="Larger">+</Button>
    <Button onclick={() => (zoom = Math.max(1, zoom / 1.5))} aria-label="Smaller">−</Button>
    {#if app.rig.backdrops.length > 0}
      <Choice
        label="Over a picture"
        hideLabel
        value={under}
        options={[
          { value: NONE, text: 'no picture under it' },
          ...app.rig.backdrops.map((b) => ({ value: b.pictureId, text: `over ${b.name}` })),
        ]}
        choose={(id) => (under = id)}
      />
    {/if}
    <ImportFile text="From CSV" accept=".csv,.tsv,.txt,text/csv" take={(file) => void grid.file(file)} />
  </header>
  <div class="panes">
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div bind:this={box} class="box">
      <!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
      <div
        bind:this={field}
        role="application"
        tabindex="0"
        aria-label="Drawn grid of {grid.unit?.name}, row {grid.cursor.row}, column {grid.cursor.column}: {grid.at(
          grid.cursor,
        ) || 'nothing'}. Type numbers, arrows move, paste from a spreadsheet."
        onkeydown={key}
        oncopy={(e) => {
          e.preventDefault();
          e.clipboardData?.setData('text/plain', grid.text());
        }}
      >
        <canvas
          bind:this={canvas}
          onpointerdown={down}
          onpointermove={(e) => grid.stroke && grid.over(gridPlaceOf(e))}
          onpointerup={() => grid.end()}
          onpointercancel={() => (grid.stroke = null)}
        ></canvas>
      </div>
    </div>
    <aside aria-label="Findings">
      <h3>What to look at</h3>
      {#each grid.refused as fault, i (i)}
        <p class="wrong" role="alert"><Mark kind="wrong" /> {fault.path}: {fault.message}. {fault.remedy}</p>
      {/each}
      {#if grid.reading.cells === 0}
        <p class="quiet">
          Nothing drawn yet. Copy a block of your spreadsheet and paste it here (Ctrl+V): numbers are the wiring order,
          empty cells are nothing. Or choose “Paint in order” and draw.
        </p>
      {:else if grid.findings.length === 0}
        <p class="quiet">Every number from 1 to {grid.highest} stands once, each next to the one before.</p>
      {/if}
      <ul>
        {#each shown as finding, i (i)}
          <li>
            <button
              type="button"
              onclick={() => {
                grid.cursor = { row: finding.row, column: finding.column };
                field?.focus({ preventScroll: true });
                reveal();
              }}
              ><Mark kind={finding.kind} />
              {finding.text}
              <span class="quiet num">row {finding.row}, column {finding.column}</span></button
            >
          </li>
        {/each}
      </ul>
      {#if grid.findings.length > shown.length}<p class="quiet">and {grid.findings.length - shown.length} more</p>{/if}
      {#if grid.reading.missing.length > 0}
        <Button onclick={() => grid.closeUp()}>Close the gaps</Button>
      {/if}
      {#if grid.findings.length > 0}<p class="quiet">
          A number that stands twice on purpose is a twin: both cells show the same.
        </p>{/if}
    </aside>
  </div>
</div>

<style>
  .grid {
    flex: 1;
    display: flex;
    flex-direction: column;
    min-width: 0;
    min-height: 0;
  }
  header {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: center;
    padding: 8px 16px;
    border-bottom: 1px solid var(--line);
  }
  header :global(.field) {
    width: 132px;
  }
  header > b,
  header > .quiet {
    align-self: center;
  }
  .modes {
    display: flex;
    gap: 4px;
  }
  .panes {
    flex: 1;
    display: flex;
    min-height: 0;
  }
  .box {
    flex: 1;
    min-width: 0;
    overflow: auto;
    background: var(--paper);
    padding: 12px;
  }
  canvas {
    display: block;
    touch-action: none;
  }
  aside {
    width: 280px;
    flex: none;
    border-left: 1px solid var(--line);
    padding: 12px;
    overflow: auto;
    display: flex;
    flex-direction: column;
    gap: 10px;
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li button {
    width: 100%;
    min-height: 30px;
    border: 0;
    background: none;
    text-align: left;
  }
  li button:hover {
    background: var(--hover);
  }
  .wrong {
    color: var(--wrong);
  }
  @media (max-width: 760px) {
    .panes {
      flex-direction: column;
    }
    aside {
      width: auto;
      max-height: 34vh;
      border-left: 0;
      border-top: 1px solid var(--line);
    }
  }
</style>
