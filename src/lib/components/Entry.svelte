<script lang="ts">
  import type { HTMLInputAttributes } from 'svelte/elements';

  /** A labelled box for something that is not kept yet: what a tool or a form asks before it acts. */
  interface Props extends Omit<HTMLInputAttributes, 'value'> {
    label: string;
    value: string;
    numeric?: boolean;
    invalid?: boolean;
  }
  let { label, value = $bindable(), numeric = false, invalid = false, ...rest }: Props = $props();
</script>

<label>
  {label}
  <input {...rest} class:num={numeric} inputmode={numeric ? 'decimal' : undefined} aria-invalid={invalid} bind:value />
</label>

<style>
  label {
    display: grid;
    gap: 3px;
    color: var(--quiet);
    font-size: 12.5px;
    min-width: 0;
  }
  input {
    width: 100%;
    min-width: 0;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 6px 8px;
    color: var(--text);
  }
  input[aria-invalid='true'] {
    border-color: var(--wrong);
  }
</style>
