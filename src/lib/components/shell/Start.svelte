<script lang="ts">
  import { onMount } from 'svelte';
  import { createShow, importShow, listShows, openShow, type ShowLine } from '$lib/state/shows.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import Button from '../Button.svelte';
  import ImportFile from '../ImportFile.svelte';

  /** First open: nothing is there yet, or no show is open. */
  let shows = $state<readonly ShowLine[]>([]);
  let name = $state('');
  let fault = $state<string | null>(null);
  let busy = $state(false);

  onMount(async () => {
    shows = await listShows().catch(() => []);
  });

  async function attempt(job: () => Promise<string>): Promise<void> {
    busy = true;
    fault = null;
    try {
      await openShow(await job());
    } catch (error) {
      fault = (error as Error).message;
    }
    busy = false;
  }
</script>

<main>
  <img src="/kite.svg" alt="" width="72" height="72" />
  <h1>Amber Kite</h1>
  <p class="quiet">Set up the rig, address each unit, put it on the plot, make scenes, and let them run.</p>
  <form
    onsubmit={(e) => {
      e.preventDefault();
      if (name.trim() === '') fault = 'Give the show a name first: the venue or the display.';
      else void attempt(() => createShow(name.trim()));
    }}
  >
    <label for="new-show">Name of the new show</label>
    <div class="row">
      <input
        id="new-show"
        bind:value={name}
        maxlength="100"
        placeholder="The venue or the display"
        autocomplete="off"
      />
      <Button kind="main" type="submit" disabled={busy}><Plus size={16} /> Create show</Button>
    </div>
  </form>
  <div class="row">
    <span class="quiet">or</span>
    <ImportFile {busy} take={(file) => void attempt(() => importShow(file))} />
  </div>
  {#if fault}<p class="fault" role="alert">▲ {fault}</p>{/if}
  {#if shows.length > 0}
    <section>
      <h2>Shows on this machine</h2>
      <ul>
        {#each shows as show (show.id)}
          <li><Button disabled={busy} onclick={() => attempt(() => Promise.resolve(show.id))}>{show.name}</Button></li>
        {/each}
      </ul>
    </section>
  {/if}
</main>

<style>
  main {
    min-height: 100vh;
    display: flex;
    flex-direction: column;
    align-items: center;
    justify-content: center;
    gap: 18px;
    padding: 24px;
    text-align: center;
  }
  h1 {
    font-size: 30px;
  }
  form {
    display: grid;
    gap: 6px;
    text-align: left;
  }
  .row {
    display: flex;
    gap: 10px;
    align-items: center;
  }
  form input {
    width: min(320px, 60vw);
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 8px 10px;
  }
  .fault {
    color: var(--wrong);
    max-width: 560px;
  }
  ul {
    list-style: none;
    padding: 0;
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    justify-content: center;
  }
</style>
