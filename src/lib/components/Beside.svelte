<script lang="ts">
  import type { Snippet } from 'svelte';

  /** Fields beside one another, each as wide as the others. */
  let { columns = 2, children }: { columns?: 2 | 3; children: Snippet } = $props();
</script>

<div style:--columns={columns}>{@render children()}</div>

<style>
  div {
    display: grid;
    grid-template-columns: repeat(var(--columns), 1fr);
    gap: 10px;
    align-items: end;
  }
</style>
