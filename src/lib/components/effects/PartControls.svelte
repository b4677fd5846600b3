<script lang="ts">
  import { FORM_WORDS, formOf, partWords } from '$core/ready/presets.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { effectPartSchema, type EffectPart } from '$core/records/effect.ts';
  import X from '@lucide/svelte/icons/x';
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import Button from '../Button.svelte';
  import Check from '../Check.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import NumberSlide from '../NumberSlide.svelte';
  import ColourList from './ColourList.svelte';
  import PathDraw from './PathDraw.svelte';
  import { GOING, slidesOf, TOWARDS, type PartSlide } from './part-slides.ts';
  import SpreadSlide from './SpreadSlide.svelte';
  import { COMBINE_WORDS, DIRECTION_WORDS, DOES_WORDS, optionsOf, ORDER_WORDS, PLANE_WORDS } from './effect-words.ts';

  /** One part of an effect: what it does, how it goes over what it plays on, how it meets the parts before it. */
  interface Props {
    part: EffectPart;
    index: number;
    change: (part: EffectPart) => void;
    remove?: () => void;
    up?: () => void;
  }
  let { part, index, change, remove, up }: Props = $props();
  const app = getApp();
  const set = (fields: object): void => change({ ...part, ...fields } as EffectPart);
  const valueOf = (key: string): number => (part as unknown as Record<string, number>)[key]!;
  function setDoes(does: EffectPart['does']): void {
    const { combine, times, order, direction, spread, mirror, groupsOf, phase, each, seed } = part;
    change(
      effectPartSchema.parse({ does, combine, times, order, direction, spread, mirror, groupsOf, phase, each, seed }),
    );
  }
  const FORM_KEY = { level: 'wave', colour: 'way', aim: 'path', pixels: 'pattern' } as const;
</script>

{#snippet slides(list: readonly PartSlide[])}
  {#each list as { key, ...slide } (key)}
    <NumberSlide
      {...slide}
      value={valueOf(key)}
      change={(value) => set({ [key]: key === 'groupsOf' ? Math.round(value) : value })}
    />
  {/each}
{/snippet}

<section aria-label="Part {index + 1}: {partWords(part)}">
  <header>
    <h3><span class="num quiet">{index + 1}</span> {partWords(part)}</h3>
    {#if up}<Button kind="bare" aria-label="Part {index + 1} earlier" title="Earlier" onclick={up}
        ><ArrowUp size={16} /></Button
      >{/if}
    {#if remove}<Button kind="bare" aria-label="Take part {index + 1} out" title="Take out" onclick={remove}
        ><X size={16} /></Button
      >{/if}
  </header>
  <div class="columns">
    <div class="column">
      <div class="pair">
        <Choice label="What" value={part.does} options={optionsOf(DOES_WORDS)} choose={setDoes} />
        <Choice
          label="How"
          value={formOf(part)}
          options={optionsOf(FORM_WORDS[part.does])}
          choose={(form) => set({ [FORM_KEY[part.does]]: form })}
        />
      </div>
      {#if index > 0 && part.does !== 'aim'}
        <Choice
          label="With the parts before"
          value={part.combine}
          options={optionsOf(COMBINE_WORDS)}
          choose={(combine) => set({ combine })}
        />
      {/if}
      {#if part.does === 'pixels' || (part.does === 'colour' && part.way !== 'hue')}
        <ColourList colours={part.colours} change={(colours) => set({ colours })} />
      {/if}
      {#if part.does === 'pixels' && part.pattern === 'text'}
        <Field
          label="Text"
          value={part.text}
          save={(text) => (text.length > 200 ? 'At most 200 letters.' : (set({ text }), null))}
        />
      {/if}
      {#if part.does === 'aim'}
        <div class="pair">
          <Choice
            label="Round"
            value={part.round ?? 'there'}
            options={[
              { value: 'there', text: 'where they point' },
              ...app.rig.aims.map((a) => ({ value: a.id as string, text: a.name })),
            ]}
            choose={(id) => set({ round: id === 'there' ? null : id })}
          />
          <Choice
            label="In"
            value={part.in}
            options={[
              { value: 'degrees', text: 'degrees' },
              { value: 'metres', text: 'metres on the floor' },
            ]}
            choose={(measure) => set({ in: measure })}
          />
        </div>
      {/if}
      {@render slides(slidesOf(part))}
      {#if part.does === 'aim' && part.path === 'drawn'}
        <PathDraw points={part.points} change={(points) => set({ points })} />
      {/if}
    </div>
    <div class="column">
      {#if part.does === 'pixels'}
        {@render slides([TOWARDS])}
        <Choice label="Seen" value={part.plane} options={optionsOf(PLANE_WORDS)} choose={(plane) => set({ plane })} />
      {/if}
      <Choice label="Order" value={part.order} options={optionsOf(ORDER_WORDS)} choose={(order) => set({ order })} />
      <SpreadSlide value={part.spread} change={(spread) => set({ spread })} />
      <div class="pair">
        <Choice
          label="Direction"
          value={part.direction}
          options={optionsOf(DIRECTION_WORDS)}
          choose={(direction) => set({ direction })}
        />
        <Choice
          label="Takes"
          value={part.each}
          options={[
            { value: 'cell', text: 'each cell' },
            { value: 'unit', text: 'whole units' },
          ]}
          choose={(each) => set({ each })}
        />
      </div>
      {@render slides(GOING)}
      <div class="ticks">
        <Check label="Mirrored" checked={part.mirror} change={(mirror) => set({ mirror })} />
        <Button title="Another chance for what is random" onclick={() => set({ seed: (part.seed % 0xfffffffe) + 1 })}
          >Shuffle</Button
        >
      </div>
    </div>
  </div>
</section>

<style>
  section {
    border: 1px solid var(--line);
    border-radius: 8px;
    padding: 8px 12px 12px;
    background: var(--panel);
  }
  header {
    display: flex;
    align-items: center;
    gap: 4px;
  }
  h3 {
    flex: 1;
  }
  .columns {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(260px, 1fr));
    gap: 6px 24px;
  }
  .column {
    display: grid;
    gap: 6px;
    align-content: start;
    min-width: 0;
  }
  .pair {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 8px;
  }
  .ticks {
    display: flex;
    justify-content: space-between;
    align-items: center;
  }
</style>
