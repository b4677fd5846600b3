<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import AlonePage from '$lib/components/aims/AlonePage.svelte';
  import CorrectAims from '$lib/components/aims/CorrectAims.svelte';
  import TrueUpHeads from '$lib/components/aims/TrueUpHeads.svelte';
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

<AlonePage title="Aims" heading={app.rig.show?.name ?? ''} beside={{ href: '/tonight', text: "Tonight's room" }}>
  <Tabs label="Aims" tabs={TABS} value={tab} choose={look} />
  <div class="body">
    {#if tab === 'correct'}<CorrectAims />{:else if tab === 'trueup'}<TrueUpHeads />{:else}<TwoHeads />{/if}
  </div>
</AlonePage>

<style>
  .body {
    display: grid;
    gap: 14px;
    padding-top: 14px;
  }
</style>
