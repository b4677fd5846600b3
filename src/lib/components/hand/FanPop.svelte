<script lang="ts">
  import { FAN_SHAPES, type FanShape } from '$core/show/live/fan.ts';
  import Dices from '@lucide/svelte/icons/dices';
  import Waypoints from '@lucide/svelte/icons/waypoints';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Pop from '../Pop.svelte';
  import Slider from '../Slider.svelte';

  /** Spreads a value over the selection, from one to another. */
  interface Props {
    words: string;
    count: number;
    /** One of the two: a number is spread, or a colour. */
    fan?: (from: number, to: number, shape: FanShape, seed: number) => void;
    fanColour?: (from: string, to: string, shape: FanShape, seed: number) => void;
  }
  let { words, count, fan, fanColour }: Props = $props();
  const SHAPES: Readonly<Record<FanShape, string>> = {
    line: 'first to last',
    centre: 'from the middle out',
    mirror: 'from both ends in',
    random: 'by chance',
  };
  let from = $state(0);
  let to = $state(1);
  let first = $state('#ff7a14');
  let last = $state('#1f4bff');
  let shape = $state<FanShape>('line');
  let seed = $state(1);
  const go = (): void => (fanColour ? fanColour(first, last, shape, seed) : fan?.(from, to, shape, seed));
</script>

<Pop label="Spread {words}" width={280}>
  {#snippet button(props)}
    <button
      {...props}
      type="button"
      class="open"
      aria-label="Spread {words} over the selection"
      title="Spread over {count}"><Waypoints size={14} /></button
    >
  {/snippet}
  {#snippet children(_close)}
    <h2>Spread {words.toLowerCase()} over {count}</h2>
    {#if fanColour}
      <label class="pick"
        >From <input
          type="color"
          value={first}
          oninput={(e) => {
            first = e.currentTarget.value;
            go();
          }}
        /></label
      >
      <label class="pick"
        >To <input
          type="color"
          value={last}
          oninput={(e) => {
            last = e.currentTarget.value;
            go();
          }}
        /></label
      >
    {:else}
      <Slider
        label="From"
        value={from}
        change={(v) => {
          from = v;
          go();
        }}
      />
      <Slider
        label="To"
        value={to}
        change={(v) => {
          to = v;
          go();
        }}
      />
    {/if}
    <Choice
      label="How"
      value={shape}
      options={FAN_SHAPES.map((value) => ({ value, text: SHAPES[value] }))}
      choose={(v) => {
        shape = v;
        go();
      }}
    />
    {#if shape === 'random'}
      <Button
        onclick={() => {
          seed++;
          go();
        }}><Dices size={16} /> Again, otherwise</Button
      >
    {/if}
    <Button kind="main" onclick={go}>Spread</Button>
  {/snippet}
</Pop>

<style>
  .open {
    display: grid;
    place-items: center;
    width: 26px;
    height: 22px;
    border: 0;
    background: none;
    color: var(--quiet);
  }
  .open:hover {
    color: var(--text);
  }
  .pick {
    display: flex;
    justify-content: space-between;
    align-items: center;
  }
  .pick input {
    width: 64px;
    height: 30px;
    padding: 0;
    border: 1px solid var(--line-strong);
    background: none;
  }
</style>
