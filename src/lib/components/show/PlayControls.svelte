<script lang="ts">
  import { FASTEST_SPEED, playName, type Play } from '$core/show/index.ts';
  import { specOf, type EffectSpec } from '$core/records/effect.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Pause from '@lucide/svelte/icons/pause';
  import PlayIcon from '@lucide/svelte/icons/play';
  import SkipBack from '@lucide/svelte/icons/skip-back';
  import SkipForward from '@lucide/svelte/icons/skip-forward';
  import Button from '../Button.svelte';
  import QuickTweak from '../effects/QuickTweak.svelte';

  /** What can be done with something while it plays: pace, hold, steps, and of an effect its parameters. */
  let { play }: { play: Play } = $props();
  const app = getApp();
  const record = $derived(app.rig.playable(play.target));
  const moves = $derived(record?.kind === 'chase' || record?.kind === 'effect');
  const send = (speed: number): void =>
    void app.live.command({ do: 'speed', playId: play.id, speed: Math.min(FASTEST_SPEED, speed) });
  const spec = $derived<EffectSpec | null>(play.spec ?? (record?.kind === 'effect' ? specOf(record) : null));
  function keep(): void {
    if (!play.spec || record?.kind !== 'effect') return;
    app.live.edit(`Keep parameters of ${record.name}`, { put: [{ ...record, ...play.spec }], remove: [] });
  }
  const name = $derived(playName(app.live.document, play));
</script>

{#if moves}
  <div class="controls" role="group" aria-label="{name} while it plays">
    {#if record?.kind === 'chase'}
      <Button
        kind="bare"
        aria-label="One step back"
        title="One step back"
        onclick={() => app.live.command({ do: 'step', playId: play.id, by: -1 })}><SkipBack size={16} /></Button
      >
    {/if}
    <Button
      kind="bare"
      aria-label={play.speed === 0 ? 'Go on' : 'Hold'}
      title={play.speed === 0 ? 'Go on' : 'Hold'}
      pressed={play.speed === 0}
      onclick={() => send(play.speed === 0 ? 1 : 0)}
    >
      {#if play.speed === 0}<PlayIcon size={16} />{:else}<Pause size={16} />{/if}
    </Button>
    {#if record?.kind === 'chase'}
      <Button
        kind="bare"
        aria-label="One step on"
        title="One step on"
        onclick={() => app.live.command({ do: 'step', playId: play.id, by: 1 })}><SkipForward size={16} /></Button
      >
    {/if}
    <Button kind="bare" title="Half as fast" disabled={play.speed === 0} onclick={() => send(play.speed / 2)}>÷2</Button
    >
    <span class="num speed" aria-label="Speed"
      >{play.speed === 0 ? 'held' : `×${Math.round(play.speed * 100) / 100}`}</span
    >
    <Button
      kind="bare"
      title="Twice as fast"
      disabled={play.speed === 0 || play.speed * 2 > FASTEST_SPEED}
      onclick={() => send(play.speed * 2)}>×2</Button
    >
    <Button
      kind="bare"
      title="It begins at this moment"
      onclick={() => app.live.command({ do: 'now', playId: play.id })}>Now</Button
    >
  </div>
  {#if spec}
    <QuickTweak {spec} change={(next) => app.tweak(play.id, next)} />
    {#if play.spec}
      <div class="kept">
        <Button onclick={keep}>Keep the change</Button>
        <Button onclick={() => app.live.command({ do: 'tweak', playId: play.id, spec: null })}>Drop the change</Button>
      </div>
    {/if}
  {/if}
{/if}

<style>
  .controls,
  .kept {
    display: flex;
    flex-wrap: wrap;
    gap: 2px;
    align-items: center;
  }
  .kept {
    gap: 6px;
    padding-top: 4px;
  }
  .speed {
    min-width: 44px;
    text-align: center;
  }
</style>
