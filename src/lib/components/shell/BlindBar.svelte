<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import EyeOff from '@lucide/svelte/icons/eye-off';
  import Radio from '@lucide/svelte/icons/radio';
  import Button from '../Button.svelte';

  /** While this page is blind: that nothing is sent, and the way out. While edits made blind wait: that they do. */
  const app = getApp();
  const blind = $derived(app.live.blind);
  const held = $derived(app.live.real?.held ?? []);
  const FADES = [0, 1, 2, 3, 5, 10] as const;
  let fadeS = $state(2);
  const takeEdits = (): void => {
    const real = app.live.real;
    if (!real) return;
    const { playing, hand, handEffects } = real;
    void app.live.command({ do: 'goLive', playing, hand, handEffects, fadeMs: fadeS * 1000 });
  };
</script>

{#snippet fades()}
  <label
    >in <select bind:value={fadeS} aria-label="Fade">
      {#each FADES as s (s)}<option value={s}>{s} s</option>{/each}
    </select></label
  >
{/snippet}

{#if blind}
  <div class="bar blind" role="status">
    <EyeOff size={18} />
    <strong>Blind</strong>
    <span class="what">The plot shows what you try. Nothing of it is sent; the show goes on as it was.</span>
    <Button kind="main" onclick={() => app.live.endBlind('live', fadeS * 1000)}><Radio size={16} /> Go live</Button>
    {@render fades()}
    <Button onclick={() => app.live.endBlind('forget')}>Leave without sending</Button>
  </div>
{:else if held.length > 0}
  <div class="bar" role="status">
    <EyeOff size={18} />
    <span class="what"
      >{plural(held.length, 'item')} edited blind ({held
        .map((r) => ('name' in r ? r.name : r.id))
        .slice(0, 3)
        .join(', ')}): what plays goes on as it was before.</span
    >
    <Button onclick={takeEdits}>Take live</Button>
    {@render fades()}
  </div>
{/if}

<style>
  .bar {
    display: flex;
    align-items: center;
    gap: 10px;
    min-height: 40px;
    padding: 3px 16px;
    background: var(--panel);
    border-bottom: 1px solid var(--line);
    font-size: 13px;
  }
  .blind {
    border-block: 2px dashed var(--look);
    background: repeating-linear-gradient(
      -45deg,
      color-mix(in srgb, var(--look) 12%, var(--panel)) 0 14px,
      var(--panel) 14px 28px
    );
  }
  strong {
    color: var(--look);
    font-size: 15px;
    text-transform: uppercase;
    letter-spacing: 0.08em;
  }
  .what {
    flex: 1;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
