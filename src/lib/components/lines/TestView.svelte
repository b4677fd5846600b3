<script lang="ts">
  import type { LineId, UnitId } from '$core/ids.ts';
  import {
    COLOUR_NAMES,
    coloursAt,
    FLASH_LIMIT_HZ,
    slotsOfScope,
    type TestRequest,
    type TestScope,
    type TestSignal,
  } from '$core/signal/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LinesDesk } from '$lib/state/lines/lines-desk.svelte.ts';
  import { onDestroy, untrack } from 'svelte';
  import ChevronLeft from '@lucide/svelte/icons/chevron-left';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import Square from '@lucide/svelte/icons/square';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Entry from '../Entry.svelte';
  import Mark from '../Mark.svelte';
  import Slider from '../Slider.svelte';
  import UniverseChoice from './UniverseChoice.svelte';
  import { decimal, whole } from '$lib/state/entry.ts';

  /** Test signals: on what, which, how strong. They run while this page is there and under the grand master. */
  let { desk }: { desk: LinesDesk } = $props();
  const app = getApp();
  type On = 'universe' | 'units' | 'line';
  type Kind = TestSignal['kind'];
  let on = $state<On>('universe');
  let universe = $state(untrack(() => desk.universe ?? app.live.universes[0] ?? 1));
  let from = $state('1');
  let to = $state('512');
  let lineId = $state<string>(app.rig.lines[0]?.id ?? '');
  let kind = $state<Kind>('sweep');
  let level = $state(1);
  let perSecond = $state('4');
  let seconds = $state('4');
  let nth = $state('3');
  let moving = $state(false);
  let cellsPerSecond = $state('10');
  let index = $state(0);

  const KINDS: readonly { value: Kind; text: string; about: string }[] = [
    { value: 'sweep', text: 'Sweep', about: 'one slot after the other' },
    { value: 'slot', text: 'Find my slot', about: 'one slot alone; step on until the lamp answers' },
    { value: 'all', text: 'All', about: 'every slot at the level' },
    { value: 'ramp', text: 'Ramp', about: 'all from nothing to the level' },
    { value: 'every', text: 'Every Nth', about: 'every second, third, … slot' },
    { value: 'wire', text: 'Along the wire', about: 'one cell after the other, white, with a short tail' },
    {
      value: 'colours',
      text: 'Colour order',
      about: 'red, green, blue, white in turn; the cells come on one by one, every tenth is marked',
    },
  ];

  const scope = $derived.by((): TestScope | null => {
    if (on === 'units') return app.selection.ids.length > 0 ? { unitIds: [...app.selection.ids] } : null;
    if (on === 'line') return lineId ? { lineId: lineId as LineId } : null;
    const [a, b] = [whole(from, 1, 512), whole(to, 1, 512)];
    return a !== null && b !== null && b >= a ? { universe, from: a, to: b } : null;
  });
  const slots = $derived(scope ? slotsOfScope(app.live.document, scope) : []);
  const machines = $derived(slots.filter((s) => s.machine).length);
  const signal = $derived.by((): TestSignal | null => {
    switch (kind) {
      case 'sweep': {
        const rate = decimal(perSecond, 0.1, 25);
        return rate === null ? null : { kind, perSecond: rate };
      }
      case 'ramp': {
        const time = decimal(seconds, 0.5, 60);
        return time === null ? null : { kind, seconds: time };
      }
      case 'every': {
        const n = whole(nth, 1, 512);
        return n === null ? null : { kind, n, offset: 0, perSecond: moving ? 1 : 0 };
      }
      case 'wire':
      case 'colours': {
        const rate = decimal(cellsPerSecond, 0.1, kind === 'wire' ? 200 : 1000);
        return rate === null ? null : { kind, cellsPerSecond: rate };
      }
      case 'slot':
        return { kind, index: Math.min(index, Math.max(0, slots.length - 1)) };
      case 'all':
        return { kind };
    }
  });
  const wrong = $derived.by((): string | null => {
    if (on === 'units' && app.selection.ids.length === 0)
      return 'Select units first: in the sheet, on the plot, or in the tail below.';
    if (!scope) return 'Give a universe, and slots from 1 to 512.';
    if (slots.length === 0) return 'Nothing there has an address.';
    if ((kind === 'colours' || kind === 'wire') && !slots.some((s) => s.cell >= 0))
      return 'Nothing there mixes colours.';
    if (signal) return null;
    return {
      sweep: 'Give 0.1 to 25 slots a second.',
      ramp: 'Give 0.5 to 60 seconds.',
      every: 'Give 1 to 512.',
      wire: 'Give 0.1 to 200 cells a second.',
      colours: 'Give 0.1 to 1000 cells a second.',
      slot: '',
      all: '',
    }[kind];
  });
  const request = $derived<TestRequest | null>(scope && signal && !wrong ? { scope, signal, level } : null);

  /** True while the test of this page runs; changes are taken over at once. */
  let mine = $state(false);
  const running = $derived(app.live.live?.test ?? null);
  async function start(): Promise<void> {
    if (request) mine = await app.live.test(request);
  }
  function stop(): void {
    mine = false;
    void app.live.test(null);
  }
  $effect(() => {
    if (!mine) return;
    if (request) void app.live.test(request);
    else stop();
  });
  onDestroy(() => mine && stop());
  function step(by: number): void {
    index = (index + by + slots.length) % Math.max(1, slots.length);
    kind = 'slot';
  }
  const at = $derived(slots[Math.min(index, slots.length - 1)]);
  const unitName = (id: UnitId | null | undefined): string => (id ? (app.rig.unit(id)?.name ?? '') : 'nobody’s slot');
  const cellCount = $derived(slots.reduce((most, s) => Math.max(most, s.cell + 1), 0));
  let tick = $state(0);
  $effect(() => {
    if (!running) return;
    const timer = setInterval(() => (tick = app.live.now()), 200);
    return () => clearInterval(timer);
  });
  const progress = $derived.by(() => {
    if (!running || tick === 0 || !mine) return '';
    const since = Math.max(0, (tick - running.startedAt) / 1000);
    if (running.signal.kind === 'colours') {
      const { colour, lit } = coloursAt(
        cellCount,
        slots.some((s) => s.role === 3),
        since,
        running.signal.cellsPerSecond,
      );
      return `${COLOUR_NAMES[colour]}, ${lit} of ${cellCount} cells`;
    }
    if (running.signal.kind === 'sweep') {
      const pattern = slots.filter((s) => !s.machine);
      const slot = pattern[Math.floor(since * running.signal.perSecond) % Math.max(1, pattern.length)];
      return slot ? `${slot.universe}.${slot.address} ${unitName(slot.unitId)} ${slot.words}` : '';
    }
    return '';
  });
  const masters = $derived.by(() => {
    const live = app.live.live;
    if (!live) return '';
    if (live.dark.on) return 'Dark is on: tests stay dark, too.';
    return live.grand < 1 ? `The grand master is at ${Math.round(live.grand * 100)} %: tests don’t pass it.` : '';
  });
</script>

<div class="test">
  <div class="row" role="group" aria-label="What it is put on">
    <Choice
      label="On"
      value={on}
      options={[
        { value: 'universe', text: 'slots of a universe' },
        { value: 'units', text: `the selected units (${app.selection.ids.length})` },
        { value: 'line', text: 'a line' },
      ]}
      choose={(o) => (on = o)}
    />
    {#if on === 'universe'}
      <UniverseChoice hideLabel={false} value={universe} choose={(u) => (universe = u)} />
      <span class="short"><Entry label="From slot" numeric bind:value={from} /></span>
      <span class="short"><Entry label="To slot" numeric bind:value={to} /></span>
    {:else if on === 'line'}
      <Choice
        label="Line"
        value={lineId || null}
        options={app.rig.lines.map((l) => ({ value: l.id as string, text: `${l.number} ${l.name}` }))}
        choose={(l) => (lineId = l)}
      />
    {/if}
    <span class="quiet count"
      ><span class="num">{slots.length}</span> slots{cellCount > 0 ? `, ${cellCount} cells` : ''}</span
    >
  </div>
  <div class="kinds" role="radiogroup" aria-label="Signal">
    {#each KINDS as { value, text, about } (value)}
      <label class:on={kind === value}>
        <input type="radio" name="kind" {value} checked={kind === value} onchange={() => (kind = value)} />
        <b>{text}</b><span class="quiet">{about}</span>
      </label>
    {/each}
  </div>
  <div class="row">
    {#if kind === 'sweep'}<span class="short"><Entry label="Slots a second" numeric bind:value={perSecond} /></span>
    {:else if kind === 'ramp'}<span class="short"><Entry label="Seconds" numeric bind:value={seconds} /></span>
    {:else if kind === 'every'}
      <span class="short"><Entry label="Every" numeric bind:value={nth} /></span>
      <label class="check"><input type="checkbox" bind:checked={moving} /> moves on once a second</label>
    {:else if kind === 'colours' || kind === 'wire'}<span class="short"
        ><Entry label="Cells a second" numeric bind:value={cellsPerSecond} /></span
      >
    {:else if kind === 'slot'}
      <Button aria-label="Slot before" onclick={() => step(-1)}><ChevronLeft size={18} /> Back</Button>
      <p class="found">
        {#if at}<b class="num">{at.universe}.{at.address}</b> {unitName(at.unitId)} {at.words}{/if}
      </p>
      <Button aria-label="Slot after" onclick={() => step(1)}>Next <ChevronRight size={18} /></Button>
      {#if at?.unitId}<Button onclick={() => at.unitId && app.selection.set([at.unitId])}
          >That is it: select the unit</Button
        >{/if}
    {/if}
    <span class="level"><Slider label="Level" value={level} change={(v) => (level = v)} /></span>
  </div>
  {#if wrong}<p class="wrong" role="alert"><Mark kind="look" /> {wrong}</p>{/if}
  <div class="row">
    {#if mine}<Button kind="wrong" onclick={stop}><Square size={16} /> Stop</Button>
    {:else}<Button kind="main" disabled={!request} onclick={() => void start()}>Start</Button>{/if}
    <p aria-live="polite">
      {#if mine && running}Runs: {progress || KINDS.find((k) => k.value === running.signal.kind)?.about}
      {:else if running}<Mark kind="hand" /> Another page runs a test.
      {:else}<span class="quiet">Nothing runs.</span>{/if}
    </p>
  </div>
  <p class="quiet">
    A test ends when this page goes, at the latest after 5 seconds. It never passes the grand master or the limit of a
    unit, and whole areas change at most {FLASH_LIMIT_HZ} times a second.
    {machines > 0 ? `Machines (fog, motors, resets: ${machines} slots) are left out, but for single slots.` : ''}
  </p>
  {#if masters}<p><Mark kind="look" /> {masters}</p>{/if}
</div>

<style>
  .test {
    padding: 4px 16px 24px;
    display: grid;
    gap: 14px;
    align-content: start;
    overflow: auto;
    max-width: 920px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 12px;
    align-items: end;
  }
  .short {
    width: 110px;
  }
  .count {
    padding-bottom: 6px;
  }
  .kinds {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(270px, 1fr));
    gap: 8px;
  }
  .kinds label {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 0 8px;
    border: 1px solid var(--line);
    border-radius: 10px;
    padding: 8px 12px;
    cursor: pointer;
    align-content: start;
  }
  .kinds span {
    grid-column: 2;
    font-size: 12.5px;
  }
  .kinds .on {
    border-color: var(--amber);
    background: var(--amber-wash);
  }
  .check {
    display: flex;
    gap: 6px;
    align-items: center;
    min-height: 32px;
  }
  .level {
    width: 260px;
  }
  .found {
    min-width: 260px;
    padding-bottom: 6px;
  }
  .wrong {
    color: var(--text);
  }
</style>
