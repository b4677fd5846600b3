<script lang="ts">
  import type { PlaceId } from '$core/auto/roles.ts';
  import { MOODS } from '$core/records/profile.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import ChoiceRows from './ChoiceRows.svelte';

  /** Areas and groups that have a mood of their own, or no part in it. */
  const app = getApp();
  const { live, auto: desk } = app;
  const places = $derived(desk.asked.places);
  type Own = NonNullable<(typeof places)[PlaceId]>;
  const OPTIONS = [
    ['', 'as the rest'],
    ['none', 'left alone'],
    ...MOODS.map((mood) => [mood, `always ${mood}`] as const),
  ] as const;
  const rows = $derived([
    ...app.rig.areas.map(({ id, name }) => ({ id: id as PlaceId, name, what: 'area', value: places[id] ?? '' })),
    ...app.rig.groups.map(({ id, name }) => ({
      id: id as PlaceId,
      name,
      what: plural(app.rig.membersOf(id).length, 'unit'),
      value: places[id] ?? '',
    })),
  ]);
</script>

<section>
  <h3>Areas and groups</h3>
  <p class="quiet">Each may have a mood of its own, or be left alone.</p>
  {#if rows.length === 0}
    <p class="quiet">No areas and groups yet: draw areas on the <a href="/plot">plot</a>.</p>
  {/if}
  <ChoiceRows
    {rows}
    options={OPTIONS}
    label="Auto in"
    choose={(place, mood) => live.command({ do: 'autoPlace', place, mood: (mood || null) as Own | null })}
  />
</section>

<style>
  section {
    display: grid;
    gap: 8px;
    padding: 10px 0 14px;
  }
  p {
    margin: 0;
  }
</style>
