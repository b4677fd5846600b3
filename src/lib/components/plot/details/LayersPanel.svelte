<script lang="ts">
  import { PAPER_AXES } from '$core/plot/paper.ts';
  import type { FixtureKind } from '$core/records/profile.ts';
  import type { ThingShape } from '$core/records/thing.ts';
  import { THING_WORDS } from '$lib/state/plot/thing-edits.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveLength } from '$lib/state/entry.ts';
  import { KIND_WORDS } from '$lib/state/kinds.ts';
  import { GRID_STEPS, LABELS, SIDES, type PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import Eye from '@lucide/svelte/icons/eye';
  import EyeOff from '@lucide/svelte/icons/eye-off';
  import Lock from '@lucide/svelte/icons/lock';
  import LockOpen from '@lucide/svelte/icons/lock-open';
  import Download from '@lucide/svelte/icons/download';
  import Printer from '@lucide/svelte/icons/printer';
  import X from '@lucide/svelte/icons/x';
  import { addPlotGuide } from '$lib/state/plot/plot-edits.ts';
  import { exportPlot } from '$lib/state/plot/plot-export.ts';
  import Beside from '../../Beside.svelte';
  import Button from '../../Button.svelte';
  import Check from '../../Check.svelte';
  import Choice from '../../Choice.svelte';
  import Field from '../../Field.svelte';

  let { desk }: { desk: PlotDesk } = $props();
  const app = getApp();
  const show = $derived(app.rig.show);
  const kinds = $derived.by(() => {
    const counts = new Map<FixtureKind, number>();
    for (const unit of app.rig.units) counts.set(desk.kindOf(unit), (counts.get(desk.kindOf(unit)) ?? 0) + 1);
    return [...counts].sort((a, b) => KIND_WORDS[a[0]].localeCompare(KIND_WORDS[b[0]]));
  });
  const shapes = $derived.by(() => {
    const counts = new Map<ThingShape, number>();
    for (const { shape } of app.rig.things) counts.set(shape, (counts.get(shape) ?? 0) + 1);
    return [...counts].sort((a, b) => THING_WORDS[a[0]].localeCompare(THING_WORDS[b[0]]));
  });
  const LABEL_WORDS = { number: 'Number', name: 'Name', address: 'Address', level: 'Level' };
  const AXIS_WORDS = { x: 'across', y: 'deep', z: 'high' };
  const guides = $derived(
    (show?.guides ?? []).flatMap((guide, i) => (PAPER_AXES[desk.side].includes(guide.axis) ? [{ ...guide, i }] : [])),
  );
  function dropGuide(i: number): void {
    if (show)
      app.live.edit('Remove a guide', {
        put: [{ ...show, guides: show.guides.filter((_, k) => k !== i) }],
        remove: [],
      });
  }
  function addGuide(which: 0 | 1, text: string): string | null {
    return saveLength(text, desk.lengths, (at) =>
      addPlotGuide(app, { axis: PAPER_AXES[desk.side][which], at }) ? null : 'Not added.',
    );
  }
  function openHere(): void {
    const box = desk.seenNow();
    if (!show || !box) return;
    const paperViews = { ...show.paperViews, [desk.side]: box };
    if (app.live.edit('First view', { put: [{ ...show, paperViews }], remove: [] }))
      app.live.tell('note', 'This paper opens like this from now on');
  }
  function openWhole(): void {
    if (!show) return;
    const { [desk.side]: _, ...paperViews } = show.paperViews;
    app.live.edit('First view', { put: [{ ...show, paperViews }], remove: [] });
  }
  const lockedUnits = $derived(desk.chosenUnits.length > 0 && desk.chosenUnits.every((u) => u.locked));
  function lock(locked: boolean): void {
    const put = desk.chosenUnits.map((u) => ({ ...u, locked }));
    app.live.edit(locked ? 'Lock units' : 'Unlock units', { put, remove: [] });
  }
</script>

{#snippet layer(called: string, count: number, hidden: boolean, locked: boolean, hide: () => void, hold: () => void)}
  <li>
    <span class="grow">{called} <span class="num quiet">{count}</span></span>
    <Button kind="bare" pressed={hidden} aria-label="Hide {called}" onclick={hide}
      >{#if hidden}<EyeOff size={16} /> hidden{:else}<Eye size={16} /> shown{/if}</Button
    >
    <Button kind="bare" pressed={locked} aria-label="Lock {called}" onclick={hold}
      >{#if locked}<Lock size={16} /> locked{:else}<LockOpen size={16} /> free{/if}</Button
    >
  </li>
{/snippet}
<h3>Kinds</h3>
<ul>
  {#each kinds as [kind, count] (kind)}
    {@render layer(
      KIND_WORDS[kind],
      count,
      desk.set.hidden.includes(kind),
      desk.set.locked.includes(kind),
      () => desk.toggle('hidden', kind),
      () => desk.toggle('locked', kind),
    )}
  {/each}
</ul>
{#if shapes.length > 0}
  <h3>Things</h3>
  <ul>
    {#each shapes as [shape, count] (shape)}
      {@render layer(
        THING_WORDS[shape],
        count,
        desk.set.hiddenThings.includes(shape),
        desk.set.lockedThings.includes(shape),
        () => desk.toggle('hiddenThings', shape),
        () => desk.toggle('lockedThings', shape),
      )}
    {/each}
  </ul>
{/if}
<Check
  label="Selected units are locked in their place"
  checked={lockedUnits}
  change={(locked) => desk.chosenUnits.length > 0 && lock(locked)}
/>
<h3>Labels</h3>
<div class="row">
  {#each LABELS as label (label)}
    <Button pressed={desk.set.labels.includes(label)} onclick={() => desk.toggle('labels', label)}
      >{LABEL_WORDS[label]}</Button
    >
  {/each}
</div>
<h3>Paper</h3>
<Choice
  label="Grid"
  value={String(desk.set.gridM)}
  options={GRID_STEPS.map((m) => ({ value: String(m), text: m === 0 ? 'none' : desk.text(m) }))}
  choose={(m) => desk.change({ gridM: Number(m) })}
/>
<div class="checks">
  <Check label="Snap to units" checked={desk.set.snapUnits} change={(snapUnits) => desk.change({ snapUnits })} />
  <Check label="Snap to guides" checked={desk.set.snapGuides} change={(snapGuides) => desk.change({ snapGuides })} />
  <Check label="Rulers" checked={desk.set.rulers} change={(rulers) => desk.change({ rulers })} />
  <Check label="Areas" checked={desk.set.areas} change={(areas) => desk.change({ areas })} />
  <Check label="Aims" checked={desk.set.aims} change={(aims) => desk.change({ aims })} />
  <Check label="Beams" checked={desk.set.beams} change={(beams) => desk.change({ beams })} />
</div>
{#if show}
  <Choice
    label="The plot opens on"
    value={show.firstPaper}
    options={SIDES.map(([value, text]) => ({ value, text }))}
    choose={(firstPaper) => app.live.edit('First paper', { put: [{ ...show, firstPaper }], remove: [] })}
  />
  <div class="row">
    <Button onclick={openHere}>This paper opens like this</Button>
    {#if show.paperViews[desk.side]}<Button onclick={openWhole}>… with all of it</Button>{/if}
  </div>
  <Choice
    label="Lengths in"
    value={show.lengths}
    options={[
      { value: 'metres', text: 'metres' },
      { value: 'feet', text: 'feet' },
    ]}
    choose={(lengths) => app.live.edit('Lengths', { put: [{ ...show, lengths }], remove: [] })}
  />
{/if}
<Choice
  label="Drawn by"
  value={desk.set.drawing}
  options={[
    { value: 'auto', text: 'what is fastest here' },
    { value: 'webgl', text: 'WebGL' },
    { value: 'plain', text: 'plain pixels' },
  ]}
  choose={(drawing) => desk.change({ drawing })}
/>
{#if app.rig.inputs.length > 0}
  <Choice
    label="Whose light"
    value={desk.seen}
    options={[
      { value: 'sent', text: 'our light, as it is sent' },
      { value: 'received', text: 'light of the desk that comes in' },
    ]}
    choose={(s) => (desk.seen = s)}
  />
{/if}
<h3>Guides</h3>
<p class="quiet">Drag one out of a ruler, or give its place.</p>
<Beside>
  <Field label="Upright guide at" numeric suffix={desk.unitWord} value="" save={(t) => addGuide(0, t)} />
  <Field label="Level guide at" numeric suffix={desk.unitWord} value="" save={(t) => addGuide(1, t)} />
</Beside>
<ul>
  {#each guides as { axis, at, i } (i)}
    <li>
      <span class="grow">{AXIS_WORDS[axis]} <span class="num">{desk.text(at)}</span></span>
      <Button kind="bare" aria-label="Remove the guide at {desk.text(at)}" onclick={() => dropGuide(i)}
        ><X size={14} /></Button
      >
    </li>
  {/each}
</ul>
<h3>Print and give away</h3>
<div class="row">
  <Button onclick={() => window.open(`/plot/print?side=${desk.side}`, '_blank')}
    ><Printer size={16} aria-hidden="true" /> Print to scale</Button
  >
  <Button onclick={() => void exportPlot(app, desk, 'svg')}><Download size={16} aria-hidden="true" /> SVG</Button>
  <Button onclick={() => void exportPlot(app, desk, 'png')}><Download size={16} aria-hidden="true" /> PNG</Button>
</div>

<style>
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li {
    display: flex;
    align-items: center;
    gap: 4px;
  }
  .grow {
    flex: 1;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  .checks {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 4px;
  }
</style>
