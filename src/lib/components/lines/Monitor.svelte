<script lang="ts">
  import { fromBase64 } from '$core/base64.ts';
  import { slotsOfScope } from '$core/signal/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LinesDesk } from '$lib/state/lines/lines-desk.svelte.ts';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import { paintMonitor, readInks } from './monitor-paint.ts';
  import MonitorOwners from './MonitorOwners.svelte';
  import UniverseChoice from './UniverseChoice.svelte';

  /** Any universe's 512 slots as they are sent now, with who owns each, beside what the other end says. */
  let { desk }: { desk: LinesDesk } = $props();
  const app = getApp();
  type Look = 'grid' | 'bars' | 'owners';
  type Count = '255' | 'percent' | 'hex';
  let look = $state<Look>('grid');
  let count = $state<Count>('255');
  let beside = $state('');
  let follow = $state(false);
  let frozen = $state.raw<Uint8Array | null>(null);
  let canvas = $state<HTMLCanvasElement>();
  let width = $state(0);
  const columns = $derived(width > 0 && width < 620 ? 16 : 32);
  const cellHeight = $derived(look === 'bars' ? 34 : 21);
  const universe = $derived(
    desk.universe !== null && app.live.universes.includes(desk.universe) ? desk.universe : (app.live.universes[0] ?? 1),
  );
  const at = $derived(desk.slot - 1);

  const slots = $derived(slotsOfScope(app.live.document, { universe, from: 1, to: 512 }));
  const owner = $derived.by(() => {
    const order = new Map(app.rig.units.map((u, i) => [u.id, i]));
    return Int16Array.from(slots, (s) => (s.unitId === null ? -1 : (order.get(s.unitId) ?? -1)));
  });
  const marked = $derived(new Set(slots.flatMap((s, i) => (s.unitId && app.selection.has(s.unitId) ? [i] : []))));
  $effect(() => {
    if (!follow) return;
    const place = app.selection.ids[0] ? app.rig.place(app.selection.ids[0]) : null;
    if (!place) return;
    desk.universe = place.universe;
    desk.slot = place.address;
  });

  /** Who else can say what is in this universe: ports of stand-ins that it goes to, and desks that come in. */
  const others = $derived.by(() => {
    const found = [{ value: '', text: 'nothing beside' }];
    if (app.live.network.inputs.some((i) => i.universe === universe))
      found.push({ value: 'in', text: 'the desk that comes in' });
    for (const standin of app.live.system.standins?.gateways ?? [])
      for (const port of standin.ports) {
        const goes = app.rig.routes.some((r) => {
          const output = app.rig.output(r.outputId);
          const there =
            standin.kind === 'usb'
              ? output?.serialPath === standin.address
              : output?.destinations.includes(standin.address);
          return r.universe === universe && r.wireUniverse === port.wireUniverse && there;
        });
        if (goes) found.push({ value: `${standin.id} ${port.port}`, text: `${standin.name}, port ${port.port}` });
      }
    return found;
  });
  const besideSlots = (): Uint8Array | null => {
    if (beside === '') return null;
    if (beside === 'in') return app.live.received.get(universe) ?? null;
    const [id, port] = beside.split(' ');
    const found = app.live.system.standins?.gateways
      .find((g) => g.id === id)
      ?.ports.find((p) => p.port === Number(port));
    return found ? fromBase64(found.slots) : null;
  };
  $effect(() => {
    if (!others.some((o) => o.value === beside)) beside = '';
  });

  const TEXT: Readonly<Record<Count, (v: number) => string>> = {
    '255': String,
    percent: (v) => String(Math.round((v / 255) * 100)),
    hex: (v) => v.toString(16).toUpperCase().padStart(2, '0'),
  };
  const text = $derived(TEXT[count]);
  const suffix = $derived(count === 'percent' ? ' %' : '');
  let since = $state(0);
  const low = new Uint8Array(512).fill(255);
  const high = new Uint8Array(512);
  function reset(): void {
    low.fill(255);
    high.fill(0);
    since = Date.now();
  }
  let reading = $state({ sent: 0, low: 0, high: 0, beside: null as number | null });
  const NOTHING = new Uint8Array(512);
  let inks: ReturnType<typeof readInks> | null = null;

  function paint(): void {
    const known = app.live.sent.get(universe);
    const live = known ?? NOTHING;
    for (let i = 0; known && i < 512; i++) {
      if (live[i]! < low[i]!) low[i] = live[i]!;
      if (live[i]! > high[i]!) high[i] = live[i]!;
    }
    const sent = frozen ?? live;
    const other = besideSlots();
    tell(sent, other);
    const g = canvas?.getContext('2d');
    if (!g || !canvas || width === 0) return;
    inks ??= readInks(document.documentElement);
    const ratio = window.devicePixelRatio || 1;
    g.setTransform(ratio, 0, 0, ratio, 0, 0);
    paintMonitor(
      g,
      {
        width,
        columns,
        cellHeight,
        bars: look === 'bars',
        slots: sent,
        beside: other,
        low,
        high,
        owner,
        marked,
        at,
        text,
      },
      inks,
    );
  }
  /** Values for the list by owner, not more often than people read. */
  let listed = $state.raw<{ values: Uint8Array; beside: Uint8Array | null }>({ values: NOTHING, beside: null });
  let listedAt = 0;
  function tell(sent: Uint8Array, other: Uint8Array | null): void {
    const next = { sent: sent[at]!, low: low[at]!, high: high[at]!, beside: other ? other[at]! : null };
    if (JSON.stringify(next) !== JSON.stringify(reading)) reading = next;
    const now = performance.now();
    if (look !== 'owners' || now - listedAt < 100) return;
    listedAt = now;
    listed = { values: sent.slice(), beside: other };
  }
  $effect(() => {
    void app.theme;
    inks = null;
  });
  $effect(() => {
    void universe;
    frozen = null;
    reset();
  });
  $effect(() => {
    void [owner, marked, count, look, at, app.theme, frozen, beside, app.live.system];
    listedAt = 0;
    if (look === 'owners') paint();
    if (!canvas || width === 0) return;
    const ratio = window.devicePixelRatio || 1;
    const [w, h] = [Math.round(width * ratio), Math.round((512 / columns) * cellHeight * ratio)];
    if (canvas.width !== w || canvas.height !== h) {
      canvas.width = w;
      canvas.height = h;
    }
    paint();
  });
  $effect(() => app.live.onFrame(paint));

  function key(event: KeyboardEvent): void {
    const moves: Record<string, number> = {
      ArrowLeft: -1,
      ArrowRight: 1,
      ArrowUp: -columns,
      ArrowDown: columns,
      Home: -512,
      End: 512,
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    desk.slot = Math.min(512, Math.max(1, desk.slot + move));
  }
  function point(event: PointerEvent): void {
    const box = canvas!.getBoundingClientRect();
    const column = Math.floor(((event.clientX - box.left) / box.width) * columns);
    const row = Math.floor(((event.clientY - box.top) / box.height) * (512 / columns));
    if (column >= 0 && column < columns && row >= 0 && row < 512 / columns) desk.slot = row * columns + column + 1;
  }
  const here = $derived(slots[at]);
  const hereUnit = $derived(here?.unitId ? app.rig.unit(here.unitId) : undefined);
</script>

<section aria-label="Monitor">
  <header>
    <UniverseChoice value={universe} choose={(u) => (desk.universe = u)} />
    <Choice
      hideLabel
      label="Look"
      value={look}
      options={[
        { value: 'grid', text: 'numbers' },
        { value: 'bars', text: 'bars' },
        { value: 'owners', text: 'by owner' },
      ]}
      choose={(l) => (look = l)}
    />
    <Choice
      hideLabel
      label="Counting"
      value={count}
      options={[
        { value: '255', text: '0-255' },
        { value: 'percent', text: 'percent' },
        { value: 'hex', text: 'hexadecimal' },
      ]}
      choose={(c) => (count = c)}
    />
    <Choice hideLabel label="Beside it" value={beside} options={others} choose={(b) => (beside = b)} />
    <Button
      pressed={frozen !== null}
      onclick={() => (frozen = frozen ? null : (app.live.sent.get(universe) ?? NOTHING).slice())}>Freeze</Button
    >
    <Button pressed={follow} onclick={() => (follow = !follow)}>Follow the selection</Button>
    <Button onclick={reset} title="Lowest and highest since now">Reset min-max</Button>
  </header>
  <p class="owner" aria-live="polite">
    <b class="num">{universe}.{desk.slot}</b>
    <span class="num big" data-testid="monitor-value">{text(reading.sent)}{suffix}</span>
    <span class="quiet"
      >min <span class="num">{text(Math.min(reading.low, reading.high))}</span> max
      <span class="num">{text(reading.high)}</span>{since > 0
        ? ` since ${new Date(since).toLocaleTimeString()}`
        : ''}</span
    >
    {#if reading.beside !== null}<span
        >there <span class="num" class:differs={reading.beside !== reading.sent}>{text(reading.beside)}{suffix}</span
        ></span
      >{/if}
    {#if hereUnit}<button type="button" onclick={() => app.selection.set([hereUnit.id])}
        ><span class="num quiet">{hereUnit.number}</span> {hereUnit.name}: {here?.words}</button
      >{:else}<span class="quiet">nobody's</span>{/if}
  </p>
  {#if look === 'owners'}
    <MonitorOwners
      {slots}
      values={listed.values}
      beside={listed.beside}
      {text}
      at={desk.slot}
      choose={(slot) => (desk.slot = slot)}
    />
  {:else}
    <div class="grid">
      <div class="starts num quiet" aria-hidden="true">
        {#each Array.from({ length: 512 / columns }, (_, i) => i * columns + 1) as start (start)}<span
            style:height="{cellHeight}px">{start}</span
          >{/each}
      </div>
      <div bind:clientWidth={width} class="slots">
        <canvas
          bind:this={canvas}
          style:width="{width}px"
          style:height="{(512 / columns) * cellHeight}px"
          tabindex="0"
          aria-label="512 slots of universe {universe}; arrow keys move, the line above tells value and owner"
          onpointermove={(e) => e.pointerType === 'mouse' && e.buttons === 0 && point(e)}
          onpointerdown={(e) => {
            point(e);
            const id = slots[desk.slot - 1]?.unitId;
            if (id) app.selection.set([id]);
          }}
          onkeydown={key}
        ></canvas>
      </div>
    </div>
  {/if}
</section>

<style>
  section {
    display: grid;
    gap: 8px;
    padding: 4px 16px 24px;
    overflow: auto;
    align-content: start;
  }
  header {
    display: flex;
    gap: 8px;
    align-items: center;
    flex-wrap: wrap;
  }
  .owner {
    display: flex;
    gap: 12px;
    align-items: baseline;
    flex-wrap: wrap;
    min-height: 28px;
  }
  .owner button {
    border: 0;
    background: none;
    padding: 2px 4px;
    text-decoration: underline;
    text-decoration-color: var(--line-strong);
  }
  .big {
    font-size: 17px;
    min-width: 52px;
  }
  .differs {
    color: var(--wrong);
    font-weight: 700;
  }
  .grid {
    display: grid;
    grid-template-columns: 34px minmax(0, 1fr);
    min-width: 0;
  }
  .starts {
    display: grid;
    align-content: start;
    font-size: 10.5px;
    text-align: right;
    padding-right: 6px;
  }
  .starts span {
    display: flex;
    align-items: center;
    justify-content: flex-end;
  }
  .slots {
    min-width: 0;
  }
  canvas {
    display: block;
    touch-action: manipulation;
  }
</style>
