<script lang="ts">
  import { gridOf, nearest, sectionsOf } from '$core/song/grid.ts';
  import { beatMoved, sectionMoved } from '$core/song/mend.ts';
  import { hasSound } from '$core/records/song.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';
  import { soundOf } from '$lib/state/music/sounds.ts';
  import { atX, FOOT, inksOf, paintClose, paintSkyline, xOf, type Sight } from './paint-song.ts';

  /** The song whole, as a skyline of its sections, and close, as ridges over a thread of beats. */
  interface Props {
    desk: SongDesk;
    bands: boolean;
    /** There is more under it: it takes little room. */
    low?: boolean;
  }
  let { desk, bands, low = false }: Props = $props();
  const app = getApp();
  const song = $derived(desk.song);
  let whole = $state<HTMLCanvasElement>();
  let close = $state<HTMLCanvasElement>();
  let head = $state<HTMLElement>();
  let wholeHead = $state<HTMLElement>();
  let [width, height] = $state([0, 0]);
  const wholeHeight = $derived(low ? 46 : 92);
  const picture = $derived(desk.picture);
  let samples = $state.raw<{ data: Float32Array; rate: number } | null>(null);
  /** What is moved while it is held, before it is one edit. */
  let trial = $state.raw<typeof song | null>(null);
  const shown = $derived(trial ?? song);
  const grid = $derived(gridOf(shown));
  const sections = $derived(sectionsOf(shown));
  let held = $state<number | null>(null);

  const sight = $derived<Sight>({ from: desk.from, span: desk.span, width, height });
  const wholeSight = $derived<Sight>({ from: 0, span: desk.end, width, height: wholeHeight });

  // So little is seen that the picture is too coarse: the sound itself is read.
  $effect(() => {
    if (desk.span >= 3 || samples || !hasSound(song)) return;
    let gone = false;
    void soundOf(song).then(
      (sound) => {
        if (!gone) samples = { data: sound.getChannelData(0), rate: sound.sampleRate };
      },
      () => undefined,
    );
    return () => void (gone = true);
  });
  function sized(canvas: HTMLCanvasElement, w: number, h: number): CanvasRenderingContext2D {
    const scale = window.devicePixelRatio || 1;
    canvas.width = Math.round(w * scale);
    canvas.height = Math.round(h * scale);
    const c = canvas.getContext('2d')!;
    c.scale(scale, scale);
    return c;
  }
  $effect(() => {
    if (!whole || width === 0) return;
    void app.theme;
    paintSkyline(sized(whole, width, wholeHeight), wholeSight, inksOf(whole), {
      sections,
      end: desk.end,
      picture,
      chosen: desk.section,
    });
  });
  $effect(() => {
    if (!close || width === 0 || height === 0) return;
    void app.theme;
    paintClose(sized(close, width, height), sight, inksOf(close), {
      picture,
      samples,
      grid,
      sections,
      stretch: desk.stretch,
      loop: desk.loops,
      held: held ?? desk.beat,
      bands,
    });
  });
  // The line of where it plays moves by itself, without anything being drawn anew.
  $effect(() => {
    let frame = 0;
    const move = (): void => {
      const at = desk.place;
      if (desk.playing && desk.follows && trial === null) desk.reveal(at);
      if (head) {
        const x = xOf(sight, at);
        head.style.transform = `translateX(${x}px)`;
        head.style.visibility = x < 0 || x > width ? 'hidden' : 'visible';
      }
      if (wholeHead) wholeHead.style.transform = `translateX(${xOf(wholeSight, at)}px)`;
      frame = requestAnimationFrame(move);
    };
    frame = requestAnimationFrame(move);
    return () => cancelAnimationFrame(frame);
  });

  const REACH = 9;
  const offset = (event: PointerEvent | WheelEvent): { x: number; y: number } => {
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  /** The bead of a beat under the pointer; null for none. */
  function beadAt(x: number, y: number): number | null {
    if (y < height - FOOT || grid.beats.length === 0) return null;
    const i = nearest(grid.beats, atX(sight, x));
    return Math.abs(xOf(sight, grid.beats[i]!) - x) <= REACH ? i : null;
  }

  let gesture: { kind: 'bead' | 'stretch'; x: number; index: number; moved: boolean } | null = null;
  function down(event: PointerEvent): void {
    if (event.button !== 0) return;
    const { x, y } = offset(event);
    close!.setPointerCapture(event.pointerId);
    const bead = beadAt(x, y);
    gesture = { kind: bead === null ? 'stretch' : 'bead', x, index: bead ?? -1, moved: false };
    desk.beat = bead;
  }
  function move(event: PointerEvent): void {
    const { x, y } = offset(event);
    if (!gesture) {
      held = beadAt(x, y);
      return;
    }
    if (!gesture.moved && Math.abs(x - gesture.x) < 4) return;
    gesture.moved = true;
    if (gesture.kind === 'bead') trial = { ...song, mended: beatMoved(song, gesture.index, atX(sight, x), desk.end) };
    else {
      const [a, b] = [atX(sight, gesture.x), atX(sight, x)].sort((p, q) => p - q);
      desk.stretch = { from: Math.max(0, a!), to: Math.min(desk.end, b!) };
    }
  }
  function up(): void {
    if (!gesture) return;
    const { kind, moved, x } = gesture;
    gesture = null;
    if (kind === 'bead') {
      if (moved && trial) desk.mend('Move a beat', trial.mended);
      trial = null;
    } else if (!moved) {
      desk.stretch = null;
      desk.go(atX(sight, x));
    }
  }
  function cancel(): void {
    gesture = null;
    trial = null;
  }
  function wheel(event: WheelEvent): void {
    event.preventDefault();
    const { x } = offset(event);
    if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
      desk.follows = false;
      desk.see(desk.from + ((event.deltaX || event.deltaY) / 600) * desk.span, desk.span);
    } else desk.zoom(Math.exp(event.deltaY / 500), atX(sight, x));
  }

  let edge: { index: number; x: number; moved: boolean } | null = null;
  function wholeDown(event: PointerEvent): void {
    if (event.button !== 0) return;
    const { x } = offset(event);
    whole!.setPointerCapture(event.pointerId);
    const index = sections.findIndex(({ at }, i) => i > 0 && Math.abs(xOf(wholeSight, at) - x) <= 5);
    edge = { index, x, moved: false };
  }
  function wholeMove(event: PointerEvent): void {
    if (!edge) return;
    const { x } = offset(event);
    if (!edge.moved && Math.abs(x - edge.x) < 4) return;
    edge.moved = true;
    if (edge.index < 0) return desk.see(atX(wholeSight, x) - desk.span / 2, desk.span);
    // Sections begin on bars mostly: the nearest beat takes them, with Shift none does.
    const at = atX(wholeSight, x);
    const { beats } = grid;
    const to = event.shiftKey || beats.length === 0 ? at : beats[nearest(beats, at)]!;
    trial = { ...song, mended: sectionMoved(song, edge.index, to, desk.end) };
  }
  function wholeUp(): void {
    if (!edge) return;
    const { index, moved, x } = edge;
    edge = null;
    if (trial) desk.mend('Move where a section begins', trial.mended);
    trial = null;
    if (moved) return;
    const at = atX(wholeSight, x);
    desk.section = sections.findLastIndex((s) => s.at <= at);
    desk.go(index >= 0 ? sections[index]!.at : at);
    desk.see(at - desk.span / 2, desk.span);
  }
</script>

<div class="song" class:low>
  <div class="whole" bind:clientWidth={width}>
    <canvas
      bind:this={whole}
      style:height="{wholeHeight}px"
      aria-label="The song whole: {sections.length} sections in {clockText(desk.end)}"
      onpointerdown={wholeDown}
      onpointermove={wholeMove}
      onpointerup={wholeUp}
      onpointercancel={() => ((edge = null), (trial = null))}
    ></canvas>
    <span
      class="window"
      style:left="{(desk.from / desk.end) * 100}%"
      style:width="max(3px, {(Math.min(desk.span, desk.end) / desk.end) * 100}%)"
    ></span>
    <span class="head" bind:this={wholeHead}></span>
  </div>
  <div class="close" bind:clientHeight={height}>
    <canvas
      bind:this={close}
      class:bead={held !== null}
      aria-label="{clockText(desk.from, 2)} to {clockText(desk.from + desk.span, 2)}, {grid.beats
        .length} beats in the song"
      data-from={desk.from}
      data-span={desk.span}
      onpointerdown={down}
      onpointermove={move}
      onpointerup={up}
      onpointercancel={cancel}
      onpointerleave={() => (held = null)}
      onwheel={wheel}
    ></canvas>
    <span class="head" bind:this={head}></span>
    {#if !picture}
      <p class="quiet none">
        {song.blob === null
          ? 'Plain time, without sound.'
          : song.heard
            ? 'The picture is being drawn …'
            : song.fault
              ? 'There is nothing to see.'
              : 'Not heard yet.'}
      </p>
    {/if}
  </div>
</div>

<style>
  .song {
    display: flex;
    flex-direction: column;
    flex: 1;
    min-height: 0;
    min-width: 0;
    background: var(--back);
  }
  .low {
    flex: none;
  }
  .low .close {
    flex: none;
    height: 92px;
    min-height: 0;
  }
  .whole {
    position: relative;
    overflow: hidden;
    border-bottom: 1px solid var(--line);
  }
  .close {
    position: relative;
    overflow: hidden;
    flex: 1;
    min-height: 180px;
  }
  canvas {
    display: block;
    width: 100%;
    touch-action: none;
  }
  .close canvas {
    position: absolute;
    inset: 0;
    height: 100%;
    cursor: crosshair;
  }
  .close canvas.bead {
    cursor: ew-resize;
  }
  .window {
    position: absolute;
    inset-block: 0;
    border: 1px solid var(--amber);
    border-block: none;
    background: var(--amber-wash);
    opacity: 0.6;
    pointer-events: none;
  }
  .head {
    position: absolute;
    left: 0;
    top: 0;
    bottom: 0;
    width: 2px;
    margin-left: -1px;
    background: var(--amber);
    pointer-events: none;
  }
  .none {
    position: absolute;
    inset: 0;
    display: grid;
    place-content: center;
    pointer-events: none;
  }
</style>
