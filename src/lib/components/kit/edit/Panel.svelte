<script lang="ts">
  import { Dialog } from 'bits-ui';
  import type { Snippet } from 'svelte';

  /** A dialog over the page: Escape and a click beside it close it. */
  let { title, close, children }: { title: string; close: () => void; children: Snippet } = $props();
</script>

<Dialog.Root open onOpenChange={(open) => !open && close()}>
  <Dialog.Portal>
    <Dialog.Overlay class="panel-veil" />
    <Dialog.Content class="panel-box">
      <Dialog.Title class="panel-title">{title}</Dialog.Title>
      {@render children()}
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>

<style>
  :global(.panel-veil) {
    position: fixed;
    inset: 0;
    background: rgb(0 0 0 / 55%);
    z-index: 60;
  }
  :global(.panel-box) {
    position: fixed;
    left: 50%;
    top: 50%;
    translate: -50% -50%;
    width: min(760px, calc(100vw - 24px));
    max-height: calc(100vh - 48px);
    overflow: auto;
    display: grid;
    gap: 12px;
    padding: 18px;
    background: var(--panel);
    border: 1px solid var(--line-strong);
    border-radius: 10px;
    z-index: 61;
  }
  :global(.panel-title) {
    font-size: 17px;
    font-weight: 650;
    margin: 0;
  }
</style>
