<script lang="ts">
  import { footprintOf, layoutMode } from '$core/profile/layout.ts';
  import Button from '$lib/components/Button.svelte';
  import Choice from '$lib/components/Choice.svelte';
  import AddUnits from '$lib/components/kit/AddUnits.svelte';
  import ChannelTable from '$lib/components/kit/ChannelTable.svelte';
  import KitRow from '$lib/components/kit/KitRow.svelte';
  import ImportReport from '$lib/components/kit/ImportReport.svelte';
  import ModeCompare from '$lib/components/kit/ModeCompare.svelte';
  import MoodMatrix from '$lib/components/kit/MoodMatrix.svelte';
  import ProfileActions from '$lib/components/kit/ProfileActions.svelte';
  import PropPicture from '$lib/components/kit/PropPicture.svelte';
  import PropShape from '$lib/components/kit/PropShape.svelte';
  import { PROP_FORMS } from '$core/prop/catalogue.ts';
  import { propSchema } from '$core/records/prop.ts';
  import { cellCount } from '$core/prop/cells.ts';
  import type { Shape } from '$core/records/shape.ts';
  import Removed from '$lib/components/Removed.svelte';
  import Step from '$lib/components/Step.svelte';
  import Tabs from '$lib/components/Tabs.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { createProfile, isLibrary, Kit } from '$lib/state/kit/kit.svelte.ts';
  import { Opened } from '$lib/state/opened.svelte.ts';
  import { sentence } from '$lib/state/words.ts';
  import { KIND_WORDS } from '$lib/state/kinds.ts';

  const app = getApp();
  const kit = new Kit(app);
  const opened = new Opened(
    'open',
    (): readonly { readonly id: string }[] => [...PROP_FORMS, ...kit.profiles],
    () => false,
  );
  const items = $derived([...kit.forms, ...kit.found]);
  const openId = $derived(opened.id ?? (kit.query === '' ? kit.found[0] : items[0])?.id ?? null);
  const chosen = $derived(kit.get(openId));
  const form = $derived(PROP_FORMS.find((f) => f.id === openId));
  /** Sizes that were changed before the prop is added, by kind of prop. */
  let shapes = $state.raw<Readonly<Record<string, Shape>>>({});
  const shape = $derived(form ? (shapes[form.id] ?? form.shape) : null);
  let madeOf = $state.raw<{ profile: string; mode: string } | null>(null);
  const pixels = $derived(kit.propProfiles.find((p) => p.id === madeOf?.profile) ?? kit.propProfiles[0]!);
  const pixelMode = $derived((pixels.modes.find((m) => m.key === madeOf?.mode) ?? pixels.modes[0]!).key);
  let wantedMode = $state<string | null>(null);
  const mode = $derived(chosen?.modes.find((m) => m.key === wantedMode)?.key ?? chosen?.modes[0]?.key ?? '');
  let tab = $state<'channels' | 'modes' | 'moods'>('channels');
  const TABS = [
    ['channels', 'Channels'],
    ['modes', 'Compare modes'],
    ['moods', 'Moods'],
  ] as const;
  function move(event: KeyboardEvent): void {
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (step === 0) return;
    event.preventDefault();
    const at = items.findIndex((item) => item.id === openId);
    const next = items[Math.min(items.length - 1, Math.max(0, at + step))];
    if (!next) return;
    opened.open(next.id);
    document.getElementById(`kit-${next.id}`)?.scrollIntoView({ block: 'nearest' });
  }
</script>

<Step title="Kit" detailsTitle={chosen ? `${chosen.maker} ${chosen.model}` : (form?.name ?? 'Profile')}>
  {#snippet tools()}
    <input
      type="search"
      bind:value={kit.query}
      placeholder="Maker, model, kind, 16 ch, arch, matrix"
      aria-label="Search the kit"
      onkeydown={move}
    />
    <Choice
      hideLabel
      label="Kind"
      value={kit.fixtureKind}
      options={[{ value: 'all', text: 'all kinds' }, ...kit.kinds.map((k) => ({ value: k, text: KIND_WORDS[k] }))]}
      choose={(v) => (kit.fixtureKind = v as typeof kit.fixtureKind)}
    />
    <Choice
      hideLabel
      label="Maker"
      value={kit.maker}
      options={[{ value: 'all', text: 'all makers' }, ...kit.makers.map((m) => ({ value: m, text: m }))]}
      choose={(v) => (kit.maker = v)}
    />
    <Choice
      hideLabel
      label="Which"
      value={kit.only}
      options={[
        { value: 'all', text: 'everything' },
        { value: 'favourites', text: 'favourites' },
        { value: 'used', text: 'in the rig' },
        { value: 'own', text: 'my own' },
      ]}
      choose={(v) => (kit.only = v)}
    />
    <span class="quiet"
      ><span class="num">{kit.found.length}</span> of <span class="num">{kit.profiles.length}</span></span
    >
  {/snippet}
  {#if kit.report}<ImportReport report={kit.report} close={() => (kit.report = null)} />{/if}
  <div class="panes">
    <div class="profiles">
      {#if kit.query === '' && !kit.filtered && kit.recent.length > 0}
        <p class="recent">
          <span class="quiet">Used lately</span>
          {#each kit.recent as profile (profile.id)}
            <Button kind="bare" onclick={() => opened.open(profile.id)}>{profile.model}</Button>
          {/each}
        </p>
      {/if}
      {#if kit.query === '' && kit.forms.length > 0}
        <p class="recent">
          <span class="quiet">Props</span>
          {#each kit.forms as item (item.id)}
            <Button kind="bare" pressed={item.id === openId} title={item.about} onclick={() => opened.open(item.id)}
              >{item.name}</Button
            >
          {/each}
        </p>
      {/if}
      <div class="rows" role="grid" aria-label="Profiles" tabindex="0" onkeydown={move}>
        {#if kit.query !== ''}
          {#each kit.forms as item (item.id)}
            <KitRow
              id={item.id}
              on={item.id === openId}
              open={() => opened.open(item.id)}
              name={item.name}
              about={item.about}
              kind="prop"
              sizes={[`${cellCount(shapes[item.id] ?? item.shape)} cells`]}
            />
          {/each}
        {/if}
        {#each kit.found as profile (profile.id)}
          <KitRow
            id={profile.id}
            on={profile.id === chosen?.id}
            open={() => opened.open(profile.id)}
            name={profile.model}
            about={`${profile.maker}${isLibrary(profile) ? '' : ', own'}`}
            kind={KIND_WORDS[profile.fixtureKind]}
            sizes={profile.modes.map((m) => `${footprintOf(m)} ch`)}
            used={kit.used.get(profile.id) ? `${kit.used.get(profile.id)} in the rig` : ''}
            favourite={kit.favourites.has(profile.id)}
            star={() => kit.toggleFavourite(profile)}
          />
        {/each}
      </div>
      {#if kit.found.length === 0 && kit.forms.length === 0}
        <p class="quiet none">
          No profile has all of “{kit.query}”{kit.filtered ? ' and passes the filters' : ''}. Try fewer words, or write
          it from its manual.
        </p>
        <Button onclick={() => createProfile(app)}>New profile</Button>
      {/if}
    </div>
    {#if chosen}
      <div class="channels">
        <div class="tabs">
          <Tabs label="What to see of the profile" tabs={TABS} value={tab} choose={(t) => (tab = t)} />
          <span class="quiet"
            >{chosen.modes.find((m) => m.key === mode)?.name}
            <span class="num">{footprintOf(chosen.modes.find((m) => m.key === mode)!)} ch</span></span
          >
        </div>
        {#if tab === 'channels'}<ChannelTable profile={chosen} {mode} />
        {:else if tab === 'modes'}<ModeCompare profile={chosen} {mode} choose={(m) => (wantedMode = m)} />
        {:else}<MoodMatrix profile={chosen} />{/if}
      </div>
    {:else if form && shape}
      <div class="channels"><PropPicture {shape} /></div>
    {:else if opened.removed !== null}<Removed what="profile" name={opened.removed} list="the list" />
    {/if}
  </div>
  {#snippet details()}
    {#if form && shape}
      <p class="quiet">{sentence(form.about)}. Its shape, its wiring and its parts can be changed on the plot.</p>
      <PropShape
        {shape}
        change={(next) => (shapes = { ...shapes, [form.id]: next })}
        profiles={kit.propProfiles}
        profile={pixels}
        mode={pixelMode}
        choose={(profile, mode) => (madeOf = { profile, mode })}
      />
      {#key form.id}
        <AddUnits profile={pixels} mode={pixelMode} {kit} prop={propSchema.parse({ shape })} called={form.name} />
      {/key}
    {/if}
    {#if chosen}
      <div role="radiogroup" aria-label="Mode" class="radio">
        {#each chosen.modes as m (m.key)}
          {@const layout = layoutMode(chosen, m)}
          <label class:on={m.key === mode}>
            <input type="radio" name="mode" checked={m.key === mode} onchange={() => (wantedMode = m.key)} />
            <span
              >{m.name}{#if layout.cells > 0 && !m.name.includes('cells')}<span class="quiet"
                  >{` ${layout.cells} cells`}</span
                >{/if}</span
            >
            <span class="num">{layout.footprint} ch</span>
          </label>
        {/each}
      </div>
      {#key chosen.id}<AddUnits profile={chosen} {mode} {kit} />{/key}
      <ProfileActions profile={chosen} {kit} />
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
          <dd class="num">{Math.round(chosen.physical.massKg * 10) / 10} <span class="quiet">kg</span></dd>{/if}
        <dt>Address set by</dt>
        <dd>
          {chosen.unitNumber ? 'unit number' : chosen.dipSwitches ? 'DIP switches' : 'menu'}{chosen.addressFromZero
            ? ', counts from 0'
            : ''}
        </dd>
        {#if chosen.author}<dt>Written by</dt>
          <dd>{chosen.author}, revision <span class="num">{chosen.revision}</span></dd>{/if}
      </dl>
      {#if chosen.notes}<p class="quiet">{chosen.notes}</p>{/if}
    {/if}
  {/snippet}
</Step>

<style>
  input[type='search'] {
    width: min(280px, 100%);
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 6px 10px;
  }
  .panes {
    display: grid;
    grid-template-rows: fit-content(46%) minmax(120px, 1fr);
    flex: 1;
    min-height: 0;
  }
  .profiles {
    overflow-y: auto;
    padding: 0 16px;
  }
  .recent {
    display: flex;
    align-items: center;
    flex-wrap: wrap;
    gap: 4px;
    margin: 0;
    padding: 2px 8px;
  }
  .tabs {
    display: flex;
    align-items: baseline;
    gap: 4px;
    border-bottom: 1px solid var(--line);
  }
  .tabs > .quiet {
    margin-left: auto;
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
</style>
