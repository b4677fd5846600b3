<script lang="ts">
  import { slotKey } from '$core/show/index.ts';
  import { slotsOfScope, type ScopeSlot } from '$core/signal/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LinesDesk } from '$lib/state/lines-desk.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import { whole } from '$lib/state/entry.ts';
  import UniverseChoice from './UniverseChoice.svelte';

  /** Trial faders: raw slots by hand, sixteen to a screen. They are in the hand and let go with it. */
  let { desk }: { desk: LinesDesk } = $props();
  const app = getApp();
  type By = 'universe' | 'unit';
  let by = $state<By>('universe');
  const BANK = 16;
  const universe = $derived(desk.universe ?? app.live.universes[0] ?? 1);
  const start = $derived(Math.min(512 - BANK + 1, Math.max(1, desk.slot - ((desk.slot - 1) % BANK))));
  const slots = $derived.by((): readonly ScopeSlot[] => {
    if (by === 'universe') return slotsOfScope(app.live.document, { universe, from: 1, to: 512 });
    const ids = app.selection.ids.length > 0 ? [...app.selection.ids] : app.rig.units.slice(0, 1).map((u) => u.id);
    return ids.length > 0 ? slotsOfScope(app.live.document, { unitIds: ids }) : [];
  });
  const MOST = 512;
  const shown = $derived(slots.slice(0, MOST));
  const raw = $derived(app.live.live?.raw ?? {});
  const held = $derived(Object.keys(raw).length);
  /** What is sent now, where nothing is held. Read from the frames, not more often than people see. */
  let sent = $state.raw<readonly number[]>([]);
  let readAt = 0;
  function read(): void {
    const now = performance.now();
    if (now - readAt < 100) return;
    readAt = now;
    sent = shown.map((s) => app.live.sent.get(s.universe)?.[s.address - 1] ?? 0);
  }
  $effect(() => {
    void shown;
    readAt = 0;
    read();
  });
  $effect(() => app.live.onFrame(read));

  let queue: Record<string, number | null> | null = null;
  /** Gathered over one animation frame: a dragged fader sends at most one message a frame. */
  function set(slot: ScopeSlot, value: number | null): void {
    const key = slotKey(slot.universe, slot.address);
    if (!queue) {
      queue = {};
      requestAnimationFrame(() => {
        const values = queue!;
        queue = null;
        void app.live.command({ do: 'raw', set: values });
      });
    }
    queue[key] = value;
  }
  function typed(slot: ScopeSlot, input: HTMLInputElement): void {
    const text = input.value.trim();
    const value = whole(text, 0, 255);
    if (text === '') set(slot, null);
    else if (value !== null) set(slot, value);
    else app.live.tell('error', `“${text.slice(0, 20)}” is no value`, 'Give 0 to 255, or nothing to let the slot go.');
    input.value = '';
  }
  let strip = $state<HTMLDivElement>();
  $effect(() => {
    if (by !== 'universe' || !strip) return;
    strip.querySelector<HTMLElement>(`[data-slot="${start}"]`)?.scrollIntoView({ inline: 'start', block: 'nearest' });
  });
  const owner = (s: ScopeSlot): string => (s.unitId ? (app.rig.unit(s.unitId)?.name ?? '') : '');
</script>

<div class="faders">
  <div class="bar">
    <Choice
      hideLabel
      label="Faders for"
      value={by}
      options={[
        { value: 'universe', text: 'slots of a universe' },
        { value: 'unit', text: 'the selected units' },
      ]}
      choose={(b) => (by = b)}
    />
    {#if by === 'universe'}
      <UniverseChoice value={universe} choose={(u) => (desk.universe = u)} />
      <Button disabled={start <= 1} onclick={() => (desk.slot = start - BANK)}>16 back</Button>
      <span class="num">{start}-{start + BANK - 1}</span>
      <Button disabled={start + BANK > 512} onclick={() => (desk.slot = start + BANK)}>16 on</Button>
    {/if}
    <span class="quiet">{held === 0 ? 'nothing held' : `${plural(held, 'slot')} by hand`}</span>
    <Button disabled={held === 0} onclick={() => void app.live.command({ do: 'letGo', slots: Object.keys(raw) })}
      >Let the slots go</Button
    >
  </div>
  <div class="strip" bind:this={strip} role="group" aria-label="Trial faders">
    {#each shown as slot, i (slotKey(slot.universe, slot.address))}
      {@const key = slotKey(slot.universe, slot.address)}
      {@const mine = raw[key]}
      <div
        class="fader"
        class:held={mine !== undefined}
        class:first={i === 0 || shown[i - 1]!.unitId !== slot.unitId}
        data-slot={slot.address}
      >
        <span class="who" title={owner(slot)}>{i === 0 || shown[i - 1]!.unitId !== slot.unitId ? owner(slot) : ''}</span
        >
        <span class="what" title={slot.words}>{slot.words || 'nobody’s'}</span>
        <input
          type="range"
          class="travel"
          min="0"
          max="255"
          step="1"
          value={mine ?? sent[i] ?? 0}
          style:--at="{((mine ?? sent[i] ?? 0) / 255) * 100}%"
          aria-label="{key} {owner(slot)} {slot.words}"
          oninput={(e) => set(slot, Number(e.currentTarget.value))}
        />
        <input
          class="num value"
          inputmode="numeric"
          aria-label="Value of {key}"
          placeholder={String(mine ?? sent[i] ?? 0)}
          onchange={(e) => typed(slot, e.currentTarget)}
        />
        <span class="num address">{key}</span>
        <button type="button" disabled={mine === undefined} onclick={() => set(slot, null)}>let go</button>
      </div>
    {:else}
      <p class="quiet">Select a unit that has an address.</p>
    {/each}
  </div>
  <p class="quiet">
    Raw values lie over everything that plays, under the grand master and the limit of each unit. They stay in the hand
    until they are let go.
  </p>
</div>

<style>
  .faders {
    padding: 4px 16px 24px;
    display: grid;
    gap: 12px;
    align-content: start;
    overflow: auto;
    min-width: 0;
  }
  .bar {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: center;
  }
  .strip {
    display: flex;
    overflow-x: auto;
    padding-bottom: 10px;
    min-width: 0;
  }
  .fader {
    flex: 0 0 max(56px, calc(100% / 16));
    display: grid;
    grid-template-rows: 18px 34px 220px auto auto auto;
    justify-items: center;
    gap: 4px;
    padding: 4px 2px;
    border-left: 1px solid transparent;
    min-width: 0;
    position: relative;
  }
  .fader.first {
    border-left-color: var(--line-strong);
  }
  .fader.held {
    background: var(--amber-wash);
  }
  .who {
    position: absolute;
    left: 6px;
    top: 4px;
    font-size: 12px;
    font-weight: 600;
    white-space: nowrap;
    pointer-events: none;
  }
  .what {
    grid-row: 2;
    width: 100%;
    font-size: 11.5px;
    color: var(--quiet);
    text-align: center;
    overflow: hidden;
    display: -webkit-box;
    -webkit-box-orient: vertical;
    -webkit-line-clamp: 2;
    line-clamp: 2;
    overflow-wrap: anywhere;
  }
  .travel {
    --fill: var(--line-strong);
    grid-row: 3;
    appearance: none;
    writing-mode: vertical-lr;
    direction: rtl;
    width: 40px;
    height: 216px;
    background: linear-gradient(to top, var(--fill) var(--at), var(--raised) var(--at)) center / 6px 100% no-repeat;
    cursor: pointer;
  }
  .travel::-webkit-slider-thumb {
    appearance: none;
    width: 34px;
    height: 16px;
    border-radius: 4px;
    border: 1px solid var(--line-strong);
    background: var(--text);
  }
  .travel::-moz-range-thumb {
    width: 34px;
    height: 16px;
    border-radius: 4px;
    border: 1px solid var(--line-strong);
    background: var(--text);
  }
  .held .travel {
    --fill: var(--amber);
  }
  .value {
    grid-row: 4;
    width: 46px;
    text-align: center;
    border: 1px solid var(--line);
    border-radius: 4px;
    background: none;
    padding: 3px 2px;
  }
  .address {
    grid-row: 5;
    font-size: 11.5px;
    color: var(--quiet);
  }
  .fader button {
    grid-row: 6;
    border: 0;
    background: none;
    font-size: 12px;
    padding: 4px;
    color: var(--amber-text);
  }
  .fader button:disabled {
    visibility: hidden;
  }
</style>
