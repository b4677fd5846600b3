<script lang="ts">
  import type { AimPart } from '$core/records/effect.ts';
  import { ARROWS } from '../arrows.ts';
  import Button from '../Button.svelte';

  /** A path of one's own: press to add a corner, drag to move one, press twice on one to take it out. */
  let { points, change }: { points: AimPart['points']; change: (points: AimPart['points']) => void } = $props();
  let box = $state<SVGSVGElement>();
  let dragged = $state(-1);
  const place = (event: PointerEvent): [number, number] => {
    const { left, top, width, height } = box!.getBoundingClientRect();
    const round = (v: number): number => Math.round(Math.min(1, Math.max(-1, v)) * 100) / 100;
    return [round(((event.clientX - left) / width) * 2 - 1), round(1 - ((event.clientY - top) / height) * 2)];
  };
  function down(event: PointerEvent): void {
    const at = place(event);
    const near = points.findIndex(([x, y]) => Math.hypot(x - at[0], y - at[1]) < 0.12);
    box!.setPointerCapture(event.pointerId);
    if (near >= 0) dragged = near;
    else if (points.length < 200) {
      dragged = points.length;
      change([...points, at]);
    }
  }
  function move(event: PointerEvent): void {
    if (dragged >= 0 && dragged < points.length) change(points.map((p, i) => (i === dragged ? place(event) : p)));
  }
  function key(event: KeyboardEvent, i: number): void {
    const by = event.shiftKey ? 0.2 : 0.05;
    if (event.key === 'Delete') return change(points.filter((_, j) => j !== i));
    const step = ARROWS[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const clip = (v: number): number => Math.round(Math.min(1, Math.max(-1, v)) * 100) / 100;
    change(points.map(([x, y], j) => (j === i ? [clip(x + step.x * by), clip(y + step.y * by)] : [x, y])));
  }
</script>

<div class="draw">
  <svg
    bind:this={box}
    viewBox="-1.1 -1.1 2.2 2.2"
    role="application"
    aria-label="Drawn path: press to add corners"
    onpointerdown={down}
    onpointermove={move}
    onpointerup={() => (dragged = -1)}
    onpointercancel={() => (dragged = -1)}
  >
    <path d="M-1 0H1M0 -1V1" class="cross" />
    <polygon points={points.map(([x, y]) => `${x},${-y}`).join(' ')} />
    {#each points as [x, y], i (i)}
      <circle
        cx={x}
        cy={-y}
        r="0.07"
        role="button"
        tabindex="0"
        aria-label="Corner {i + 1}: {x}, {y}"
        onkeydown={(e) => key(e, i)}
        ondblclick={() => change(points.filter((_, j) => j !== i))}
      />
    {/each}
  </svg>
  <Button disabled={points.length === 0} onclick={() => change([])}>Clear</Button>
</div>

<style>
  .draw {
    display: flex;
    gap: 8px;
    align-items: end;
  }
  svg {
    width: 160px;
    height: 160px;
    border: 1px solid var(--line-strong);
    border-radius: 6px;
    background: var(--paper);
    touch-action: none;
    cursor: crosshair;
  }
  .cross {
    stroke: var(--paper-line);
    stroke-width: 0.02;
    fill: none;
  }
  polygon {
    fill: none;
    stroke: var(--amber);
    stroke-width: 0.03;
    stroke-linejoin: round;
  }
  circle {
    fill: var(--amber);
    cursor: move;
  }
</style>
