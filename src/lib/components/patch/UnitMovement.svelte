<script lang="ts">
  import { axesOf } from '$core/aim/axes.ts';
  import type { UnitRecord } from '$core/records/index.ts';
  import { AS_WIRED, type Movement } from '$core/records/movement.ts';
  import { parseNumber } from '$core/numbers.ts';
  import { sameJson } from '$core/document/change.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveNumber } from '$lib/state/entry.ts';
  import Beside from '../Beside.svelte';
  import Check from '../Check.svelte';
  import Field from '../Field.svelte';

  /** How heads are wired and how far they may go: turned round, swapped, off their middle, held within limits. */
  let { units, what }: { units: readonly UnitRecord[]; what: string } = $props();
  const app = getApp();
  const heads = $derived(units.filter((u) => axesOf(app.live.document, u)));
  const first = $derived(heads[0]);
  const movement = $derived(first?.movement ?? AS_WIRED);
  const axes = $derived(first && axesOf(app.live.document, first));
  const mixed = (of: (m: Movement) => Movement[keyof Movement]): boolean =>
    heads.some((u) => !sameJson(of(u.movement ?? AS_WIRED), of(movement)));
  const put = (label: string, of: (unit: UnitRecord) => UnitRecord): string | null =>
    app.live.edit(`${label} of ${what}`, { put: heads.map(of), remove: [] }) ? null : 'Not changed.';
  const change = (label: string, part: Partial<Movement>): string | null =>
    put(label, (unit) => {
      const next = { ...(unit.movement ?? AS_WIRED), ...part };
      return { ...unit, movement: sameJson(next, AS_WIRED) ? null : next };
    });
  const shown = (travel: Movement['pan']): string => (travel ? `${travel.fromDeg} to ${travel.toDeg}` : '');
  /** Two angles with a word or a mark between: "-90 to 90"; empty for no limit. */
  function limit(axis: 'pan' | 'tilt', text: string): string | null {
    if (text.trim() === '') return change(`Limit of ${axis}`, { [axis]: null });
    const parts = text.split(/\s*(?:to|\.\.|…|;)\s*/i);
    const [from, to] = parts.map((p) => parseNumber(p));
    const range = axis === 'pan' ? axes?.panRange : axes?.tiltRange;
    const most = (range?.rangeDeg ?? 720) / 2;
    if (parts.length !== 2 || from === null || to === null || from === undefined || to === undefined)
      return 'Give two angles such as -90 to 90, from the middle.';
    if (from >= to) return 'The first angle must be lower than the second.';
    if (from > most || to < -most) return `It only goes from ${-most} to ${most}: nothing would be left.`;
    return change(`Limit of ${axis}`, { [axis]: { fromDeg: Math.max(-720, from), toDeg: Math.min(720, to) } });
  }
</script>

{#if first && axes}
  <h3>Movement</h3>
  <div class="checks">
    {#if axes.panRange}
      <Check
        label="Invert pan"
        checked={first.invertPan}
        change={(invertPan) => put('Invert pan', (u) => ({ ...u, invertPan }))}
      />
    {/if}
    {#if axes.tiltRange}
      <Check
        label="Invert tilt"
        checked={first.invertTilt}
        change={(invertTilt) => put('Invert tilt', (u) => ({ ...u, invertTilt }))}
      />
    {/if}
    {#if axes.panRange && axes.tiltRange}
      <Check label="Pan and tilt swapped" checked={movement.swap} change={(swap) => change('Swap', { swap })} />
    {/if}
  </div>
  <details open={first.movement !== null}>
    <summary>Offset and limits</summary>
    <Beside>
      {#each [['panOffsetDeg', 'Pan off by', axes.panRange], ['tiltOffsetDeg', 'Tilt off by', axes.tiltRange]] as const as [key, label, has] (key)}
        {#if has}
          <Field
            {label}
            numeric
            suffix="°"
            value={movement[key]}
            mixed={mixed((m) => m[key])}
            save={(t) => saveNumber(t, -180, 180, (deg) => change('Offset', { [key]: deg }))}
          />
        {/if}
      {/each}
      {#each [['pan', 'Pan within', axes.panRange], ['tilt', 'Tilt within', axes.tiltRange]] as const as [key, label, has] (key)}
        {#if has}
          <Field
            {label}
            suffix="°"
            value={shown(movement[key])}
            mixed={mixed((m) => m[key])}
            placeholder="{-has.rangeDeg / 2} to {has.rangeDeg / 2}"
            save={(t) => limit(key, t)}
          />
        {/if}
      {/each}
      <Field
        label="Never faster than"
        numeric
        suffix="°/s"
        value={movement.fastestDegS ?? ''}
        mixed={mixed((m) => m.fastestDegS)}
        placeholder="free"
        save={(t) =>
          t.trim() === ''
            ? change('Speed', { fastestDegS: null })
            : saveNumber(t, 1, 2000, (fastestDegS) => change('Speed', { fastestDegS }))}
      />
    </Beside>
  </details>
{/if}

<style>
  .checks {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 16px;
  }
  summary {
    color: var(--quiet);
    font-size: 12.5px;
  }
  details[open] summary {
    padding-bottom: 6px;
  }
</style>
