<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { HTMLButtonAttributes } from 'svelte/elements';

  interface Props extends HTMLButtonAttributes {
    kind?: 'plain' | 'main' | 'bare' | 'wrong';
    pressed?: boolean;
    children: Snippet;
  }
  let { kind = 'plain', pressed, children, ...rest }: Props = $props();
</script>

<button type="button" {...rest} class={[kind, rest.class]} aria-pressed={pressed}>{@render children()}</button>

<style>
  button {
    display: inline-flex;
    align-items: center;
    justify-content: center;
    gap: 6px;
    min-height: 32px;
    padding: 4px 12px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    white-space: nowrap;
    transition: background var(--quick);
  }
  button:hover:not(:disabled) {
    background: var(--hover);
  }
  .main {
    background: var(--amber);
    border-color: var(--amber);
    color: var(--on-amber);
    font-weight: 650;
  }
  .main:hover:not(:disabled) {
    background: var(--amber-text);
  }
  .bare {
    border-color: transparent;
    background: transparent;
    padding: 4px 8px;
  }
  .wrong {
    border-color: var(--wrong);
    color: var(--wrong);
  }
  button[aria-pressed='true'] {
    background: var(--amber-wash);
    border-color: var(--amber);
    color: var(--amber-text);
  }
</style>
