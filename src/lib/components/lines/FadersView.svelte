<script lang="ts">
  import { slotKey } from '$core/show/index.ts';
  import { slotsOfScope, type ScopeSlot } from '$core/signal/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LinesDesk } from '$lib/state/lines/lines-desk.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import { whole } from '$lib/state/entry.ts';
  import UniverseChoice from './UniverseChoice.svelte';

  /** Trial faders: raw slots by hand, as many as fit. They are in the hand and let go with it. */
  let { desk }: { desk: LinesDesk } = $props();
  const app = getApp();
  type By = 'universe' | 'unit';
  let by = $state<By>('universe');
  /** A fader is at least this wide: a thumb, and a value of three digits. */
  const FADER_PX = 64;
  let width = $state(1024);
  const bank = $derived(Math.max(1, Math.floor(width / FADER_PX)));
  const universe = $derived(desk.universe ?? app.live.universes[0] ?? 1);
  const slots = $derived.by((): readonly ScopeSlot[] => {
    if (by === 'universe') return slotsOfScope(app.live.document, { universe, from: 1, to: 512 });
    const ids = app.selection.ids.length > 0 ? [...app.selection.ids] : app.rig.units.slice(0, 1).map((u) => u.id);
    return ids.length > 0 ? slotsOfScope(app.live.document, { unitIds: ids }) : [];
  });
  /** Place of the first fader among the slots. */
  let unitFirst = $state(0);
  const first = $derived(Math.max(0, Math.min(slots.length - bank, by === 'universe' ? desk.slot - 1 : unitFirst)));
  const shown = $derived(slots.slice(first, first + bank));
  function page(by_: number): void {
    const next = Math.max(0, Math.min(slots.length - bank, first + by_ * bank));
    if (by === 'universe') desk.slot = next + 1;
    else unitFirst = next;
  }
  /** Neighbours of one unit, under its name. */
  const owners = $derived.by((): { name: string; slots: readonly { slot: ScopeSlot; i: number }[] }[] => {
    const found: { id: string | null; name: string; slots: { slot: ScopeSlot; i: number }[] }[] = [];
    shown.forEach((slot, i) => {
      const last = found.at(-1);
      if (last && last.id === slot.unitId) last.slots.push({ slot, i });
      else found.push({ id: slot.unitId, name: owner(slot), slots: [{ slot, i }] });
    });
    return found;
  });
  const names = $derived(app.rig.show?.slotNames ?? {});
  /** The slot whose name is being typed. */
  let naming = $state<string | null>(null);
  function rename(key: string, text: string): void {
    naming = null;
    const { show } = app.rig;
    const name = text.trim().slice(0, 40);
    if (!show || name === (names[key] ?? '')) return;
    const { [key]: _, ...rest } = names;
    const slotNames = name === '' ? rest : { ...rest, [key]: name };
    app.live.edit(name === '' ? `No name for slot ${key}` : `Name slot ${key} ${name}`, {
      put: [{ ...show, slotNames }],
      remove: [],
    });
  }
  const focus = (node: HTMLInputElement): void => node.select();
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
  const slotWords = (s: ScopeSlot | undefined): string => (s ? slotKey(s.universe, s.address) : '');
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
    {/if}
    {#if slots.length > bank}
      <Button disabled={first <= 0} onclick={() => page(-1)}>{bank} back</Button>
      <span class="num">{slotWords(shown[0])} to {slotWords(shown.at(-1))}</span>
      <Button disabled={first + bank >= slots.length} onclick={() => page(1)}>{bank} on</Button>
    {/if}
    <span class="quiet">{held === 0 ? 'nothing held' : `${plural(held, 'slot')} by hand`}</span>
    <Button disabled={held === 0} onclick={() => void app.live.command({ do: 'letGo', slots: Object.keys(raw) })}
      >Let the slots go</Button
    >
  </div>
  <div class="strip" bind:clientWidth={width} role="group" aria-label="Trial faders">
    {#each owners as { name, slots: own } (slotKey(own[0]!.slot.universe, own[0]!.slot.address))}
      <div class="owner" class:named={name !== ''} style:flex-grow={own.length}>
        <span class="who" title={name}>{name}</span>
        <div class="own">
          {#each own as { slot, i } (slotKey(slot.universe, slot.address))}
            {@const key = slotKey(slot.universe, slot.address)}
            {@const mine = raw[key]}
            {@const given = names[key]}
            <div class="fader" class:held={mine !== undefined}>
              {#if naming === key}
                <input
                  class="naming"
                  aria-label="Name of slot {key}"
                  maxlength="40"
                  value={given ?? ''}
                  use:focus
                  onblur={(e) => rename(key, e.currentTarget.value)}
                  onkeydown={(e) => {
                    if (e.key === 'Enter') e.currentTarget.blur();
                    else if (e.key === 'Escape') naming = null;
                  }}
                />
              {:else}
                <button
                  type="button"
                  class="what"
                  class:given
                  title="{given ? `${given}: ` : ''}{slot.words || 'nobody’s'}. Press to name it."
                  onclick={() => (naming = key)}>{given ?? (slot.words || 'nobody’s')}</button
                >
              {/if}
              <input
                type="range"
                class="travel"
                min="0"
                max="255"
                step="1"
                value={mine ?? sent[i] ?? 0}
                style:--at="{((mine ?? sent[i] ?? 0) / 255) * 100}%"
                aria-label="{key} {owner(slot)} {given ?? slot.words}"
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
              <button type="button" class="letgo" disabled={mine === undefined} onclick={() => set(slot, null)}
                >let go</button
              >
            </div>
          {/each}
        </div>
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
    min-width: 0;
    overflow: hidden;
  }
  .owner {
    display: grid;
    grid-template-rows: 20px auto;
    flex-basis: 0;
    min-width: 0;
    border-left: 1px solid transparent;
  }
  .owner.named {
    border-left-color: var(--line-strong);
  }
  .who {
    padding: 0 6px;
    font-size: 12px;
    font-weight: 600;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .own {
    display: flex;
    min-width: 0;
  }
  .fader {
    flex: 1 1 0;
    display: grid;
    grid-template-rows: 36px 220px auto auto auto;
    justify-items: center;
    gap: 4px;
    padding: 4px 2px;
    min-width: 0;
  }
  .fader.held {
    background: var(--amber-wash);
  }
  .what {
    width: 100%;
    padding: 0 2px;
    border: 0;
    background: none;
    font-size: 11.5px;
    line-height: 1.25;
    color: var(--quiet);
    text-align: center;
    overflow: hidden;
    display: -webkit-box;
    -webkit-box-orient: vertical;
    -webkit-line-clamp: 2;
    line-clamp: 2;
    overflow-wrap: anywhere;
  }
  .what.given {
    color: var(--text);
  }
  .naming {
    width: 100%;
    min-width: 0;
    height: 28px;
    font-size: 12px;
    border: 1px solid var(--amber);
    background: var(--raised);
    padding: 2px 4px;
  }
  .travel {
    --fill: var(--line-strong);
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
    width: 46px;
    text-align: center;
    border: 1px solid var(--line);
    border-radius: 4px;
    background: none;
    padding: 3px 2px;
  }
  .address {
    font-size: 11.5px;
    color: var(--quiet);
  }
  .letgo {
    border: 0;
    background: none;
    font-size: 12px;
    padding: 4px;
    color: var(--amber-text);
  }
  .letgo:disabled {
    visibility: hidden;
  }
</style>
