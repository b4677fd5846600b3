<script lang="ts">
  import { withFields } from '$core/timeline/blocks.ts';
  import { secondsIn } from '$core/format/marks.ts';
  import Button from '$lib/components/Button.svelte';
  import Field from '$lib/components/Field.svelte';
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';
  import type { LightStretches } from '$lib/state/music/light-stretches.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';

  /** The blocks that are chosen: when, how long, how they come and go, what they play. */
  let { light, stretches }: { light: LightDesk; stretches: LightStretches } = $props();
  const first = $derived(light.first!);
  const many = $derived(light.chosen.length);
  const text = (n: number): string => String(Math.round(n * 1000) / 1000);
  /** A field in seconds, within what may be. */
  const seconds =
    (label: string, least: number, most: number, set: (n: number) => void) =>
    (given: string): string | null => {
      const n = secondsIn(given);
      if (n === null || n < least || n > most) return `${least} to ${Math.round(most)} s.`;
      set(n);
      return null;
    };
  function slip(given: string): string | null {
    const n = Number(given.replace(',', '.'));
    if (given.trim() === '' || !Number.isFinite(n) || Math.abs(n) > 3600) return 'A number, -3600 to 3600.';
    light.set('Slip blocks', { slip: n });
    return null;
  }
</script>

<section aria-label="Blocks that are chosen">
  <h3>{many > 1 ? `${many} blocks` : light.nameOf(first)}</h3>
  {#key light.chosen}
    <div class="two">
      <Field
        label="Begins"
        value={clockText(first.at, 3)}
        save={seconds('Begins', 0, light.song.end, (n) => light.move(n - first.at))}
      />
      <Field
        label="Length"
        suffix="s"
        value={text(first.length)}
        save={seconds('Length', 0.001, 3600, (n) => light.set('Length of blocks', { length: n }))}
      />
      <Field
        label="Fade in"
        suffix="s"
        value={text(first.fadeIn)}
        save={seconds('Fade in', 0, 600, (n) => light.set('Fade in', { fadeIn: n }))}
      />
      <Field
        label="Fade out"
        suffix="s"
        value={text(first.fadeOut)}
        save={seconds('Fade out', 0, 600, (n) => light.set('Fade out', { fadeOut: n }))}
      />
      <Field label="Slipped by" value={text(first.slip)} save={slip} />
      <label class="layer"
        >Layer <select
          aria-label="Layer"
          value={first.layer}
          onchange={(e) => light.set('Layer of blocks', { layer: Number(e.currentTarget.value) })}
        >
          {#each [0, 1, 2, 3] as n (n)}<option value={n}>{n + 1}</option>{/each}
        </select></label
      >
    </div>
  {/key}
  <div class="row">
    <Button title="Ctrl+C" onclick={() => stretches.copyChosen(false)}>Copy</Button>
    <Button title="Ctrl+X" onclick={() => stretches.copyChosen(true)}>Cut</Button>
    {#if first.plays.is === 'play'}
      <Button title="It no longer follows what it came from" onclick={() => light.detach()}>Detach</Button>
    {/if}
    {#if light.hand}
      <Button onclick={() => light.set(`Play ${light.hand!.name}`, { plays: light.hand!.plays })}
        >Play {light.hand.name} instead</Button
      >
    {/if}
    {#if Object.keys(first.curves).length > 0}
      <Button onclick={() => light.each('Remove curves', (lane, keys) => withFields(lane.blocks, keys, { curves: {} }))}
        >No curves</Button
      >
    {/if}
  </div>
</section>

<style>
  h3 {
    overflow-wrap: anywhere;
  }
  .two {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 6px 8px;
    align-items: end;
  }
  .layer {
    display: grid;
    gap: 2px;
    font-size: 12.5px;
  }
</style>
