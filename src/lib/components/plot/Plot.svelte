<script lang="ts">
  import { onMount, untrack } from 'svelte';
  import { type Point } from '$core/plot/paper.ts';
  import { clamp } from '$core/units.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import { dropUnits } from '$lib/state/plot/plot-edits.ts';
  import { pictureImages } from '$lib/state/pictures/picture-images.svelte.ts';
  import { ARROWS } from '../arrows.ts';
  import { GlPainter, hasGpu } from './cells-gl.ts';
  import { PlainPainter } from './cells-plain.ts';
  import { beginDrag, type Drag, type Ground } from './drag.ts';
  import { panning, pinching } from './drag-view.ts';
  import { Layers, type Canvases, type Sight } from './layers.ts';
  import type { Inks } from './paint-paper.ts';
  import { fitting, resized, toPlan, toScreen, zoomed, type View } from './view.ts';

  let { desk }: { desk: PlotDesk } = $props();
  const app = getApp();
  const images = pictureImages(app);
  let wrap = $state<HTMLElement>();
  let paper = $state<HTMLCanvasElement>();
  let cells = $state<HTMLCanvasElement>();
  let bodies = $state<HTMLCanvasElement>();
  let spill = $state<HTMLCanvasElement>();
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
      wrong: '#ff7a52',
      look: '#f3e28a',
    };
  });
  const ground = $derived.by(
    (): Ground | null => view && { app, desk, view, size, mark: (points) => (marked = points), look },
  );

  /** Thickness of the rulers, px. */
  const inset = $derived(desk.set.rulers ? 20 : 0);
  /** Views that show all: they go on showing all when the paper gets another size. */
  const whole = new WeakSet<View>();
  export function fit(points: readonly Point[] = desk.extent): void {
    if (size.width === 0) return;
    const next = fitting(points, size, 0.6, inset);
    whole.add(next);
    look(next);
  }
  export function fitSelection(): void {
    const boxes = desk.chosen.flatMap((b) => [b.box.min, b.box.max]);
    if (boxes.length > 0) look(fitting(boxes, size, 0.8, inset));
  }
  export function zoom(factor: number): void {
    if (view) look(zoomed(view, size, { x: size.width / 2, y: size.height / 2 }, factor));
  }
  // Each side is shown the first time it is looked at as the show says: all of it, or a part of it.
  $effect(() => {
    if (view || size.width === 0 || app.live.document.size === 0) return;
    const box = app.rig.show?.paperViews[desk.side];
    if (box) look(fitting([box.min, box.max], size, 0, inset));
    else fit();
  });
  $effect(() => {
    if (!desk.wanted || size.width === 0 || desk.side !== 'plan') return;
    look(fitting(desk.wanted, size, 0.5, inset));
    desk.wanted = null;
  });
  /** The part of the paper that is seen, metres: to be shown first the next time. */
  function seenNow(): { min: Point; max: Point } | null {
    if (!view) return null;
    const at = (p: Point): Point => ({ x: clamp(p.x, -1000, 1000), y: clamp(p.y, -1000, 1000) });
    const [a, b] = [toPlan(view, size, { x: inset, y: size.height }), toPlan(view, size, { x: size.width, y: inset })];
    return { min: at(a), max: at(b) };
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
  const ratio = (): number => window.devicePixelRatio || 1;
  const canvases = (): Canvases => ({ paper: paper!, bodies: bodies!, cells: cells!, spill: spill!, top: top! });
  const sight = (now: View): Sight => ({
    view: now,
    size,
    ratio: ratio(),
    inks,
    frames: desk.framesSeen(),
    marked,
    pointer,
  });
  const layers = new Layers(
    app,
    untrack(() => desk),
  );
  const software = $derived(desk.set.drawing === 'plain' || (desk.set.drawing === 'auto' && !hasGpu()));
  $effect(() => {
    const canvas = cells;
    if (!canvas) return;
    const made = (!software && GlPainter.on(canvas)) || new PlainPainter(canvas);
    layers.painter = made;
    draw({ light: true });
    return () => made.dispose();
  });

  /** What is due, once a frame of the browser: light with every frame that comes, bodies when something is changed. */
  let due: { light: boolean; still: boolean } | null = null;
  function draw({ light = false, still = false } = {}): void {
    if (due) {
      due.light ||= light;
      due.still ||= still;
      return;
    }
    due = { light, still };
    requestAnimationFrame(() => {
      const now = due!;
      due = null;
      // The page may have been left meanwhile.
      if (view && size.width > 0 && top && cells) layers.paint(canvases(), sight(view), now);
    });
  }
  $effect(() => {
    void [
      view,
      size,
      desk.lifted,
      desk.still,
      desk.bodies,
      desk.faults,
      inks,
      desk.seen,
      desk.heard,
      desk.set,
      app.selection.ids,
      app.hand.values,
    ];
    draw({ light: true, still: true });
  });
  $effect(() => {
    void [desk.drawnAims, desk.trial, desk.chosen, marked, desk.corners, pointer, desk.caught, desk.tool, desk.tab];
    draw();
  });
  $effect(() => {
    const [now, width] = [view, size.width];
    void inks;
    if (!now || width === 0) return;
    // What is drawn by a gesture is not on the paper.
    const seen = untrack(() => sight(now));
    layers.paper(canvases(), seen, {
      side: desk.side,
      show: app.rig.show,
      room: app.rig.room,
      lengths: desk.lengths,
      grid: desk.set.gridM > 0,
      rulers: desk.set.rulers,
      guides: desk.guides,
      backdrops: desk.backdrops.map((record) => ({ record, ...images.of(record.pictureId) })),
      areas: drawnAreas,
      things: desk.things.map((thing) => ({ thing, chosen: desk.tab === 'things' && desk.thing === thing.id })),
    });
  });
  onMount(() => {
    const observer = new ResizeObserver(([entry]) => {
      const box = entry!.contentRect;
      layers.resize(canvases(), box, ratio());
      const before = size;
      size = { width: box.width, height: box.height };
      if (!view || before.width === 0) return;
      if (whole.has(view)) fit();
      else look(resized(view, before, size));
    });
    observer.observe(wrap!);
    desk.seenNow = seenNow;
    const stop = app.live.onFrame(() => draw({ light: true, still: desk.set.labels.includes('level') }));
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
      drag = pinching(ground, () => [...pointers.values()]);
    } else if (event.button === 1 || space) drag = panning(ground, p);
    else if (event.button === 0) drag = beginDrag(ground, p, event);
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
  /** Two clicks end what is drawn. */
  function twice(): void {
    if (desk.corners.length > 0) desk.finish();
  }

  let nudged = { x: 0, y: 0 };
  function key(event: KeyboardEvent): void {
    const nudge = ARROWS[event.key];
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
    else if (event.key === 'Delete' && app.acting.length > 0) app.removeUnits();
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
    onmousedown={(e) => e.preventDefault()}
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
      if (ARROWS[e.key]) settle();
    }}
    onblur={() => {
      space = false;
      settle();
    }}
  >
    <canvas bind:this={paper}></canvas>
    <canvas bind:this={bodies}></canvas>
    {#key software}<canvas
        bind:this={cells}
        class="cells"
        width={Math.round(size.width * ratio())}
        height={Math.round(size.height * ratio())}
      ></canvas>{/key}
    <canvas bind:this={spill} class="spill"></canvas>
    <canvas bind:this={top}></canvas>
    {#if app.rig.units.length === 0}
      <p class="empty">
        The plot is empty. Write what hangs here under <i>Add</i>, beside, and press on the paper: it takes the next
        free addresses. Or <a href="/kit">look through the Kit</a>.
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
    user-select: none;
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
