<script lang="ts">
  import { tonightFaults } from '$core/check/tonight.ts';
  import type { AreaId } from '$core/ids.ts';
  import { PACE_LIMITS } from '$core/records/common.ts';
  import { clamp } from '$core/units.ts';
  import { MOODS } from '$core/records/profile.ts';
  import Button from '$lib/components/Button.svelte';
  import Check from '$lib/components/Check.svelte';
  import Mark from '$lib/components/Mark.svelte';
  import Step from '$lib/components/Step.svelte';
  import Tabs from '$lib/components/Tabs.svelte';
  import AutoButton from '$lib/components/auto/AutoButton.svelte';
  import AutoView from '$lib/components/auto/AutoView.svelte';
  import Masters from '$lib/components/show/Masters.svelte';
  import Pads from '$lib/components/show/Pads.svelte';
  import PlayingList from '$lib/components/show/PlayingList.svelte';
  import ReadyView from '$lib/components/show/ReadyView.svelte';
  import WhyView from '$lib/components/show/WhyView.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { setAddress } from '$lib/state/opened.svelte.ts';
  import { page } from '$app/state';

  const app = getApp();
  const live = $derived(app.live.live);
  const real = $derived(app.live.real);
  const plays = $derived(live?.playing ?? []);
  const VIEWS = ['pads', 'auto', 'ready', 'masters', 'why'] as const;
  const view = $derived(VIEWS.find((name) => name === page.url.searchParams.get('view')) ?? 'pads');
  const FADES = ['own', '0', '0.5', '1', '2', '3', '5', '10', '20'] as const;
  let fade = $state<(typeof FADES)[number]>('own');
  const fadeS = $derived(fade === 'own' ? null : Number(fade));
  let instead = $state(false);
  let flash = $state(false);
  const dark = $derived(real?.dark.on ?? false);
  const grand = $derived(real?.grand ?? 1);
  const pace = $derived(live?.pace ?? 1);
  const setPace = (to: number): void =>
    void app.live.command({ do: 'pace', pace: Math.round(clamp(to, ...PACE_LIMITS) * 1000) / 1000 });
  const tonight = $derived(tonightFaults(app.live.system).filter((f) => f.severe));
  const frozen = $derived((real?.frozen ?? null) !== null);
  /** For whom a mood is chosen: everybody, an area, or the selection. */
  let moodFor = $state('rig');
  const moodPlace = $derived(
    moodFor === 'selection'
      ? { on: [...app.selection.lit] }
      : moodFor.startsWith('area:')
        ? { areaId: moodFor as AreaId }
        : {},
  );
  const mood = $derived(
    plays
      .find(
        (p) =>
          p.target?.startsWith('mood:') &&
          p.releasedAt === null &&
          p.areaId === (moodPlace.areaId ?? null) &&
          (p.on ?? []).join() === (moodPlace.on ?? []).join(),
      )
      ?.target?.slice(5),
  );
</script>

<Step title="Show" detailsTitle="Playing now">
  {#snippet tools()}
    <Tabs
      label="What is shown"
      tabs={[
        ['pads', 'Pads'],
        ['auto', 'Auto'],
        ['ready', 'Ready'],
        ['masters', 'Masters'],
        ['why', 'Why'],
      ]}
      value={view}
      choose={(key) => setAddress({ view: key === 'pads' ? null : key })}
    />
    <AutoButton />
    <div class="moods" role="group" aria-label="Mood">
      <select bind:value={moodFor} aria-label="Mood for">
        <option value="rig">Mood</option>
        <option value="selection">Mood of the selection</option>
        {#each app.rig.areas as area (area.id)}<option value={area.id}>Mood in {area.name}</option>{/each}
      </select>
      {#each MOODS as name (name)}
        <button
          type="button"
          aria-pressed={mood === name}
          title="Special channels of every effect fixture: {name}"
          disabled={moodFor === 'selection' && app.selection.lit.length === 0}
          onclick={() => app.live.command({ do: 'mood', mood: mood === name ? null : name, ...moodPlace })}
          >{name}</button
        >
      {/each}
    </div>
  {/snippet}
  {#if tonight.length > 0}
    <p class="tonight" role="status">
      <Mark kind="wrong" />
      <span><b>{tonight[0]!.title}</b> {tonight[0]!.message}</span>
      <a href="/preflight">{tonight.length === 1 ? 'Pre-flight' : `and ${tonight.length - 1} more`}</a>
    </p>
  {/if}
  {#if view === 'pads'}
    <div class="column">
      <div class="how">
        <label
          >Fade <select bind:value={fade} aria-label="Crossfade">
            {#each FADES as f (f)}<option value={f}>{f === 'own' ? 'as each says' : `${f} s`}</option>{/each}
          </select></label
        >
        <Check label="One at a time" checked={instead} change={(v) => (instead = v)} />
        <Check label="Hold to flash" checked={flash} change={(v) => (flash = v)} />
      </div>
      <Pads {fadeS} {instead} {flash} />
    </div>
  {:else if view === 'auto'}<AutoView />
  {:else if view === 'ready'}<ReadyView />
  {:else if view === 'masters'}<Masters />
  {:else}
    <div class="why">
      <WhyView />
    </div>
  {/if}
  {#snippet details()}
    <div class="acts">
      <Button
        disabled={plays.every((p) => p.releasedAt !== null)}
        onclick={() => app.live.command({ do: 'releaseAll', fadeOutMs: fadeS === null ? undefined : fadeS * 1000 })}
        >Let all go</Button
      >
      <Button
        pressed={frozen}
        title="What plays stands still; masters and the hand still work"
        onclick={() => app.live.command({ do: 'freeze', on: !frozen })}>{frozen ? 'Frozen' : 'Freeze'}</Button
      >
      <Button
        pressed={(real?.solo.length ?? 0) > 0}
        disabled={(real?.solo.length ?? 0) === 0 && app.selection.lit.length === 0}
        title="Only the selection is to be seen"
        onclick={() =>
          app.live.command({ do: 'solo', units: (real?.solo.length ?? 0) > 0 ? [] : [...app.selection.lit] })}
        >Solo</Button
      >
    </div>
    <div class="pace" role="group" aria-label="Pace of everything">
      <span>Pace <b class="num">×{Math.round(pace * 100) / 100}</b></span>
      <Button
        kind="bare"
        title="Everything half as fast"
        disabled={pace <= PACE_LIMITS[0]}
        onclick={() => setPace(pace / 2)}>÷2</Button
      >
      <Button kind="bare" title="Everything as it is written" disabled={pace === 1} onclick={() => setPace(1)}
        >×1</Button
      >
      <Button
        kind="bare"
        title="Everything twice as fast"
        disabled={pace >= PACE_LIMITS[1]}
        onclick={() => setPace(pace * 2)}>×2</Button
      >
      <input
        type="range"
        min={Math.log2(PACE_LIMITS[0])}
        max={Math.log2(PACE_LIMITS[1])}
        step="0.01"
        value={Math.log2(pace)}
        aria-label="Pace"
        aria-valuetext="×{Math.round(pace * 100) / 100}"
        oninput={(e) => setPace(2 ** Number(e.currentTarget.value))}
      />
    </div>
    <label class="grand">
      <span>Grand master <b class="num">{Math.round(grand * 100)} <span class="quiet">%</span></b></span>
      <input
        type="range"
        min="0"
        max="1"
        step="0.005"
        value={grand}
        aria-label="Grand master, large"
        oninput={(e) => app.live.command({ do: 'grand', level: Number(e.currentTarget.value) })}
      />
    </label>
    <Button
      class="bigdark"
      pressed={dark && !real?.darkHaze}
      onclick={() => app.live.command({ do: 'dark', on: !dark })}>{dark ? 'Dark: press to bring back' : 'Dark'}</Button
    >
    <Button
      pressed={dark && (real?.darkHaze ?? false)}
      title="Dark, and haze and fog stop too"
      onclick={() => app.live.command({ do: 'dark', on: !(dark && real?.darkHaze), haze: !(dark && real?.darkHaze) })}
      >Dark with haze and fog</Button
    >
    <PlayingList />
  {/snippet}
</Step>

<style>
  .column {
    flex: 1;
    min-height: 0;
    display: flex;
    flex-direction: column;
  }
  .tonight {
    display: flex;
    gap: 8px;
    align-items: center;
    padding: 6px 16px;
    border-bottom: 1px solid var(--line);
  }
  .tonight span {
    flex: 1;
  }
  .how {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 18px;
    align-items: center;
    padding: 4px 16px 0;
  }
  @media (max-width: 760px) {
    .how {
      position: relative;
      flex-wrap: nowrap;
      overflow-x: auto;
      padding: 0 10px;
      scrollbar-width: none;
    }
    .how > :global(*) {
      flex: none;
    }
  }
  .moods {
    display: flex;
    align-items: center;
    gap: 2px;
  }
  .moods select {
    max-width: 92px;
    margin-right: 6px;
    border: 1px solid var(--line);
  }
  .moods button {
    min-height: 32px;
    padding: 2px 9px;
    border: 1px solid var(--line-strong);
    background: var(--raised);
  }
  .moods button:first-of-type {
    border-radius: var(--radius) 0 0 var(--radius);
  }
  .moods button:last-of-type {
    border-radius: 0 var(--radius) var(--radius) 0;
  }
  .moods [aria-pressed='true'] {
    background: var(--amber);
    color: var(--on-amber);
    border-color: var(--amber);
  }
  .why {
    flex: 1;
    overflow: auto;
    padding: 8px 20px 24px;
  }
  .acts {
    display: flex;
    gap: 6px;
  }
  .pace {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 2px;
  }
  .pace span {
    flex: 1;
  }
  .pace input {
    flex-basis: 100%;
    accent-color: var(--amber);
  }
  .grand {
    display: grid;
    gap: 6px;
    padding-top: 8px;
    border-top: 1px solid var(--line);
  }
  .grand > span {
    display: flex;
    justify-content: space-between;
  }
  .grand input {
    width: 100%;
    height: 40px;
    accent-color: var(--amber);
    touch-action: none;
  }
  :global(.bigdark) {
    min-height: 52px !important;
    font-size: 16px;
  }
</style>
