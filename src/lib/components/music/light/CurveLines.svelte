<script lang="ts">
  import type { CurvePoint } from '$core/records/curve.ts';
  import type { Block, LaneRecord } from '$core/records/lane.ts';
  import { valueAt } from '$core/song/curves.ts';
  import { clamp } from '$core/units.ts';
  import { LightCurves } from '$lib/state/music/light-curves.svelte.ts';
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';

  /** Curves over the blocks of a lane: a press puts a point, a drag moves one, Delete takes it away. */
  interface Props {
    desk: SongDesk;
    light: LightDesk;
    curves: LightCurves;
    lane: LaneRecord;
    width: number;
  }
  let { desk, light, curves, lane, width }: Props = $props();
  const HEIGHT = 44;
  const PAD = 5;
  /** Points nearer to one another than this (pixels) have no handles: they are seen closer. */
  const APART_PX = 9;
  const of = $derived(curves.of!);
  const own = $derived(curves.whole ? light.lane?.id === lane.id : light.chosen[0]?.lane === lane.id);
  const span = $derived(own ? curves.span : null);
  let trial = $state.raw<{ readonly index: number | null; readonly at: number; readonly value: number } | null>(null);
  const x = (s: number): number => ((s - desk.from) / desk.span) * width;
  const y = (value: number): number => PAD + (1 - LightCurves.share(of, value)) * (HEIGHT - 2 * PAD);
  function line(points: readonly CurvePoint[], from: number, length: number): string {
    const [a, b] = [Math.max(0, x(from)), Math.min(width, x(from + length))];
    const path: string[] = [];
    for (let at = a; at <= b + 0.01; at += 2) {
      const s = desk.from + (at / width) * desk.span - from;
      path.push(`${at.toFixed(1)},${y(valueAt(points, clamp(s, 0, length))).toFixed(1)}`);
    }
    return path.join(' ');
  }
  const usual = $derived([{ at: 0, value: curves.range.usual, shape: 'step' as const }]);
  const others = $derived<readonly Block[]>(
    curves.whole
      ? []
      : lane.blocks.filter((b) => b.curves[of] && b.at < desk.from + desk.span && b.at + b.length > desk.from),
  );
  const points = $derived.by<readonly CurvePoint[]>(() => {
    const now = curves.points ?? [];
    if (!trial) return now;
    const left = now.filter((_, i) => i !== trial!.index);
    return [
      ...left,
      { at: trial.at, value: trial.value, shape: now[trial.index ?? -1]?.shape ?? ('line' as const) },
    ].sort((a, b) => a.at - b.at);
  });
  const handles = $derived(
    span
      ? points
          .map((p, i) => ({ ...p, i, cx: x(span.from + p.at) }))
          .filter(({ cx }) => cx > -6 && cx < width + 6)
          .filter(({ i, cx }, n, all) => i === curves.index || n === 0 || cx - all[n - 1]!.cx > APART_PX)
      : [],
  );
  const placeOf = (event: PointerEvent): { at: number; value: number } => {
    const box = (event.currentTarget as SVGElement).getBoundingClientRect();
    const s = desk.from + ((event.clientX - box.left) / box.width) * desk.span - span!.from;
    const up = 1 - (((event.clientY - box.top) / box.height) * HEIGHT - PAD) / (HEIGHT - 2 * PAD);
    return { at: clamp(s, 0, span!.length), value: LightCurves.valueOf(of, up) };
  };
  let pressed: { index: number | null; shape: CurvePoint['shape'] } | null = null;
  function down(event: PointerEvent): void {
    if (event.button !== 0 || !span || lane.locked) return;
    event.stopPropagation();
    (event.currentTarget as SVGElement).setPointerCapture(event.pointerId);
    const box = (event.currentTarget as SVGElement).getBoundingClientRect();
    const [px, py] = [event.clientX - box.left, ((event.clientY - box.top) / box.height) * HEIGHT];
    const near = handles.find(({ cx, value }) => Math.hypot(cx - px, y(value) - py) < 10);
    pressed = { index: near?.i ?? null, shape: near?.shape ?? 'line' };
    curves.index = near?.i ?? null;
    trial = near ? { index: near.i, at: near.at, value: near.value } : { index: null, ...placeOf(event) };
  }
  function move(event: PointerEvent): void {
    if (!pressed || !span) return;
    event.stopPropagation();
    const place = placeOf(event);
    const at = event.altKey
      ? place.at
      : clamp(light.snap(span.from + place.at, (8 / width) * desk.span) - span.from, 0, span.length);
    trial = { index: pressed.index, at, value: place.value };
  }
  function up(event: PointerEvent): void {
    if (!pressed) return;
    event.stopPropagation();
    const [now, at] = [trial, pressed];
    pressed = null;
    trial = null;
    if (now) curves.put(now.at, now.value, at.shape, at.index);
  }
</script>

{#if width > 0}
  <svg
    viewBox="0 0 {width} {HEIGHT}"
    preserveAspectRatio="none"
    class:own={span !== null}
    role="img"
    aria-label="Curve of {of}: {points.length} points"
    onpointerdown={down}
    onpointermove={move}
    onpointerup={up}
    onpointercancel={() => ((pressed = null), (trial = null))}
  >
    {#each others as block (block.key)}<polyline
        class="other"
        points={line(block.curves[of]!, block.at, block.length)}
      />{/each}
    {#if span}
      <polyline class="under" points={line(points.length > 0 ? points : usual, span.from, span.length)} />
      <polyline points={line(points.length > 0 ? points : usual, span.from, span.length)} />
      {#each handles as { i, cx, value } (i)}
        <circle {cx} cy={y(value)} r={curves.index === i ? 6 : 4.5} class:on={curves.index === i} />
      {/each}
    {/if}
  </svg>
{/if}

<style>
  svg {
    position: absolute;
    inset: 0;
    z-index: 2;
    width: 100%;
    height: 100%;
    pointer-events: none;
  }
  .own {
    pointer-events: auto;
    cursor: crosshair;
    touch-action: none;
    background: #0c0f1566;
  }
  polyline {
    fill: none;
    stroke: var(--amber);
    stroke-width: 2;
  }
  .under {
    stroke: #000;
    stroke-width: 4;
  }
  .other {
    stroke: #f2efe988;
    stroke-width: 1.5;
  }
  circle {
    fill: #0c0f15;
    stroke: var(--amber);
    stroke-width: 2;
  }
  .on {
    fill: var(--amber);
  }
</style>
