<script lang="ts">
  import { footprintOf, layoutMode } from '$core/profile/layout.ts';
  import { indexProfiles, searchProfiles } from '$core/profile/search.ts';
  import AddUnits from '$lib/components/kit/AddUnits.svelte';
  import ChannelTable from '$lib/components/kit/ChannelTable.svelte';
  import Step from '$lib/components/Step.svelte';
  import { KIND_WORDS } from '$lib/state/kinds.ts';
  import { getApp } from '$lib/state/app.svelte.ts';

  const app = getApp();
  let query = $state('');
  const index = $derived(indexProfiles(app.rig.profiles, (kind) => KIND_WORDS[kind]));
  const found = $derived(searchProfiles(index, query));
  const used = $derived.by(() => {
    const counts = new Map<string, number>();
    for (const unit of app.rig.units) counts.set(unit.profileId, (counts.get(unit.profileId) ?? 0) + 1);
    return counts;
  });
  const chosen = $derived(app.rig.profile(app.chosen.profile ?? '') ?? found[0]);
  let wantedMode = $state<string | null>(null);
  const mode = $derived(chosen?.modes.find((m) => m.key === wantedMode)?.key ?? chosen?.modes[0]?.key ?? '');
  function move(event: KeyboardEvent): void {
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (step === 0 || !chosen) return;
    event.preventDefault();
    const next = found[Math.min(found.length - 1, Math.max(0, found.indexOf(chosen) + step))];
    if (next) app.chosen.profile = next.id;
  }
</script>

<Step title="Kit" detailsTitle={chosen ? `${chosen.maker} ${chosen.model}` : 'Profile'}>
  {#snippet tools()}
    <input
      type="search"
      bind:value={query}
      placeholder="Maker, model, kind, channels: 16 ch zoom"
      aria-label="Search the kit"
      onkeydown={move}
    />
    <span class="quiet"
      ><span class="num">{found.length}</span> of <span class="num">{app.rig.profiles.length}</span> profiles</span
    >
  {/snippet}
  <div class="panes">
    <div class="profiles" role="listbox" aria-label="Profiles" tabindex="0" onkeydown={move}>
      {#each found as profile (profile.id)}
        <div
          class="profile"
          role="option"
          tabindex="-1"
          aria-selected={profile.id === chosen?.id}
          onclick={() => (app.chosen.profile = profile.id)}
          onkeydown={(e) => e.key === 'Enter' && (app.chosen.profile = profile.id)}
        >
          <span class="model"><b>{profile.model}</b> <span class="quiet">{profile.maker}</span></span>
          <span class="kind quiet">{KIND_WORDS[profile.fixtureKind]}</span>
          <span class="modes"
            >{#each profile.modes as m (m.key)}<span class="num chip">{footprintOf(m)} ch</span>{/each}</span
          >
          <span class="used num quiet">{used.get(profile.id) ? `${used.get(profile.id)} in the rig` : ''}</span>
        </div>
      {:else}
        <p class="quiet none">No profile has all of “{query}”. Try fewer words, or only the channel count.</p>
      {/each}
    </div>
    {#if chosen}
      <div class="channels" aria-label="Channels">
        <h2>
          {chosen.model}, {chosen.modes.find((m) => m.key === mode)?.name}
          <span class="quiet num">{footprintOf(chosen.modes.find((m) => m.key === mode)!)} ch</span>
        </h2>
        <ChannelTable profile={chosen} {mode} />
      </div>
    {/if}
  </div>
  {#snippet details()}
    {#if chosen}
      <div role="radiogroup" aria-label="Mode" class="radio">
        {#each chosen.modes as m (m.key)}
          {@const layout = layoutMode(chosen, m)}
          <label class:on={m.key === mode}>
            <input type="radio" name="mode" checked={m.key === mode} onchange={() => (wantedMode = m.key)} />
            <span
              >{m.name}{#if layout.cells > 0}<span class="quiet"> {layout.cells} cells</span>{/if}</span
            >
            <span class="num">{layout.footprint} ch</span>
          </label>
        {/each}
      </div>
      {#key chosen.id}<AddUnits profile={chosen} {mode} />{/key}
      <dl>
        <dt>Kind</dt>
        <dd>{KIND_WORDS[chosen.fixtureKind]}</dd>
        {#if chosen.physical.powerW}<dt>Power</dt>
          <dd class="num">{chosen.physical.powerW} <span class="quiet">W</span></dd>{/if}
        {#if chosen.physical.beamDeg}<dt>Beam</dt>
          <dd class="num">{chosen.physical.beamDeg}<span class="quiet">°</span></dd>{/if}
        {#if chosen.physical.panDeg}<dt>Pan, tilt</dt>
          <dd class="num">
            {chosen.physical.panDeg}<span class="quiet">°</span>, {chosen.physical.tiltDeg}<span class="quiet">°</span>
          </dd>{/if}
        {#if chosen.physical.massKg}<dt>Mass</dt>
          <dd class="num">{chosen.physical.massKg} <span class="quiet">kg</span></dd>{/if}
        <dt>Address set by</dt>
        <dd>{chosen.dipSwitches ? 'DIP switches' : 'menu'}{chosen.addressFromZero ? ', counts from 0' : ''}</dd>
      </dl>
    {/if}
  {/snippet}
</Step>

<style>
  input[type='search'] {
    width: min(340px, 100%);
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 6px 10px;
  }
  .panes {
    display: grid;
    grid-template-rows: minmax(120px, 1fr) minmax(120px, 1fr);
    flex: 1;
    min-height: 0;
  }
  .profiles {
    overflow-y: auto;
    padding: 0 16px;
  }
  .profile {
    display: grid;
    grid-template-columns: minmax(190px, 2fr) minmax(90px, 1fr) minmax(150px, 2fr) 104px;
    gap: 12px;
    align-items: center;
    min-height: 34px;
    padding: 3px 8px;
    border-bottom: 1px solid var(--line);
    border-left: 3px solid transparent;
    cursor: pointer;
  }
  .profile:hover {
    background: var(--hover);
  }
  .profile[aria-selected='true'] {
    background: var(--amber-wash);
    border-left-color: var(--amber);
  }
  .model {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .modes {
    display: flex;
    gap: 6px;
    flex-wrap: wrap;
  }
  .chip {
    border: 1px solid var(--line-strong);
    border-radius: 4px;
    padding: 0 6px;
    font-size: 12.5px;
  }
  .used {
    text-align: right;
    font-size: 12.5px;
    white-space: nowrap;
  }
  .none {
    padding: 24px 8px;
  }
  .channels {
    overflow: auto;
    border-top: 1px solid var(--line);
    padding: 10px 16px;
    display: flex;
    flex-direction: column;
    gap: 8px;
  }
  .radio {
    display: grid;
    gap: 4px;
  }
  .radio label {
    display: grid;
    grid-template-columns: auto 1fr auto;
    gap: 8px;
    align-items: center;
    min-height: 34px;
    padding: 0 10px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
  }
  .radio .on {
    border-color: var(--amber);
    background: var(--amber-wash);
  }
  .radio input {
    accent-color: var(--amber);
  }
  dl {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 4px 14px;
    margin: 0;
  }
  dt {
    color: var(--quiet);
  }
  dd {
    margin: 0;
    text-align: right;
  }
  @media (max-width: 760px) {
    .profile {
      grid-template-columns: minmax(0, 1fr) auto;
    }
    .kind,
    .used {
      display: none;
    }
  }
</style>
