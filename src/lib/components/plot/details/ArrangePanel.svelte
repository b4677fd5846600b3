<script lang="ts">
  import { NUMBERING, type Edge } from '$core/plot/arrange.ts';
  import { evenlyBetween, sameHeight } from '$core/room/moving.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveLength, saveNumber, saveWhole } from '$lib/state/entry.ts';
  import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import type { PatternChoice } from '$lib/state/plot/plot-edits.ts';
  import { plural } from '$lib/state/words.ts';
  import Button from '../../Button.svelte';
  import Check from '../../Check.svelte';
  import Choice from '../../Choice.svelte';
  import Field from '../../Field.svelte';

  let { desk }: { desk: PlotDesk } = $props();
  const app = getApp();
  const count = $derived(app.acting.length);
  const EDGES: readonly (readonly [Edge, string])[] = [
    ['left', 'Left edges'],
    ['across', 'Middles across'],
    ['right', 'Right edges'],
    ['top', 'Upper edges'],
    ['up', 'Middles up'],
    ['bottom', 'Lower edges'],
  ];
  const KINDS = [
    { value: 'between', text: 'evenly between two points' },
    { value: 'line', text: 'in a line, second point is the next unit' },
    { value: 'rectangle', text: 'in rows and columns' },
    { value: 'circle', text: 'round a circle' },
  ] as const;
  const ORDER_WORDS = {
    forward: 'as drawn',
    backward: 'backwards',
    zigzag: 'row by row, there and back',
    middle: 'from the middle out',
  };
  const put = (part: Partial<PatternChoice>): void => {
    desk.pattern = { ...desk.pattern, ...part };
  };
  let deg = $state(15);
  let by = $state({ x: 0, y: 0 });
  /** What a turn goes about. */
  let about = $state<'middle' | 'first' | 'origin'>('middle');
  function turn(): void {
    const first = desk.chosen[0]?.at ?? null;
    desk.rotate(deg, about === 'origin' ? { x: 0, y: 0 } : about === 'first' ? first : desk.middle());
  }
  const length = (axis: 'x' | 'y', text: string): string | null =>
    saveLength(text, desk.lengths, (metres) => void (by = { ...by, [axis]: metres }));
  const PATH_HINT = 'Press corner after corner on the paper; Enter spreads the selection along them.';
</script>

<p class="quiet">
  {count === 0 ? 'Select the units first.' : `${plural(count, 'unit')}, in the order they were selected.`}
</p>
<h3>Align</h3>
<div class="grid">
  {#each EDGES as [edge, text] (edge)}
    <Button disabled={count < 2} onclick={() => desk.align(edge)}>{text}</Button>
  {/each}
</div>
<h3>Distribute and mirror</h3>
<div class="grid">
  <Button disabled={count < 3} onclick={() => desk.distribute('x')}>Evenly across</Button>
  <Button disabled={count < 3} onclick={() => desk.distribute('y')}>Evenly up</Button>
  <Button disabled={count < 1} onclick={() => desk.mirror('x')}>Mirror left-right</Button>
  <Button disabled={count < 1} onclick={() => desk.mirror('y')}>Mirror up-down</Button>
</div>
<h3>In space</h3>
<div class="grid">
  <Button
    disabled={count < 2}
    title="All as high as the one selected first"
    onclick={() => desk.store('Same height', sameHeight(desk.chosenUnits))}>Same height</Button
  >
  <Button
    disabled={count < 3}
    title="From the one selected first to the one selected last, in their order"
    onclick={() => desk.store('Evenly', evenlyBetween(desk.chosenUnits))}>Evenly, first to last</Button
  >
</div>
<h3>Turn and move</h3>
<div class="line">
  <Field label="Turn by" numeric suffix="°" value={deg} save={(t) => saveNumber(t, -360, 360, (n) => void (deg = n))} />
  <Button disabled={count === 0} onclick={turn}>Turn</Button>
</div>
<Choice
  label="about"
  value={about}
  options={[
    { value: 'middle', text: 'the middle of the selection' },
    { value: 'first', text: 'the unit selected first' },
    { value: 'origin', text: '0, 0 of the paper' },
  ]}
  choose={(a) => (about = a)}
/>
<div class="line three">
  <Field label="Right by" numeric suffix={desk.unitWord} value={desk.shownLength(by.x)} save={(t) => length('x', t)} />
  <Field label="Up by" numeric suffix={desk.unitWord} value={desk.shownLength(by.y)} save={(t) => length('y', t)} />
  <Button disabled={count === 0} onclick={() => desk.store('Move', desk.moved(by))}>Move</Button>
</div>
<h3>Spread over a pattern</h3>
<Choice label="Pattern" value={desk.pattern.kind} options={KINDS} choose={(kind) => put({ kind })} />
{#if desk.pattern.kind === 'rectangle'}
  <Field
    label="Columns"
    numeric
    value={desk.pattern.columns}
    save={(t) => saveWhole(t, 1, 1000, (columns) => put({ columns }))}
  />
{:else if desk.pattern.kind === 'circle'}
  <Field
    label="Part of the circle"
    numeric
    suffix="°"
    value={desk.pattern.sweepDeg}
    save={(t) =>
      saveNumber(t, -360, 360, (sweepDeg) => {
        if (sweepDeg === 0) return 'Give -360 to 360, not 0.';
        put({ sweepDeg });
      })}
  />
  <Check label="Fronts turn to the middle" checked={desk.pattern.face} change={(face) => put({ face })} />
{/if}
<Choice
  label="Numbered"
  value={desk.pattern.order}
  options={NUMBERING.map((value) => ({ value, text: ORDER_WORDS[value] }))}
  choose={(order) => put({ order })}
/>
<div class="row">
  <Button kind="main" disabled={count === 0} pressed={desk.tool === 'pattern'} onclick={() => desk.use('pattern')}
    >Drag it on the paper</Button
  >
  <Button disabled={count === 0} pressed={desk.tool === 'path'} onclick={() => desk.use('path')}>Along a path</Button>
</div>
{#if desk.tool === 'pattern'}<p class="quiet">
    Press at the first point, release at the second. Alt: free of the grid.
  </p>{/if}
{#if desk.tool === 'path'}
  <p class="quiet">{PATH_HINT}</p>
  <div class="row">
    <Button disabled={desk.corners.length < 2} onclick={() => desk.finish()}>Spread along it</Button>
    <Button onclick={() => desk.stepBack()}>Back</Button>
  </div>
{/if}

<style>
  .grid {
    display: grid;
    grid-template-columns: repeat(2, minmax(0, 1fr));
    gap: 6px;
  }
  .line {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 8px;
    align-items: end;
  }
  .line.three {
    grid-template-columns: 1fr 1fr auto;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
</style>
