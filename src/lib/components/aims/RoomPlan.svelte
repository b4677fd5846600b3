<script lang="ts">
  import type { Point } from '$core/plot/paper.ts';
  import { ARROWS } from '../arrows.ts';

  /** A small plan of a room: its floor and what stands in it, dragged to where it is. Metres. */
  interface Item {
    readonly key: string;
    readonly name: string;
    readonly x: number;
    readonly y: number;
    readonly w: number;
    readonly d: number;
    readonly round?: boolean;
  }
  interface Floor {
    readonly min: Point;
    readonly max: Point;
  }
  interface Props {
    widthM: number;
    depthM: number;
    items: readonly Item[];
    floor: Floor | null;
    move: (key: string, x: number, y: number) => void;
    stretch: (floor: Floor) => void;
  }
  let { widthM, depthM, items, floor, move, stretch }: Props = $props();
  let svg = $state<SVGSVGElement>();
  const PAD = 0.6;
  let drag: { key: string; dx: number; dy: number } | null = null;

  function at(event: PointerEvent): Point {
    const box = svg!.getBoundingClientRect();
    const scale = Math.max((widthM + 2 * PAD) / box.width, (depthM + 2 * PAD) / box.height);
    return {
      x: (event.clientX - box.left - box.width / 2) * scale,
      y: (box.height / 2 - (event.clientY - box.top)) * scale,
    };
  }
  const within = (value: number, half: number): number =>
    Math.round(Math.max(-half, Math.min(half, value)) * 20) / 20 + 0;
  function down(event: PointerEvent, key: string, x: number, y: number): void {
    const p = at(event);
    drag = { key, dx: p.x - x, dy: p.y - y };
    svg!.setPointerCapture(event.pointerId);
    event.stopPropagation();
  }
  function put(key: string, x: number, y: number): void {
    const [px, py] = [within(x, widthM / 2), within(y, depthM / 2)];
    if (!floor || (key !== 'min' && key !== 'max')) return move(key, px, py);
    const least = 0.5;
    if (key === 'min')
      stretch({ ...floor, min: { x: Math.min(px, floor.max.x - least), y: Math.min(py, floor.max.y - least) } });
    else stretch({ ...floor, max: { x: Math.max(px, floor.min.x + least), y: Math.max(py, floor.min.y + least) } });
  }
  function moved(event: PointerEvent): void {
    if (!drag) return;
    const p = at(event);
    put(drag.key, p.x - drag.dx, p.y - drag.dy);
  }
  function key(event: KeyboardEvent, name: string, x: number, y: number): void {
    const by = ARROWS[event.key];
    if (!by) return;
    event.preventDefault();
    const step = event.shiftKey ? 1 : 0.1;
    put(name, x + by.x * step, y + by.y * step);
  }
</script>

<svg
  bind:this={svg}
  viewBox="{-widthM / 2 - PAD} {-depthM / 2 - PAD} {widthM + 2 * PAD} {depthM + 2 * PAD}"
  role="group"
  aria-label="Plan of the room, up-stage at the top"
  onpointermove={moved}
  onpointerup={() => (drag = null)}
  onpointercancel={() => (drag = null)}
>
  <rect x={-widthM / 2} y={-depthM / 2} width={widthM} height={depthM} class="walls" />
  {#if floor}
    <rect
      x={floor.min.x}
      y={-floor.max.y}
      width={floor.max.x - floor.min.x}
      height={floor.max.y - floor.min.y}
      class="floor"
    />
    {#each ['min', 'max'] as const as corner (corner)}
      {@const p = floor[corner]}
      <rect
        x={p.x - 0.25}
        y={-p.y - 0.25}
        width="0.5"
        height="0.5"
        class="corner"
        role="button"
        tabindex="0"
        aria-label={corner === 'min' ? 'Floor, corner left down-stage' : 'Floor, corner right up-stage'}
        onpointerdown={(e) => down(e, corner, p.x, p.y)}
        onkeydown={(e) => key(e, corner, p.x, p.y)}
      />
    {/each}
  {/if}
  {#each items as { key: id, name, x, y, w, d, round } (id)}
    <g
      role="button"
      tabindex="0"
      aria-label="{name}, {x} across, {y} deep"
      onpointerdown={(e) => down(e, id, x, y)}
      onkeydown={(e) => key(e, id, x, y)}
    >
      <rect
        x={x - Math.max(w, 0.5) / 2}
        y={-y - Math.max(d, 0.5) / 2}
        width={Math.max(w, 0.5)}
        height={Math.max(d, 0.5)}
        rx={round ? 0.25 : 0.06}
        class="thing"
      />
      <text {x} y={-y + Math.max(d, 0.5) / 2 + 0.45} font-size={Math.max(0.3, widthM / 34)}>{name}</text>
    </g>
  {/each}
</svg>

<style>
  svg {
    width: 100%;
    max-height: 46vh;
    touch-action: none;
    background: var(--paper, #0e121a);
    border-radius: var(--radius);
  }
  .walls {
    fill: none;
    stroke: #4a566d;
    stroke-width: 0.08;
  }
  .floor {
    fill: #7fd4c118;
    stroke: #7fd4c1;
    stroke-width: 0.05;
    stroke-dasharray: 0.25 0.18;
  }
  .corner {
    fill: #7fd4c1;
    cursor: nwse-resize;
  }
  .thing {
    fill: #39414f;
    stroke: #ffb347;
    stroke-width: 0.05;
  }
  g {
    cursor: grab;
  }
  text {
    fill: #b4bfd0;
    text-anchor: middle;
    pointer-events: none;
  }
</style>
