<script lang="ts">
  import { onDestroy } from 'svelte';
  import type { UnitId } from '$core/ids.ts';
  import { effectSpecSchema } from '$core/records/effect.ts';
  import type { UnitRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';

  /** Two heads side by side move both axes at once, and whoever watches says which of them goes the wrong way. */
  const app = getApp();
  const heads = $derived(app.rig.heads);
  let ids = $state<[UnitId | null, UnitId | null]>([null, null]);
  const pair = $derived(ids.map((id, i) => heads.find((h) => h.id === id) ?? heads[i]) as (UnitRecord | undefined)[]);
  let running = $state(false);
  const options = $derived(heads.map((h) => ({ value: h.id, text: `${h.number} ${h.name}` })));

  /** A turn of the movement takes so long, seconds. */
  const TURN_S = 8;
  // Both axes at the same time: pan and tilt go out together, back together, and then against one another.
  const SPEC = effectSpecSchema.parse({
    rate: 1 / TURN_S,
    parts: [
      {
        does: 'aim',
        path: 'drawn',
        panDeg: 35,
        tiltDeg: 25,
        points: [
          [0, 0],
          [1, 1],
          [0, 0],
          [-1, 1],
        ],
      },
    ],
  });
  function start(): void {
    const on = pair.flatMap((u) => (u ? [u.id] : []));
    if (on.length === 0) return;
    app.hand.setAll(Object.fromEntries(on.map((id) => [id, { Pan: 0.5, Tilt: 0.5, Dimmer: 1 }])));
    void app.live.command({ do: 'handEffect', spec: SPEC, on });
    running = true;
  }
  function stop(): void {
    if (!running) return;
    running = false;
    app.hand.letGo(pair.flatMap((u) => (u ? [u.id] : [])));
  }
  onDestroy(stop);
  function flip(unit: UnitRecord, axis: 'invertPan' | 'invertTilt'): void {
    const words = axis === 'invertPan' ? 'Invert pan' : 'Invert tilt';
    app.live.edit(`${words} of ${unit.name}`, { put: [{ ...unit, [axis]: !unit[axis] }], remove: [] });
  }
</script>

{#if heads.length < 2}
  <p>Two units with pan and tilt are needed.</p>
{:else}
  <p class="quiet">
    Watch both beams from the front. They go out to the same side and come back, then to the other side, again and
    again: both axes at once, because one alone misleads. Say which head goes the wrong way while you see it.
  </p>
  <div class="pair">
    {#each [0, 1] as const as i (i)}
      {@const unit = pair[i]}
      <section aria-label={i === 0 ? 'First head' : 'Second head'}>
        <Choice
          label={i === 0 ? 'First head' : 'Second head'}
          value={unit?.id ?? null}
          {options}
          choose={(id) => {
            stop();
            ids = i === 0 ? [id, ids[1]] : [ids[0], id];
          }}
        />
        {#if unit}
          <Button disabled={!running} pressed={unit.invertPan} onclick={() => flip(unit, 'invertPan')}
            >This one pans the wrong way</Button
          >
          <Button disabled={!running} pressed={unit.invertTilt} onclick={() => flip(unit, 'invertTilt')}
            >This one tilts the wrong way</Button
          >
          <p class="quiet">
            {[unit.invertPan ? 'pan inverted' : '', unit.invertTilt ? 'tilt inverted' : '']
              .filter(Boolean)
              .join(', ') || 'nothing inverted'}
          </p>
        {/if}
      </section>
    {/each}
  </div>
  <div class="row">
    {#if running}<Button kind="main" onclick={stop}>Stop</Button>
    {:else}<Button kind="main" onclick={start}>Move both</Button>{/if}
  </div>
{/if}

<style>
  .pair {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 14px;
  }
  section {
    display: grid;
    gap: 8px;
    align-content: start;
  }
  section :global(button) {
    min-height: 48px;
    white-space: normal;
  }
  .row {
    display: flex;
    justify-content: center;
    padding-top: 12px;
  }
</style>
