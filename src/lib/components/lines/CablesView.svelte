<script lang="ts">
  import { lineFaults, pixelPort, resolveLine } from '$core/lines/index.ts';
  import { make } from '$core/records/index.ts';
  import { nextNumber } from '$core/naming.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LinesDesk } from '$lib/state/lines/lines-desk.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import Printer from '@lucide/svelte/icons/printer';
  import Button from '../Button.svelte';
  import Mark from '../Mark.svelte';
  import LineTail from './LineTail.svelte';

  /** Every cable run of the show; the chosen one drawn as a kite's tail, to be put in order. */
  let { desk }: { desk: LinesDesk } = $props();
  const app = getApp();
  const faults = $derived(lineFaults(app.live.document));
  const chosen = $derived(desk.line.record);
  const onLines = $derived(new Set(app.rig.lines.flatMap((l) => l.unitIds)));
  const loose = $derived(app.rig.units.filter((u) => !onLines.has(u.id)));
  function add(): void {
    const line = make('line', {
      id: app.newId('line'),
      number: nextNumber(app.rig.lines),
      name: `Line ${nextNumber(app.rig.lines)}`,
      outputId: app.rig.outputs[0]?.id ?? null,
      unitIds: app.selection.ids.filter((id) => !onLines.has(id)),
    });
    if (app.live.edit('Add a line', { put: [line], remove: [] })) desk.line.open(line.id);
  }
  const about = (id: string): string => {
    const line = app.rig.lines.find((l) => l.id === id)!;
    const output = line.outputId ? app.rig.output(line.outputId)?.name : null;
    return `${output ?? 'no output'}${line.port ? `, port ${line.port}` : ''}`;
  };
  const measure = (id: string): string => {
    const line = app.rig.lines.find((l) => l.id === id)!;
    if (line.medium === 'pixels') {
      const port = pixelPort(app.live.document, line);
      return `${plural(port.pixels, 'pixel')}, ${Math.floor(Math.min(999, port.frameRate))} frames/s`;
    }
    if (line.medium === 'mains') return plural(line.unitIds.length, 'circuit');
    const { runs } = resolveLine(app.live.document, line);
    const metres = runs.reduce((sum, r) => sum + r.lengthM, 0);
    return `${plural(line.unitIds.length, 'unit')}, ${Math.round(metres * 10) / 10} m`;
  };
</script>

<div class="all">
  <nav aria-label="Lines">
    <div class="bar">
      <Button onclick={add}><Plus size={16} /> Line</Button>
      <a class="print" href="/lines/print" target="_blank"><Printer size={16} aria-hidden="true" /> Print</a>
    </div>
    {#each app.rig.lines as line (line.id)}
      {@const own = faults.filter((f) => f.lineId === line.id)}
      <button type="button" class="line" aria-pressed={chosen?.id === line.id} onclick={() => desk.line.open(line.id)}>
        <b><span class="num">{line.number}</span> {line.name}</b>
        {#if own.length > 0}<Mark
            kind={own.some((f) => f.severe) ? 'wrong' : 'look'}
            count={own.length}
            title={own[0]!.message}
          />{/if}
        <span class="quiet">{about(line.id)}</span>
        <span class="quiet num">{measure(line.id)}</span>
      </button>
    {:else}
      <p class="quiet">No lines yet. A line is one cable run: its units in the order of the cable.</p>
    {/each}
    {#if loose.length > 0}
      <p class="quiet loose">
        {plural(loose.length, 'unit')} on no line.
        <button type="button" onclick={() => app.selection.set(loose.map((u) => u.id))}>Select them</button>
      </p>
    {/if}
  </nav>
  {#if chosen}
    {#key chosen.id}<LineTail line={chosen} />{/key}
  {/if}
</div>

<style>
  .all {
    flex: 1;
    min-height: 0;
    display: grid;
    grid-template-columns: 250px minmax(0, 1fr);
  }
  nav {
    overflow: auto;
    padding: 4px 10px 16px 16px;
    border-right: 1px solid var(--line);
    display: grid;
    gap: 4px;
    align-content: start;
  }
  .bar {
    display: flex;
    gap: 8px;
    margin-bottom: 4px;
  }
  .print {
    display: inline-flex;
    align-items: center;
    gap: 6px;
    color: var(--text);
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    padding: 4px 12px;
    text-decoration: none;
  }
  .line {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 0 8px;
    text-align: left;
    border: 1px solid transparent;
    border-radius: var(--radius);
    background: none;
    padding: 6px 8px;
  }
  .line .quiet {
    grid-column: 1 / -1;
    font-size: 12.5px;
  }
  .line:hover {
    background: var(--hover);
  }
  .line[aria-pressed='true'] {
    background: var(--amber-wash);
    box-shadow: inset 3px 0 var(--amber);
  }
  .loose button {
    border: 0;
    background: none;
    text-decoration: underline;
    padding: 4px;
    color: var(--amber-text);
  }
  @media (max-width: 760px) {
    .all {
      grid-template-columns: minmax(0, 1fr);
      overflow: auto;
    }
  }
</style>
