<script lang="ts">
  import { Dialog } from 'bits-ui';
  import { getApp } from '$lib/state/app.svelte.ts';
  import X from '@lucide/svelte/icons/x';
  import WhyView from './WhyView.svelte';

  /** The same question from every step, about whoever is selected. */
  const app = getApp();
  const lit = $derived(app.selection.lit.length === 1 ? app.rig.lit(app.selection.lit[0]!) : null);
  const words = $derived(
    lit
      ? `${lit.unit.number} ${lit.name}`
      : app.selection.lit.length > 0
        ? `these ${app.selection.lit.length}`
        : 'the rig',
  );
</script>

<Dialog.Root bind:open={app.whyOpen}>
  <Dialog.Portal>
    <Dialog.Overlay class="why-shade" />
    <Dialog.Content>
      {#snippet child({ props, open })}
        {#if open}
          <div {...props} class="dialog">
            <header>
              <Dialog.Title>Who sets {words}, and why</Dialog.Title>
              <Dialog.Close aria-label="Close"><X size={18} /></Dialog.Close>
            </header>
            <WhyView />
          </div>
        {/if}
      {/snippet}
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>

<style>
  :global(.why-shade) {
    position: fixed;
    inset: 0;
    background: rgb(0 0 0 / 35%);
    z-index: 50;
  }
  .dialog {
    position: fixed;
    top: 60px;
    left: 50%;
    translate: -50% 0;
    width: min(760px, calc(100vw - 24px));
    max-height: calc(100vh - 120px);
    overflow-y: auto;
    padding: 16px 20px;
    background: var(--panel);
    border: 1px solid var(--line-strong);
    border-radius: 10px;
    z-index: 51;
  }
  header {
    display: flex;
    justify-content: space-between;
    align-items: center;
  }
  header :global(h2) {
    font-size: 16px;
  }
  header :global(button) {
    display: grid;
    place-items: center;
    width: 32px;
    height: 32px;
    border: 0;
    background: none;
  }
</style>
