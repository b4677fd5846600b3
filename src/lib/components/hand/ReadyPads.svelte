<script lang="ts">
  import type { ReadySection } from '$core/ready/ready.ts';
  import type { Preset } from '$core/ready/presets.ts';
  import type { ReadyLook } from '$core/ready/ready.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Picture from '../kit/Picture.svelte';

  /** Ready-made looks and effects as small pads, by what they are about. Nothing has to be programmed first. */
  interface Props {
    sections: readonly ReadySection[];
    apply: (look: ReadyLook) => void;
    play: (preset: Preset) => void;
    /** Parts of the presets that run now, to mark them. */
    running?: readonly string[];
  }
  let { sections, apply, play, running = [] }: Props = $props();
  const app = getApp();
</script>

<div class="ready">
  {#each sections as section (section.key)}
    <section aria-label={section.title}>
      <h3>{section.title}</h3>
      <div class="pads">
        {#each section.looks as look (look.key)}
          <button type="button" class="pad" title={look.name} onclick={() => apply(look)}>
            {#if look.picture || look.colour}
              <Picture
                size={16}
                colour={look.colour ?? undefined}
                picture={look.picture?.name}
                own={look.picture ? app.rig.profile(look.picture.profileId)?.pictures : undefined}
              />
            {/if}
            <span>{look.name}</span>
          </button>
        {/each}
        {#each section.presets as preset (preset.key)}
          {@const on = running.includes(JSON.stringify(preset.spec.parts))}
          <button
            type="button"
            class="pad effect"
            class:on
            style:--tint={preset.colour}
            title="{preset.name}: effect"
            onclick={() => play(preset)}><span>{preset.name}</span></button
          >
        {/each}
      </div>
    </section>
  {/each}
</div>

<style>
  .ready {
    display: flex;
    flex-direction: column;
    gap: 3px;
    min-width: 0;
    flex: 1;
  }
  section {
    display: grid;
    grid-template-columns: 76px 1fr;
    gap: 8px;
    align-items: start;
  }
  h3 {
    font-size: 12px;
    line-height: 26px;
    color: var(--quiet);
    font-weight: 400;
  }
  .pads {
    display: flex;
    flex-wrap: wrap;
    gap: 3px 4px;
  }
  @media (max-width: 760px) {
    section {
      grid-template-columns: 1fr;
      gap: 0;
    }
    .pad {
      min-height: 40px;
    }
  }
  .pad {
    display: flex;
    align-items: center;
    gap: 6px;
    min-height: 26px;
    padding: 1px 8px;
    border: 1px solid var(--line);
    border-radius: 5px;
    background: var(--raised);
    font-size: 12.5px;
    white-space: nowrap;
    max-width: 140px;
  }
  .pad span {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .pad:hover {
    background: var(--hover);
  }
  .effect {
    border-left: 4px solid var(--tint);
  }
  .effect.on {
    background: color-mix(in srgb, var(--tint) 26%, var(--raised));
    border-color: var(--tint);
  }
</style>
