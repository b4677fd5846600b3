<script lang="ts">
  import { onMount, untrack } from 'svelte';
  import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
  import { volumesOf } from '$core/aim/keep-out.ts';
  import type { ReadBody } from '$core/plot/cell-colours.ts';
  import type { ThingRecord } from '$core/records/index.ts';
  import { makeBeams } from '$core/room/beams.ts';
  import { looking, approached, slid, orbited, viewpointOf, type Viewpoint } from '$core/room/viewpoints.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import { fileName, saveFile } from '$lib/state/save-file.ts';
  import Button from '../../Button.svelte';
  import Slider from '../../Slider.svelte';
  import { RoomHands } from './hands.ts';
  import { chosenThing } from './moves.ts';
  import { Quality } from './quality.ts';
  import { RoomScene, type Seeing } from './scene.ts';
  import { keepSeeing, readSeeing } from './seeing.ts';
  import { ARROWS } from '../../arrows.ts';
  import RoomAims from './RoomAims.svelte';
  import Views from './Views.svelte';

  /** `alone`: in a window of its own. */
  let { desk, alone = false }: { desk: PlotDesk; alone?: boolean } = $props();
  const app = getApp();
  let wrap = $state<HTMLElement>();
  let canvas = $state<HTMLCanvasElement>();
  let scene: RoomScene | null = $state.raw(null);
  /** Why there is no picture; null while there is one. */
  let trouble = $state<string | null>(null);
  let scale = $state(1);
  let seeing = $state.raw<Seeing>(readSeeing());
  let size = { width: 0, height: 0 };
  let orbit: OrbitControls | null = null;
  const quality = new Quality();

  const room = $derived(app.rig.room);
  const booth = $derived(app.rig.things.find((t) => t.shape === 'booth')?.position ?? null);
  const read = $derived(
    desk.bodies.map((stored): ReadBody => {
      const body = desk.trialBody(stored.unit.id) ?? stored;
      return { body, reader: app.rig.readers.get(body.unit.id) };
    }),
  );

  /** People whom flashes and movement hurt have said so to their browser. */
  const calm = matchMedia('(prefers-reduced-motion: reduce)');
  const MANY_CELLS = 3000;
  const manyCells = $derived(desk.bodies.reduce((sum, { dots }) => sum + dots.cells.length, 0) > MANY_CELLS);
  /** What the page is at: a picture is due, or one is being drawn (and another was asked for meanwhile). */
  let drawing: 'no' | 'due' | 'yes' | 'again' = 'no';
  /** Whether frames have come since the last picture. */
  let lit = true;
  /** How often it is asked whether a picture is there. */
  const ASK_MS = 4;
  let waiting: ReturnType<typeof setTimeout> | undefined;
  let litAt = 0;
  function draw(light = false): void {
    lit ||= light;
    if (drawing === 'no') {
      drawing = 'due';
      requestAnimationFrame(drawNow);
    } else if (drawing === 'yes') drawing = 'again';
  }
  function drawNow(now: number): void {
    drawing = 'no';
    if (!scene || trouble) return;
    if (lit) {
      scene.light(desk.framesSeen(), litAt === 0 ? 0 : Math.min(1, (now - litAt) / 1000), calm.matches);
      litAt = now;
      lit = false;
    }
    if (scene.draw()) tellPlaces();
    drawing = 'yes';
    const begun = performance.now();
    // The next one waits until this one is there: who draws slowly is not given more than that.
    waiting = setTimeout(function wait() {
      if (scene?.draws && !trouble) return void (waiting = setTimeout(wait, ASK_MS));
      const more = drawing === 'again';
      drawing = 'no';
      if (scene?.moves) draw(true);
      else if (more) draw();
      if (scene && quality.took(performance.now() - begun)) resize();
    }, ASK_MS);
  }

  function resize(): void {
    if (!scene || size.width === 0) return;
    scale = quality.scale;
    scene.resize(size.width, size.height, window.devicePixelRatio || 1, scale);
    tellPlaces();
    draw();
  }

  /** Most units whose places in the picture are said. */
  const MOST_PLACES = 400;
  /** Where units are in the picture: for tests and for screen magnifiers. */
  let places = $state('{}');
  let grips = $state('{}');
  /** Counts the times that something may be elsewhere in the picture. */
  let seen = $state(0);
  function tellPlaces(): void {
    seen++;
    if (!scene || read.length > MOST_PLACES) return;
    const found = read.flatMap(({ body: { unit } }) => {
      const at = scene!.onPicture(unit.position);
      return at ? [[unit.id, { x: at.x * size.width, y: at.y * size.height }]] : [];
    });
    places = JSON.stringify(Object.fromEntries(found));
    grips = JSON.stringify(
      Object.fromEntries(
        scene.handles.map(([handle, at]) => [
          handle,
          at.map(({ x, y }) => ({ x: x * size.width, y: y * size.height })),
        ]),
      ),
    );
  }

  function lookFrom({ eye, target }: Viewpoint): void {
    if (!scene || !orbit) return;
    scene.lookFrom({ eye, target });
    orbit.target.set(target.x, target.y, target.z);
    orbit.update();
    tellPlaces();
    draw();
  }
  function here(): Viewpoint {
    const { x, y, z } = scene!.camera.position;
    const { x: tx, y: ty, z: tz } = orbit!.target;
    return { eye: { x, y, z }, target: { x: tx, y: ty, z: tz } };
  }
  const aspect = (): number => size.width / Math.max(1, size.height);
  export function fit(): void {
    lookFrom(viewpointOf('audience', room, aspect()));
  }
  export function fitSelection(): void {
    if (!scene) return;
    const next = looking(
      here(),
      desk.chosen.map((b) => b.unit.position),
      aspect(),
    );
    if (next) lookFrom(next);
  }

  onMount(() => {
    try {
      scene = new RoomScene(canvas!, () => draw());
    } catch {
      trouble = 'This browser has no WebGL, which the room is drawn with. The papers go on without it.';
      return;
    }
    const made = scene;
    orbit = new OrbitControls(made.camera, canvas);
    orbit.addEventListener('change', () => {
      seen++;
      draw();
    });
    orbit.addEventListener('end', tellPlaces);
    const lost = (event: Event): void => {
      event.preventDefault();
      trouble = 'The picture of the room was lost and comes back by itself.';
    };
    const back = (): void => {
      trouble = null;
      draw(true);
    };
    canvas!.addEventListener('webglcontextlost', lost);
    canvas!.addEventListener('webglcontextrestored', back);
    const observer = new ResizeObserver(([entry]) => {
      const first = size.width === 0;
      size = { width: entry!.contentRect.width, height: entry!.contentRect.height };
      resize();
      if (first && size.width > 0) fit();
    });
    observer.observe(wrap!);
    const stop = app.live.onFrame(() => draw(true));
    return () => {
      stop();
      observer.disconnect();
      hands.cancel();
      clearTimeout(waiting);
      orbit?.dispose();
      scene = null;
      made.dispose();
    };
  });
  $effect(() => {
    scene?.setRoom(room, room.walls);
    draw();
  });
  // Most edits change nothing that is drawn here: bodies, readers and things are then the very same.
  let drawn: { readonly read: readonly ReadBody[]; readonly things: readonly ThingRecord[] } = { read: [], things: [] };
  $effect(() => {
    const [now, made] = [read, scene];
    const same = ({ body, reader }: ReadBody, i: number): boolean =>
      drawn.read[i]!.body === body && drawn.read[i]!.reader === reader;
    if (!made || (now.length === drawn.read.length && now.every(same))) return;
    // Of very many cells only the frame of what is dragged moves along; its light follows when it is put down.
    if (desk.trial.size > 0 && manyCells) return;
    drawn = { ...drawn, read: now };
    untrack(() => {
      const rig = now.map(({ body, reader }) => ({ ...body, reader }));
      made.setUnits(now, makeBeams(app.live.document, rig));
      tellPlaces();
      draw(true);
    });
  });
  $effect(() => {
    const now = desk.things;
    if (!scene || (now.length === drawn.things.length && now.every((thing, i) => thing === drawn.things[i]))) return;
    drawn = { ...drawn, things: now };
    scene.setThings(now);
    draw();
  });
  const volumes = $derived(volumesOf(app.live.document));
  $effect(() => {
    scene?.setKeepOuts(volumes, ['aims', 'areas', 'things'].includes(desk.tab));
    draw();
  });
  $effect(() => {
    const ids = new Set(app.acting as readonly string[]);
    scene?.select(read.filter(({ body }) => ids.has(body.unit.id)));
    draw();
  });
  $effect(() => {
    scene?.see(seeing);
    draw();
  });
  $effect(() => {
    void [desk.seen, desk.heard];
    draw(true);
  });
  async function savePicture(): Promise<void> {
    if (!scene) return;
    // As fine as the screen is, however coarsely it has to be drawn to keep up.
    scene.resize(size.width, size.height, window.devicePixelRatio || 1, 1);
    const taken = scene.picture();
    resize();
    const blob = await taken;
    if (!blob) return app.live.tell('error', 'The browser gave no picture', 'Try again, or make the window smaller.');
    const name = `${fileName(app.rig.show?.name ?? '')} room.png`;
    saveFile(new Uint8Array(await blob.arrayBuffer()), name, 'image/png');
  }
  function wholeScreen(): void {
    if (document.fullscreenElement) void document.exitFullscreen();
    else void wrap!.requestFullscreen();
  }
  function see(part: Partial<Seeing>): void {
    seeing = { ...seeing, ...part };
    keepSeeing(seeing);
  }

  /** Where lamps were pointed to last, on the screen. */
  let pointed = $state.raw<{ x: number; y: number } | null>(null);
  const hands = untrack(
    () => new RoomHands({ app, desk, scene: () => scene, size: () => size, pointed: (at) => (pointed = at) }),
  );
  $effect(() => {
    const unit = desk.chosen.findLast((body) => !desk.isLocked(body.unit))?.unit ?? null;
    const thing = chosenThing(desk);
    scene?.setHandles(thing ? (desk.isFixed(thing) ? null : thing) : unit);
    draw();
  });
  const TURN = 0.08;
  function key(event: KeyboardEvent): void {
    if (!scene || !orbit) return;
    const step = ARROWS[event.key];
    if (event.altKey && step) hands.step(step.x, step.y, 0);
    else if (event.altKey && event.key === 'PageUp') hands.step(0, 0, 1);
    else if (event.altKey && event.key === 'PageDown') hands.step(0, 0, -1);
    else if (event.key === 'Escape') hands.cancel();
    else if (step && event.shiftKey) lookFrom(slid(here(), step.x, step.y));
    else if (step) lookFrom(orbited(here(), step.x * TURN, step.y * TURN));
    else if (event.key === '+' || event.key === '=') lookFrom(approached(here(), 0.85));
    else if (event.key === '-') lookFrom(approached(here(), 1 / 0.85));
    else if (event.key === '0') fit();
    else if (event.key === '.') fitSelection();
    else if (event.key === 'Delete' && app.acting.length > 0) app.removeUnits();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<div class="room" bind:this={wrap}>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <div
    class="sight"
    tabindex="0"
    role="application"
    aria-label="Room with {app.rig.units.length} units, {app.selection.ids
      .length} selected. Arrow keys turn the view, with Shift they slide it, plus and minus bring it nearer; with Alt they move what is selected along the floor, Page Up and Page Down lift and lower it. Press and hold a spot to point the selected lamps and heads at it. Choose units in the list beside."
    data-scale={scale}
    data-places={places}
    data-handles={grips}
    onpointerdowncapture={hands.take}
    onpointerdown={hands.down}
    onpointermove={hands.moved}
    onpointerup={hands.up}
    onpointercancel={hands.cancel}
    onkeydown={key}
  >
    <canvas bind:this={canvas}></canvas>
    {#if pointed}{#key pointed}<span class="pointed" style:left="{pointed.x}px" style:top="{pointed.y}px"
        ></span>{/key}{/if}
  </div>
  {#if scene && !trouble}
    <RoomAims
      {desk}
      {seen}
      onPicture={(place) => scene!.onPicture(place)}
      rayAt={(x, y) => {
        const box = wrap!.getBoundingClientRect();
        return scene!.rayAt(((x - box.left) / box.width) * 2 - 1, 1 - ((y - box.top) / box.height) * 2);
      }}
    />
  {/if}
  {#if trouble}<p class="trouble" role="alert">{trouble}</p>{/if}
  <Views
    look={(from) => lookFrom(viewpointOf(from, room, aspect(), booth))}
    go={lookFrom}
    here={() => (scene && orbit ? here() : null)}
  />
  <div class="as" role="group" aria-label="This picture">
    <Button kind="bare" onclick={() => void savePicture()}>Save picture</Button>
    <Button kind="bare" onclick={wholeScreen}>Whole screen</Button>
    {#if !alone}<Button kind="bare" onclick={() => window.open('/room', '_blank')}>Own window</Button>{/if}
  </div>
  <details class="seeing">
    <summary>Light and haze{scale < 1 ? `, drawn at ${Math.round(scale * 100)} % to keep up` : ''}</summary>
    <Slider label="Ambient" value={seeing.ambient} change={(ambient) => see({ ambient })} />
    <Slider label="Exposure" value={seeing.exposure} change={(exposure) => see({ exposure })} />
    <Slider label="Haze" value={seeing.haze} change={(haze) => see({ haze })} />
  </details>
</div>

<style>
  .room {
    position: relative;
    flex: 1;
    min-width: 0;
    min-height: 0;
    background: #05070b;
    overflow: hidden;
  }
  .sight,
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    touch-action: none;
    outline-offset: -2px;
  }
  /* A ring that closes on the spot lamps were pointed at. */
  .pointed {
    position: absolute;
    width: 14px;
    height: 14px;
    margin: -8px;
    border: 2px solid var(--amber);
    border-radius: 50%;
    pointer-events: none;
    animation: pointed 900ms ease-out forwards;
  }
  @keyframes pointed {
    from {
      transform: scale(3);
    }
    70% {
      transform: scale(1);
      opacity: 1;
    }
    to {
      opacity: 0;
    }
  }
  .trouble {
    position: absolute;
    inset: 0;
    display: grid;
    place-content: center;
    text-align: center;
    padding: 20px;
    color: #f3e28a;
    background: #05070b;
  }
  .as {
    position: absolute;
    right: 8px;
    top: 8px;
    display: flex;
    flex-wrap: wrap;
    gap: 2px;
    background: #10151ecc;
    border-radius: 6px;
  }
  @media (max-width: 760px) {
    .as {
      top: 52px;
    }
  }
  .seeing {
    position: absolute;
    left: 8px;
    bottom: 8px;
    min-width: 190px;
    padding: 6px 10px;
    background: #10151ecc;
    border-radius: 6px;
  }
</style>
