<script lang="ts" generics="T extends string">
  interface Props {
    label: string;
    value: T | null;
    options: readonly { readonly value: T; readonly text: string }[];
    choose: (value: T) => void;
    hideLabel?: boolean;
    mixed?: boolean;
    /** Shown while nothing is chosen. */
    placeholder?: string;
    disabled?: boolean;
  }
  let {
    label,
    value,
    options,
    choose,
    hideLabel = false,
    mixed = false,
    disabled = false,
    placeholder = 'choose',
  }: Props = $props();
  const id = $props.id();
</script>

<div class="choice">
  <label for={id} class:visually-hidden={hideLabel}>{label}</label>
  <select {id} {disabled} value={mixed ? '' : (value ?? '')} onchange={(e) => choose(e.currentTarget.value as T)}>
    {#if mixed || value === null}<option value="" disabled>{mixed ? 'mixed' : placeholder}</option>{/if}
    {#each options as option (option.value)}<option value={option.value}>{option.text}</option>{/each}
  </select>
</div>

<style>
  .choice {
    display: grid;
    gap: 3px;
    min-width: 0;
  }
  label {
    color: var(--quiet);
    font-size: 12.5px;
  }
  select {
    border: 1px solid var(--line);
    padding: 4px 8px;
    width: 100%;
    text-overflow: ellipsis;
  }
</style>
