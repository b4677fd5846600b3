<script lang="ts">
  import type { Snippet } from 'svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import PanelRight from '@lucide/svelte/icons/panel-right';
  import Button from './Button.svelte';

  interface Props {
    title: string;
    tools?: Snippet;
    details?: Snippet;
    detailsTitle?: string;
    children: Snippet;
    /** True where the workspace scrolls as a whole; false where it manages its own panes. */
    scroll?: boolean;
  }
  let { title, tools, details, detailsTitle = 'Details', children, scroll = false }: Props = $props();
  const app = getApp();
</script>

<svelte:head><title>{title} - Amber Kite</title></svelte:head>
<div class="step" class:open={details && app.detailsOpen}>
  <section class="workspace" aria-label={title}>
    <header>
      <h1>{title}</h1>
      <div class="tools">{@render tools?.()}</div>
      {#if details}
        <Button
          kind="bare"
          pressed={app.detailsOpen}
          title="Fold details (D)"
          aria-label="Details"
          onclick={() => app.foldDetails()}><PanelRight size={18} /></Button
        >
      {/if}
    </header>
    <div class="content" class:scroll>{@render children()}</div>
  </section>
  {#if details && app.detailsOpen}
    <aside aria-label={detailsTitle || 'Tool'}>
      {#if detailsTitle}<h2>{detailsTitle}</h2>{/if}
      {@render details()}
    </aside>
  {/if}
</div>

<style>
  .step {
    display: grid;
    grid-template-columns: minmax(0, 1fr);
    height: 100%;
    min-height: 0;
  }
  .step.open {
    grid-template-columns: minmax(0, 1fr) var(--details);
  }
  .workspace {
    display: flex;
    flex-direction: column;
    min-height: 0;
    min-width: 0;
  }
  header {
    display: flex;
    align-items: center;
    gap: 12px;
    padding: 8px 12px 8px 16px;
    min-height: 48px;
  }
  .tools {
    display: flex;
    flex: 1;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
    min-width: 0;
  }
  .content {
    flex: 1;
    min-height: 0;
    display: flex;
    flex-direction: column;
  }
  .scroll {
    display: block;
    overflow: auto;
    padding: 4px 16px 24px;
  }
  aside {
    border-left: 1px solid var(--line);
    background: var(--panel);
    padding: 12px;
    overflow: auto;
    display: flex;
    flex-direction: column;
    gap: 14px;
    min-height: 0;
  }
  @media (max-width: 760px) {
    /* One row that is pushed sideways: what is worked on comes early. */
    header {
      padding: 2px 4px 2px 8px;
      gap: 4px;
    }
    h1 {
      position: absolute;
      width: 1px;
      height: 1px;
      overflow: hidden;
      clip-path: inset(50%);
    }
    .tools {
      position: relative;
      flex-wrap: nowrap;
      overflow-x: auto;
      scrollbar-width: none;
    }
    .tools > :global(*) {
      flex: none;
    }
    .tools :global([role='tablist']),
    .tools :global(.buttons) {
      flex-wrap: nowrap;
      margin-left: 0;
    }
    .step.open {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: minmax(0, 1fr) auto;
    }
    aside {
      border-left: 0;
      border-top: 1px solid var(--line);
      max-height: 40vh;
    }
  }
</style>
