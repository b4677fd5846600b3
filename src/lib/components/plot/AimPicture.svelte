<script lang="ts">
  import { aimHandles, aimLine, isShaping } from '$core/aim/handles.ts';
  import type { AimRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';

  /** A small picture of an aim: where it is on the plan of the room, or which way it points. */
  let { aim }: { aim: AimRecord } = $props();
  const app = getApp();
  const W = 44;
  const H = 30;
  const { where } = $derived(aim);
  const scale = $derived(Math.min((W - 6) / app.rig.room.widthM, (H - 6) / app.rig.room.depthM));
  const at = ({ x, y }: { x: number; y: number }): [number, number] => [
    Math.min(W - 3, Math.max(3, W / 2 + x * scale)),
    Math.min(H - 3, Math.max(3, H / 2 - y * scale)),
  ];
  const dots = $derived(
    aimHandles(app.live.document, aim)
      .filter((handle) => !isShaping(handle))
      .map(({ place }) => at(place)),
  );
  const points = $derived(
    aimLine(app.live.document, aim)
      .flatMap((place) => at(place).map((v) => v.toFixed(1)))
      .join(' '),
  );
  /** Directions are seen from the side: the audience to the right. */
  const ways = $derived.by((): [number, number][] => {
    if (where.is !== 'direction') return [];
    const fan = where.fanDeg === 0 ? [0] : [-0.5, 0, 0.5];
    return fan.map((part) => {
      const away = Math.cos((where.turnDeg * Math.PI) / 180);
      const rise = ((where.riseDeg + part * Math.min(60, where.fanDeg)) * Math.PI) / 180;
      return [W / 2 + Math.cos(rise) * away * 13, H / 2 - Math.sin(rise) * 13];
    });
  });
</script>

<svg viewBox="0 0 {W} {H}" width={W} height={H} aria-hidden="true">
  {#if where.is === 'direction'}
    {#each ways as [x, y], i (i)}<line x1={W / 2} y1={H / 2} x2={x} y2={y} stroke={aim.colour} />{/each}
    <rect x={W / 2 - 3} y={H / 2 - 3} width="6" height="6" rx="1.5" fill="var(--quiet)" />
  {:else if where.is === 'home'}
    <path d="M{W / 2 - 8} {H / 2}h16M{W / 2} {H / 2 - 8}v16" stroke={aim.colour} />
  {:else}
    <rect
      x={W / 2 - (app.rig.room.widthM * scale) / 2}
      y={H / 2 - (app.rig.room.depthM * scale) / 2}
      width={app.rig.room.widthM * scale}
      height={app.rig.room.depthM * scale}
      class="walls"
    />
    {#if points}<polyline {points} stroke={aim.colour} fill="none" />{/if}
    {#each dots as [x, y], i (i)}<circle cx={x} cy={y} r="2.6" fill={aim.colour} />{/each}
    {#if where.is === 'pair' && where.crossing}
      <path d="M{W / 2 - 4} {H / 2 - 4}l8 8m0 -8l-8 8" stroke="var(--text)" stroke-width="1" />
    {/if}
  {/if}
</svg>

<style>
  svg {
    flex: none;
  }
  line,
  polyline,
  path {
    stroke-width: 1.6;
    stroke-linecap: round;
  }
  .walls {
    fill: none;
    stroke: var(--line);
  }
</style>
