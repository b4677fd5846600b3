<script lang="ts">
  import { CURVED_KEYS, type Curved } from '$core/curved.ts';
  import { CURVE_SHAPES } from '$core/records/curve.ts';
  import { secondsIn } from '$core/format/marks.ts';
  import Button from '$lib/components/Button.svelte';
  import Field from '$lib/components/Field.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { CurveFrom, LightCurves } from '$lib/state/music/light-curves.svelte.ts';
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';

  /** What goes over the time of the block or the lane: shown over the lanes, typed here, or taken from the sound. */
  let { light, curves }: { light: LightDesk; curves: LightCurves } = $props();
  const app = getApp();
  const WORDS: Readonly<Record<Curved, string>> = {
    level: 'Level',
    size: 'Size of the effect',
    speed: 'Speed',
    phase: 'Phase',
    width: 'Width of waves and pictures',
    base: 'Light where waves are low',
    hue: 'Hue of the effect',
  };
  const FROM: readonly [CurveFrom, string][] = [
    ['loudness', 'loudness'],
    ['low', 'the low'],
    ['middle', 'the middle'],
    ['high', 'the high'],
    ['onset low', 'low beginnings'],
    ['onset snare', 'snares'],
    ['onset high', 'high beginnings'],
    ['onset tonal', 'notes'],
  ];
  const SHAPES = { step: 'stays', line: 'straight', ease: 'soft' } as const;
  let from = $state<CurveFrom>('loudness');
  /** So many points are listed; the others are drawn. */
  const LISTED = 40;
  const points = $derived(curves.points ?? []);
  const number = (given: string, least: number, most: number): number | null => {
    const n = Number(given.replace(',', '.'));
    return given.trim() !== '' && Number.isFinite(n) && n >= least && n <= most ? n : null;
  };
  function take(): void {
    if (!curves.take(from))
      app.live.tell('note', 'There is nothing to follow', 'The song has to be heard, and a block or lane chosen.');
  }
</script>

<section aria-label="Curves">
  <h3>Curves</h3>
  <div class="row">
    <select
      aria-label="Curve of"
      value={curves.of ?? ''}
      onchange={(e) => {
        curves.of = (e.currentTarget.value || null) as Curved | null;
        curves.index = null;
      }}
    >
      <option value="">none shown</option>
      {#each CURVED_KEYS as key (key)}<option value={key}>{WORDS[key]}</option>{/each}
    </select>
    <select
      aria-label="Curve belongs to"
      value={curves.whole ? 'lane' : 'block'}
      onchange={(e) => (curves.whole = e.currentTarget.value === 'lane')}
    >
      <option value="block">of the blocks</option>
      <option value="lane">of the lane</option>
    </select>
  </div>
  {#if curves.of}
    {#if !curves.span}
      <p class="quiet">Choose a {curves.whole ? 'lane' : 'block'} to steer.</p>
    {:else}
      <p class="quiet">
        {points.length} points, {curves.range.least} to {curves.range.most}. Press on the lane for a point, drag it,
        Delete takes it away.
      </p>
      <div class="row">
        <select aria-label="Curve follows" bind:value={from}>
          {#each FROM as [key, text] (key)}<option value={key}>{text}</option>{/each}
        </select>
        <Button onclick={take}>Take from the sound</Button>
        {#if points.length > 0}<Button onclick={() => curves.set(null, 'Remove a curve')}>Remove</Button>{/if}
      </div>
      <ol>
        {#each points.slice(0, LISTED) as point, i (i)}
          <li class:on={curves.index === i}>
            <Field
              label="Moment of point {i + 1}"
              hideLabel
              suffix="s"
              value={String(Math.round(point.at * 1000) / 1000)}
              save={(text) => {
                const at = secondsIn(text);
                if (at === null || at > curves.span!.length) return `0 to ${curves.span!.length.toFixed(2)} s.`;
                curves.put(at, point.value, point.shape, i);
                return null;
              }}
            />
            <Field
              label="Value of point {i + 1}"
              hideLabel
              value={String(point.value)}
              save={(text) => {
                const value = number(text, curves.range.least, curves.range.most);
                if (value === null) return `${curves.range.least} to ${curves.range.most}.`;
                curves.put(point.at, value, point.shape, i);
                return null;
              }}
            />
            <select
              aria-label="Goes on from point {i + 1}"
              value={point.shape}
              onchange={(e) => curves.shape(i, e.currentTarget.value as typeof point.shape)}
            >
              {#each CURVE_SHAPES as shape (shape)}<option value={shape}>{SHAPES[shape]}</option>{/each}
            </select>
          </li>
        {/each}
      </ol>
      {#if points.length > LISTED}<p class="quiet">and {points.length - LISTED} more, drawn on the lane.</p>{/if}
      <Button
        onclick={() =>
          curves.put(
            Math.max(0, light.song.place - curves.span!.from),
            curves.valueAt(Math.max(0, light.song.place - curves.span!.from)),
          )}>Add a point where it stands</Button
      >
    {/if}
  {/if}
</section>

<style>
  ol {
    display: grid;
    gap: 4px;
    max-height: 220px;
    margin: 0;
    padding: 0;
    overflow-y: auto;
    list-style: none;
  }
  li {
    display: grid;
    grid-template-columns: 1fr 1fr auto;
    gap: 4px;
    align-items: center;
  }
  .on {
    outline: 1px solid var(--amber);
  }
</style>
