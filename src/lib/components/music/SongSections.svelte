<script lang="ts">
  import { MOODS, type Mood } from '$core/records/profile.ts';
  import { SECTION_TURNS } from '$core/records/song.ts';
  import { sectionAt, sectionsOf } from '$core/song/grid.ts';
  import { sectionChanged, sectionJoined, sectionSplit } from '$core/song/mend.ts';
  import Button from '$lib/components/Button.svelte';
  import Choice from '$lib/components/Choice.svelte';
  import Field from '$lib/components/Field.svelte';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';

  /** Sections of a song: named, split, joined, given a mood. */
  let { desk }: { desk: SongDesk } = $props();
  const sections = $derived(sectionsOf(desk.song));
  const index = $derived(desk.section !== null && desk.section < sections.length ? desk.section : null);
  const own = $derived(index === null ? null : sections[index]!);
  function split(): void {
    desk.mend('Split a section', sectionSplit(desk.song, desk.place, desk.end));
    desk.section = sectionAt(sectionsOf(desk.song), desk.place);
  }
  function join(): void {
    desk.mend('Join sections', sectionJoined(desk.song, index!));
    desk.section = Math.max(0, index! - 1);
  }
</script>

<section aria-label="Sections">
  <h3>Sections</h3>
  <ul>
    {#each sections as section, i (section.at)}
      <li>
        <button
          type="button"
          aria-pressed={i === index}
          onclick={() => {
            desk.section = i;
            desk.go(section.at);
            desk.reveal(section.at);
          }}
        >
          <span class="num">{clockText(section.at)}</span>
          <b>{section.name}</b>
          <span class="quiet">{section.mood}{section.turn ? `, ${section.turn}` : ''}</span>
        </button>
      </li>
    {/each}
  </ul>
  <div class="row">
    <Button title="A section begins where it stands" onclick={split}>Split here</Button>
    <Button disabled={index === null || sections.length < 2} onclick={join}>Join with the one before</Button>
  </div>
  {#if own && index !== null}
    {#key `${desk.song.id} ${index}`}
      <Field
        label="Name of the section"
        value={own.name}
        save={(text) => {
          if (text.trim() === '') return 'Give it a name.';
          desk.mend('Name a section', sectionChanged(desk.song, index, { name: text.trim().slice(0, 100) }));
          return null;
        }}
      />
    {/key}
    <Choice
      label="Mood"
      value={own.mood}
      options={MOODS.map((mood) => ({ value: mood, text: mood }))}
      choose={(mood: Mood) => desk.mend('Mood of a section', sectionChanged(desk.song, index, { mood }))}
    />
    <Choice
      label="It is"
      value={own.turn ?? 'plain'}
      options={[
        { value: 'plain', text: 'a section' },
        ...SECTION_TURNS.map((turn) => ({ value: turn, text: `a ${turn}` })),
      ]}
      choose={(turn: string) =>
        desk.mend(
          'Turn of a section',
          sectionChanged(desk.song, index, { turn: SECTION_TURNS.find((one) => one === turn) ?? null }),
        )}
    />
  {/if}
  {#if desk.song.mended.sections}
    <Button onclick={() => desk.mend('Sections as heard', { ...desk.song.mended, sections: null })}
      >Sections as they were heard</Button
    >
  {/if}
</section>

<style>
  section {
    display: grid;
    gap: 8px;
  }
  ul {
    display: grid;
    gap: 2px;
    max-height: 190px;
    overflow-y: auto;
    margin: 0;
    padding: 0;
    list-style: none;
  }
  li button {
    display: grid;
    grid-template-columns: 44px 1fr auto;
    gap: 8px;
    width: 100%;
    padding: 5px 6px;
    border: 1px solid transparent;
    background: none;
    border-radius: var(--radius);
    text-align: left;
  }
  li button:hover {
    background: var(--hover);
  }
  li button[aria-pressed='true'] {
    border-color: var(--amber);
    background: var(--amber-wash);
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
</style>
