<script lang="ts">
  import { playName, recordIdOf } from '$core/show/index.ts';
  import { getRecord } from '$core/document/change.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Mark from '../Mark.svelte';
  import Button from '../Button.svelte';
  import NoLight from '../scenes/NoLight.svelte';
  import PlayControls from './PlayControls.svelte';

  /** Everything that plays, what wins on top, with what can be done to each. */
  const app = getApp();
  const live = $derived(app.live.live);
  const failed = $derived(app.live.system.engine?.failedPlays ?? {});
  const plays = $derived([...(live?.playing ?? [])].reverse());
  let clock = $state(0);
  $effect(() => {
    const timer = setInterval(() => (clock = app.live.now()), 250);
    return () => clearInterval(timer);
  });
  const since = (at: number): string => {
    const s = Math.max(0, Math.floor((clock - at) / 1000));
    return `${Math.floor(s / 60)}:${String(s % 60).padStart(2, '0')}`;
  };
</script>

<ul>
  {#each plays as play (play.id)}
    {@const name = playName(app.live.document, play)}
    {@const scene = getRecord(app.live.document, 'scene', recordIdOf(play.target) ?? '')}
    <li style:--tint={app.rig.playable(play.target)?.colour ?? 'var(--line-strong)'}>
      <div class="head">
        <span class="name">{name}</span>
        <span class="num quiet">{play.releasedAt === null ? since(play.startedAt) : 'fading out'}</span>
        <span class="acts">
          <Button
            kind="bare"
            pressed={play.solo}
            disabled={play.releasedAt !== null}
            title="Nothing else that plays is seen"
            onclick={() => app.live.command({ do: 'soloPlay', playId: play.id, on: !play.solo })}>Solo</Button
          >
          <Button
            kind="bare"
            disabled={play.releasedAt !== null}
            onclick={() => app.live.command({ do: 'releasePlay', playId: play.id })}>Let go</Button
          >
        </span>
      </div>
      {#if play.areaId || play.on || play.flash}
        <p class="quiet">
          {play.flash ? 'Flash. ' : ''}{play.areaId
            ? `Only in ${getRecord(app.live.document, 'area', play.areaId)?.name ?? 'an area'}. `
            : ''}{play.on ? `Only on ${plural(play.on.length, 'unit')}.` : ''}
        </p>
      {/if}
      {#if failed[play.id]}
        <p class="fault" role="alert">
          <Mark kind="wrong" /> It failed and was taken out; the rest goes on: {failed[play.id]!.split('\n')[0]}
        </p>
      {/if}
      {#if scene && play.releasedAt === null}<NoLight {scene} brief />{/if}
      {#if play.releasedAt === null}<PlayControls {play} />{/if}
    </li>
  {:else}
    <li class="quiet none">
      {app.live.real?.auto?.on && !app.live.blind ? 'Nothing by hand. Auto plays.' : 'Nothing. The rig rests.'}
    </li>
  {/each}
</ul>

<style>
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
    display: grid;
    gap: 10px;
  }
  li {
    border-left: 4px solid var(--tint);
    padding-left: 10px;
    min-width: 0;
  }
  li.none {
    border-color: transparent;
    padding: 0;
  }
  .acts {
    display: flex;
    flex: 0 0 auto;
    margin-left: auto;
  }
  .head {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0 4px;
  }
  .name {
    flex: 1 1 110px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  p {
    margin: 0;
    font-size: 12.5px;
  }
  .fault {
    color: var(--wrong);
    display: flex;
    gap: 6px;
  }
</style>
