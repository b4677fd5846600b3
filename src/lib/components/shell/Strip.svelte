<script lang="ts">
  import type { Snippet } from 'svelte';

  /** A row under the head of the program, for what goes on wherever one is: what it is on the left, what to do on the right. */
  let { label, children, right }: { label: string; children: Snippet; right: Snippet } = $props();
</script>

<div class="strip" role="region" aria-label={label}>
  {@render children()}
  <span class="gap"></span>
  {@render right()}
</div>

<style>
  .strip {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 8px;
    min-height: 38px;
    padding: 2px 12px;
    border-bottom: 1px solid var(--line);
    background: var(--panel);
    font-size: 13.5px;
  }
  .gap {
    flex: 1;
  }
</style>
