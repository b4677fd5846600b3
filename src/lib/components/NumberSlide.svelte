<script lang="ts">
  import { decimal } from '$lib/state/entry.ts';

  /** A number by slider or typed. What is typed may be finer than the slider's steps; what is not a number is refused. */
  interface Props {
    label: string;
    value: number;
    min: number;
    max: number;
    step?: number;
    suffix?: string;
    change: (value: number) => void;
    /** Ends of the slider where it does not reach as far as what may be typed. */
    slideMin?: number;
    slideMax?: number;
  }
  let { label, value, min, max, step = 0.01, suffix = '', change, slideMin = min, slideMax = max }: Props = $props();
  const id = $props.id();
  let fault = $state(false);
  const shown = $derived(String(Math.round(value * 1000) / 1000));
  const at = $derived(((Math.min(slideMax, Math.max(slideMin, value)) - slideMin) / (slideMax - slideMin)) * 100);
  function type(text: string): void {
    const number = decimal(text, min, max);
    fault = number === null;
    if (number !== null) change(number);
  }
</script>

<div class="row" class:fault>
  <label for={id}>{label}</label>
  <input
    {id}
    type="range"
    min={slideMin}
    max={slideMax}
    {step}
    {value}
    style:--at="{at}%"
    aria-valuetext="{shown} {suffix}"
    oninput={(e) => change(Number(e.currentTarget.value))}
  />
  <span class="entry">
    <input
      class="num"
      aria-label="{label}, typed"
      inputmode="decimal"
      value={shown}
      aria-invalid={fault}
      title={fault ? `Give ${min} to ${max}.` : undefined}
      onchange={(e) => type(e.currentTarget.value)}
    />{#if suffix}<span class="quiet">{suffix}</span>{/if}
  </span>
  {#if fault}<p role="alert">Give {min} to {max}.</p>{/if}
</div>

<style>
  .row {
    display: grid;
    grid-template-columns: 72px minmax(48px, 1fr) auto;
    gap: 2px 6px;
    align-items: center;
    min-height: 30px;
    min-width: 0;
  }
  label {
    color: var(--quiet);
    font-size: 12.5px;
    line-height: 1.15;
  }
  input[type='range'] {
    width: 100%;
    min-width: 0;
    accent-color: var(--amber);
    touch-action: none;
  }
  .entry {
    display: inline-grid;
    grid-template-columns: 48px 32px;
    gap: 4px;
    align-items: center;
    font-size: 12.5px;
  }
  .entry input {
    width: 48px;
    border: 1px solid var(--line);
    border-radius: 4px;
    background: var(--panel);
    padding: 2px 4px;
    text-align: right;
  }
  .fault .entry input {
    border-color: var(--wrong);
  }
  p {
    grid-column: 1 / -1;
    margin: 0;
    color: var(--wrong);
    font-size: 12px;
  }
</style>
