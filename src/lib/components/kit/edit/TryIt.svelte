<script lang="ts">
  import { fromBase64 } from '$core/base64.ts';
  import { onMount } from 'svelte';
  import { layoutOf } from '$core/patch/of-document.ts';
  import { parseAddress } from '$core/patch/address.ts';
  import { highlightFraction, fullScale, rangeAt } from '$core/profile/layout.ts';
  import { freeName, sortedRanges } from '$core/profile/ranges.ts';
  import type { ProfileRecord } from '$core/records/index.ts';
  import type { Channel } from '$core/records/profile.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { ProfileEditor } from '$lib/state/kit/profile-editor.svelte.ts';
  import Button from '../../Button.svelte';
  import Choice from '../../Choice.svelte';
  import FixtureFace from './FixtureFace.svelte';

  /**
   * Drives a real address with the mode being written: channel by channel, range by range, and says what a device
   * there receives. Nothing of it is stored; it ends when the page is left.
   */
  let { editor, profile, modeKey }: { editor: ProfileEditor; profile: ProfileRecord; modeKey: string } = $props();
  const app = getApp();
  let on = $state(false);
  let where = $state('1.1');
  let channelKey = $state<string | null>(null);
  let value = $state(0);
  let lit = $state(true);
  let from = $state<number | null>(null);
  let naming = $state('');
  let fault = $state<string | null>(null);
  const place = $derived(parseAddress(where));
  const layout = $derived(layoutOf(profile, modeKey));
  const laid = $derived(layout.channels);
  const current = $derived(laid.find((l) => `${l.channel.key}#${l.cell}` === channelKey) ?? laid[0]);
  const ways = $derived(
    app.rig.routes.flatMap((route) => {
      const output = app.rig.output(route.outputId);
      return output?.enabled && route.enabled
        ? [{ value: route.id as string, universe: route.universe, text: `${output.name}: universe ${route.universe}` }]
        : [];
    }),
  );
  const universe = $derived(place.ok ? (place.value.universe as number) : null);
  let wayId = $state<string | null>(null);
  const way = $derived(
    ways.find((w) => w.value === wayId && w.universe === universe) ?? ways.find((w) => w.universe === universe),
  );
  const routed = $derived(universe !== null && ways.some((w) => w.universe === universe));

  /** Every channel at rest, or lit where that is wanted; the one being tried at its value. */
  const bytes = $derived.by(() => {
    const made = new Uint8Array(Math.max(1, layout.footprint));
    const write = (offsets: readonly number[], fraction: number, bits: number): void => {
      let raw = Math.round(fraction * fullScale(bits));
      for (let i = bits / 8 - 1; i >= 0; i--) {
        if (offsets[i] !== undefined) made[offsets[i]!] = raw & 255;
        raw >>= 8;
      }
    };
    for (const { channel, offsets } of laid) {
      const home = channel.home / fullScale(channel.bits);
      const full = highlightFraction({ attribute: channel.attribute, cells: 0, channel });
      const bright = /^Color(Add|RGB)/.test(channel.attribute) ? 1 : full;
      write(offsets, lit ? bright : home, channel.bits);
    }
    if (current) {
      for (const offset of current.offsets) made[offset] = 0;
      made[current.offsets[0]!] = value;
    }
    return made;
  });
  const range = $derived(current ? rangeAt(current.channel, value) : undefined);
  $effect(() => {
    const probe =
      on && place.ok
        ? { universe: place.value.universe, address: place.value.address, values: [...bytes.subarray(0, 512)] }
        : null;
    app.live.probe(probe);
  });
  const atRest = (channel: Channel): number => Math.floor(channel.home / 2 ** (channel.bits - 8));
  onMount(() => {
    if (current) value = atRest(current.channel);
    return () => app.live.probe(null);
  });

  /** What the stand-in gateways hold at these addresses, where they listen to this universe. */
  const heard = $derived.by(() => {
    if (!on || universe === null || !place.ok) return null;
    for (const route of app.rig.routes.filter((r) => r.id === way?.value)) {
      const protocol = app.rig.output(route.outputId)?.protocol;
      for (const gateway of app.live.system.standins?.gateways ?? []) {
        const port = gateway.kind === protocol && gateway.ports.find((p) => p.wireUniverse === route.wireUniverse);
        if (!port || port.lastSeenMs === null) continue;
        const slots = fromBase64(port.slots);
        const start = place.value.address - 1;
        const got = slots.subarray(start, start + bytes.length);
        return { name: `${gateway.name}, port ${port.port}`, same: got.every((v, i) => v === bytes[i]), got };
      }
    }
    return null;
  });
  export function show(key: string, at: number): void {
    const found = laid.find((l) => l.channel.key === key);
    if (found) channelKey = `${key}#${found.cell}`;
    value = at;
  }
  function step(by: number): void {
    if (!current) return;
    const next = laid[(laid.indexOf(current) + by + laid.length) % laid.length]!;
    channelKey = `${next.channel.key}#${next.cell}`;
    value = atRest(next.channel);
    from = null;
  }
  function stepRange(by: number): void {
    const ranges = sortedRanges(current?.channel.ranges ?? []);
    if (ranges.length === 0) return void (value = Math.min(255, Math.max(0, value + by * 16)));
    const here = ranges.findIndex((r) => value >= r.from && value <= r.to);
    const next = ranges[Math.min(ranges.length - 1, Math.max(0, (here < 0 ? (by > 0 ? -1 : 0) : here) + by))]!;
    value = Math.floor((next.from + next.to) / 2);
  }
  /** What was seen between two values gets a name. */
  function name(): void {
    if (!current || from === null) return;
    const [low, high] = [Math.min(from, value), Math.max(from, value)];
    const { channel } = current;
    const clash = channel.ranges.find((r) => r.from <= high && low <= r.to);
    if (clash) {
      fault = `${low}-${high} overlaps “${clash.name}” (${clash.from}-${clash.to}).`;
      return;
    }
    const made = { from: low, to: high, name: freeName(channel.ranges, naming.trim() || 'Unknown') };
    fault = editor.setChannel('Name a range', channel.key, { ranges: sortedRanges([...channel.ranges, made]) });
    if (fault !== null) return;
    naming = '';
    from = null;
  }
</script>

<div class="try">
  <div class="row">
    <Choice
      label="Through"
      value={way?.value ?? null}
      options={ways}
      choose={(id) => {
        wayId = id;
        where = `${ways.find((w) => w.value === id)?.universe ?? 1}.${place.ok ? place.value.address : 1}`;
      }}
    />
    <label>First address<input class="num" bind:value={where} aria-invalid={!place.ok} /></label>
  </div>
  {#if !place.ok}<p class="fault" role="alert">▲ {place.fault.message}. {place.fault.remedy}</p>
  {:else if !routed}<p class="quiet">
      Universe {universe} goes nowhere: only the picture here shows it. See Lines.
    </p>{/if}
  <div class="row">
    <Button kind={on ? 'plain' : 'main'} pressed={on} onclick={() => (on = !on)}
      >{on ? 'Stop sending' : 'Send to this address'}</Button
    >
    <label class="tick"><input type="checkbox" bind:checked={lit} /> the rest lit</label>
  </div>
  <FixtureFace {profile} mode={modeKey} values={bytes} />
  {#if current}
    <div class="row">
      <Button aria-label="Channel before" onclick={() => step(-1)}>‹</Button>
      <span class="now"
        ><b>{current.channel.name}</b>{current.cell > 0 ? ` cell ${current.cell}` : ''}
        <span class="quiet num">slot {current.offsets[0]! + 1}</span></span
      >
      <Button aria-label="Next channel" onclick={() => step(1)}>›</Button>
    </div>
    <label class="fader">
      <span class="num">{value}</span>
      <input type="range" min="0" max="255" step="1" bind:value aria-label="Value of {current.channel.name}" />
    </label>
    <div class="row">
      <Button onclick={() => stepRange(-1)}>Range before</Button>
      <span class="now">{range?.name ?? 'no range here'}</span>
      <Button onclick={() => stepRange(1)}>Next range</Button>
    </div>
    <div class="name">
      {#if from === null}
        <Button onclick={() => (from = value)}>Begins here ({value})</Button>
      {:else}
        <span class="num">{Math.min(from, value)}-{Math.max(from, value)}</span>
        <input aria-label="What it does" placeholder="What it does" bind:value={naming} maxlength="100" />
        <Button kind="main" onclick={name}>Name it</Button>
        <Button kind="bare" onclick={() => (from = null)}>Forget</Button>
      {/if}
    </div>
  {/if}
  {#if fault}<p class="fault" role="alert">▲ {fault}</p>{/if}
  {#if heard}
    <p>
      {heard.name} receives
      <span class="num" data-testid="heard">{[...heard.got.slice(0, 24)].join(' ')}</span>{heard.same ? '' : ' …'}
    </p>
  {/if}
</div>

<style>
  .try {
    display: grid;
    gap: 10px;
  }
  .row,
  .name {
    display: flex;
    gap: 8px;
    align-items: end;
    flex-wrap: wrap;
  }
  .row > :global(.choice) {
    flex: 1;
  }
  label {
    display: grid;
    gap: 3px;
    color: var(--quiet);
    font-size: 12.5px;
  }
  .tick {
    display: flex;
    align-items: center;
    gap: 6px;
    min-height: 32px;
  }
  .now {
    flex: 1;
    text-align: center;
    align-self: center;
    line-height: 1.25;
  }
  input:not([type='checkbox'], [type='range']) {
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    color: var(--text);
    padding: 5px 8px;
    width: 92px;
    min-width: 0;
  }
  .name input {
    flex: 1;
  }
  .name {
    align-items: center;
  }
  .fader {
    grid-template-columns: 36px 1fr;
    align-items: center;
  }
  .fader .num {
    text-align: right;
    color: var(--text);
  }
  .fader input {
    width: 100%;
    accent-color: var(--amber);
  }
  .fault {
    color: var(--wrong);
  }
</style>
