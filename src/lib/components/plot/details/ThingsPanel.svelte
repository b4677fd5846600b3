<script lang="ts">
  import type { Axis } from '$core/plot/paper.ts';
  import type { ThingRecord } from '$core/records/index.ts';
  import { THING_SHAPES, type ThingShape } from '$core/records/thing.ts';
  import { hungOn } from '$core/room/hang.ts';
  import { HANGS } from '$core/room/thing-parts.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveLength, saveNumber } from '$lib/state/entry.ts';
  import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import {
    addModel,
    addThing,
    hangSelection,
    removeThing,
    storeThings,
    THING_WORDS,
  } from '$lib/state/plot/thing-edits.ts';
  import { takeModel } from '$lib/state/plot/model-upload.ts';
  import { plural } from '$lib/state/words.ts';
  import Beside from '../../Beside.svelte';
  import Button from '../../Button.svelte';
  import Check from '../../Check.svelte';
  import Choice from '../../Choice.svelte';
  import Field from '../../Field.svelte';
  import ImportFile from '../../ImportFile.svelte';
  import KeepOutFields from '../KeepOutFields.svelte';
  import NameField from '../../NameField.svelte';

  let { desk }: { desk: PlotDesk } = $props();
  const app = getApp();
  let shape = $state<ThingShape>('truss');
  const things = $derived([...app.rig.things].sort((a, b) => a.number - b.number));
  const chosen = $derived(things.find((t) => t.id === desk.thing));
  const hanging = $derived(chosen ? hungOn(app.live.document, chosen.id) : []);
  const toHang = $derived(chosen ? desk.chosenUnits.filter((u) => u.hungOn !== chosen.id) : []);

  let busy = $state(false);
  let fault = $state('');
  async function bringIn(file: File): Promise<void> {
    busy = true;
    fault = '';
    try {
      const { model, built } = await takeModel(file);
      addModel(app, desk, model, built.size);
      if (built.millimetres)
        app.live.tell('note', 'Its numbers were taken for millimetres', 'Give its true size in Details.');
    } catch (error) {
      fault = (error as Error).message;
    } finally {
      busy = false;
    }
  }

  function put(part: Partial<ThingRecord>, does: string): string | null {
    return chosen && storeThings(app, does, [{ ...chosen, ...part }]) ? null : 'Not changed.';
  }
  const length = (text: string, take: (metres: number) => string | null, leastM?: number): string | null =>
    saveLength(text, desk.lengths, take, leastM);
  const place = (axis: Axis, at: number): string | null =>
    put({ position: { ...chosen!.position, [axis]: at } }, 'Move');
  const turn = (axis: Axis, deg: number): string | null =>
    put({ rotation: { ...chosen!.rotation, [axis]: deg } }, 'Turn');
  const PLACES: readonly (readonly [Axis, string])[] = [
    ['x', 'Across, x'],
    ['y', 'Deep, y'],
    ['z', 'Off the floor, z'],
  ];
  const TURNS: readonly (readonly [Axis, string])[] = [
    ['z', 'Turned'],
    ['x', 'Leant'],
    ['y', 'Rolled'],
  ];
  const SIZES: readonly (readonly ['widthM' | 'depthM' | 'heightM', string])[] = [
    ['widthM', 'Width'],
    ['depthM', 'Depth'],
    ['heightM', 'Height'],
  ];
</script>

<div class="row">
  <Choice
    label="New"
    value={shape}
    options={THING_SHAPES.filter((s) => s !== 'model').map((value) => ({ value, text: THING_WORDS[value] }))}
    choose={(value) => value && (shape = value)}
  />
  <Button onclick={() => addThing(app, desk, shape)}>Put in</Button>
</div>
<ImportFile
  text={busy ? 'Reading the model…' : 'Bring in a model'}
  accept=".glb,.gltf,.obj"
  {busy}
  take={(f) => void bringIn(f)}
/>
{#if fault}<p class="fault" role="alert">{fault}</p>{/if}
{#if things.length === 0}
  <p class="quiet">Nothing stands in the room yet: booth, truss, loudspeakers, walls.</p>
{:else}
  <ul aria-label="Things">
    {#each things as thing (thing.id)}
      <li>
        <button type="button" aria-pressed={desk.thing === thing.id} onclick={() => (desk.thing = thing.id)}>
          <span class="num quiet">{thing.number}</span>
          <span class="grow">{thing.name}</span>
          <span class="quiet">{THING_WORDS[thing.shape]}</span>
        </button>
      </li>
    {/each}
  </ul>
{/if}
{#if chosen}
  {#key chosen.id}
    <NameField value={chosen.name} save={(name) => put({ name }, 'Name')} />
    <Beside columns={3}>
      {#each PLACES as [axis, label] (axis)}
        <Field
          {label}
          numeric
          suffix={desk.unitWord}
          value={desk.shownLength(chosen.position[axis])}
          save={(t) => length(t, (at) => place(axis, at))}
        />
      {/each}
      {#each SIZES as [side, label] (side)}
        <Field
          {label}
          numeric
          suffix={desk.unitWord}
          value={desk.shownLength(chosen.size[side])}
          save={(t) => length(t, (m) => put({ size: { ...chosen.size, [side]: m } }, 'Size'), 0.01)}
        />
      {/each}
      {#each TURNS as [axis, label] (axis)}
        <Field
          {label}
          numeric
          suffix="°"
          value={chosen.rotation[axis]}
          save={(t) => saveNumber(t, -360, 360, (deg) => turn(axis, deg))}
        />
      {/each}
    </Beside>
    <label class="colour">
      Colour
      <input type="color" value={chosen.colour} onchange={(e) => put({ colour: e.currentTarget.value }, 'Colour')} />
    </label>
    {#if chosen.model}
      <p class="quiet">
        From {chosen.model.file}: {chosen.model.triangles.toLocaleString()} triangles{chosen.model.of >
        chosen.model.triangles
          ? `, made simpler from ${chosen.model.of.toLocaleString()}`
          : ''}.
      </p>
    {/if}
    <KeepOutFields
      {desk}
      value={chosen.keepOut}
      over={false}
      put={(keepOut) => put({ keepOut }, 'Keep-out of') === null}
    />
    <Check label="Locked" checked={chosen.locked} change={(locked) => put({ locked }, 'Lock')} />
    {#if HANGS.has(chosen.shape)}
      <h3>Hangs on it</h3>
      <p>{hanging.length === 0 ? 'Nothing yet.' : hanging.map((u) => `${u.number} ${u.name}`).join(', ')}</p>
      <div class="row">
        <Button disabled={toHang.length === 0} onclick={() => hangSelection(app, chosen)}
          >{toHang.length === 0 ? 'Select units to hang' : `Hang ${plural(toHang.length, 'unit')} on it`}</Button
        >
        <Button disabled={!desk.chosenUnits.some((u) => u.hungOn !== null)} onclick={() => hangSelection(app, null)}
          >Take selection down</Button
        >
      </div>
    {/if}
    <Button kind="wrong" onclick={() => removeThing(app, chosen.id)}>Take it away</Button>
  {/key}
{/if}

<style>
  .row {
    display: flex;
    flex-wrap: wrap;
    align-items: end;
    gap: 8px;
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
    flex: none;
    max-height: 180px;
    overflow-y: auto;
  }
  li button {
    display: flex;
    gap: 8px;
    width: 100%;
    min-height: 32px;
    padding: 2px 6px;
    align-items: center;
    text-align: left;
    background: none;
    border: 0;
    border-radius: 4px;
    color: inherit;
    font: inherit;
  }
  li button[aria-pressed='true'] {
    box-shadow: inset 0 0 0 1px var(--amber);
  }
  .grow {
    flex: 1;
  }
  .fault {
    color: var(--wrong);
    margin: 0;
  }
  .colour {
    display: flex;
    gap: 8px;
    align-items: center;
  }
</style>
