<script lang="ts">
  import { headsIn } from '$core/aim/target.ts';
  import { aimHandles, isShaping, withHandle } from '$core/aim/handles.ts';
  import { solutionFor } from '$core/aim/solutions.ts';
  import { MISSED_DEG } from '$core/aim/table.ts';
  import type { AimId, UnitId } from '$core/ids.ts';
  import { tidyPlace } from '$core/plot/paper.ts';
  import type { AimRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { byFolder, corrected, putAim } from '$lib/state/plot/aim-edits.ts';
  import { COARSE_DEG, Correcting, FINE_DEG } from '$lib/state/plot/pointing.ts';
  import Button from '../Button.svelte';
  import Check from '../Check.svelte';
  import AimTile from '../plot/AimTile.svelte';
  import HeadChips from './HeadChips.svelte';
  import NudgePad from './NudgePad.svelte';

  /** Each aim shown on the heads, to be corrected for all of them or for one. `only`: aims that are gone through. */
  let { only }: { only?: readonly AimId[] } = $props();
  const app = getApp();
  const correcting = new Correcting(app);
  const aims = $derived(
    byFolder(app.rig.aims)
      .flatMap(([, list]) => list)
      .filter((a) => a.where.is !== 'home' && (!only || only.includes(a.id))),
  );
  let aimId = $state<AimId | null>(null);
  const aim = $derived(aims.find((a) => a.id === aimId));
  const heads = $derived(aim ? headsIn(app.live.document, aim) : []);
  let chosen = $state<UnitId[]>([]);
  let fine = $state(false);
  const shown = $derived(chosen.length === 0 ? heads : heads.filter((h) => chosen.includes(h.id)));
  const one = $derived(chosen.length === 1 ? shown[0] : undefined);

  function choose(next: AimRecord): void {
    aimId = next.id;
    chosen = [];
    correcting.show(next, headsIn(app.live.document, next));
  }
  function take(ids: UnitId[]): void {
    chosen = ids;
    if (aim) correcting.show(aim, ids.length === 0 ? heads : heads.filter((h) => ids.includes(h.id)));
  }
  const index = $derived(aim ? aims.indexOf(aim) : -1);
  const next = (by: number): void => {
    const to = aims[(index + by + aims.length) % aims.length];
    if (to) choose(to);
  };

  /** Metres of a step where the aim itself is moved. */
  const STEP_M = $derived(fine ? 0.02 : 0.2);
  const stepDeg = $derived(fine ? FINE_DEG : COARSE_DEG);
  let trial: AimRecord | null = null;
  function movedAim(from: AimRecord, x: number, y: number): AimRecord {
    const { where } = from;
    if (where.is === 'direction')
      return {
        ...from,
        where: {
          ...where,
          turnDeg: Math.round((where.turnDeg + x * stepDeg) * 10) / 10,
          riseDeg: Math.max(-90, Math.min(90, Math.round((where.riseDeg + y * stepDeg) * 10) / 10)),
        },
      };
    // All its places move alike.
    let now = from;
    for (const handle of aimHandles(app.live.document, from)) {
      if (isShaping(handle) || handle.key === 'other') continue;
      const { key, place } = handle;
      const to = tidyPlace({ ...place, x: place.x + x * STEP_M, y: place.y + y * STEP_M });
      now = withHandle(app.live.document, now, key, to);
    }
    return now;
  }
  function move(x: number, y: number): void {
    if (!aim) return;
    const from = trial ?? aim;
    trial = one ? correcting.turned(from, [one], x * stepDeg, y * stepDeg) : movedAim(from, x, y);
    correcting.try(trial, shown);
  }
  function end(): void {
    if (!trial) return;
    trial = null;
    correcting.keep();
  }
  const forget = (): void => {
    if (aim && one) putAim(app, 'Correction of', corrected(aim, new Map([[one.id, { pan: 0, tilt: 0 }]])));
  };
  const words = $derived.by(() => {
    if (!aim) return '';
    if (!one) return aim.where.is === 'direction' ? `turns ${aim.name}` : `moves ${aim.name}\non the floor`;
    const { pan = 0, tilt = 0 } = aim.corrections[one.id] ?? {};
    return `${one.number} ${one.name}\npan ${pan.toFixed(1)}°  tilt ${tilt.toFixed(1)}°`;
  });
  const miss = $derived(one && aim ? (solutionFor(app.live.document, one.id, aim.id)?.missDeg ?? 0) : 0);
</script>

{#if aims.length === 0}
  <p>There are no aims yet. <a href="/plot">Make the usual aims</a> under Plot, Aims.</p>
{:else if !aim}
  <p class="quiet">Choose an aim: the heads show it, and you say what is off.</p>
  <div class="tiles">
    {#each aims as item (item.id)}
      <AimTile aim={item} press={() => choose(item)} large />
    {/each}
  </div>
{:else}
  <div class="row">
    <Button onclick={() => next(-1)}>Before</Button>
    <h2>{aim.name} <span class="quiet num">{index + 1}/{aims.length}</span></h2>
    <Button onclick={() => next(1)}>Next aim</Button>
  </div>
  <HeadChips
    {heads}
    {chosen}
    choose={take}
    all="all, by the aim itself"
    mark={(u) => (aim.corrections[u.id] ? '(corrected)' : '')}
  />
  <NudgePad label={one ? one.name : aim.name} text={words} across={fine ? 40 : 30} {move} {end} />
  <div class="row">
    <Check label="Fine" checked={fine} change={(on) => (fine = on)} />
    {#if one && aim.corrections[one.id]}<Button onclick={forget}>As worked out</Button>{/if}
    <Button onclick={() => (aimId = null)}>All aims</Button>
    <Button onclick={() => app.hand.letGo(heads.map((h) => h.id))}>Let the heads go</Button>
  </div>
  {#if miss > MISSED_DEG}<p class="wrong">It cannot reach this aim: {miss.toFixed(1)}° are missing.</p>{/if}
{/if}

<style>
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: center;
    justify-content: space-between;
  }
  h2 {
    font-size: 17px;
    margin: 0;
  }
  .tiles {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(98px, 1fr));
    gap: 8px;
  }
  .wrong {
    color: var(--wrong);
  }
</style>
