<script lang="ts">
  import { footprintOf } from '$core/profile/layout.ts';
  import { indexProfiles, searchProfiles } from '$core/profile/search.ts';
  import { builtInProfiles } from '$core/profile/library.ts';
  import { replaceUnits } from '$core/patch/replace.ts';
  import type { ProfileRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { KIND_WORDS } from '$lib/state/kinds.ts';
  import type { PatchDesk } from '$lib/state/patch/patch-desk.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Button from '../Button.svelte';
  import Entry from '../Entry.svelte';
  import Choice from '../Choice.svelte';
  import MoveList from './MoveList.svelte';
  import ToolPanel from './ToolPanel.svelte';

  /** Puts units on another profile or mode in place; what survives is seen attribute by attribute before. */
  let { desk }: { desk: PatchDesk } = $props();
  const app = getApp();
  const units = $derived(app.acting.flatMap((id) => app.rig.unit(id) ?? []));
  let query = $state('');
  let chosenId = $state<string | null>(null);
  let modeKey = $state<string | null>(null);
  const profiles = $derived.by(() => {
    const own = app.rig.profiles;
    const ids = new Set(own.map((p) => p.id));
    return [...own, ...builtInProfiles().filter((p) => !ids.has(p.id))];
  });
  const index = $derived(indexProfiles(profiles, (kind) => KIND_WORDS[kind]));
  const found = $derived(query.trim() === '' ? [] : searchProfiles(index, query).slice(0, 8));
  const chosen = $derived(
    profiles.find((p) => p.id === chosenId) ?? (units[0] ? app.rig.profile(units[0].profileId) : undefined),
  );
  const mode = $derived(chosen?.modes.find((m) => m.key === modeKey) ?? null);
  const result = $derived(
    chosen && mode && units.length > 0
      ? replaceUnits(
          app.live.document,
          units.map((u) => u.id),
          chosen,
          mode.key,
        )
      : null,
  );
  const lost = $derived(result?.attributes.filter((a) => a.fate === 'lost') ?? []);
  const hurt = $derived(result?.attributes.filter((a) => a.homeless > 0) ?? []);
  function pick(profile: ProfileRecord): void {
    chosenId = profile.id;
    modeKey = profile.modes.length === 1 ? profile.modes[0]!.key : null;
    query = '';
  }
  function apply(): void {
    if (!result || !chosen) return;
    if (app.live.edit(`Replace ${plural(units.length, 'unit')} by ${chosen.model}`, result.change))
      desk.open('details');
  }
  const FATE = { lost: ['✕', 'not there any more'], kept: ['=', 'stays'], new: ['+', 'new'] } as const;
</script>

<ToolPanel title="Replace" close={() => desk.open('details')}>
  {#if units.length === 0}
    <p class="quiet">Select the units that get another profile or mode.</p>
  {:else}
    <p><b>{plural(units.length, 'unit')}</b> stay where they are, with their names, numbers and programming.</p>
    <Entry label="Other profile" type="search" bind:value={query} placeholder="maker, model, 14 ch" />
    {#if found.length > 0}
      <ul class="found" role="listbox" aria-label="Profiles found">
        {#each found as profile (profile.id)}
          <li role="option" aria-selected={profile.id === chosen?.id}>
            <button type="button" onclick={() => pick(profile)}>{profile.maker} {profile.model}</button>
          </li>
        {/each}
      </ul>
    {/if}
    {#if chosen}
      <p>{chosen.maker} {chosen.model}</p>
      <Choice
        label="Mode"
        value={modeKey}
        options={chosen.modes.map((m) => ({ value: m.key, text: `${m.name} (${footprintOf(m)} ch)` }))}
        choose={(key) => (modeKey = key)}
      />
    {/if}
    {#if result}
      <p class="num">{result.footprintBefore.join(', ')} → {result.footprintAfter} slots</p>
      <div class="fates" role="table" aria-label="What survives">
        {#each result.attributes as fate (fate.attribute)}
          <div role="row" class={fate.fate}>
            <span role="cell" aria-hidden="true">{FATE[fate.fate][0]}</span>
            <span role="cell"
              >{fate.words}{#if fate.cellsBefore !== fate.cellsAfter && (fate.cellsBefore ?? 0) + (fate.cellsAfter ?? 0) > 0}
                <span class="quiet num">{fate.cellsBefore ?? 0} → {fate.cellsAfter ?? 0} cells</span>{/if}</span
            >
            <span role="cell" class="quiet">{FATE[fate.fate][1]}</span>
            {#if fate.homeless > 0}<span role="cell" class="look wide"
                >● {plural(fate.homeless, 'programmed value')} of {fate.values} without a home: {fate.why.join(
                  '; ',
                )}</span
              >{/if}
          </div>
        {/each}
      </div>
      {#if hurt.length > 0}
        <p class="look">
          ● Touches {result.scenes.slice(0, 5).join(', ')}. Values are kept, and sent again when they have a home.
        </p>
      {:else if lost.length > 0}<p class="quiet">Nothing that is programmed is touched.</p>{/if}
      {#if result.moves.length > 0}<h3>Units that follow move</h3>
        <MoveList moves={result.moves} />{/if}
      {#each result.clashes.slice(0, 5) as clash, i (i)}<p class="wrong">
          ▲ {app.rig.unit(clash.unitId)?.name}: {clash.message}
        </p>{/each}
      <Button kind="main" onclick={apply}>Replace {plural(units.length, 'unit')}</Button>
    {/if}
  {/if}
</ToolPanel>

<style>
  .found {
    list-style: none;
    margin: 0;
    padding: 0;
    border: 1px solid var(--line);
    border-radius: var(--radius);
  }
  .found button {
    width: 100%;
    border: 0;
    background: none;
    text-align: left;
    padding: 6px 8px;
  }
  .found button:hover {
    background: var(--hover);
  }
  .fates {
    max-height: 280px;
    overflow: auto;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    font-size: 13px;
  }
  [role='row'] {
    display: grid;
    grid-template-columns: 18px 1fr auto;
    gap: 6px;
    padding: 3px 8px;
    border-bottom: 1px solid var(--line);
  }
  .lost {
    color: var(--look);
  }
  .new {
    color: var(--quiet);
  }
  .wide {
    grid-column: 2 / -1;
  }
  .look {
    color: var(--look);
  }
  .wrong {
    color: var(--wrong);
  }
</style>
