<script lang="ts">
  import { onMount } from 'svelte';
  import type { UnitId } from '$core/ids.ts';
  import { hits, planSize, type Point } from '$core/plot/geometry.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Button from '../Button.svelte';
  import { drawLight, drawPaper, drawUnits, type Drawn, type Inks } from './draw.ts';
  import { fitting, toPlan, toScreen, zoomed, type View } from './view.ts';

  /** Whose light is drawn: what we send, or what another desk sends us where it does. */
  let { seen = 'sent' }: { seen?: 'sent' | 'received' } = $props();
  const app = getApp();
  let wrap = $state<HTMLElement>();
  let paper = $state<HTMLCanvasElement>();
  let front = $state<HTMLCanvasElement>();
  let size = $state.raw({ width: 0, height: 0 });
  let view = $state.raw<View | null>(null);
  /** Shift of the selection while it is dragged or nudged, metres; stored when it ends. */
  let shift = $state.raw<Point>({ x: 0, y: 0 });
  let marquee = $state.raw<{ from: Point; to: Point } | null>(null);
  let snap = $state(true);
  let space = false;
  const SNAP_M = 0.1;

  type Gesture =
    | { readonly kind: 'move'; readonly from: Point; moved: boolean }
    | { readonly kind: 'marquee'; readonly from: Point; readonly add: boolean }
    | { readonly kind: 'pan'; readonly from: Point; readonly view: View }
    | { readonly kind: 'pinch'; readonly distance: number; readonly middle: Point; readonly view: View };
  let gesture: Gesture | null = null;
  const pointers = new Map<number, Point>();

  const roomPoints = $derived.by((): Point[] => {
    const { widthM, depthM } = app.rig.show?.room ?? { widthM: 12, depthM: 8 };
    return [
      ...app.rig.units.map((u) => u.position),
      { x: -widthM / 2, y: -depthM / 2 },
      { x: widthM / 2, y: depthM / 2 },
    ];
  });
  const drawn = $derived.by((): Drawn[] =>
    app.rig.units.map((unit) => {
      const profile = app.rig.profile(unit.profileId);
      const selected = app.selection.has(unit.id);
      return {
        unit,
        profile,
        size: planSize(profile),
        reader: app.rig.readers.get(unit.id),
        selected,
        byHand: app.hand.values[unit.id] !== undefined,
        dx: selected ? shift.x : 0,
        dy: selected ? shift.y : 0,
      };
    }),
  );
  const inks = $derived.by((): Inks => {
    void app.theme;
    const style = getComputedStyle(document.documentElement);
    const ink = (name: string): string => style.getPropertyValue(name).trim();
    return {
      body: '#1b2130',
      outline: '#8693aa',
      select: '#ffb347',
      text: '#a3aec0',
      grid: ink('--paper-line'),
      wall: '#4a566d',
    };
  });

  function fit(points: readonly Point[] = roomPoints): void {
    view = fitting(points, size, 0.6);
  }
  /** Universes of desks that are silent are ours again. */
  const heard = $derived(app.live.network.inputs.filter((i) => i.sources.length > 0).map((i) => i.universe));
  function framesSeen(): ReadonlyMap<number, Uint8Array> {
    if (seen === 'sent') return app.live.frames;
    const frames = new Map(app.live.frames);
    for (const universe of heard) {
      const slots = app.live.received.get(universe);
      if (slots) frames.set(universe, slots);
    }
    return frames;
  }
  let queued = false;
  function redraw(): void {
    if (queued) return;
    queued = true;
    requestAnimationFrame(() => {
      queued = false;
      const g = front?.getContext('2d');
      if (!g || !view) return;
      const ratio = window.devicePixelRatio || 1;
      g.setTransform(ratio, 0, 0, ratio, 0, 0);
      g.clearRect(0, 0, size.width, size.height);
      const frames = framesSeen();
      drawLight(g, view, size, drawn, frames);
      drawUnits(g, view, size, drawn, frames, inks);
      if (marquee) {
        g.strokeStyle = inks.select;
        g.fillStyle = 'rgba(255,179,71,.1)';
        g.lineWidth = 1;
        const [x, y] = [Math.min(marquee.from.x, marquee.to.x), Math.min(marquee.from.y, marquee.to.y)];
        const [w, h] = [Math.abs(marquee.to.x - marquee.from.x), Math.abs(marquee.to.y - marquee.from.y)];
        g.fillRect(x, y, w, h);
        g.strokeRect(x + 0.5, y + 0.5, w, h);
      }
    });
  }
  $effect(() => {
    void [view, drawn, inks, marquee, size, seen, heard];
    redraw();
  });
  $effect(() => {
    const g = paper?.getContext('2d');
    if (!g || !view) return;
    const ratio = window.devicePixelRatio || 1;
    g.setTransform(ratio, 0, 0, ratio, 0, 0);
    drawPaper(g, view, size, app.rig.show, inks);
  });
  onMount(() => {
    const observer = new ResizeObserver(([entry]) => {
      const box = entry!.contentRect;
      const ratio = window.devicePixelRatio || 1;
      size = { width: box.width, height: box.height };
      for (const canvas of [paper!, front!]) {
        canvas.width = Math.round(box.width * ratio);
        canvas.height = Math.round(box.height * ratio);
      }
      if (!view) fit();
      else view = { ...view };
    });
    observer.observe(wrap!);
    const stop = app.live.onFrame(redraw);
    return () => {
      observer.disconnect();
      stop();
    };
  });

  const local = (event: PointerEvent | WheelEvent): Point => {
    const box = wrap!.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  /** The topmost unit under a screen point. */
  function unitAt(p: Point): UnitId | null {
    if (!view) return null;
    const at = toPlan(view, size, p);
    const margin = 7 / view.scale;
    for (let i = drawn.length - 1; i >= 0; i--)
      if (hits(drawn[i]!.unit, drawn[i]!.size, at, margin)) return drawn[i]!.unit.id;
    return null;
  }

  function down(event: PointerEvent): void {
    if (!view) return;
    wrap!.focus({ preventScroll: true });
    wrap!.setPointerCapture(event.pointerId);
    const p = local(event);
    pointers.set(event.pointerId, p);
    if (pointers.size === 2) {
      const [a, b] = [...pointers.values()] as [Point, Point];
      cancel();
      gesture = {
        kind: 'pinch',
        distance: Math.hypot(a.x - b.x, a.y - b.y),
        middle: { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 },
        view,
      };
      return;
    }
    if (event.button === 1 || space) {
      gesture = { kind: 'pan', from: p, view };
      return;
    }
    if (event.button !== 0) return;
    const id = unitAt(p);
    if (id) {
      if (event.ctrlKey || event.metaKey || event.shiftKey) app.selection.toggle(id);
      else if (!app.selection.has(id)) app.selection.set([id]);
      gesture = { kind: 'move', from: p, moved: false };
    } else gesture = { kind: 'marquee', from: p, add: event.shiftKey };
  }
  function move(event: PointerEvent): void {
    if (!gesture || !view) return;
    const p = local(event);
    pointers.set(event.pointerId, p);
    if (gesture.kind === 'pan')
      view = {
        ...gesture.view,
        x: gesture.view.x - (p.x - gesture.from.x) / view.scale,
        y: gesture.view.y + (p.y - gesture.from.y) / view.scale,
      };
    else if (gesture.kind === 'marquee') marquee = { from: gesture.from, to: p };
    else if (gesture.kind === 'pinch') pinch(gesture);
    else {
      if (!gesture.moved && Math.hypot(p.x - gesture.from.x, p.y - gesture.from.y) < 4) return;
      gesture.moved = true;
      shift = snapped(
        { x: (p.x - gesture.from.x) / view.scale, y: -(p.y - gesture.from.y) / view.scale },
        event.altKey,
      );
    }
  }
  function pinch(start: Extract<Gesture, { kind: 'pinch' }>): void {
    const [a, b] = [...pointers.values()] as [Point, Point];
    const middle = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
    const turned = zoomed(
      start.view,
      size,
      start.middle,
      Math.hypot(a.x - b.x, a.y - b.y) / Math.max(1, start.distance),
    );
    view = {
      ...turned,
      x: turned.x - (middle.x - start.middle.x) / turned.scale,
      y: turned.y + (middle.y - start.middle.y) / turned.scale,
    };
  }
  /** Moves so that the first selected unit lands on the grid of tenths of a metre. */
  function snapped(raw: Point, free: boolean): Point {
    const first = app.rig.unit(app.selection.ids[0] ?? '');
    if (!snap || free || !first) return raw;
    const to = (at: number, by: number): number => Math.round((at + by) / SNAP_M) * SNAP_M - at;
    return { x: to(first.position.x, raw.x), y: to(first.position.y, raw.y) };
  }
  function up(event: PointerEvent): void {
    pointers.delete(event.pointerId);
    const ended = gesture;
    gesture = null;
    if (ended?.kind === 'move' && ended.moved) store();
    else if (ended?.kind === 'move' && !event.shiftKey && !event.ctrlKey && !event.metaKey) {
      const id = unitAt(local(event));
      if (id) app.selection.set([id]);
    } else if (ended?.kind === 'marquee') choose(ended);
    marquee = null;
  }
  function choose({ from, add }: Extract<Gesture, { kind: 'marquee' }>): void {
    const to = marquee?.to ?? from;
    const inside = drawn
      .filter(({ unit }) => {
        const p = toScreen(view!, size, unit.position);
        return (
          p.x >= Math.min(from.x, to.x) &&
          p.x <= Math.max(from.x, to.x) &&
          p.y >= Math.min(from.y, to.y) &&
          p.y <= Math.max(from.y, to.y)
        );
      })
      .map((d) => d.unit.id);
    if (add) app.selection.add(inside);
    else app.selection.set(inside);
  }
  function cancel(): void {
    gesture = null;
    marquee = null;
    shift = { x: 0, y: 0 };
  }
  /** One gesture is one edit and one undo. */
  function store(): void {
    const by = shift;
    shift = { x: 0, y: 0 };
    const units = app.selection.ids.flatMap((id) => app.rig.unit(id) ?? []);
    if (units.length === 0 || (by.x === 0 && by.y === 0)) return;
    const round = (v: number): number => Math.min(1000, Math.max(-1000, Math.round(v * 1000) / 1000));
    const put = units.map((u) => ({
      ...u,
      position: { ...u.position, x: round(u.position.x + by.x), y: round(u.position.y + by.y) },
    }));
    app.live.edit(`Move ${units.length === 1 ? units[0]!.name : `${units.length} units`}`, { put, remove: [] });
  }

  const NUDGES: Readonly<Record<string, Point>> = {
    ArrowLeft: { x: -1, y: 0 },
    ArrowRight: { x: 1, y: 0 },
    ArrowUp: { x: 0, y: 1 },
    ArrowDown: { x: 0, y: -1 },
  };
  function key(event: KeyboardEvent): void {
    const nudge = NUDGES[event.key];
    const middle = { x: size.width / 2, y: size.height / 2 };
    if (nudge && app.selection.ids.length > 0) {
      const by = event.shiftKey ? 1 : 0.1;
      shift = { x: shift.x + nudge.x * by, y: shift.y + nudge.y * by };
    } else if (event.key === ' ') space = true;
    else if (event.key === '+' || event.key === '=') view = view && zoomed(view, size, middle, 1.25);
    else if (event.key === '-') view = view && zoomed(view, size, middle, 0.8);
    else if (event.key === '0') fit();
    else if (event.key === 'Delete' && app.selection.ids.length > 0)
      app.remove(`Remove ${app.selection.ids.length} units`, app.selection.ids);
    else if (event.key === 'Escape' && gesture) cancel();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
  function keyUp(event: KeyboardEvent): void {
    if (event.key === ' ') space = false;
    if (NUDGES[event.key] && !gesture) store();
  }
  /** Screen place of a unit: for tests and for screen magnifiers. */
  const places = $derived(
    view ? Object.fromEntries(app.rig.units.map((u) => [u.id, toScreen(view!, size, u.position)])) : {},
  );
</script>

<div class="plot">
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <div
    bind:this={wrap}
    class="wrap"
    role="application"
    aria-label="Plan of the rig, {app.rig.units.length} units, {app.selection.ids
      .length} selected. Arrow keys move the selection; choose units in the list beside."
    tabindex="0"
    data-places={JSON.stringify(places)}
    onpointerdown={down}
    onpointermove={move}
    onpointerup={up}
    onpointercancel={(e) => {
      pointers.delete(e.pointerId);
      cancel();
    }}
    onwheel={(e) => {
      e.preventDefault();
      view = view && zoomed(view, size, local(e), Math.exp(-e.deltaY * 0.0015));
    }}
    onkeydown={key}
    onkeyup={keyUp}
    onblur={() => {
      space = false;
      if (!gesture) store();
    }}
  >
    <canvas bind:this={paper} style:width="{size.width}px" style:height="{size.height}px"></canvas>
    <canvas bind:this={front} style:width="{size.width}px" style:height="{size.height}px"></canvas>
    {#if app.rig.units.length === 0}
      <p class="empty">
        The plan is empty. <a href="/kit">Choose fixtures in the Kit</a>: they appear here and can be dragged to their
        place.
      </p>
    {/if}
  </div>
  <div class="tools">
    <Button onclick={() => fit()}>Show all</Button>
    <Button
      disabled={app.selection.ids.length === 0}
      onclick={() => fit(app.selection.ids.flatMap((id) => app.rig.unit(id)?.position ?? []))}>Show selection</Button
    >
    <Button pressed={snap} onclick={() => (snap = !snap)} title="Moves snap to tenths of a metre; hold Alt for free"
      >Snap 0.1 m</Button
    >
  </div>
</div>

<style>
  .plot {
    position: relative;
    flex: 1;
    min-width: 0;
    min-height: 0;
  }
  .wrap {
    position: absolute;
    inset: 0;
    background: var(--paper);
    touch-action: none;
    overflow: hidden;
  }
  .wrap:focus-visible {
    outline-offset: -2px;
  }
  canvas {
    position: absolute;
    inset: 0;
    pointer-events: none;
  }
  .tools {
    position: absolute;
    left: 12px;
    bottom: 12px;
    display: flex;
    gap: 8px;
  }
  /* The paper is dark in both themes: what lies on it needs a ground of its own. */
  .tools :global(button) {
    background: var(--panel);
  }
  .empty {
    position: absolute;
    inset: 0;
    display: grid;
    place-content: center;
    color: #a3aec0;
  }
  .empty a {
    color: #ffb347;
  }
</style>
