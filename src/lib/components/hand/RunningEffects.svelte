<script lang="ts">
  import { effectWords } from '$core/ready/presets.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';
  import QuickTweak from '../effects/QuickTweak.svelte';

  /** Effects by hand that run now, each with its main parameters. */
  const app = getApp();
</script>

<div class="running">
  {#each app.hand.effects as play (play.id)}
    {#if play.spec}
      <section aria-label={effectWords(play.spec)}>
        <header>
          <strong>{effectWords(play.spec)}</strong>
          <span class="quiet">on {plural(play.on?.length ?? 0, 'unit')}</span>
          <Button
            kind="bare"
            aria-label="Let {effectWords(play.spec)} go"
            title="Let go"
            onclick={() => app.live.command({ do: 'letGoEffect', playId: play.id })}><X size={14} /></Button
          >
        </header>
        <QuickTweak spec={play.spec} change={(spec) => app.tweak(play.id, spec)} />
      </section>
    {/if}
  {:else}
    <p class="quiet">No effect runs by hand. Touch one under <i>Ready</i>.</p>
  {/each}
</div>

<style>
  .running {
    display: flex;
    gap: 20px;
    overflow-x: auto;
    flex: 1;
  }
  section {
    flex: none;
    width: 300px;
  }
  header {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  header .quiet {
    flex: 1;
    font-size: 12.5px;
  }
</style>
