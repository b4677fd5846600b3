<script lang="ts">
  import type { UnitId } from '$core/ids.ts';
  import { CONNECTOR_WORDS, lineFaults, pixelPort, resolveLine, type Drop } from '$core/lines/index.ts';
  import type { LineRecord } from '$core/records/index.ts';
  import { cableOf } from '$core/lines/index.ts';
  import type { Cable } from '$core/records/line.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import ArrowDown from '@lucide/svelte/icons/arrow-down';
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import GripVertical from '@lucide/svelte/icons/grip-vertical';
  import X from '@lucide/svelte/icons/x';
  import { dragHandle, dragHandleZone, type DndEvent } from 'svelte-dnd-action';
  import Button from '../Button.svelte';
  import Mark from '../Mark.svelte';
  import { decimal } from '$lib/state/entry.ts';

  /** One line as a kite's tail: the port at the top, a bow for each unit, the cable between with its metres. */
  let { line }: { line: LineRecord } = $props();
  const app = getApp();
  const resolved = $derived(resolveLine(app.live.document, line));
  const faults = $derived(lineFaults(app.live.document).filter((f) => f.lineId === line.id));
  const port = $derived(line.medium === 'pixels' ? pixelPort(app.live.document, line) : null);

  interface Row {
    readonly id: UnitId;
    readonly drop: Drop;
    readonly atM: number;
  }
  const rows = $derived.by(() => {
    const far = new Map<UnitId, number>();
    return resolved.drops.map((drop): Row => {
      const before = drop.splitter || drop.from === null ? 0 : (far.get(drop.from) ?? 0);
      const atM = before + (drop.lengthM ?? 0);
      far.set(drop.unit.id, atM);
      return { id: drop.unit.id, drop, atM };
    });
  });
  /** While something is dragged: the rows as they lie then. */
  let dragged = $state.raw<Row[] | null>(null);
  const shown = $derived(dragged ?? rows);

  const put = (label: string, fields: Partial<LineRecord>): boolean =>
    app.live.edit(`${label} of ${line.name}`, { put: [{ ...line, ...fields }], remove: [] });
  const cable = (id: UnitId, fields: Partial<Cable>, label: string): boolean =>
    put(label, { cables: { ...line.cables, [id]: { ...cableOf(line, id), ...fields } } });
  function move(id: UnitId, by: number): void {
    const at = line.unitIds.indexOf(id);
    const to = at + by;
    if (to < 0 || to >= line.unitIds.length) return;
    const unitIds = [...line.unitIds];
    unitIds.splice(at, 1);
    unitIds.splice(to, 0, id);
    put('Order', { unitIds });
  }
  function drop(event: CustomEvent<DndEvent<Row>>): void {
    dragged = null;
    put('Order', { unitIds: event.detail.items.map((r) => r.id) });
  }
  /** Unit whose length was refused: what was typed stays in its field. */
  let wrongLength = $state<UnitId | null>(null);
  function saveLength(id: UnitId, input: HTMLInputElement): void {
    const text = input.value.trim();
    const value = text === '' ? null : decimal(text, 0, 1000);
    if (text !== '' && value === null) {
      app.live.tell(
        'error',
        `“${text.slice(0, 20)}” is no length`,
        'Give metres from 0 to 1000, such as 5.5, or nothing.',
      );
      wrongLength = id;
      return;
    }
    wrongLength = null;
    if (value !== cableOf(line, id).lengthM) cable(id, { lengthM: value }, 'Cable length');
  }
  const faultOf = (id: UnitId) => faults.find((f) => f.severe && f.unitIds.includes(id));
  const endIds = $derived(new Set(resolved.runs.flatMap((r) => r.ends)));
  const addable = $derived.by(() => {
    const taken = new Set(app.rig.lines.flatMap((l) => l.unitIds));
    return app.selection.ids.filter((id) => !taken.has(id));
  });
</script>

<div class="tail" aria-label="Line {line.name}">
  <div class="facts">
    {#if port}
      <span
        ><b class="num">{port.pixels}</b> pixels, at most <b class="num">{Math.floor(Math.min(999, port.frameRate))}</b> frames
        a second</span
      >
      <span
        ><b class="num">{Math.round(port.watts)}</b> W,
        <b class="num">{(Math.round(port.amps * 10) / 10).toFixed(1)}</b>
        A at {line.volts} V</span
      >
      <span
        >{port.injections.length === 0
          ? 'one feed is enough'
          : `feed power in again before ${port.injections
              .slice(0, 6)
              .map((i) => `${i.unitNumber} ${i.unitName}, pixel ${i.pixel}`)
              .join('; ')}${port.injections.length > 6 ? '; …' : ''}`}</span
      >
    {:else}
      {#each resolved.runs as run, i (i)}
        <span
          >{resolved.runs.length > 1 ? (i === 0 ? 'From the port: ' : `Behind splitter ${i}: `) : ''}<b class="num"
            >{run.units.length}</b
          >
          of 32 loads, <b class="num">{Math.round(run.lengthM * 10) / 10}</b> of 300 m{run.unmeasured > 0
            ? `, ${run.unmeasured} not measured`
            : ''}</span
        >
      {/each}
    {/if}
  </div>
  {#each faults as fault, i (i)}
    <p class="fault"><Mark kind={fault.severe ? 'wrong' : 'look'} /> <b>{fault.message}.</b> {fault.remedy}</p>
  {/each}
  <div class="port">
    <span class="socket" aria-hidden="true"></span>
    <b>{line.outputId ? (app.rig.output(line.outputId)?.name ?? '') : 'no output'}</b>
    <span class="quiet">{line.port ? `port ${line.port}, ` : ''}{CONNECTOR_WORDS[line.connector]}</span>
  </div>
  <ul
    use:dragHandleZone={{ items: shown as Row[], flipDurationMs: 120, dropTargetStyle: {}, type: line.id }}
    onconsider={(e) => (dragged = e.detail.items)}
    onfinalize={drop}
  >
    {#each shown as row (row.id)}
      {@const { drop: d } = row}
      {@const wrong = faultOf(row.id)}
      <li class:branch={d.run > 0} class:selected={app.selection.has(row.id)}>
        <span class="cable">
          {#if d.splitter}<span class="splitter" title="a splitter stands here">splitter</span>{/if}
          <input
            class="num"
            inputmode="decimal"
            aria-label="Metres of cable to {d.unit.name}"
            placeholder="m?"
            aria-invalid={wrongLength === row.id}
            value={d.lengthM ?? ''}
            onchange={(e) => saveLength(row.id, e.currentTarget)}
          /><span class="quiet">m</span>
          {#if d.fromConnector !== d.connector}<span class="adapter"
              >{CONNECTOR_WORDS[d.fromConnector]} to {CONNECTOR_WORDS[d.connector]}</span
            >{/if}
        </span>
        <span class="bow">
          <span use:dragHandle class="grip" aria-label="Drag {d.unit.name}"><GripVertical size={16} /></span>
          <button type="button" class="unit" onclick={() => app.selection.set([row.id])}>
            <svg viewBox="0 0 24 14" width="24" height="14" aria-hidden="true"
              ><path d="M12 7 1 1v12zM12 7l11-6v12z" /></svg
            >
            <span class="num">{d.unit.number}</span>
            {d.unit.name}
            <span class="quiet num">{app.rig.addressText(row.id)}</span>
          </button>
          {#if wrong}<Mark kind="wrong" title={wrong.message} />{/if}
          <span class="quiet num at">{Math.round(row.atM * 10) / 10} m</span>
          <Button kind="bare" aria-label="Move {d.unit.name} up" onclick={() => move(row.id, -1)}
            ><ArrowUp size={16} /></Button
          >
          <Button kind="bare" aria-label="Move {d.unit.name} down" onclick={() => move(row.id, 1)}
            ><ArrowDown size={16} /></Button
          >
          <Button
            kind="bare"
            aria-label="Take {d.unit.name} off the line"
            onclick={() => put('Take a unit', { unitIds: line.unitIds.filter((id) => id !== row.id) })}
            ><X size={16} /></Button
          >
        </span>
        {#if line.medium === 'dmx' && endIds.has(row.id)}
          <span class="end" class:there={line.terminated}>{line.terminated ? '120 ohm' : 'no terminator noted'}</span>
        {/if}
      </li>
    {/each}
  </ul>
  <p>
    <Button disabled={addable.length === 0} onclick={() => put('Add units', { unitIds: [...line.unitIds, ...addable] })}
      >Hang the selection on ({addable.length})</Button
    >
  </p>
</div>

<style>
  .tail {
    overflow: auto;
    padding: 4px 16px 24px;
    display: grid;
    gap: 8px;
    align-content: start;
  }
  .facts {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 18px;
  }
  .fault b::first-letter {
    text-transform: uppercase;
  }
  .port {
    display: flex;
    gap: 10px;
    align-items: center;
  }
  .socket {
    width: 22px;
    height: 22px;
    border: 2px solid var(--amber);
    border-radius: 5px;
    transform: rotate(45deg) scale(0.8);
    margin-left: 2px;
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0 0 0 12px;
    outline: none;
  }
  li {
    border-left: 2px solid var(--amber);
    padding-left: 12px;
    position: relative;
    max-width: 720px;
    background: var(--back);
  }
  li.branch {
    margin-left: 26px;
    border-left-style: double;
    border-left-width: 4px;
  }
  .cable {
    display: flex;
    align-items: center;
    gap: 6px;
    padding-top: 6px;
    font-size: 12.5px;
  }
  .cable input {
    width: 56px;
    text-align: right;
    border: 1px solid var(--line);
    border-radius: 4px;
    background: none;
    padding: 2px 4px;
  }
  .cable input[aria-invalid='true'] {
    border-color: var(--wrong);
  }
  .splitter {
    border: 1px solid var(--line-strong);
    border-radius: 4px;
    padding: 0 6px;
  }
  .adapter {
    color: var(--quiet);
  }
  .bow {
    display: flex;
    align-items: center;
    gap: 4px;
    margin-left: -26px;
  }
  .grip {
    display: inline-flex;
    color: var(--quiet);
    cursor: grab;
    padding: 6px 0;
    background: var(--back);
  }
  .unit {
    display: flex;
    flex: 1;
    align-items: center;
    gap: 8px;
    min-height: 34px;
    border: 0;
    background: none;
    text-align: left;
    border-radius: var(--radius);
  }
  .unit:hover {
    background: var(--hover);
  }
  .unit svg {
    fill: var(--line-strong);
  }
  .selected .unit svg {
    fill: var(--amber);
  }
  .at {
    min-width: 60px;
    text-align: right;
  }
  .end {
    display: inline-block;
    border: 1px dashed var(--look);
    border-radius: 4px;
    padding: 0 8px;
    margin: 2px 0 6px;
    font-size: 12.5px;
  }
  .end.there {
    border-style: solid;
    border-color: var(--line-strong);
    color: var(--quiet);
  }
</style>
