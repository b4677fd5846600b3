<script lang="ts">
  import type { Snippet } from 'svelte';

  /** A page to be printed: what can be chosen stands above it and stays off the paper, which is white in the dark too. */
  interface Props {
    choices: Snippet;
    children: Snippet;
    /** How wide the paper is drawn; `all` where what is on it is a page of its own. */
    width?: string;
  }
  let { choices, children, width = '210mm' }: Props = $props();
</script>

<div class="choices">{@render choices()}</div>
<main class:paper={width !== 'all'} style:width={width === 'all' ? undefined : width}>{@render children()}</main>

<style>
  .choices {
    display: flex;
    flex-wrap: wrap;
    gap: 12px;
    align-items: end;
    padding: 12px 20px;
    background: var(--panel);
    border-bottom: 1px solid var(--line);
    position: sticky;
    top: 0;
    z-index: 2;
  }
  main {
    padding: 12px 20px;
  }
  .paper {
    --text: #111;
    --quiet: #444;
    --back: #fff;
    --line: #999;
    --line-strong: #444;
    --amber: #111;
    --amber-text: #111;
    --raised: #fff;
    --wrong: #111;
    background: #fff;
    color: #111;
    margin: 20px auto;
    padding: 12mm;
    max-width: 100%;
    box-shadow: 0 4px 30px rgb(0 0 0 / 40%);
  }
  .paper :global(table) {
    width: 100%;
    border-collapse: collapse;
  }
  .paper :global(thead) {
    display: table-header-group;
  }
  .paper :global(:is(th, td)) {
    text-align: left;
    border-bottom: 1px solid #bbb;
  }
  .paper :global(tr) {
    break-inside: avoid;
  }
  @media print {
    .choices {
      display: none;
    }
    main {
      margin: 0;
      padding: 0;
      width: auto !important;
      box-shadow: none;
    }
    :global(html, body) {
      background: #fff !important;
    }
    :global([data-sonner-toaster]) {
      display: none;
    }
  }
</style>
