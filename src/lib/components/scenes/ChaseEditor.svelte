<script lang="ts">
  import { dndzone, type DndEvent } from 'svelte-dnd-action';
  import type { ChaseRecord } from '$core/records/index.ts';
  import { shownBy, type ChaseStep } from '$core/records/chase.ts';
  import { stepStarts } from '$core/show/play/chase.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { parseNumber } from '$core/numbers.ts';
  import ArrowDown from '@lucide/svelte/icons/arrow-down';
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import GripVertical from '@lucide/svelte/icons/grip-vertical';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import PlayControls from '../show/PlayControls.svelte';
  import { plural } from '$lib/state/words.ts';

  /** Scenes one after the other: order by drag or with the arrows, times common or for single steps. */
  let { chase }: { chase: ChaseRecord } = $props();
  const app = getApp();
  const put = (label: string, fields: Partial<ChaseRecord>): boolean =>
    app.live.edit(`${label} of ${chase.name}`, { put: [{ ...chase, ...fields }], remove: [] });
  const unit = $derived(chase.timeUnit === 'beats' ? 'beats' : 's');
  const readTime = (text: string): number | null => {
    const value = parseNumber(text);
    return value === null || value < 0 || value > 3600 ? null : value;
  };
  function saveTime(key: 'fade' | 'hold', text: string): string | null {
    const value = readTime(text);
    if (value === null) return `Give 0 to 3600 ${unit}.`;
    put(key === 'fade' ? 'Fade' : 'Hold', { [key]: value });
    return null;
  }
  function saveStep(index: number, key: 'fade' | 'hold', text: string): string | null {
    const value = text.trim() === '' ? undefined : readTime(text);
    if (value === null) return `Give 0 to 3600 ${unit}, or nothing for the common time.`;
    const steps = chase.steps.map((step, i) => {
      if (i !== index) return step;
      const { [key]: _, ...rest } = step;
      return value === undefined ? rest : { ...rest, [key]: value };
    });
    put('Step time', { steps });
    return null;
  }
  /** Steps with an identity of their own, because the same scene may stand in several. */
  interface Item {
    readonly id: string;
    readonly step: ChaseRecord['steps'][number];
  }
  let dragged = $state.raw<Item[] | null>(null);
  /** So many steps are shown at once: a chase may have 10,000. */
  const SHOWN = 200;
  let wantedFrom = $state(0);
  const from = $derived(Math.min(wantedFrom, Math.max(0, Math.ceil(chase.steps.length / SHOWN) - 1) * SHOWN));
  const items = $derived(
    dragged ?? chase.steps.slice(from, from + SHOWN).map((step, i): Item => ({ id: `${from + i}`, step })),
  );
  const consider = (event: CustomEvent<DndEvent<Item>>): void => {
    dragged = event.detail.items;
  };
  function finalize(event: CustomEvent<DndEvent<Item>>): void {
    dragged = null;
    const steps = [...chase.steps];
    steps.splice(from, SHOWN, ...event.detail.items.map((item) => item.step));
    put('Order', { steps });
  }
  function shift(index: number, by: number): void {
    const steps = [...chase.steps];
    const [step] = steps.splice(index, 1);
    steps.splice(index + by, 0, step!);
    put('Order', { steps });
  }
  const takeOut = (index: number): boolean =>
    put('Take out a step', { steps: chase.steps.filter((_, i) => i !== index) });
  let adding = $state('');
  function add(): void {
    const record = app.rig.playable(adding);
    if (!record) return;
    const step: ChaseStep =
      record.kind === 'scene'
        ? { sceneId: record.id }
        : record.kind === 'chase'
          ? { chaseId: record.id }
          : { effectId: record.id };
    if (put('Add a step', { steps: [...chase.steps, step] })) wantedFrom = chase.steps.length;
  }
  function addHand(): void {
    const values = structuredClone($state.snapshot(app.hand.values)) as NonNullable<ChaseStep['values']>;
    const step = { values, name: `Values ${chase.steps.length + 1}` };
    if (put('Add a step', { steps: [...chase.steps, step] })) app.hand.letGo();
  }
  const stepName = (step: ChaseStep): string => {
    const record = app.rig.playable(shownBy(step));
    if (step.values) return `${step.name ?? 'Values'} (${plural(Object.keys(step.values).length, 'unit')})`;
    return record ? (record.kind === 'scene' ? record.name : `${record.name}, as it runs`) : 'missing';
  };
  /** How long one round is; of a shuffled chase each step once. */
  const roundWords = $derived.by(() => {
    const { total } = stepStarts(chase.order === 'shuffled' ? { ...chase, order: 'repeat' } : chase);
    const round = (v: number): number => Math.round(v * 100) / 100;
    const bpm = app.live.real?.tempo.bpm ?? app.rig.show?.tempoBpm ?? 120;
    return chase.timeUnit === 'beats'
      ? `${round(total)} beats (${round((total * 60) / bpm)} s at ${Math.round(bpm)} bpm)`
      : `${round(total)} s`;
  });
  const playing = $derived(app.live.live?.playing.find((p) => p.target === chase.id && p.releasedAt === null));
</script>

<div class="editor">
  <div class="times">
    <Choice
      label="Times in"
      value={chase.timeUnit}
      options={[
        { value: 'seconds', text: 'seconds' },
        { value: 'beats', text: 'beats of the tempo' },
      ]}
      choose={(timeUnit) => put('Times', { timeUnit })}
    />
    <Field label="Fade" numeric suffix={unit} value={chase.fade} save={(t) => saveTime('fade', t)} />
    <Field label="Hold" numeric suffix={unit} value={chase.hold} save={(t) => saveTime('hold', t)} />
    <Choice
      label="Order"
      value={chase.order}
      options={[
        { value: 'repeat', text: 'repeat' },
        { value: 'once', text: 'once' },
        { value: 'thereAndBack', text: 'there and back' },
        { value: 'shuffled', text: 'shuffled' },
      ]}
      choose={(order) => put('Order', { order })}
    />
    <Choice
      label="From aim to aim"
      value={chase.travel}
      options={[
        { value: 'turn', text: 'as heads turn' },
        { value: 'straight', text: 'along straight lines' },
      ]}
      choose={(travel) => put('Way', { travel })}
    />
    <Choice
      label="Direction"
      value={chase.direction}
      options={[
        { value: 'forward', text: 'forward' },
        { value: 'backward', text: 'backward' },
      ]}
      choose={(direction) => put('Direction', { direction })}
    />
  </div>
  {#if playing}<PlayControls play={playing} />{/if}
  {#if chase.steps.length > 0}
    <p class="quiet round">
      {plural(chase.steps.length, 'step')}, one round lasts <b class="num">{roundWords}</b>.
    </p>
    <div class="heads quiet" aria-hidden="true"><span>Fade</span><span>Hold</span></div>
  {/if}
  {#if chase.steps.length === 0}<p class="quiet">No steps yet. Add scenes below; they play one after the other.</p>{/if}
  <ol
    use:dndzone={{ items, flipDurationMs: 140, dropTargetStyle: {}, zoneTabIndex: -1, zoneItemTabIndex: -1 }}
    onconsider={consider}
    onfinalize={finalize}
  >
    {#each items as item, place (item.id)}
      {@const i = from + place}
      {@const shown = app.rig.playable(shownBy(item.step))}
      <li>
        <span class="grip" title="Drag to order"><GripVertical size={16} /></span>
        <span class="num quiet">{i + 1}</span>
        <i style:background={shown?.colour ?? 'var(--line-strong)'}></i>
        <span class="name">{stepName(item.step)}</span>
        <Field
          hideLabel
          label="Fade of step {i + 1}"
          numeric
          suffix={unit}
          value={item.step.fade ?? ''}
          placeholder={String(chase.fade)}
          save={(t) => saveStep(i, 'fade', t)}
        />
        <Field
          hideLabel
          label="Hold of step {i + 1}"
          numeric
          suffix={unit}
          value={item.step.hold ?? ''}
          placeholder={String(chase.hold)}
          save={(t) => saveStep(i, 'hold', t)}
        />
        <Button kind="bare" aria-label="Move step {i + 1} up" disabled={i === 0} onclick={() => shift(i, -1)}
          ><ArrowUp size={16} /></Button
        >
        <Button
          kind="bare"
          aria-label="Move step {i + 1} down"
          disabled={i === chase.steps.length - 1}
          onclick={() => shift(i, 1)}><ArrowDown size={16} /></Button
        >
        <Button kind="bare" aria-label="Take step {i + 1} out" onclick={() => takeOut(i)}><X size={16} /></Button>
      </li>
    {/each}
  </ol>
  {#if chase.steps.length > SHOWN}
    <p class="pages">
      <Button disabled={from === 0} onclick={() => (wantedFrom = from - SHOWN)}>Earlier</Button>
      <span class="num">{from + 1}-{from + items.length} of {chase.steps.length}</span>
      <Button disabled={from + SHOWN >= chase.steps.length} onclick={() => (wantedFrom = from + SHOWN)}>Later</Button>
    </p>
  {/if}
  <form
    onsubmit={(e) => {
      e.preventDefault();
      add();
    }}
  >
    <Choice
      hideLabel
      label="Scene to add"
      placeholder="Scene, chase or effect…"
      value={adding || null}
      options={[
        ...app.rig.scenes.map((s) => ({ value: s.id as string, text: s.name })),
        ...app.rig.chases
          .filter((c) => c.id !== chase.id)
          .map((c) => ({ value: c.id as string, text: `Chase ${c.name}` })),
        ...app.rig.effects.map((e) => ({ value: e.id as string, text: `Effect ${e.name}` })),
      ]}
      choose={(v) => (adding = v)}
    />
    <Button type="submit" disabled={adding === ''}>Add step</Button>
    <Button disabled={app.hand.unitIds.length === 0} title="What is by hand becomes a step of its own" onclick={addHand}
      >Add the hand as a step</Button
    >
  </form>
</div>

<style>
  .editor {
    padding: 8px 16px 24px;
    overflow: auto;
    flex: 1;
    display: flex;
    flex-direction: column;
    gap: 12px;
  }
  .times {
    display: grid;
    grid-template-columns: 1.2fr 0.8fr 0.8fr 1.5fr 1fr;
    gap: 12px;
    align-items: end;
  }
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
    min-height: 10px;
    flex: none;
  }
  li {
    display: grid;
    grid-template-columns: 24px 24px 16px minmax(120px, 1fr) 104px 104px 36px 36px 36px;
    gap: 8px;
    align-items: center;
    min-height: 42px;
    border-bottom: 1px solid var(--line);
    background: var(--back);
  }
  .round {
    margin: 0;
  }
  .pages {
    display: flex;
    align-items: center;
    gap: 10px;
    margin: 0;
  }
  .heads {
    display: grid;
    grid-template-columns: 1fr 104px 104px 124px;
    gap: 8px;
    margin-bottom: -10px;
    font-size: 12px;
  }
  .heads span:first-child {
    grid-column: 2;
  }
  .grip {
    cursor: grab;
    color: var(--quiet);
    display: grid;
  }
  i {
    width: 14px;
    height: 14px;
    border-radius: 3px;
  }
  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  form {
    display: grid;
    grid-template-columns: minmax(160px, 300px) auto auto;
    gap: 8px;
    justify-content: start;
  }
  /* On a phone a step takes two lines: what it is, then its times. */
  @media (max-width: 760px) {
    .times {
      grid-template-columns: 1fr 1fr;
    }
    li {
      grid-template-columns: 24px 20px 16px minmax(0, 1fr) 36px 36px 36px;
      padding: 4px 0;
    }
    li > :global(.field) {
      grid-row: 2;
      grid-column: 1 / 5;
    }
    li > :global(.field ~ .field) {
      grid-column: 5 / -1;
    }
    .heads {
      grid-template-columns: minmax(0, 1fr) 124px;
    }
    .heads span:first-child {
      grid-column: 1;
    }
    form {
      display: flex;
      flex-wrap: wrap;
    }
  }
</style>
