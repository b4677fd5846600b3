<script lang="ts">
  import { getRecord } from '$core/document/change.ts';
  import { cueSheet } from '$core/timeline/cue-sheet.ts';
  import { lanesOf } from '$core/timeline/light.ts';
  import type { Block, LaneRecord } from '$core/records/lane.ts';
  import Button from '$lib/components/Button.svelte';
  import Choice from '$lib/components/Choice.svelte';
  import PrintPage from '$lib/components/PrintPage.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { blockName, laneName } from '$lib/state/music/light-words.ts';
  import { clockText } from '$lib/state/music/song-words.ts';
  import { PAPERS, setPaper, type Paper } from '$lib/state/plot/paper.ts';
  import { page } from '$app/state';

  /** The cue sheet of a song: when, in which bar, what, where. */
  const app = getApp();
  let paper = $state<Paper>('A4');
  $effect(() => setPaper(paper));
  const song = $derived(getRecord(app.live.document, 'song', page.url.searchParams.get('song') ?? '') ?? null);
  const lines = $derived(
    song
      ? cueSheet(song, lanesOf(app.live.document, song.id), {
          laneName: (lane: LaneRecord) => laneName(app, lane),
          blockName: (block: Block) => blockName(app, block),
        })
      : [],
  );
</script>

<svelte:head><title>Cue sheet of {song?.name ?? ''} - Amber Kite</title></svelte:head>
<PrintPage>
  {#snippet choices()}
    <Choice label="Paper" value={paper} options={PAPERS} choose={(p) => (paper = p)} />
    <Button kind="main" onclick={() => window.print()}>Print</Button>
  {/snippet}
  {#if !song}
    <p>This song is not in the show any more.</p>
  {:else}
    <h1>{song.name}: cue sheet</h1>
    <p>{app.rig.show?.name ?? ''}{song.lengthS === null ? '' : `, ${clockText(song.lengthS)}`}</p>
    <table>
      <thead><tr><th>Time</th><th>Bar</th><th>What</th><th>Where</th><th>For</th></tr></thead>
      <tbody>
        {#each lines as { at, bar, beat, what, where, length, is }, i (i)}
          <tr class={is}>
            <td class="num">{clockText(at, 1)}</td>
            <td class="num">{bar > 0 ? `${bar}.${beat}` : ''}</td>
            <td>{what}</td>
            <td>{where}</td>
            <td class="num">{length === null ? '' : `${length.toFixed(1)} s`}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    {#if lines.length === 0}<p>There is nothing in it yet.</p>{/if}
  {/if}
</PrintPage>

<style>
  .section td {
    font-weight: 700;
    border-top: 2px solid currentcolor;
  }
  .mark td {
    font-style: italic;
  }
</style>
