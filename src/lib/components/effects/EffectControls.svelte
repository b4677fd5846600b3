<script lang="ts">
  import { effectPartSchema, type EffectPart, type EffectSpec } from '$core/records/effect.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import Button from '../Button.svelte';
  import Check from '../Check.svelte';
  import Choice from '../Choice.svelte';
  import NumberSlide from '../NumberSlide.svelte';
  import PaceSlide from './PaceSlide.svelte';
  import PartControls from './PartControls.svelte';
  import { DOES_WORDS, LEVELS_WORDS, optionsOf } from './effect-words.ts';

  /** Everything an effect is made of: its pace and light, and its parts in order. */
  let { spec, change }: { spec: EffectSpec; change: (spec: EffectSpec) => void } = $props();
  const set = (fields: Partial<EffectSpec>): void => change({ ...spec, ...fields });
  const part = (i: number, next: EffectPart): void => set({ parts: spec.parts.map((p, j) => (j === i ? next : p)) });
  let adding = $state<EffectPart['does']>('level');
  const add = (): void => {
    const combine = adding === 'level' ? 'through' : 'over';
    set({ parts: [...spec.parts, effectPartSchema.parse({ does: adding, combine })] });
  };
  function earlier(i: number): void {
    const parts = [...spec.parts];
    [parts[i - 1], parts[i]] = [parts[i]!, parts[i - 1]!];
    set({ parts });
  }
  /** Beats a turn takes, as people count them. */
  const BEATS = [32, 16, 8, 4, 2, 1, 0.5, 0.25] as const;
  const beatsWords = (beats: number): string => (beats >= 1 ? `${beats} beats` : `1/${1 / beats} beat`);
  const chosenBeats = $derived(BEATS.find((b) => Math.abs(1 / b - spec.rate) < 1e-9));
</script>

<div class="whole">
  <div class="pace">
    <Choice
      label="Goes by"
      value={spec.beats ? 'beats' : 'seconds'}
      options={[
        { value: 'seconds', text: 'time' },
        { value: 'beats', text: 'the tempo' },
      ]}
      choose={(v) => set({ beats: v === 'beats' })}
    />
    {#if spec.beats}
      <Choice
        label="One turn in"
        value={chosenBeats === undefined ? null : String(chosenBeats)}
        options={BEATS.map((b) => ({ value: String(b), text: beatsWords(b) }))}
        choose={(v) => set({ rate: 1 / Number(v) })}
      />
    {/if}
  </div>
  <PaceSlide {spec} change={(rate) => set({ rate })} />
  <div class="light">
    <Check
      label="Lights what it plays on"
      checked={spec.light !== null}
      change={(on) => set({ light: on ? 1 : null })}
    />
    {#if spec.light !== null}
      <NumberSlide label="at" value={spec.light} min={0} max={1} change={(light) => set({ light })} />
    {/if}
  </div>
  <Choice
    label="Its levels"
    value={spec.levels}
    options={optionsOf(LEVELS_WORDS)}
    choose={(levels) => set({ levels })}
  />
</div>
{#each spec.parts as own, i (i)}
  <PartControls
    part={own}
    index={i}
    change={(next) => part(i, next)}
    remove={spec.parts.length > 1 ? () => set({ parts: spec.parts.filter((_, j) => j !== i) }) : undefined}
    up={i > 0 ? () => earlier(i) : undefined}
  />
{/each}
{#if spec.parts.length < 6}
  <div class="add">
    <Choice hideLabel label="Part to add" value={adding} options={optionsOf(DOES_WORDS)} choose={(v) => (adding = v)} />
    <Button onclick={add}><Plus size={16} /> Add a part</Button>
  </div>
{/if}

<style>
  .whole {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(260px, 1fr));
    gap: 8px 24px;
    align-items: end;
  }
  .pace {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 8px;
  }
  .light {
    display: grid;
    gap: 2px;
  }
  .add {
    display: flex;
    gap: 8px;
  }
</style>
