<script lang="ts">
  import { keepOutSchema, type KeepOut } from '$core/records/movement.ts';
  import { saveLength, saveNumber } from '$lib/state/entry.ts';
  import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import Beside from '../Beside.svelte';
  import Check from '../Check.svelte';
  import Field from '../Field.svelte';
  import Slider from '../Slider.svelte';

  /** What no beam is to meet: over an area between two heights, or a thing. */
  interface Props {
    desk: PlotDesk;
    value: KeepOut | null;
    /** Of an area it has heights, and lets steep beams pass. */
    over: boolean;
    put: (value: KeepOut | null) => boolean;
  }
  let { desk, value, over, put }: Props = $props();
  const change = (part: Partial<KeepOut>): string | null => (put({ ...value!, ...part }) ? null : 'Not changed.');
  const HEIGHTS = [
    ['fromM', 'From'],
    ['toM', 'To'],
  ] as const;
</script>

<h3>Never in the eyes</h3>
<Check
  label={over ? 'People stand here: beams keep out of their eyes' : 'No beam is to meet it'}
  checked={value?.on ?? false}
  change={(on) => put(value ? { ...value, on } : on ? keepOutSchema.parse({}) : null)}
/>
{#if value?.on}
  {#if over}
    <Beside columns={3}>
      {#each HEIGHTS as [key, label] (key)}
        <Field
          {label}
          numeric
          suffix={desk.unitWord}
          value={desk.shownLength(value[key])}
          save={(t) => saveLength(t, desk.lengths, (m) => change({ [key]: m }), 0)}
        />
      {/each}
      <Field
        label="Passes from"
        numeric
        suffix="°"
        placeholder="never"
        value={value.steepDeg ?? ''}
        save={(t) =>
          t.trim() === '' ? change({ steepDeg: null }) : saveNumber(t, 20, 90, (steepDeg) => change({ steepDeg }))}
      />
    </Beside>
    <p class="quiet">
      Beams that come down steeper than <i>passes from</i> meet hair, not eyes. Empty: none passes.
    </p>
  {/if}
  <Slider label="Left of the level" value={value.level} change={(level) => change({ level })} />
  <Field
    label="Soft over"
    numeric
    suffix="°"
    value={value.softDeg}
    save={(t) => saveNumber(t, 0.5, 45, (softDeg) => change({ softDeg }))}
  />
{:else if value}
  <p class="wrong">Off on purpose: beams go through it.</p>
{/if}

<style>
  p {
    margin: 0;
  }
  .wrong {
    color: var(--wrong);
  }
</style>
