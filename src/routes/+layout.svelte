<script lang="ts">
  import '../app.css';
  import { onMount, type Snippet } from 'svelte';
  import { version } from '$app/environment';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import GroupKeys from '$lib/components/shell/GroupKeys.svelte';
  import PeekBar from '$lib/components/auto/PeekBar.svelte';
  import SoundStrip from '$lib/components/music/SoundStrip.svelte';
  import { Toaster } from 'svelte-sonner';
  import BlindBar from '$lib/components/shell/BlindBar.svelte';
  import WhyDialog from '$lib/components/show/WhyDialog.svelte';
  import Finder from '$lib/components/shell/Finder.svelte';
  import Help from '$lib/components/shell/Help.svelte';
  import Mast from '$lib/components/shell/Mast.svelte';
  import Ridge from '$lib/components/shell/Ridge.svelte';
  import Start from '$lib/components/shell/Start.svelte';
  import Welcome from '$lib/components/shell/Welcome.svelte';
  import Tail from '$lib/components/shell/Tail.svelte';
  import { Newer } from '$lib/live/newer.ts';
  import { provideApp } from '$lib/state/app.svelte.ts';
  import { listenForShortcuts } from '$lib/state/shortcuts.ts';
  import { faultWords, troubleWords } from '$lib/state/words.ts';

  let { children }: { children: Snippet } = $props();
  /** Pages that stand alone: the walk on a phone, the room in a window of its own, and what goes to the printer. */
  const bare = $derived(
    /^\/(walk|room|aims|tonight|(patch|lines|plot)\/print|plot\/focus)\/?$/.test(page.url.pathname),
  );
  const app = provideApp();

  let outdated = $state(false);
  const OUTDATED = 'Amber Kite is newer than this page. It loads anew as soon as nothing here would be lost.';
  /** What keeps work from being saved now, in words; null while all is well. */
  const trouble = $derived(troubleWords(app.live) ?? (outdated ? OUTDATED : null));

  const RELOADED = 'amber-reloaded';
  const newer = new Newer({
    own: version,
    state: () => ({
      unsaved: app.live.unsaved > 0 || app.live.blind !== null,
      typing:
        document.activeElement?.matches('input:not([type=range], [type=checkbox]), textarea, [contenteditable]') ??
        false,
    }),
    reload: () => location.reload(),
    memory: {
      get: () => sessionStorage.getItem(RELOADED),
      set: (build) => sessionStorage.setItem(RELOADED, build),
    },
    every: (job, ms) => {
      const timer = setInterval(job, ms);
      return { stop: () => clearInterval(timer) };
    },
  });
  $effect(() => {
    if (app.live.welcomed) outdated = newer.see(app.live.pages);
  });
  onMount(() => {
    app.start();
    const stop = listenForShortcuts(app);
    return () => {
      stop();
      app.live.close();
    };
  });
  // Another show has other things: what was open of the one before is not looked for in it.
  let shown: string | null = null;
  $effect(() => {
    const { showId } = app.live;
    if (shown !== null && showId !== null && shown !== showId && page.url.search)
      void goto(page.url.pathname, { replaceState: true });
    if (showId !== null) shown = showId;
  });
  $effect(() => {
    void app.live.document;
    app.selection.keep((id) => app.live.document.has(id));
  });
</script>

{#if !app.live.welcomed}
  <p class="wait" role="status">
    {app.live.notSaved
      ? faultWords(app.live.notSaved)
      : app.live.connection === 'lost'
        ? 'Amber Kite does not answer. Trying again…'
        : 'Opening the show…'}
  </p>
{:else if app.live.showId === null}
  <Start />
{:else if bare}
  {@render children()}
  {#if trouble}<p class="lost" role="status">● {trouble}</p>{/if}
{:else}
  <div class="shell">
    <div class="mast"><Mast /></div>
    <div class="ridge"><Ridge /></div>
    <main class="work" class:blind={app.live.blind !== null}>
      <div class="bars"><Welcome /><BlindBar /><SoundStrip /><PeekBar /></div>
      <div class="page">{@render children()}</div>
    </main>
    <div class="tail"><Tail /></div>
  </div>
  {#if trouble}<p class="lost" role="status">● {trouble}</p>{/if}
{/if}
<svelte:window
  onbeforeunload={(event) => {
    if (app.live.unsaved > 0) event.preventDefault();
  }}
/>
<Finder />
<GroupKeys />
<Help />
<WhyDialog />
<Toaster
  position="bottom-center"
  theme={app.theme}
  toastOptions={{
    style:
      'background: var(--raised); color: var(--text); border: 1px solid var(--line-strong); font-family: var(--font)',
  }}
  offset={app.tailOpen ? (app.tailTall ? 310 : 170) : 56}
/>

<style>
  .shell {
    display: grid;
    grid-template: var(--ridge) minmax(0, 1fr) auto / var(--mast) minmax(0, 1fr);
    grid-template-areas: 'mast ridge' 'mast work' 'mast tail';
    height: 100vh;
    height: 100dvh;
  }
  .mast {
    grid-area: mast;
    display: grid;
    min-height: 0;
  }
  .ridge {
    grid-area: ridge;
    min-width: 0;
  }
  .work {
    grid-area: work;
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    min-height: 0;
    min-width: 0;
  }
  .page {
    grid-row: 2;
    min-height: 0;
    min-width: 0;
  }
  .tail {
    grid-area: tail;
    min-width: 0;
  }
  .wait {
    display: grid;
    place-items: center;
    height: 100vh;
    color: var(--quiet);
  }
  .lost {
    position: fixed;
    top: 56px;
    left: 50%;
    translate: -50% 0;
    padding: 8px 14px;
    background: var(--raised);
    border: 1px solid var(--look);
    color: var(--look);
    border-radius: var(--radius);
    z-index: 30;
  }
  @media (max-width: 760px) {
    .shell {
      grid-template: auto minmax(0, 1fr) auto auto / minmax(0, 1fr);
      grid-template-areas: 'ridge' 'work' 'tail' 'mast';
    }
  }
</style>
