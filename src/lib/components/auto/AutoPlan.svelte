<script lang="ts">
  import { MOODS } from '$core/records/profile.ts';
  import { ROLE_WORDS, type PlayedRole } from '$core/records/variant.ts';
  import type { Phrase } from '$core/auto/plan.ts';
  import { songAt } from '$core/show/live/songs.ts';
  import { clamp } from '$core/units.ts';
  import Button from '$lib/components/Button.svelte';
  import { columnsOf } from '$lib/state/auto/auto-desk.svelte.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';
  import { goto } from '$app/navigation';
  import MomentFace from './MomentFace.svelte';

  /** The light that a song will get, as a strip over its length; any moment of it is looked at without being sent. */
  const app = getApp();
  const { live, auto: desk, rig } = app;
  const heard = $derived(rig.songs.filter((song) => song.heard !== null && song.lengthS !== null));
  let picked = $state<string | null>(null);
  const song = $derived(
    heard.find(({ id }) => id === picked) ?? heard.find(({ id }) => id === live.real?.song?.songId) ?? heard[0],
  );
  const show = $derived(song ? desk.showOf(song) : null);
  const length = $derived(song?.lengthS ?? 1);
  const columns = $derived(show ? columnsOf(show.plan) : []);
  const roles = $derived(desk.roles.filter((role) => show?.plan.some(({ cast }) => cast[role]) ?? false));
  let at = $state(0);
  const phrase = $derived(show ? (show.plan[show.phraseAt(Math.min(at, length - 0.01))] ?? null) : null);
  const peek = $derived(show ? { live: show.at(at), ms: at * 1000 } : null);
  const share = (s: number): string => `${(100 * s) / length}%`;
  const nameOf = (role: PlayedRole, { cast }: Phrase): string =>
    desk.ideas(role).find(({ key }) => key === cast[role]?.idea)?.name ?? '';
  /** Phrases in a row that are the same of a role are one block. */
  function blocks(role: PlayedRole): { from: number; to: number; name: string; colours: readonly string[] }[] {
    const found: { from: number; to: number; name: string; colours: readonly string[] }[] = [];
    for (const one of show?.plan ?? []) {
      const name = nameOf(role, one);
      const last = found.at(-1);
      if (name && last && last.name === name && last.to === one.from && last.colours.join() === one.colours.join())
        last.to = one.to;
      else if (name) found.push({ from: one.from, to: one.to, name, colours: one.colours });
    }
    return found;
  }
  const tint = (colours: readonly string[]): string =>
    `linear-gradient(90deg, ${(colours.length > 1 ? colours : [colours[0]!, colours[0]!]).join(', ')})`;
  // Where it plays, the strip goes along.
  let playing = $state<number | null>(null);
  $effect(() => {
    const on = live.real?.song;
    if (!on || on.songId !== song?.id) return void (playing = null);
    const look = (): void => void (playing = songAt(on, live.now()));
    look();
    const timer = setInterval(look, 100);
    return () => clearInterval(timer);
  });
  let strip = $state<HTMLDivElement>();
  function scrub(event: PointerEvent): void {
    if (!strip || (event.type === 'pointermove' && event.buttons === 0)) return;
    const box = strip.getBoundingClientRect();
    at = clamp(((event.clientX - box.left) / box.width) * length, 0, length);
  }
  function play(): void {
    if (!song) return;
    app.sound.ready(app.personName);
    void live.command({ do: 'song', songId: song.id, at });
    if (!desk.on) void live.command({ do: 'auto', on: true });
  }
  async function onPlot(): Promise<void> {
    if (!song || !show) return;
    desk.look(song, show, at);
    await goto('/plot');
  }
</script>

{#if !song || !show}
  <p class="quiet">
    A plan is made of a song that was heard. <a href="/music">Add songs under Music</a>; each is heard by itself.
  </p>
{:else}
  <div class="head">
    <select value={song.id} aria-label="Song" onchange={(e) => (picked = e.currentTarget.value)}>
      {#each heard as { id, name } (id)}<option value={id}>{name}</option>{/each}
    </select>
    <Button kind="main" onclick={play}>Play it from here</Button>
    <Button title="The plot and the room show this moment; nothing of it is sent" onclick={onPlot}
      >See it on the plot</Button
    >
    <Button title="Other ideas and colours for the same music" onclick={() => live.command({ do: 'autoTake' })}
      >Another take</Button
    >
    <span class="quiet num">take {desk.asked.seed}</span>
  </div>
  <div class="plan">
    <div class="names" aria-hidden="true">
      <span></span><span>mood</span>
      {#each roles as role (role)}<span>{ROLE_WORDS[role]}</span>{/each}
    </div>
    <!-- The slider below does the same by keyboard. -->
    <div
      class="strip"
      bind:this={strip}
      onpointerdown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        scrub(e);
      }}
      onpointermove={scrub}
      role="presentation"
    >
      <div class="lane sections">
        {#each columns as { name, from, to } (from)}
          <span style:left={share(from)} style:width={share(to - from)}>{name}</span>
        {/each}
      </div>
      <div class="lane moods">
        {#each show.plan as one (one.from)}
          <i
            style:left={share(one.from)}
            style:width={share(one.to - one.from)}
            style:height="{(100 * (1 + MOODS.indexOf(one.mood))) / MOODS.length}%"
            title="{clockText(one.from)}: {one.why}"
          ></i>
        {/each}
      </div>
      {#each roles as role (role)}
        <div class="lane">
          {#each blocks(role) as { from, to, name, colours } (from)}
            <span
              class="block"
              style:left={share(from)}
              style:width={share(to - from)}
              title="{clockText(from)} to {clockText(to)}: {name}"
              ><b style:background={role === 'whites' ? '#e8ecf4' : tint(colours)}></b><em>{name}</em></span
            >
          {/each}
        </div>
      {/each}
      <i class="needle" style:left={share(at)}></i>
      {#if playing !== null}<i class="needle plays" style:left={share(playing)}></i>{/if}
    </div>
  </div>
  <label class="slide">
    <span class="visually-hidden">Moment of the song</span>
    <input type="range" min="0" max={length} step="0.1" bind:value={at} aria-valuetext={clockText(at)} />
  </label>
  <div class="moment">
    <MomentFace {peek} width={340} height={190} />
    <div class="words">
      <p class="num at">{clockText(at)}</p>
      {#if phrase}
        <p><b>{phrase.mood}</b>: {phrase.why}</p>
        <ul>
          {#each roles.filter((role) => phrase.cast[role]) as role (role)}
            <li><span class="quiet">{ROLE_WORDS[role]}</span> {nameOf(role, phrase)}</li>
          {/each}
        </ul>
        <div class="colours">
          {#each phrase.colours as colour (colour)}<i style:background={colour} title={colour}></i>{/each}
        </div>
      {/if}
    </div>
  </div>
{/if}

<style>
  .head {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: center;
    padding-bottom: 12px;
  }
  .plan {
    display: grid;
    grid-template-columns: 92px 1fr;
  }
  .names {
    display: grid;
    grid-auto-rows: 30px;
    align-items: center;
    color: var(--quiet);
    font-size: 13px;
  }
  .strip {
    position: relative;
    touch-action: none;
    cursor: ew-resize;
    user-select: none;
    background: #0c0f15;
    border: 1px solid var(--line);
  }
  .lane {
    position: relative;
    height: 30px;
    border-bottom: 1px solid var(--line);
    overflow: hidden;
  }
  .sections span {
    position: absolute;
    top: 0;
    bottom: 0;
    padding: 5px 6px;
    font-weight: 600;
    font-size: 13px;
    border-left: 1px solid var(--line-strong);
    overflow: hidden;
    white-space: nowrap;
  }
  .moods i {
    position: absolute;
    bottom: 0;
    background: #3a4a66;
    border-left: 1px solid #0c0f15;
  }
  .block {
    position: absolute;
    top: 2px;
    bottom: 2px;
    padding-right: 1px;
    overflow: hidden;
    font-size: 12px;
    white-space: nowrap;
  }
  .block b {
    position: absolute;
    inset: auto 1px 0 0;
    height: 6px;
    border-radius: 2px;
  }
  .block em {
    font-style: normal;
    color: var(--quiet);
    padding-left: 4px;
  }
  .needle {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 2px;
    margin-left: -1px;
    background: var(--amber);
    pointer-events: none;
  }
  .plays {
    background: var(--text);
    opacity: 0.7;
  }
  .slide input {
    width: calc(100% - 92px);
    margin-left: 92px;
    min-height: 32px;
    accent-color: var(--amber);
  }
  .moment {
    display: flex;
    flex-wrap: wrap;
    gap: 20px;
    padding-top: 10px;
  }
  .words {
    display: grid;
    gap: 6px;
    align-content: start;
  }
  .words p,
  .words ul {
    margin: 0;
  }
  .words ul {
    list-style: none;
    padding: 0;
  }
  .words li .quiet {
    display: inline-block;
    width: 100px;
  }
  .at {
    font-size: 22px;
  }
  .colours {
    display: flex;
    gap: 6px;
  }
  .colours i {
    width: 26px;
    height: 26px;
    border-radius: 50%;
  }
  @media (max-width: 760px) {
    .plan {
      grid-template-columns: 1fr;
    }
    .names {
      display: none;
    }
    .slide input {
      width: 100%;
      margin-left: 0;
    }
  }
</style>
