<script lang="ts">
  import { parseNumber, readWhole } from '$core/numbers.ts';
  import { cellCount } from '$core/prop/cells.ts';
  import { sameSize } from '$core/prop/handles.ts';
  import { reshaped, SHAPES, type ShapeKind } from '$core/prop/reshape.ts';
  import { CORNERS, shapeSchema, type Shape } from '$core/records/shape.ts';
  import { canBeProp } from '$core/prop/wiring.ts';
  import { propSchema, type Prop } from '$core/records/prop.ts';
  import type { UnitRecord } from '$core/records/index.ts';
  import { formatSpan } from '$core/patch/address.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import { importCoordinates } from '$lib/state/plot/prop-files.ts';
  import { plural } from '$lib/state/words.ts';
  import Beside from '../../Beside.svelte';
  import Button from '../../Button.svelte';
  import Check from '../../Check.svelte';
  import Choice from '../../Choice.svelte';
  import Field from '../../Field.svelte';
  import ImportFile from '../../ImportFile.svelte';
  import PropParts from './PropParts.svelte';
  import PropWiring from './PropWiring.svelte';
  import { fieldOf, SHAPE_FIELDS, SHAPE_WORDS, type ShapeField } from './shape-fields.ts';

  let { desk }: { desk: PlotDesk } = $props();
  const app = getApp();
  const able = (u: UnitRecord): boolean => canBeProp(app.rig.profile(u.profileId)?.modes.find((m) => m.key === u.mode));
  /** The selected units; where only parts are selected, the props these belong to. */
  const units = $derived.by(() => {
    const ofParts = app.selection.parts.flatMap((id) => app.rig.unit(app.rig.part(id)?.unitId ?? '') ?? []);
    return (desk.chosenUnits.length > 0 ? desk.chosenUnits : [...new Set(ofParts)]).filter(able);
  });
  const first = $derived(units[0]);
  const prop = $derived(first?.prop ?? null);
  const what = $derived(units.length > 1 ? plural(units.length, 'prop') : (first?.name ?? ''));
  const count = $derived(prop ? cellCount(prop.shape) : 0);
  const spans = $derived(first ? (app.rig.patchedById.get(first.id)?.spans ?? []) : []);
  const others = $derived(app.rig.units.filter((u) => u.prop && u.id !== first?.id));

  /** An edit of all selected props: each keeps what is its own. */
  function each(does: string, change: (prop: Prop, unit: UnitRecord) => Prop): boolean {
    const put = units.flatMap((u) => (u.prop ? [{ ...u, prop: change(u.prop, u) }] : []));
    return app.live.edit(`${does} of ${what}`, { put, remove: [] });
  }
  /** A changed shape for every selected prop of that shape, when it is one that can be; else what is wrong with it. */
  function put(part: Record<string, unknown>): string | null {
    const parsed = shapeSchema.safeParse({ ...prop!.shape, ...part });
    if (!parsed.success) return parsed.error.issues[0]!.message;
    const kind = prop!.shape.shape;
    const done = each('Shape', (p) => (p.shape.shape === kind ? { ...p, shape: { ...p.shape, ...part } as Shape } : p));
    return done ? null : 'Not changed.';
  }
  function save(field: ShapeField, text: string): string | null {
    const value =
      field.kind === 'count' ? readWhole(text) : field.kind === 'length' ? desk.parse(text) : parseNumber(text);
    if (value === null) return field.kind === 'count' ? 'Give a whole number.' : 'Give a number such as 1.5.';
    return put({ [field.key]: value });
  }
  function become(): void {
    const made = units.map((u) => {
      const cells = Math.max(1, app.rig.layout(u).cells);
      const widthM = (app.rig.profile(u.profileId)?.physical.widthMm ?? 1000) / 1000;
      return { ...u, prop: propSchema.parse({ shape: { shape: 'line', count: cells, widthM } }) };
    });
    app.live.edit(`Make props of ${what}`, { put: made, remove: [] });
  }
  const cellsText = (shape: Shape): string => (shape.shape === 'icicles' ? shape.cells.join(', ') : '');
  function saveDrops(text: string): string | null {
    const cells = text
      .split(/[\s,;]+/)
      .filter(Boolean)
      .map(readWhole);
    return cells.includes(null) ? 'Give cells of each drop such as 5, 3, 7.' : put({ cells });
  }
</script>

{#if !first}
  <p class="quiet">
    {desk.chosenUnits.length === 0
      ? 'Select a unit of pixels to see and change its shape and its wiring.'
      : 'This unit has no repeated cells: only a mode of pixels can take a shape. Choose such a profile or mode first.'}
  </p>
{:else if !prop}
  <p class="quiet">{what} lies as its profile says: {plural(app.rig.layout(first).cells, 'cell')} in a row.</p>
  <Button kind="main" onclick={become}>Give it a shape of its own</Button>
{:else}
  <p>
    <b class="num">{count}</b>
    {count === 1 ? 'cell' : 'cells'}{units.length > 1 ? ` in ${first.name}` : ''}
    <span class="quiet num"
      >{spans.map(formatSpan).slice(0, 3).join(', ')}{spans.length > 3 ? ` … ${formatSpan(spans.at(-1)!)}` : ''}</span
    >
  </p>
  <Choice
    label="Shape"
    value={prop.shape.shape}
    mixed={units.some((u) => u.prop?.shape.shape !== prop.shape.shape)}
    options={SHAPES.map((value) => ({ value, text: SHAPE_WORDS[value] }))}
    choose={(kind: ShapeKind) =>
      each('Shape', (p) => (p.shape.shape === kind ? p : { ...p, shape: reshaped(p.shape, kind) }))}
  />
  <Beside>
    {#each SHAPE_FIELDS[prop.shape.shape] as field (field.key)}
      {@const value = fieldOf(prop.shape, field.key)}
      <Field
        label={field.label}
        numeric
        suffix={field.kind === 'length' ? desk.unitWord : field.suffix}
        value={field.kind === 'length' ? desk.shownLength(value) : value}
        mixed={units.some((u) => u.prop && fieldOf(u.prop.shape, field.key) !== value)}
        save={(t) => save(field, t)}
      />
    {/each}
  </Beside>
  {#if prop.shape.shape === 'ring'}
    <Check
      label="Clockwise, as it is looked at"
      checked={prop.shape.clockwise}
      change={(clockwise) => put({ clockwise })}
    />
  {:else if prop.shape.shape === 'matrix'}
    <Choice
      label="First cell"
      value={prop.shape.corner}
      options={CORNERS.map((value) => ({ value, text: value.replace('-', ', ') }))}
      choose={(corner) => put({ corner })}
    />
    <Choice
      label="The wire runs along"
      value={prop.shape.along}
      options={[
        { value: 'rows', text: 'rows' },
        { value: 'columns', text: 'columns' },
      ]}
      choose={(along) => put({ along })}
    />
    <Check
      label="Zig-zag: every second one backwards"
      checked={prop.shape.zigzag}
      change={(zigzag) => put({ zigzag })}
    />
  {:else if prop.shape.shape === 'tree'}
    <Check
      label="Zig-zag: every second string goes up"
      checked={prop.shape.zigzag}
      change={(zigzag) => put({ zigzag })}
    />
  {:else if prop.shape.shape === 'icicles'}
    <Field label="Cells of the drops, in turn" value={cellsText(prop.shape)} save={saveDrops} />
  {/if}
  {#if prop.shape.shape === 'grid'}
    <Button kind="main" onclick={() => (desk.grid = first.id)}>Open the grid</Button>
  {/if}
  {#if prop.shape.shape === 'given'}
    <ImportFile
      text="Places from CSV"
      accept=".csv,.tsv,.txt,text/csv"
      take={(file) => void importCoordinates(app, first, file)}
    />
    <p class="quiet">Columns x, y, z in metres and index, the wiring order from 1.</p>
  {/if}
  {#if others.length > 0}
    <Choice
      label="Same size as"
      value={null}
      options={others.map((u) => ({ value: u.id, text: `${u.number} ${u.name}` }))}
      choose={(id) => {
        const as = app.rig.unit(id)?.prop;
        if (as) each('Size', (p) => ({ ...p, shape: sameSize(p.shape, as.shape) }));
      }}
    />
  {/if}
  <PropWiring {desk} {units} {prop} {each} />
  {#if units.length === 1}{#key first.id}<PropParts unit={first} {prop} />{/key}{/if}
{/if}

<style>
</style>
