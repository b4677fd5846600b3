<script lang="ts">
  import type { FixtureKind } from '$core/records/profile.ts';
  import type { LiveCommand } from '$core/show/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { KIND_WORDS } from '$lib/state/kinds.ts';
  import Button from '../Button.svelte';
  import Slider from '../Slider.svelte';

  /** Levels of groups, areas and kinds of fixture; solo; areas that are dark alone or play something of their own. */
  const app = getApp();
  const real = $derived(app.live.real);
  const kinds = $derived(
    [...new Set(app.rig.units.map((u) => app.rig.profile(u.profileId)?.fixtureKind))].filter(
      (k): k is FixtureKind => k !== undefined,
    ),
  );
  const send = (command: LiveCommand): void => void app.live.command(command);
  const solo = $derived(real?.solo ?? []);
  const same = (ids: readonly string[]): boolean =>
    solo.length > 0 && solo.length === ids.length && ids.every((id) => solo.includes(id as never));
  const toggleSolo = (ids: readonly (typeof app.selection.lit)[number][]): void =>
    send({ do: 'solo', units: same(ids) ? [] : [...ids] });
  const ownOf = (areaId: string) =>
    (app.live.live?.playing ?? []).filter((p) => p.areaId === areaId && p.releasedAt === null);
  const rests = (areaId: string): boolean =>
    (app.live.live?.playing ?? []).some((p) => p.target === areaId && p.releasedAt === null);
  const free = (areaId: string): boolean =>
    ownOf(areaId).length === 0 &&
    !rests(areaId) &&
    !real?.areasDark[areaId as never]?.on &&
    app.areaLevel(areaId as never) >= 1;
  function handBack(areaId: `area:${string}`): void {
    send({ do: 'releaseAll', areaId });
    if (rests(areaId)) send({ do: 'release', target: areaId });
    if (real?.areasDark[areaId]?.on) send({ do: 'areaDark', areaId, on: false });
    if (app.areaLevel(areaId) < 1) send({ do: 'area', areaId, level: 1 });
  }
</script>

<div class="masters">
  <section aria-label="Areas">
    <h2>Areas</h2>
    {#each app.rig.areas as area (area.id)}
      <div class="row">
        <Slider
          label={area.name}
          value={app.areaLevel(area.id)}
          change={(level) => send({ do: 'area', areaId: area.id, level })}
        />
        <div class="acts">
          <Button
            pressed={real?.areasDark[area.id]?.on ?? false}
            title="This area alone goes dark"
            onclick={() => send({ do: 'areaDark', areaId: area.id, on: !real?.areasDark[area.id]?.on })}>Dark</Button
          >
          <Button
            pressed={rests(area.id)}
            title="It plays nothing of the room around it"
            onclick={() => send({ do: rests(area.id) ? 'release' : 'play', target: area.id })}>Alone</Button
          >
          <select
            aria-label="Plays of its own in {area.name}"
            value=""
            onchange={(e) => {
              const target = app.rig.playable(e.currentTarget.value)?.id;
              if (target) send({ do: 'play', target, areaId: area.id });
              e.currentTarget.value = '';
            }}
          >
            <option value="" disabled>Play here…</option>
            {#each app.rig.playables as item (item.id)}<option value={item.id}>{item.name}</option>{/each}
          </select>
          <Button disabled={free(area.id)} title="It follows the room again" onclick={() => handBack(area.id)}
            >Hand back</Button
          >
        </div>
        {#if ownOf(area.id).length > 0}
          <p class="quiet">
            Of its own: {ownOf(area.id)
              .map((p) => app.rig.playable(p.target)?.name ?? '')
              .filter(Boolean)
              .join(', ')}
          </p>
        {/if}
      </div>
    {:else}
      <p class="quiet">No areas yet: draw them on the plot.</p>
    {/each}
  </section>
  <section aria-label="Groups">
    <h2>Groups</h2>
    {#each app.rig.groups as group (group.id)}
      <div class="line">
        <Slider
          label={group.name}
          value={real?.groups[group.id] ?? 1}
          change={(level) => send({ do: 'group', groupId: group.id, level })}
        />
        <Button
          pressed={same(app.rig.membersOf(group.id))}
          title="Only these are to be seen"
          onclick={() => toggleSolo(app.rig.membersOf(group.id))}>Solo</Button
        >
      </div>
    {:else}
      <p class="quiet">No groups yet.</p>
    {/each}
  </section>
  <section aria-label="Kinds of fixture">
    <h2>Kinds of fixture</h2>
    {#each kinds as kind (kind)}
      <Slider
        label={KIND_WORDS[kind]}
        value={real?.kinds[kind] ?? 1}
        change={(level) => send({ do: 'kind', kind, level })}
      />
    {/each}
  </section>
</div>

<style>
  .masters {
    flex: 1;
    overflow: auto;
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
    gap: 8px 28px;
    align-content: start;
    padding: 4px 16px 24px;
  }
  section {
    display: grid;
    gap: 6px;
    align-content: start;
  }
  h2 {
    padding: 8px 0 2px;
    color: var(--quiet);
  }
  .row {
    display: grid;
    gap: 4px;
    border-bottom: 1px solid var(--line);
    padding-bottom: 8px;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  .line {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 10px;
    align-items: end;
  }
  select {
    max-width: 130px;
  }
</style>
