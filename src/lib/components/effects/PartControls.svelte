<script lang="ts">
  import { FORM_WORDS, formOf, partWords } from '$core/ready/presets.ts';
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
  const set = (fields: object): void => change({ ...part, ...fields } as EffectPart);
  function setDoes(does: EffectPart['does']): void {
    const { combine, times, order, direction, spread, mirror, groupsOf, phase, each, seed } = part;
    change(
      effectPartSchema.parse({ does, combine, times, order, direction, spread, mirror, groupsOf, phase, each, seed }),
    );
  }
  const FORM_KEY = { level: 'wave', colour: 'way', aim: 'path', pixels: 'pattern' } as const;
</script>

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
      {#if part.does === 'level'}
        <NumberSlide label="Size" value={part.size} min={0} max={1} change={(size) => set({ size })} />
        <NumberSlide label="Lowest" value={part.offset} min={0} max={1} change={(offset) => set({ offset })} />
        <NumberSlide label="Alight for" value={part.width} min={0.01} max={1} change={(width) => set({ width })} />
      {:else if part.does === 'colour'}
        {#if part.way !== 'hue'}
          <ColourList colours={part.colours} change={(colours) => set({ colours })} />
        {/if}
        <NumberSlide
          label={part.way === 'hue' ? 'Saturation' : 'Softness'}
          value={part.size}
          min={0}
          max={1}
          change={(size) => set({ size })}
        />
        <NumberSlide label="Begins at" value={part.offset} min={0} max={1} change={(offset) => set({ offset })} />
      {:else if part.does === 'aim'}
        <NumberSlide
          label="Pan"
          value={part.panDeg}
          min={0}
          max={360}
          slideMax={120}
          step={1}
          suffix="deg"
          change={(panDeg) => set({ panDeg })}
        />
        <NumberSlide
          label="Tilt"
          value={part.tiltDeg}
          min={0}
          max={360}
          slideMax={90}
          step={1}
          suffix="deg"
          change={(tiltDeg) => set({ tiltDeg })}
        />
        <NumberSlide
          label="Turned by"
          value={part.turnDeg}
          min={-360}
          max={360}
          slideMin={-180}
          slideMax={180}
          step={1}
          suffix="deg"
          change={(turnDeg) => set({ turnDeg })}
        />
        {#if part.path === 'drawn'}<PathDraw points={part.points} change={(points) => set({ points })} />{/if}
      {:else}
        <ColourList colours={part.colours} change={(colours) => set({ colours })} />
        {#if part.pattern === 'text'}
          <Field
            label="Text"
            value={part.text}
            save={(text) => (text.length > 200 ? 'At most 200 letters.' : (set({ text }), null))}
          />
        {/if}
        <NumberSlide label="Brightness" value={part.size} min={0} max={1} change={(size) => set({ size })} />
        <NumberSlide label="Width" value={part.width} min={0} max={1} change={(width) => set({ width })} />
        <NumberSlide
          label="Repeats"
          value={part.repeat}
          min={0.1}
          max={64}
          slideMax={12}
          step={0.1}
          change={(repeat) => set({ repeat })}
        />
        <NumberSlide label="Softness" value={part.soft} min={0} max={1} change={(soft) => set({ soft })} />
      {/if}
    </div>
    <div class="column">
      {#if part.does === 'pixels'}
        <NumberSlide
          label="Goes towards"
          value={part.angleDeg}
          min={-360}
          max={360}
          slideMin={-180}
          slideMax={180}
          step={1}
          suffix="deg"
          change={(angleDeg) => set({ angleDeg })}
        />
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
      <NumberSlide
        label="Groups of"
        value={part.groupsOf}
        min={1}
        max={10_000}
        slideMax={16}
        step={1}
        change={(groupsOf) => set({ groupsOf: Math.round(groupsOf) })}
      />
      <NumberSlide
        label="Times"
        value={part.times}
        min={0}
        max={64}
        slideMax={8}
        step={0.25}
        suffix="x"
        change={(times) => set({ times })}
      />
      <NumberSlide
        label="Ahead by"
        value={part.phase}
        min={-64}
        max={64}
        slideMin={0}
        slideMax={1}
        suffix="turns"
        change={(phase) => set({ phase })}
      />
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
