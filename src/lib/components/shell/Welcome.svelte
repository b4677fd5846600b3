<script lang="ts">
  import { goto } from '$app/navigation';
  import { createShow, DEMO_SHOWS, importShow, openShow } from '$lib/state/shows.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Button from '../Button.svelte';
  import ImportFile from '../ImportFile.svelte';

  /** First sight: what this is, in a line, and the three ways on. Gone once one of them was taken in this browser. */
  const app = getApp();
  const shown = $derived(!app.met && app.rig.show !== undefined && DEMO_SHOWS.includes(app.rig.show.id));
  let busy = $state(false);
  async function begin(job: () => Promise<string>): Promise<void> {
    busy = true;
    try {
      await openShow(await job());
      app.meet();
      await goto('/plot');
    } catch (error) {
      app.live.tell('error', (error as Error).message);
    }
    busy = false;
  }
</script>

{#if shown}
  <section class="bar" aria-label="Welcome">
    <p>
      <b>Amber Kite sets up a rig of lights and plays it.</b> This one is made up: {app.rig.show?.name},
      {plural(app.rig.units.length, 'unit')}.
    </p>
    <Button kind="main" onclick={() => app.meet()}>Look around</Button>
    <Button disabled={busy} onclick={() => begin(() => createShow('My own rig'))}>My own rig</Button>
    <ImportFile text="Bring a show" {busy} take={(file) => void begin(() => importShow(file))} />
  </section>
{/if}

<style>
  .bar {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
    padding: 6px 12px 6px 16px;
    background: var(--amber-wash);
    border-bottom: 1px solid var(--amber);
  }
  p {
    flex: 1 1 320px;
    margin: 0;
  }
</style>
