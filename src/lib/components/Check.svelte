<script lang="ts">
  import type { Snippet } from 'svelte';

  /** A box to tick, with its words (or what stands for them), large enough for a finger. */
  interface Props {
    label: string | Snippet;
    checked: boolean;
    change: (checked: boolean) => void;
  }
  let { label, checked, change }: Props = $props();
</script>

<label
  ><input type="checkbox" {checked} onchange={(e) => change(e.currentTarget.checked)} />
  {#if typeof label === 'string'}{label}{:else}{@render label()}{/if}</label
>

<style>
  label {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  input {
    width: 18px;
    height: 18px;
    flex: none;
  }
</style>
