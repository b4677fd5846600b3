<script lang="ts">
  import type { Snippet } from 'svelte';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';

  /** A tool in the column at the right, with a way back to the details. */
  let { title, close, children }: { title: string; close: () => void; children: Snippet } = $props();
</script>

<section aria-label={title}>
  <header>
    <h2>{title}</h2>
    <Button kind="bare" aria-label="Close {title}" onclick={close}><X size={16} /></Button>
  </header>
  {@render children()}
</section>

<style>
  section {
    display: flex;
    flex-direction: column;
    gap: 12px;
    min-height: 0;
  }
  header {
    display: flex;
    align-items: center;
    justify-content: space-between;
  }
</style>
