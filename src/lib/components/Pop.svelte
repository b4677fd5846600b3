<script lang="ts">
  import { Popover } from 'bits-ui';
  import type { Snippet } from 'svelte';

  /** A panel that opens beside a button and goes away by Escape or a press elsewhere. */
  interface Props {
    button: Snippet<[Record<string, unknown>]>;
    children: Snippet<[close: () => void]>;
    side?: 'top' | 'bottom' | 'left' | 'right';
    align?: 'start' | 'center' | 'end';
    width?: number;
    label: string;
    /** Hears that it was opened. */
    opened?: () => void;
  }
  let { button, children, side = 'top', align = 'end', width = 320, label, opened }: Props = $props();
  let open = $state(false);
  const close = (): void => void (open = false);
</script>

<Popover.Root bind:open onOpenChange={(shown) => shown && opened?.()}>
  <Popover.Trigger>
    {#snippet child({ props })}{@render button(props)}{/snippet}
  </Popover.Trigger>
  <Popover.Portal>
    <Popover.Content {side} {align} sideOffset={8} collisionPadding={8}>
      {#snippet child({ props, wrapperProps, open: shown })}
        {#if shown}
          <div {...wrapperProps}>
            <div {...props} class="pop" style:width="{width}px" aria-label={label}>{@render children(close)}</div>
          </div>
        {/if}
      {/snippet}
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>

<style>
  .pop {
    display: grid;
    gap: 10px;
    max-width: calc(100vw - 16px);
    max-height: min(560px, calc(100vh - 80px));
    overflow-y: auto;
    padding: 14px;
    background: var(--raised);
    border: 1px solid var(--line-strong);
    border-radius: 8px;
    box-shadow: 0 8px 30px rgb(0 0 0 / 40%);
    z-index: 40;
  }
</style>
