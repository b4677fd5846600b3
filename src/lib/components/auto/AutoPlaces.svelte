<script lang="ts">
  import type { PlaceId } from '$core/auto/roles.ts';
  import { MOODS } from '$core/records/profile.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';

  /** Areas and groups that have a mood of their own, or no part in it. */
  const app = getApp();
  const { live, auto: desk } = app;
  const places = $derived(desk.asked.places);
  const rows = $derived([
    ...app.rig.areas.map(({ id, name }) => ({ id: id as PlaceId, name, what: 'area' })),
    ...app.rig.groups.map(({ id, name }) => ({
      id: id as PlaceId,
      name,
      what: plural(app.rig.membersOf(id).length, 'unit'),
    })),
  ]);
  type Own = NonNullable<(typeof places)[PlaceId]>;
</script>

<section>
  <h3>Areas and groups</h3>
  <p class="quiet">Each may have a mood of its own, or be left alone.</p>
  <div class="grid">
    {#each rows as { id, name, what } (id)}
      <label class:own={places[id] !== undefined}>
        <span>{name} <span class="quiet">{what}</span></span>
        <select
          aria-label="Auto in {name}"
          value={places[id] ?? ''}
          onchange={(e) =>
            live.command({ do: 'autoPlace', place: id, mood: (e.currentTarget.value || null) as Own | null })}
        >
          <option value="">as the rest</option>
          <option value="none">left alone</option>
          {#each MOODS as mood (mood)}<option value={mood}>always {mood}</option>{/each}
        </select>
      </label>
    {:else}<p class="quiet">No areas and groups yet: draw areas on the <a href="/plot">plot</a>.</p>{/each}
  </div>
</section>

<style>
  section {
    display: grid;
    gap: 8px;
    padding: 10px 0 14px;
    max-width: 900px;
  }
  p {
    margin: 0;
  }
  .grid {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(270px, 1fr));
    gap: 4px 18px;
  }
  label {
    display: flex;
    gap: 8px;
    align-items: center;
    justify-content: space-between;
  }
  .own {
    color: var(--amber);
  }
  select {
    min-height: 32px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    color: var(--text);
  }
</style>
