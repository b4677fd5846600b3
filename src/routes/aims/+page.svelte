<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import CorrectAims from '$lib/components/aims/CorrectAims.svelte';
  import TrueUpHeads from '$lib/components/aims/TrueUpHeads.svelte';
  import UndoKey from '$lib/components/aims/UndoKey.svelte';
  import TwoHeads from '$lib/components/aims/TwoHeads.svelte';
  import Tabs from '$lib/components/Tabs.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';

  /** For the person who stands in the room with a phone: aims corrected, heads trued up. */
  const app = getApp();
  type Tab = 'correct' | 'trueup' | 'axes';
  const TABS: readonly (readonly [Tab, string])[] = [
    ['correct', 'Correct aims'],
    ['trueup', 'True up heads'],
    ['axes', 'Which way'],
  ];
  const tab = $derived(TABS.find(([t]) => t === page.url.searchParams.get('do'))?.[0] ?? 'correct');
  const look = (next: Tab): void => void goto(`/aims?do=${next}`, { replaceState: true, keepFocus: true });
</script>

<svelte:head><title>Aims - Amber Kite</title></svelte:head>
<main>
  <header>
    <a href="/plot" aria-label="Back to the plot">‹ Plot</a>
    <h1>{app.rig.show?.name ?? ''}</h1>
    <UndoKey />
    <a href="/tonight">Tonight's room</a>
  </header>
  <Tabs label="Aims" tabs={TABS} value={tab} choose={look} />
  <div class="body">
    {#if tab === 'correct'}<CorrectAims />{:else if tab === 'trueup'}<TrueUpHeads />{:else}<TwoHeads />{/if}
  </div>
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
    font-size: 16px;
    margin: 0;
  }
  header a {
    min-height: 40px;
    display: grid;
    place-items: center;
  }
  .body {
    display: grid;
    gap: 14px;
    padding-top: 14px;
  }
</style>
