<script lang="ts">
  import { readMarks, secondsIn, writeMarks } from '$core/format/marks.ts';
  import { withMarks } from '$core/song/mend.ts';
  import { kept } from '$core/song/grid.ts';
  import type { Mark } from '$core/records/song.ts';
  import Button from '$lib/components/Button.svelte';
  import Field from '$lib/components/Field.svelte';
  import ImportFile from '$lib/components/ImportFile.svelte';
  import { fileName, saveFile } from '$lib/state/save-file.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';

  /** Marks of a song: tapped, typed, brought in as text and written as text; lyrics are marks with words. */
  let { desk }: { desk: SongDesk } = $props();
  const marks = $derived(desk.song.marks);
  let find = $state('');
  const LISTED = 200;
  const found = $derived(
    marks
      .map((mark, i) => ({ ...mark, i }))
      .filter(({ label }) => label.toLowerCase().includes(find.trim().toLowerCase())),
  );
  let faults = $state.raw<readonly string[]>([]);
  const set = (label: string, list: readonly Mark[]): void => desk.change(label, { marks: [...list] });
  function tap(): void {
    const at = kept(desk.place);
    set('Mark', withMarks(marks, [{ at, to: at, label: `Mark ${marks.length + 1}`, words: false }]));
  }
  function change(i: number, fields: Partial<Mark>): void {
    const now = { ...marks[i]!, ...fields };
    const one = { ...now, to: Math.max(now.at, now.to) };
    set(
      'Change a mark',
      withMarks(
        marks.filter((_, n) => n !== i),
        [one],
      ),
    );
  }
  async function take(file: File): Promise<void> {
    if (file.size > 4_000_000) {
      faults = [`${file.name} has ${Math.round(file.size / 1e6)} MB: marks are plain text, of at most 4 MB.`];
      return;
    }
    const read = readMarks(new Uint8Array(await file.arrayBuffer()));
    faults = read.faults.map(
      ({ path, message, received, remedy }) => `${file.name}, ${path}: ${message} (${String(received)}). ${remedy}`,
    );
    if (read.marks.length > 0) set(`Bring in ${read.marks.length} marks`, withMarks(marks, read.marks));
    else if (faults.length === 0) faults = [`${file.name} has no marks in it.`];
  }
  const save = (): void =>
    saveFile(new TextEncoder().encode(writeMarks(marks)), `${fileName(desk.song.name)} marks.txt`, 'text/plain');
  const moment = (key: 'at' | 'to', i: number) => (text: string) => {
    const s = secondsIn(text);
    if (s === null || s > 3600) return 'Seconds, or minutes:seconds.';
    change(i, key === 'at' ? { at: kept(s), to: Math.max(kept(s), marks[i]!.to) } : { to: kept(s) });
    return null;
  };
</script>

<section aria-label="Marks and words">
  <h3>Marks and words</h3>
  <div class="row">
    <Button kind="main" title="Where it plays or stands: press it while it plays" onclick={tap}>Mark here</Button>
    <ImportFile text="Bring in" accept=".txt,.tsv,.csv,.lrc,text/plain" take={(file) => void take(file)} />
    <Button disabled={marks.length === 0} onclick={save}>Save as text</Button>
    {#if marks.length > 0}<Button onclick={() => set('Remove all marks', [])}>Remove all</Button>{/if}
  </div>
  {#if faults.length > 0}
    <div class="faults" role="alert">
      <p>▲ {faults.length} {faults.length === 1 ? 'line was' : 'lines were'} left out:</p>
      <ul>
        {#each faults.slice(0, 8) as fault, i (i)}<li>{fault}</li>{/each}
      </ul>
      <Button onclick={() => (faults = [])}>Understood</Button>
    </div>
  {/if}
  {#if marks.length > 8}<input type="search" placeholder="Find" aria-label="Find a mark" bind:value={find} />{/if}
  <ol>
    {#each found.slice(0, LISTED) as { at, to, label, i } (`${i} ${at} ${to} ${label}`)}
      <li>
        <Field label="From" hideLabel value={clockText(at, 2)} save={moment('at', i)} />
        <Field label="To" hideLabel value={clockText(to, 2)} save={moment('to', i)} />
        <Field
          label="Words"
          hideLabel
          value={label}
          save={(text) => {
            change(i, { label: text.trim().slice(0, 200) });
            return null;
          }}
        />
        <Button kind="bare" aria-label="Go to {label}" onclick={() => (desk.go(at), desk.reveal(at))}>›</Button>
        <Button
          kind="bare"
          aria-label="Remove the mark {label}"
          onclick={() =>
            set(
              'Remove a mark',
              marks.filter((_, n) => n !== i),
            )}>×</Button
        >
      </li>
    {/each}
  </ol>
  {#if found.length > LISTED}<p class="quiet">and {found.length - LISTED} more.</p>{/if}
</section>

<style>
  ol {
    display: grid;
    gap: 4px;
    max-height: 320px;
    margin: 0;
    padding: 0;
    overflow-y: auto;
    list-style: none;
  }
  li {
    display: grid;
    grid-template-columns: 62px 62px 1fr auto auto;
    gap: 2px;
    align-items: center;
  }
  li :global(input) {
    padding-inline: 4px;
  }
  .faults {
    display: grid;
    gap: 6px;
    color: var(--look);
    font-size: 12.5px;
  }
  .faults ul {
    margin: 0;
    padding-left: 16px;
  }
  .faults li {
    display: list-item;
    overflow-wrap: anywhere;
  }
</style>
