<script lang="ts">
  import { onMount } from 'svelte';
  import { areaChain, areaAt } from '$core/plot/areas.ts';
  import type { Body } from '$core/plot/body.ts';
  import { type Point } from '$core/plot/paper.ts';
  import { formatAddress } from '$core/patch/address.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { PlotDesk } from '$lib/state/plot-desk.svelte.ts';
  import { dropUnits } from '$lib/state/plot-edits.ts';
  import { pictureImages } from '$lib/state/picture-images.svelte.ts';
  import { GlPainter, hasGpu } from './cells-gl.ts';
  import { PlainPainter, type CellPainter } from './cells-plain.ts';
  import { beginDrag, handlesOf, type Drag, type Ground } from './drag.ts';
  import { paintLight } from './paint-light.ts';
  import { paintPaper, type Inks } from './paint-paper.ts';
  import { paintHandles, paintTurnHandle, paintUnits, turnHandle, type Units } from './paint-units.ts';
  import { paintWiring } from './paint-wiring.ts';
  import { fitting, toPlan, toScreen, zoomed, type View } from './view.ts';

  let { desk }: { desk: PlotDesk } = $props();
  const app = getApp();
  const images = pictureImages(app);
  let wrap = $state<HTMLElement>();
  let paper = $state<HTMLCanvasElement>();
  let cells = $state<HTMLCanvasElement>();
  let bloom = $state<HTMLCanvasElement>();
  let front = $state<HTMLCanvasElement>();
  let top = $state<HTMLCanvasElement>();
  let size = $state.raw({ width: 0, height: 0 });
  let marked = $state.raw<readonly Point[] | null>(null);
  let pointer = $state.raw<Point | null>(null);
  let space = false;
  let drag: Drag | null = null;
  const pointers = new Map<number, Point>();

  const view = $derived(desk.views[desk.side] ?? null);
  const look = (next: View): void => {
    desk.views = { ...desk.views, [desk.side]: next };
  };
  const inks = $derived.by((): Inks => {
    void app.theme;
    return {
      body: '#1b2130',
      outline: '#8693aa',
      select: '#ffb347',
      text: '#b4bfd0',
      grid: getComputedStyle(document.documentElement).getPropertyValue('--paper-line').trim(),
      wall: '#4a566d',
      guide: '#5fc7d8',
    };
  });
  const ground = $derived.by(
    (): Ground | null => view && { app, desk, view, size, mark: (points) => (marked = points), look },
  );

  export function fit(points: readonly Point[] = desk.extent): void {
    if (size.width > 0) look(fitting(points, size, 0.6));
  }
  export function fitSelection(): void {
    const boxes = desk.chosen.flatMap((b) => [b.box.min, b.box.max]);
    if (boxes.length > 0) look(fitting(boxes, size, 0.8));
  }
  export function zoom(factor: number): void {
    if (view) look(zoomed(view, size, { x: size.width / 2, y: size.height / 2 }, factor));
  }
  // Each side is fitted the first time it is looked at.
  $effect(() => {
    if (!view && size.width > 0 && app.live.document.size > 0) fit();
  });

  /** Universes of desks that are silent are ours again. */
  const heard = $derived(app.live.network.inputs.filter((i) => i.sources.length > 0).map((i) => i.universe));
  function framesSeen(): ReadonlyMap<number, Uint8Array> {
    if (desk.seen === 'sent') return app.live.frames;
    const frames = new Map(app.live.frames);
    for (const universe of heard) {
      const slots = app.live.received.get(universe);
      if (slots) frames.set(universe, slots);
    }
    return frames;
  }
  const drawnAreas = $derived(
    desk.side === 'plan' && desk.set.areas
      ? app.rig.areas.flatMap((area) =>
          area.outline
            ? [
                {
                  area,
                  outline: area.outline,
                  chosen: desk.tab === 'areas' && desk.area === area.id,
                  level: app.areaLevel(area.id),
                },
              ]
            : [],
        )
      : [],
  );
  function words(body: Body, level: () => number): string {
    const { labels } = desk.set;
    const place = labels.includes('address') ? app.rig.place(body.unit.id) : null;
    return [
      labels.includes('number') ? String(body.unit.number) : '',
      labels.includes('name') ? body.unit.name : '',
      place ? formatAddress(place.universe, place.address) : '',
      labels.includes('level') ? `${Math.round(level() * 100)} %` : '',
    ]
      .filter(Boolean)
      .join('  ');
  }
  const ratio = (): number => window.devicePixelRatio || 1;
  function clear(canvas: HTMLCanvasElement | undefined): CanvasRenderingContext2D | null {
    const g = canvas?.getContext('2d') ?? null;
    g?.setTransform(ratio(), 0, 0, ratio(), 0, 0);
    g?.clearRect(0, 0, size.width, size.height);
    return g;
  }
  let painter: CellPainter | null = null;
  const software = $derived(desk.set.drawing === 'plain' || (desk.set.drawing === 'auto' && !hasGpu()));
  $effect(() => {
    const canvas = cells;
    if (!canvas) return;
    const made = (!software && GlPainter.on(canvas)) || new PlainPainter(canvas);
    painter = made;
    draw(true);
    return () => made.dispose();
  });

  /** Paints that are due, once a frame of the browser: the light with every frame, what moves with the pointer. */
  let due: { light: boolean } | null = null;
  function draw(light: boolean): void {
    if (due) due.light ||= light;
    else {
      due = { light };
      requestAnimationFrame(() => {
        const { light: all } = due!;
        due = null;
        if (view && size.width > 0) paint(view, all);
      });
    }
  }
  function paint(now: View, all: boolean): void {
    const frames = framesSeen();
    const units: Units = {
      readers: app.rig.readers,
      frames,
      selected: (id) => app.selection.has(id as never),
      byHand: (id) => app.hand.values[id] !== undefined,
      label: words,
      locked: (b) => desk.isLocked(b.unit),
    };
    const { beams, wiring } = desk.set;
    if (all || desk.moving.count > 0) {
      painter?.paint([desk.still, desk.moving], frames, now, size, ratio());
      const b = bloom?.getContext('2d');
      if (b && cells && bloom) {
        // Every dot counts in the small picture, not only those that a coarse scaling happens to meet.
        b.imageSmoothingQuality = 'high';
        b.clearRect(0, 0, bloom.width, bloom.height);
        b.drawImage(cells, 0, 0, bloom.width, bloom.height);
      }
    }
    if (all) {
      const g = clear(front);
      const rest = desk.trial.size === 0 ? desk.bodies : desk.bodies.filter((b) => !desk.trial.has(b.unit.id));
      if (g) {
        paintLight(g, now, size, desk.side, rest, app.rig.readers, frames, beams);
        paintUnits(g, now, size, rest, units, inks);
      }
    }
    const g = clear(top);
    if (!g) return;
    if (desk.trial.size > 0) {
      paintLight(g, now, size, desk.side, desk.trialBodies, app.rig.readers, frames, beams);
      paintUnits(g, now, size, desk.trialBodies, units, inks);
    }
    if (wiring || desk.tab === 'prop') for (const body of desk.chosen) paintWiring(g, now, size, desk.side, body, inks);
    paintTools(g, now);
  }
  function paintTools(g: CanvasRenderingContext2D, now: View): void {
    const turn = desk.tool === 'select' && app.selection.ids.length > 0 ? turnHandle(now, size, desk.chosen) : null;
    if (turn) paintTurnHandle(g, turn, inks);
    if (desk.tab === 'prop' && desk.chosen.length === 1)
      paintHandles(
        g,
        handlesOf({ desk, view: now, size }, desk.chosen[0]!).map((h) => h.at),
        inks,
      );
    g.lineWidth = 1;
    g.strokeStyle = inks.guide;
    for (const axis of ['x', 'y'] as const) {
      const at = desk.caught[axis];
      if (at === null) continue;
      const p = toScreen(now, size, { x: at, y: at })[axis];
      g.beginPath();
      g.moveTo(axis === 'x' ? p : 0, axis === 'x' ? 0 : p);
      g.lineTo(axis === 'x' ? p : size.width, axis === 'x' ? size.height : p);
      g.stroke();
    }
    g.strokeStyle = inks.select;
    g.fillStyle = 'rgba(255,179,71,.1)';
    if (marked) trace(g, marked, true, desk.tool === 'place');
    const corners = desk.corners.map((c) => toScreen(now, size, c));
    if (corners.length > 0) trace(g, pointer && desk.tool !== 'scale' ? [...corners, pointer] : corners, false, true);
  }
  function trace(g: CanvasRenderingContext2D, points: readonly Point[], filled: boolean, dots: boolean): void {
    g.beginPath();
    points.forEach((p, i) => (i === 0 ? g.moveTo(p.x, p.y) : g.lineTo(p.x, p.y)));
    if (filled && !dots) g.closePath();
    if (filled && !dots) g.fill();
    g.stroke();
    if (!dots) return;
    g.fillStyle = inks.select;
    for (const p of points) g.fillRect(p.x - 3, p.y - 3, 6, 6);
  }
  $effect(() => {
    void [view, size, desk.still, desk.bodies, inks, desk.seen, heard, desk.set, app.selection.ids, app.hand.values];
    draw(true);
  });
  $effect(() => {
    void [desk.trial, desk.chosen, marked, desk.corners, pointer, desk.caught, desk.tool, desk.tab];
    draw(false);
  });
  // What begins or stops to move changes from one canvas to the other.
  const lifted = $derived(desk.trial.size > 0);
  $effect(() => {
    void lifted;
    draw(true);
  });
  $effect(() => {
    const g = clear(paper);
    if (!g || !view) return;
    paintPaper(
      g,
      view,
      size,
      {
        side: desk.side,
        show: app.rig.show,
        lengths: desk.lengths,
        grid: desk.set.gridM > 0,
        rulers: desk.set.rulers,
        guides: desk.guides,
        backdrops: desk.backdrops.map((record) => ({ record, ...images.of(record.pictureId) })),
        areas: drawnAreas,
      },
      inks,
    );
  });
  onMount(() => {
    const observer = new ResizeObserver(([entry]) => {
      const box = entry!.contentRect;
      for (const canvas of [paper!, cells!, front!, top!]) {
        canvas.width = Math.round(box.width * ratio());
        canvas.height = Math.round(box.height * ratio());
      }
      bloom!.width = Math.ceil(box.width / 8);
      bloom!.height = Math.ceil(box.height / 8);
      size = { width: box.width, height: box.height };
    });
    observer.observe(wrap!);
    const stop = app.live.onFrame(() => draw(true));
    return () => {
      observer.disconnect();
      stop();
    };
  });

  const local = (event: MouseEvent): Point => {
    const box = wrap!.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  function down(event: PointerEvent): void {
    if (!ground) return;
    wrap!.focus({ preventScroll: true });
    wrap!.setPointerCapture(event.pointerId);
    const p = local(event);
    pointers.set(event.pointerId, p);
    if (pointers.size === 2) {
      drag?.cancel();
      drag = pinching(ground.view);
    } else if (event.button === 1 || space) drag = panning(p, ground.view);
    else if (event.button === 0) drag = beginDrag(ground, p, event);
  }
  function panning(from: Point, start: View): Drag {
    return {
      move: (p) =>
        look({ ...start, x: start.x - (p.x - from.x) / start.scale, y: start.y + (p.y - from.y) / start.scale }),
      end: () => undefined,
      cancel: () => undefined,
    };
  }
  function pinching(start: View): Drag {
    const pair = (): [Point, Point] => [...pointers.values()] as [Point, Point];
    const [a, b] = pair();
    const from = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
    const apart = Math.max(1, Math.hypot(a.x - b.x, a.y - b.y));
    return {
      move() {
        const [c, d] = pair();
        if (!d) return;
        const middle = { x: (c.x + d.x) / 2, y: (c.y + d.y) / 2 };
        const turned = zoomed(start, size, from, Math.hypot(c.x - d.x, c.y - d.y) / apart);
        look({
          ...turned,
          x: turned.x - (middle.x - from.x) / turned.scale,
          y: turned.y + (middle.y - from.y) / turned.scale,
        });
      },
      end: () => undefined,
      cancel: () => undefined,
    };
  }
  function move(event: PointerEvent): void {
    const p = local(event);
    if (desk.corners.length > 0) pointer = p;
    if (!drag) return;
    pointers.set(event.pointerId, p);
    drag.move(p, event);
  }
  function up(event: PointerEvent): void {
    pointers.delete(event.pointerId);
    const ended = drag;
    drag = null;
    ended?.end(event);
  }
  function cancel(): void {
    drag?.cancel();
    drag = null;
    marked = null;
  }
  /** Two clicks on an area look at it; while something is drawn they end it. */
  function twice(event: MouseEvent): void {
    if (!view) return;
    if (desk.corners.length > 0) return desk.finish();
    const area = desk.side === 'plan' ? areaAt(app.live.document, toPlan(view, size, local(event))) : null;
    if (area?.outline && areaChain(app.live.document, area.id).length > 0) look(fitting(area.outline, size, 0.5));
  }

  const NUDGES: Readonly<Record<string, Point>> = {
    ArrowLeft: { x: -1, y: 0 },
    ArrowRight: { x: 1, y: 0 },
    ArrowUp: { x: 0, y: 1 },
    ArrowDown: { x: 0, y: -1 },
  };
  let nudged = { x: 0, y: 0 };
  function key(event: KeyboardEvent): void {
    const nudge = NUDGES[event.key];
    if (nudge && app.selection.ids.length > 0 && !drag) {
      const by = event.shiftKey ? 1 : 0.1;
      nudged = { x: nudged.x + nudge.x * by, y: nudged.y + nudge.y * by };
      desk.trial = new Map(desk.moved(nudged).map((u) => [u.id, u]));
    } else if (event.key === ' ') space = true;
    else if (event.key === '+' || event.key === '=') zoom(1.25);
    else if (event.key === '-') zoom(0.8);
    else if (event.key === '0') fit();
    else if (event.key === '.') fitSelection();
    else if (event.key === 'Enter' && desk.corners.length > 0) desk.finish();
    else if (event.key === 'Backspace' && desk.corners.length > 0) desk.stepBack();
    else if (event.key === 'Delete' && app.selection.ids.length > 0)
      app.remove(`Remove ${app.selection.ids.length} units`, app.selection.ids);
    else if (event.key === 'Escape' && (drag || desk.tool !== 'select')) {
      cancel();
      desk.use('select');
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }
  function settle(): void {
    if (nudged.x === 0 && nudged.y === 0) return;
    nudged = { x: 0, y: 0 };
    const put = [...desk.trial.values()];
    desk.trial = new Map();
    desk.store('Move', put);
  }
  function drop(event: DragEvent): void {
    const ids = event.dataTransfer?.getData('text/amber-units');
    if (!ids || !view) return;
    event.preventDefault();
    dropUnits(desk, JSON.parse(ids) as never, toPlan(view, size, local(event)), app);
  }
  /** Screen places of units: for tests and for screen magnifiers. */
  const places = $derived(
    view && desk.bodies.length <= 400
      ? Object.fromEntries(desk.bodies.map((b) => [b.unit.id, toScreen(view, size, b.at)]))
      : {},
  );
</script>

<div class="plot">
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <div
    bind:this={wrap}
    class={['wrap', desk.tool]}
    role="application"
    aria-label="{desk.side === 'plan' ? 'Plan' : 'Elevation'} of the rig, {app.rig.units.length} units, {app.selection
      .ids.length} selected. Arrow keys move the selection; choose units in the list beside."
    tabindex="0"
    data-places={JSON.stringify(places)}
    data-view={JSON.stringify(view)}
    onpointerdown={down}
    onpointermove={move}
    onpointerup={up}
    onpointercancel={(e) => {
      pointers.delete(e.pointerId);
      cancel();
    }}
    ondblclick={twice}
    ondragover={(e) => e.preventDefault()}
    ondrop={drop}
    onwheel={(e) => {
      e.preventDefault();
      if (view) look(zoomed(view, size, local(e), Math.exp(-e.deltaY * 0.0015)));
    }}
    onkeydown={key}
    onkeyup={(e) => {
      if (e.key === ' ') space = false;
      if (NUDGES[e.key]) settle();
    }}
    onblur={() => {
      space = false;
      settle();
    }}
  >
    <canvas bind:this={paper}></canvas>
    {#key software}<canvas
        bind:this={cells}
        class="cells"
        width={Math.round(size.width * ratio())}
        height={Math.round(size.height * ratio())}
      ></canvas>{/key}
    <canvas bind:this={bloom} class="bloom"></canvas>
    <canvas bind:this={front}></canvas>
    <canvas bind:this={top}></canvas>
    {#if app.rig.units.length === 0}
      <p class="empty">
        The plot is empty. <a href="/kit">Choose fixtures in the Kit</a>, or use Add in the list beside: they appear
        here and can be dragged to their place.
      </p>
    {/if}
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
  .lasso,
  .area,
  .outline,
  .pattern,
  .path,
  .scale,
  .place {
    cursor: crosshair;
  }
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    pointer-events: none;
  }
  /* Light spills: the dots once more, small and blurred, added to what is there. */
  .bloom {
    mix-blend-mode: plus-lighter;
    filter: blur(5px);
    opacity: 0.7;
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
