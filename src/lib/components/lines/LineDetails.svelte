<script lang="ts">
  import type { OutputId, UnitId } from '$core/ids.ts';
  import { CONNECTOR_WORDS, cableOf, packingList } from '$core/lines/index.ts';
  import type { LineRecord } from '$core/records/index.ts';
  import { CONNECTORS, type Cable, type Connector } from '$core/records/line.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import Button from '../Button.svelte';
  import CommentField from '../CommentField.svelte';
  import Check from '../Check.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import NameField from '../NameField.svelte';
  import { decimal, whole } from '$lib/state/entry.ts';

  /** Settings of a line, of the cable to the selected unit, and what has to be in the van for it. */
  let { line }: { line: LineRecord } = $props();
  const app = getApp();
  const put = (label: string, fields: Partial<LineRecord>): boolean =>
    app.live.edit(`${label} of ${line.name}`, { put: [{ ...line, ...fields }], remove: [] });
  const outputs = $derived([
    { value: '', text: 'none yet' },
    ...app.rig.outputs.map((o) => ({ value: o.id as string, text: o.name })),
  ]);
  const sockets = CONNECTORS.map((value) => ({ value, text: CONNECTOR_WORDS[value] }));
  const PACK_WORDS = { Cables: 'cable', Adapters: 'adapter', Terminators: 'terminator', Splitters: '', Power: '' };
  const packing = $derived(packingList(app.live.document, line.id));
  const unitId = $derived(
    app.selection.ids.length === 1 && line.unitIds.includes(app.selection.ids[0]!) ? app.selection.ids[0]! : null,
  );
  const chosen = $derived(unitId ? cableOf(line, unitId) : null);
  const setCable = (fields: Partial<Cable>, label: string): void => {
    if (unitId) put(label, { cables: { ...line.cables, [unitId]: { ...cableOf(line, unitId), ...fields } } });
  };
  const before = $derived(unitId ? line.unitIds.slice(0, line.unitIds.indexOf(unitId)) : []);
  const froms = $derived([
    { value: '', text: 'the unit before it' },
    ...before.map((id) => ({ value: id as string, text: app.rig.unit(id)?.name ?? id })),
  ]);
  function number(key: 'pixelWatts' | 'volts' | 'levelLimit', low: number, high: number, factor = 1) {
    return (text: string): string | null => {
      const value = decimal(text, low, high);
      if (value === null) return `Give ${low} to ${high}.`;
      put('Supply', { [key]: value / factor });
      return null;
    };
  }
</script>

<NameField value={line.name} save={(name) => put('Name', { name })} />
<Choice
  label="Output"
  value={line.outputId ?? ''}
  options={outputs}
  choose={(id) => put('Output', { outputId: id === '' ? null : (id as OutputId) })}
/>
<Field
  label="Port"
  value={line.port}
  placeholder="1"
  save={(t) => {
    if (t.length > 20) return 'At most 20 characters.';
    put('Port', { port: t.trim() });
    return null;
  }}
/>
<Choice
  label="What runs on it"
  value={line.medium}
  options={[
    { value: 'dmx', text: 'DMX: 32 loads, 300 m' },
    { value: 'pixels', text: 'pixel data' },
    { value: 'mains', text: 'mains circuits' },
  ]}
  choose={(medium) => put('Kind', { medium })}
/>
<Choice
  label="Socket of the port"
  value={line.connector}
  options={sockets}
  choose={(connector) => put('Socket', { connector })}
/>
{#if line.medium === 'dmx'}
  <Check
    label="A 120 ohm terminator is at each end"
    checked={line.terminated}
    change={(on) => put('Terminator', { terminated: on })}
  />
{:else if line.medium === 'pixels'}
  <Field
    label="Most pixels of the port"
    numeric
    value={line.pixelLimit ?? ''}
    placeholder="no limit"
    save={(t) => {
      const value = t.trim() === '' ? null : whole(t, 1, 100_000);
      if (t.trim() !== '' && value === null) return 'Give 1 to 100000, or nothing.';
      put('Limit', { pixelLimit: value });
      return null;
    }}
  />
  <Field label="Watts of a pixel" numeric value={line.pixelWatts} suffix="W" save={number('pixelWatts', 0.001, 100)} />
  <Field label="Voltage" numeric value={line.volts} suffix="V" save={number('volts', 3, 60)} />
  <Field
    label="Level it is limited to"
    numeric
    value={Math.round(line.levelLimit * 100)}
    suffix="%"
    save={number('levelLimit', 1, 100, 100)}
  />
  <Field
    label="Feed power in every"
    numeric
    value={line.injectEvery}
    suffix="pixels"
    save={(t) => {
      const value = whole(t, 1, 10_000);
      if (value === null) return 'Give 1 to 10000.';
      put('Feeds', { injectEvery: value });
      return null;
    }}
  />
{/if}
{#if chosen && unitId}
  <h3>Cable to {app.rig.unit(unitId)?.name}</h3>
  <Choice
    label="Socket of the unit"
    value={chosen.connector ?? ''}
    options={[{ value: '', text: 'as its profile says' }, ...sockets]}
    choose={(v) => setCable({ connector: v === '' ? null : (v as Connector) }, 'Socket')}
  />
  <Choice
    label="Comes from"
    value={chosen.from ?? ''}
    options={froms}
    choose={(v) => setCable({ from: v === '' ? null : (v as UnitId) }, 'Cable')}
  />
  <Check
    label="A splitter stands at its beginning"
    checked={chosen.splitter}
    change={(on) => setCable({ splitter: on }, 'Splitter')}
  />
{:else}
  <p class="quiet">Click a unit to set its cable: socket, where it comes from, a splitter before it.</p>
{/if}
<CommentField value={line.notes} save={(notes) => put('Comments', { notes })} />
<h3>To pack for this line</h3>
<ul>
  {#each packing as item (item.group + item.what)}
    <li><b class="num">{item.count}</b> <span>{PACK_WORDS[item.group]} {item.what}</span></li>
  {:else}<li class="quiet">nothing</li>{/each}
</ul>
<Button kind="wrong" onclick={() => app.remove(`Remove line ${line.name}`, [line.id])}
  ><Trash2 size={16} /> Remove line</Button
>

<style>
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
    font-size: 13px;
  }
  li {
    display: grid;
    grid-template-columns: 28px 1fr;
    padding: 2px 0;
  }
</style>
