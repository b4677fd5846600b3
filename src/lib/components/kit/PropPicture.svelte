<script lang="ts">
  import { cellCount, shapeDots } from '$core/prop/cells.ts';
  import type { Shape } from '$core/records/shape.ts';

  /** A prop as it is looked at, its cells in wiring order: the first one is marked. */
  let { shape }: { shape: Shape } = $props();
  const MOST = 4000;
  const dots = $derived(shapeDots(shape).slice(0, MOST));
  const box = $derived.by(() => {
    let [x1, x2, z1, z2] = [Infinity, -Infinity, Infinity, -Infinity];
    for (const { place } of dots) {
      x1 = Math.min(x1, place[0]);
      x2 = Math.max(x2, place[0]);
      z1 = Math.min(z1, place[2]);
      z2 = Math.max(z2, place[2]);
    }
    const size = Math.max(x2 - x1, z2 - z1, 0.2);
    return { x: x1 - size * 0.06, z: z2 + size * 0.06, w: x2 - x1 + size * 0.12, h: z2 - z1 + size * 0.12, size };
  });
  const r = $derived(Math.max(box.size * 0.004, Math.min(box.size * 0.014, (box.size / Math.sqrt(dots.length)) * 0.3)));
</script>

<svg
  viewBox="{box.x} {-box.z} {box.w} {box.h}"
  role="img"
  aria-label="Its {cellCount(shape)} cells, seen from the front"
  preserveAspectRatio="xMidYMid meet"
>
  {#each dots as { place, cell }, i (i)}
    <circle cx={place[0]} cy={-place[2]} r={cell === 0 ? r * 1.8 : r} class:first={cell === 0} />
  {/each}
</svg>

<style>
  svg {
    width: 100%;
    max-height: 320px;
    background: var(--paper);
  }
  circle {
    fill: var(--amber);
  }
  .first {
    fill: var(--text);
  }
</style>
