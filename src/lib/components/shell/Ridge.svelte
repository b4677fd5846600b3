<script lang="ts">
  import { playName } from '$core/show/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { outputWords } from '$lib/state/words.ts';
  import Search from '@lucide/svelte/icons/search';
  import Undo2 from '@lucide/svelte/icons/undo-2';
  import Redo2 from '@lucide/svelte/icons/redo-2';
  import EyeOff from '@lucide/svelte/icons/eye-off';
  import X from '@lucide/svelte/icons/x';
  import AutoChip from '../auto/AutoChip.svelte';
  import Button from '../Button.svelte';
  import Mark from '../Mark.svelte';
  import TempoControl from './TempoControl.svelte';

  /** Chips that fit beside each other, what began last first; what else plays is told by number. */
  const CHIPS = 2;
  const app = getApp();
  const live = app.live;
  const playing = $derived((live.live?.playing ?? []).filter((p) => p.releasedAt === null).reverse());
  const byItself = $derived((live.real?.auto?.on ?? false) && !live.blind);
  const dark = $derived(live.real?.dark.on ?? false);
  const grand = $derived(live.real?.grand ?? 1);
  const frozen = $derived((live.real?.frozen ?? null) !== null);
  const words = $derived(outputWords(live.connection, live.system, app.rig));

  let grandSent = $state<number | null>(null);
  function setGrand(level: number): void {
    grandSent = level;
    requestAnimationFrame(() => {
      if (grandSent === null) return;
      void live.command({ do: 'grand', level: grandSent });
      grandSent = null;
    });
  }
</script>

<header>
  <div class="name" title={app.rig.show?.name}>
    <img src="/kite.svg" alt="" width="24" height="24" />
    <strong>{app.rig.show?.name ?? 'Amber Kite'}</strong>
  </div>
  <div class="history">
    <Button
      kind="bare"
      disabled={live.history.undo === null}
      aria-label="Undo"
      title={live.history.undo ? `Undo: ${live.history.undo} (Ctrl+Z)` : 'Nothing to undo'}
      onclick={() => live.undo()}><Undo2 size={18} /></Button
    >
    <Button
      kind="bare"
      disabled={live.history.redo === null}
      aria-label="Redo"
      title={live.history.redo ? `Redo: ${live.history.redo} (Ctrl+Shift+Z)` : 'Nothing to redo'}
      onclick={() => live.redo()}><Redo2 size={18} /></Button
    >
    <Button
      kind="bare"
      aria-label="Find"
      title="Find a unit, scene or action (Ctrl+K)"
      onclick={() => (app.finderOpen = true)}><Search size={18} /></Button
    >
  </div>
  <ul class="playing" aria-label="Playing now">
    {#if byItself}<li class="auto"><AutoChip /></li>{/if}
    {#each playing.slice(0, CHIPS) as play (play.id)}
      {@const name = playName(live.document, play)}
      <li style:--tint={app.rig.playable(play.target)?.colour ?? 'var(--line-strong)'}>
        <span class="what" title={name}>{name}</span>
        <button
          type="button"
          aria-label="Fade out {name}"
          title="Fade out"
          onclick={() => live.command({ do: 'releasePlay', playId: play.id })}><X size={14} /></button
        >
      </li>
    {:else}
      {#if !byItself}<li class="none">Nothing playing</li>{/if}
    {/each}
    {#if playing.length > CHIPS}
      <li class="none">
        <a href="/show" title="See all that plays" aria-label="and {playing.length - CHIPS} more"
          >+{playing.length - CHIPS}</a
        >
      </li>
    {/if}
  </ul>
  <div class="tempo"><TempoControl /></div>
  <label class="grand">
    <span class="quiet">Grand</span>
    <input
      type="range"
      min="0"
      max="1"
      step="0.005"
      value={grand}
      aria-label="Grand master"
      style:--at="{grand * 100}%"
      oninput={(e) => setGrand(Number(e.currentTarget.value))}
    />
    <b class="num">{Math.round(grand * 100)}<span class="quiet"> %</span></b>
  </label>
  <Button
    kind="bare"
    pressed={live.blind !== null}
    aria-label="Blind"
    title={live.blind ? 'You are blind: what you do is not sent' : 'Try without sending (B)'}
    onclick={() => app.toggleBlind()}><EyeOff size={18} /> Blind</Button
  >
  {#if frozen}
    <Button
      pressed
      title="What plays stands still; press to go on"
      onclick={() => live.command({ do: 'freeze', on: false })}>Frozen</Button
    >
  {/if}
  <Button
    class="dark"
    pressed={dark}
    title="Fade everything to nothing in half a second; press again to come back"
    onclick={() => live.command({ do: 'dark', on: !dark })}>{dark ? 'Dark - bring back' : 'Dark'}</Button
  >
  <a class="state" href="/lines" title={words.title}>
    {#if words.mark}<Mark kind={words.mark} />{/if}
    <span class:wide={words.short !== undefined}>{words.text}</span>
    {#if words.short}<span class="narrow">{words.short}</span>{/if}
  </a>
</header>

<style>
  header {
    display: flex;
    align-items: center;
    gap: 10px;
    height: var(--ridge);
    padding: 0 12px 0 0;
    background: var(--panel);
    border-bottom: 1px solid var(--line);
    min-width: 0;
  }
  .name {
    display: flex;
    align-items: center;
    gap: 8px;
    padding-left: 24px;
    min-width: 90px;
    flex: 0 1 auto;
    overflow: hidden;
  }
  .name img {
    flex: none;
  }
  .name strong {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .history {
    display: flex;
  }
  .history :global(button) {
    padding: 4px 6px;
  }
  .playing {
    display: flex;
    flex: 1 1 80px;
    gap: 6px;
    min-width: 0;
    margin: 0;
    padding: 2px;
    list-style: none;
    overflow: hidden;
  }
  li {
    display: flex;
    align-items: center;
    flex: 0 1 auto;
    min-width: 56px;
    border: 1px solid var(--line);
    border-left: 4px solid var(--tint);
    border-radius: var(--radius);
    background: var(--raised);
    padding-left: 8px;
    height: 30px;
    white-space: nowrap;
  }
  .what {
    max-width: 132px;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  li.none {
    flex: none;
    min-width: 0;
    border-color: transparent;
    background: none;
    color: var(--quiet);
    padding: 0;
  }
  li.auto {
    display: block;
    height: auto;
    min-width: 96px;
    flex: 0 1 auto;
    padding: 0;
    border: 0;
    background: none;
  }
  li a {
    color: inherit;
  }
  li button {
    display: grid;
    place-items: center;
    flex: none;
    width: 28px;
    height: 28px;
    border: 0;
    background: none;
    color: var(--quiet);
  }
  li button:hover {
    color: var(--text);
  }
  .tempo,
  .grand {
    display: flex;
    align-items: center;
    gap: 8px;
    flex: none;
    white-space: nowrap;
  }
  .grand b {
    width: 46px;
    text-align: right;
  }
  .grand input {
    width: 92px;
    accent-color: var(--amber);
  }
  header :global(.dark[aria-pressed='true']) {
    background: var(--amber);
    color: var(--on-amber);
    font-weight: 650;
  }
  .state {
    display: flex;
    align-items: center;
    gap: 6px;
    flex: 0 0 auto;
    max-width: 240px;
    color: var(--text);
    text-decoration: none;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .state:hover {
    text-decoration: underline;
  }
  .narrow {
    display: none;
  }
  @media (max-width: 1400px) {
    .wide {
      display: none;
    }
    .narrow {
      display: inline;
    }
  }
  @media (max-width: 1150px) {
    header {
      gap: 8px;
    }
    .name {
      padding-left: 12px;
    }
    .grand .quiet {
      display: none;
    }
    .grand b {
      width: auto;
    }
    .grand input {
      width: 64px;
    }
  }
  /* On a phone two rows: what is always needed, then what plays and its tempo. The grand master is under Show. */
  @media (max-width: 760px) {
    header {
      flex-wrap: wrap;
      gap: 2px 6px;
      height: auto;
      min-height: var(--ridge);
      padding: 4px 8px 4px 0;
    }
    .name strong,
    .grand {
      display: none;
    }
    .name {
      min-width: 0;
      padding-left: 10px;
    }
    .state {
      flex: 1 1 60px;
      min-width: 0;
      order: -1;
      display: block;
    }
    .name,
    .history {
      order: -2;
    }
    .playing {
      order: 1;
      flex: 1 1 150px;
      padding-left: 10px;
    }
    .tempo {
      order: 2;
    }
  }
</style>
