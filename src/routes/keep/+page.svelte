<script lang="ts">
  import { toast } from 'svelte-sonner';
  import Button from '$lib/components/Button.svelte';
  import ImportFile from '$lib/components/ImportFile.svelte';
  import Step from '$lib/components/Step.svelte';
  import {
    createShow,
    deleteShow,
    history,
    importShow,
    listShows,
    openShow,
    type History,
    type ShowLine,
  } from '$lib/state/shows.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Download from '@lucide/svelte/icons/download';

  const app = getApp();
  let shows = $state.raw<readonly ShowLine[]>([]);
  let past = $state.raw<History>({ lines: [], size: { lines: 0, kept: 0, bytes: 0 } });
  let name = $state('');
  /** Bytes of the songs of the open show. */
  const songBytes = $derived(
    [...new Map(app.rig.songs.map(({ blob, bytes }) => [blob, bytes])).values()].reduce((sum, bytes) => sum + bytes, 0),
  );
  const megabytes = (bytes: number): string => `${Math.max(1, Math.round(bytes / 1e6))} MB`;
  let fault = $state<string | null>(null);
  let asking = $state<string | null>(null);

  async function attempt(job: () => Promise<unknown>): Promise<void> {
    fault = null;
    try {
      await job();
      await refresh();
    } catch (error) {
      fault = (error as Error).message;
    }
  }
  /** A new show is opened: whoever makes one wants to work in it. */
  async function create(): Promise<void> {
    await openShow(await createShow(name.trim()));
    name = '';
  }
  async function refresh(): Promise<void> {
    shows = await listShows();
    if (app.live.showId) past = await history(app.live.showId);
  }
  $effect(() => {
    void app.live.revision;
    void app.live.showId;
    refresh().catch((error: unknown) => (fault = (error as Error).message));
  });
  const time = (at: string): string =>
    new Date(at).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });
  async function bring(file: File): Promise<void> {
    const id = await importShow(file);
    toast('Imported. Open it from the list when you like.', {
      description: (await listShows()).find((s) => s.id === id)?.name,
    });
  }
</script>

<Step title="Keep">
  <div class="all">
    <section>
      <h2>Shows</h2>
      <p class="quiet">
        Every edit is saved as it is made. The open show is what the engine plays; opening another changes it for
        everybody.
      </p>
      <table>
        <tbody>
          {#each shows as show (show.id)}
            <tr class:on={show.open}>
              <td><b>{show.name}</b></td>
              <td class="quiet">{time(show.changedAt)}</td>
              <td class="acts">
                {#if asking === show.id}
                  <span>Delete “{show.name}” for good? This cannot be undone; export it first.</span>
                  <Button kind="wrong" onclick={() => attempt(() => deleteShow(show.id)).then(() => (asking = null))}
                    >Delete</Button
                  >
                  <Button onclick={() => (asking = null)}>Keep it</Button>
                {:else}
                  {#if show.open}<span class="quiet">open</span>{:else}<Button
                      onclick={() => attempt(() => openShow(show.id))}>Open</Button
                    >{/if}
                  <a class="link" href="/api/shows/{show.id}/archive" download><Download size={16} /> Export</a>
                  {#if show.open && songBytes > 0}
                    <a
                      class="link"
                      href="/api/shows/{show.id}/archive?songs=no"
                      title="The files of its songs ({megabytes(
                        songBytes,
                      )}) stay here; they are found again by what is in them"
                      download><Download size={16} /> Without songs</a
                    >
                  {/if}
                  {#if !show.open}<Button kind="bare" onclick={() => (asking = show.id)}>Delete…</Button>{/if}
                {/if}
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
      {#if fault}<p class="fault" role="alert">▲ {fault}</p>{/if}
      <form
        onsubmit={(e) => {
          e.preventDefault();
          if (name.trim() !== '') void attempt(create);
        }}
      >
        <label class="visually-hidden" for="another">Name of another show</label>
        <input id="another" bind:value={name} maxlength="100" placeholder="Name of another show" />
        <Button type="submit" disabled={name.trim() === ''}>Create and open</Button>
        <ImportFile take={(file) => void attempt(() => bring(file))} />
      </form>
    </section>
    <section>
      <h2>History of this show</h2>
      <p class="quiet">
        Undo and redo walk through what was done in this browser; here any edit can be taken back, as long as nobody has
        changed the same since. Named versions to go back to are not built yet.
      </p>
      {#if past.size.lines > 0}
        <p class="quiet">
          {past.size.lines}
          {past.size.lines === 1 ? 'edit takes' : 'edits take'}
          {past.size.bytes < 100_000
            ? `${(past.size.bytes / 1000).toFixed(1)} kB`
            : `${(past.size.bytes / 1e6).toFixed(1)} MB`}.
          {#if past.size.kept < past.size.lines}
            The oldest {past.size.lines - past.size.kept} are not kept whole any more and cannot be taken back.
          {/if}
          An edit is kept whole for 90 days, the newest 500 for good.
        </p>
      {/if}
      <table>
        <tbody>
          {#each past.lines as line (line.revision)}
            <tr
              ><td class="num quiet">{line.revision}</td><td
                >{line.action === 'edit' ? '' : line.action === 'undo' ? 'Undone: ' : 'Redone: '}{line.label}</td
              ><td class="quiet"
                >{line.author === app.live.browser ? 'here' : line.author === 'script' ? 'script' : 'elsewhere'}</td
              ><td class="quiet">{time(line.at)}</td><td class="acts"
                >{#if line.action === 'edit' && line.kept}<Button
                    kind="bare"
                    title="Take back: {line.label}"
                    onclick={() => void app.live.takeBack(line.revision)}>Take back</Button
                  >{/if}</td
              ></tr
            >
          {:else}
            <tr><td class="quiet">No edits yet.</td></tr>
          {/each}
        </tbody>
      </table>
    </section>
  </div>
</Step>

<style>
  .all {
    overflow: auto;
    padding: 4px 16px 24px;
    display: grid;
    gap: 28px;
    max-width: 900px;
  }
  section {
    display: grid;
    gap: 10px;
  }
  table {
    width: 100%;
    border-collapse: collapse;
  }
  td {
    padding: 4px 8px;
    border-bottom: 1px solid var(--line);
    height: 36px;
  }
  tr.on {
    box-shadow: inset 3px 0 var(--amber);
  }
  .acts {
    display: flex;
    gap: 10px;
    align-items: center;
    justify-content: flex-end;
    height: auto;
  }
  /* Nothing to do there: the cell is as tall as its row, and its line lies with the others. */
  .acts:not(:has(*)) {
    display: table-cell;
  }
  form {
    display: flex;
    gap: 10px;
    align-items: center;
    flex-wrap: wrap;
  }
  form > input {
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 6px 10px;
    width: 260px;
  }
  .link {
    display: inline-flex;
    align-items: center;
    gap: 6px;
    color: var(--amber-text);
    cursor: pointer;
    text-decoration: none;
    min-height: 32px;
  }
  .link:focus-within,
  .link:hover {
    text-decoration: underline;
  }
  .fault {
    color: var(--wrong);
  }
</style>
