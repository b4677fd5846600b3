<script lang="ts">
  import type { Snippet } from 'svelte';
  import UndoKey from './UndoKey.svelte';

  /** A page that stands alone, for a phone in the room: a way back to the plot, its heading, undo, and the page beside it. */
  interface Props {
    title: string;
    heading: string;
    beside: { readonly href: string; readonly text: string };
    children: Snippet;
  }
  let { title, heading, beside, children }: Props = $props();
</script>

<svelte:head><title>{title} - Amber Kite</title></svelte:head>
<main>
  <header>
    <a href="/plot" aria-label="Back to the plot">‹ Plot</a>
    <h1>{heading}</h1>
    <UndoKey />
    <a href={beside.href}>{beside.text}</a>
  </header>
  {@render children()}
</main>

<style>
  main {
    position: fixed;
    inset: 0;
    overflow-y: auto;
    padding: 10px max(12px, calc(50vw - 340px)) 40px;
  }
  header {
    display: flex;
    gap: 12px;
    align-items: center;
    justify-content: space-between;
  }
  h1 {
    font-size: 17px;
    margin: 0;
  }
  header a {
    min-height: 40px;
    display: grid;
    place-items: center;
  }
</style>
