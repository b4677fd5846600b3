<script lang="ts">
  /** A fader from 0 to 1 in steps of a thousandth; arrow keys move it, so do wheel and touch. */
  interface Props {
    label: string;
    value: number;
    change: (value: number) => void;
    /** Text of the value; percent where absent. */
    text?: string;
    disabled?: boolean;
    touched?: boolean;
    hideLabel?: boolean;
  }
  let { label, value, change, text, disabled = false, touched = false, hideLabel = false }: Props = $props();
  const id = $props.id();
  const shown = $derived(text ?? `${Math.round(value * 100)} %`);
</script>

<div class="slider" class:touched>
  <label for={id} class:visually-hidden={hideLabel}>{label}</label>
  <input
    {id}
    type="range"
    min="0"
    max="1"
    step="0.001"
    {value}
    {disabled}
    aria-valuetext={shown}
    style:--at="{value * 100}%"
    oninput={(e) => change(Number(e.currentTarget.value))}
  />
  <output for={id} class="num">{shown}</output>
</div>

<style>
  .slider {
    display: grid;
    grid-template-columns: 1fr auto;
    align-items: center;
    gap: 0 8px;
    min-width: 0;
  }
  label {
    color: var(--quiet);
    font-size: 12.5px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  label:not(.visually-hidden) ~ input {
    grid-column: 1 / -1;
    grid-row: 2;
  }
  output {
    font-size: 12.5px;
    text-align: right;
    white-space: nowrap;
  }
  input {
    appearance: none;
    width: 100%;
    height: 26px;
    margin: 0;
    background: transparent;
    cursor: pointer;
    touch-action: none;
  }
  input::-webkit-slider-runnable-track {
    height: 8px;
    border-radius: 4px;
    background: linear-gradient(90deg, var(--line-strong) var(--at), var(--hover) var(--at));
  }
  input::-moz-range-track {
    height: 8px;
    border-radius: 4px;
    background: linear-gradient(90deg, var(--line-strong) var(--at), var(--hover) var(--at));
  }
  .touched input::-webkit-slider-runnable-track {
    background: linear-gradient(90deg, var(--amber) var(--at), var(--hover) var(--at));
  }
  .touched input::-moz-range-track {
    background: linear-gradient(90deg, var(--amber) var(--at), var(--hover) var(--at));
  }
  input::-webkit-slider-thumb {
    appearance: none;
    width: 16px;
    height: 22px;
    margin-top: -7px;
    border-radius: 5px;
    border: 2px solid var(--back);
    background: var(--text);
  }
  input::-moz-range-thumb {
    width: 14px;
    height: 20px;
    border-radius: 5px;
    border: 2px solid var(--back);
    background: var(--text);
  }
</style>
