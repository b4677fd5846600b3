<script lang="ts">
  import { areaMembers } from '$core/patch/areas.ts';
  import { nextNumber } from '$core/naming.ts';
  import { readWhole } from '$core/numbers.ts';
  import { make, type AreaRecord, type LineRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';

  /** Areas by name, and the lines units hang on with their ports. */
  const app = getApp();
  const NONE = '';
  const putArea = (area: AreaRecord, fields: Partial<AreaRecord>): boolean =>
    app.live.edit(`Area ${area.name}`, { put: [{ ...area, ...fields }], remove: [] });
  const putLine = (line: LineRecord, fields: Partial<LineRecord>): boolean =>
    app.live.edit(`Line ${line.name}`, { put: [{ ...line, ...fields }], remove: [] });
  function addArea(): void {
    const number = nextNumber(app.rig.areas);
    const area = make('area', { id: app.newId('area'), number, name: `Area ${number}` });
    app.live.edit('New area', { put: [area], remove: [] });
  }
  function addLine(): void {
    const number = nextNumber(app.rig.lines);
    const onLine = new Set(app.rig.lines.flatMap((l) => l.unitIds));
    const line = make('line', {
      id: app.newId('line'),
      number,
      name: `Line ${number}`,
      unitIds: app.selection.ids.filter((id) => !onLine.has(id)),
    });
    app.live.edit('New line', { put: [line], remove: [] });
  }
  const named = (text: string, save: (name: string) => void): string | null => {
    if (text.trim() === '' || text.length > 100) return 'Give a name of at most 100 characters.';
    save(text.trim());
    return null;
  };
  function limit(line: LineRecord, text: string): string | null {
    if (text.trim() === '') return putLine(line, { pixelLimit: null }) ? null : 'Not changed.';
    const value = readWhole(text);
    if (value === null || value < 1 || value > 100_000) return 'Give 1 to 100000 pixels, or nothing.';
    return putLine(line, { pixelLimit: value }) ? null : 'Not changed.';
  }
</script>

<header>
  <h2>Areas</h2>
  <Button onclick={addArea}><Plus size={16} /> Area</Button>
</header>
{#each app.rig.areas as area (area.id)}
  <div class="area">
    <Field
      label="Name of area {area.number}"
      hideLabel
      value={area.name}
      save={(t) => named(t, (name) => putArea(area, { name }))}
    />
    <Choice
      label="Lies in"
      hideLabel
      value={area.parentId ?? NONE}
      options={[
        { value: NONE, text: 'whole plot' },
        ...app.rig.areas.filter((a) => a.id !== area.id).map((a) => ({ value: a.id as string, text: `in ${a.name}` })),
      ]}
      choose={(id) => putArea(area, { parentId: id === NONE ? null : (id as AreaRecord['parentId']) })}
    />
    <span class="num quiet">{areaMembers(app.live.document).get(area.id)?.length ?? 0}</span>
    <Button
      kind="bare"
      aria-label="Delete {area.name}"
      onclick={() => app.remove(`Delete the area ${area.name}`, [area.id])}><X size={14} /></Button
    >
  </div>
{:else}<p class="quiet">
    Units are put into an area in their details, by the Area column, or by drawing it on the plot.
  </p>{/each}
<header>
  <h2>Lines</h2>
  <Button onclick={addLine}
    ><Plus size={16} />
    {app.selection.ids.length > 0 ? `Of ${plural(app.selection.ids.length, 'unit')}` : 'Line'}</Button
  >
</header>
{#each app.rig.lines as line (line.id)}
  <div class="line">
    <Field
      label="Name of line {line.number}"
      hideLabel
      value={line.name}
      save={(t) => named(t, (name) => putLine(line, { name }))}
    />
    <Button onclick={() => app.selection.set(line.unitIds)}>{plural(line.unitIds.length, 'unit')}</Button>
    <Button
      kind="bare"
      aria-label="Delete {line.name}"
      onclick={() => app.remove(`Delete the line ${line.name}`, [line.id])}><X size={14} /></Button
    >
    <Choice
      label="Output"
      value={line.outputId ?? NONE}
      options={[
        { value: NONE, text: 'none' },
        ...app.rig.outputs.map((o) => ({ value: o.id as string, text: o.name })),
      ]}
      choose={(id) => putLine(line, { outputId: id === NONE ? null : (id as LineRecord['outputId']) })}
    />
    <Field
      label="Port"
      value={line.port}
      save={(t) => (t.length > 20 ? 'At most 20 characters.' : (putLine(line, { port: t.trim() }), null))}
    />
    <Field label="Pixel limit" numeric value={line.pixelLimit ?? ''} placeholder="none" save={(t) => limit(line, t)} />
  </div>
{:else}<p class="quiet">A line is one cable run: its units in cable order, from a port.</p>{/each}

<style>
  header {
    display: flex;
    justify-content: space-between;
    align-items: center;
  }
  .area {
    display: grid;
    grid-template-columns: 1fr 92px 20px 30px;
    gap: 6px;
    align-items: center;
  }
  .line {
    display: grid;
    grid-template-columns: 1.7fr 1.2fr 1fr;
    gap: 6px;
    align-items: end;
    padding-bottom: 10px;
    border-bottom: 1px solid var(--line);
  }
</style>
