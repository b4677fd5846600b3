<script lang="ts">
  import { MOODS, type Mood } from '$core/records/profile.ts';
  import { PLAYED_ROLES, ROLE_WORDS, type PlayedRole } from '$core/records/variant.ts';
  import Button from '$lib/components/Button.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Ban from '@lucide/svelte/icons/ban';
  import Lock from '@lucide/svelte/icons/lock';
  import Shuffle from '@lucide/svelte/icons/shuffle';
  import SkipForward from '@lucide/svelte/icons/skip-forward';
  import Sparkles from '@lucide/svelte/icons/sparkles';
  import AutoPlaces from './AutoPlaces.svelte';
  import { sourceWords } from './auto-words.ts';

  /** What runs by itself now, and all that a hand can say to it. */
  const app = getApp();
  const { live, auto: desk } = app;
  const auto = $derived(desk.auto);
  const now = $derived(desk.now);
  const LEANS = [
    [-2, 'much less'],
    [-1, 'less'],
    [0, 'as it is'],
    [1, 'more'],
    [2, 'much more'],
  ] as const;
  const only = $derived(auto?.roles ?? null);
  const plays = (role: PlayedRole): boolean => only?.includes(role) ?? true;
  function toggle(role: PlayedRole): void {
    const wanted = PLAYED_ROLES.filter((r) => (r === role ? !plays(r) : plays(r)));
    void live.command({ do: 'autoRoles', roles: wanted.length === PLAYED_ROLES.length ? null : wanted });
  }
  const count = (role: PlayedRole): number => desk.guesses.filter((guess) => guess.role === role).length;
  const colours = $derived(auto?.colours ?? null);
  const setColours = (next: readonly string[] | null): void =>
    void live.command({ do: 'autoColours', colours: next && next.length > 0 ? [...next] : null });
  const barred = $derived(live.blind !== null);
</script>

<fieldset disabled={barred}>
  {#if barred}<p class="quiet">You are blind: Auto runs in the show, not in what you try.</p>{/if}
  <section class="first">
    <Button
      kind={desk.on ? 'plain' : 'main'}
      class="big"
      pressed={desk.on}
      disabled={barred}
      onclick={() => live.command({ do: 'auto', on: !desk.on })}
      ><Sparkles size={20} /> {desk.on ? 'Auto runs: press to end it' : 'Let the light follow the music'}</Button
    >
    <p class="from">
      {sourceWords(live.real, app.rig.songs)}
      {#if !live.real?.song && !live.real?.ear}<a href="/music">Play a song, or listen to live sound</a>.{/if}
    </p>
  </section>

  {#if now && auto}
    <section>
      <h3>Plays now</h3>
      <p class="why">
        <b>{now.mood}</b>: {now.why}{#if now.then}. <span class="quiet">Then {now.then}.</span>{/if}
      </p>
      <ul class="cast">
        {#each now.cast as { role, idea, name } (role)}
          <li>
            <span class="role quiet">{ROLE_WORDS[role]}</span>
            <span class="idea">{name}</span>
            <Button
              kind="bare"
              title="{name} is not to come again for {ROLE_WORDS[role]} while it is {now.mood}"
              aria-label="Not this again: {name}"
              onclick={() => desk.notAgain(now.mood, role, idea)}><Ban size={15} /> Not this again</Button
            >
          </li>
        {:else}<li class="quiet">Nothing: it is dark, or nothing may play.</li>{/each}
      </ul>
      <div class="row">
        <Button
          onclick={() => live.command({ do: 'autoNext' })}
          title="Other ideas and colours for this part, with the next bar"><SkipForward size={16} /> Next</Button
        >
        <Button
          pressed={auto.hold}
          title="What plays stays, whatever the music does"
          onclick={() => live.command({ do: 'autoHold', on: !auto.hold })}
          ><Lock size={16} /> {auto.hold ? 'Held: let go' : 'Hold this'}</Button
        >
        <Button
          title="Another show to the same music, with the next bar"
          onclick={() => live.command({ do: 'autoTake' })}><Shuffle size={16} /> Another take</Button
        >
      </div>
    </section>
  {/if}

  <section>
    <h3>More or less</h3>
    <div class="row" role="group" aria-label="More or less than the music has">
      {#each LEANS as [lean, text] (lean)}
        <Button pressed={(auto?.lean ?? 0) === lean} onclick={() => live.command({ do: 'autoLean', lean })}
          >{text}</Button
        >
      {/each}
    </div>
    <div class="row" role="group" aria-label="Mood of Auto">
      <Button pressed={(auto?.mood ?? null) === null} onclick={() => live.command({ do: 'autoMood', mood: null })}
        >As the music has it</Button
      >
      {#each MOODS as mood (mood)}
        <Button pressed={auto?.mood === mood} onclick={() => live.command({ do: 'autoMood', mood: mood as Mood })}
          >{mood}</Button
        >
      {/each}
    </div>
  </section>

  <section>
    <h3>Colours</h3>
    <div class="row">
      {#each colours ?? now?.colours ?? [] as colour, i (i)}
        {#if colours}
          <span class="swatch">
            <input
              type="color"
              value={colour}
              aria-label="Colour {i + 1}"
              onchange={(e) => setColours(colours.with(i, e.currentTarget.value))}
            />
            <button
              type="button"
              aria-label="Without colour {i + 1}"
              onclick={() => setColours(colours.toSpliced(i, 1))}>×</button
            >
          </span>
        {:else}<i class="dot" style:background={colour} title={colour}></i>{/if}
      {/each}
      {#if colours}
        {#if colours.length < 6}
          <Button onclick={() => setColours([...colours, colours.at(-1)!])}>Another colour</Button>
        {/if}
        <Button onclick={() => setColours(null)}>Its own again</Button>
      {:else}
        <Button
          title="It keeps to these colours until you say otherwise"
          disabled={!now || now.colours.length === 0}
          onclick={() => setColours(now!.colours)}>Hold these</Button
        >
        <Button onclick={() => setColours(['#ffb347', '#2f6bff'])}>Choose colours</Button>
      {/if}
    </div>
  </section>

  <section>
    <h3>Only these</h3>
    <div class="row" role="group" aria-label="Roles that play">
      {#each PLAYED_ROLES.filter((role) => count(role) > 0) as role (role)}
        <Button pressed={plays(role)} onclick={() => toggle(role)}
          >{ROLE_WORDS[role]} <span class="num quiet">{count(role)}</span></Button
        >
      {:else}<p class="quiet">
          No unit of this show gives light yet. <a href="/kit">Choose fixtures in the Kit</a>.
        </p>{/each}
    </div>
  </section>

  <AutoPlaces />
</fieldset>

<style>
  fieldset {
    display: contents;
    border: 0;
  }
  section {
    display: grid;
    gap: 8px;
    padding: 10px 0 14px;
    border-bottom: 1px solid var(--line);
    max-width: 900px;
  }
  .first {
    border: 0;
    padding-bottom: 4px;
  }
  .first :global(.big) {
    min-height: 52px;
    padding: 6px 22px;
    font-size: 16px;
    justify-self: start;
  }
  .from,
  .why {
    margin: 0;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
  }
  .row :global([aria-pressed='true']) {
    background: var(--amber-wash);
    border-color: var(--amber);
  }
  .cast {
    list-style: none;
    margin: 0;
    padding: 0;
    display: grid;
    gap: 2px;
  }
  .cast li {
    display: flex;
    gap: 10px;
    align-items: center;
    min-height: 32px;
  }
  .role {
    width: 110px;
  }
  .idea {
    flex: 1;
    max-width: 320px;
  }
  .dot {
    width: 34px;
    height: 34px;
    border-radius: 50%;
    border: 1px solid var(--line-strong);
  }
  .swatch {
    display: flex;
    align-items: center;
  }
  .swatch input {
    width: 42px;
    height: 34px;
    padding: 2px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
  }
  .swatch button {
    min-width: 28px;
    min-height: 34px;
    border: 0;
    background: none;
    color: var(--quiet);
  }
  @media (max-width: 760px) {
    .role {
      width: 76px;
    }
  }
</style>
