<script lang="ts">
  import type { PathLink } from '$core/lines/index.ts';
  import { openIn } from '$lib/state/opened.svelte.ts';
  import type { LinesDesk } from '$lib/state/lines/lines-desk.svelte.ts';
  import Button from '../Button.svelte';
  import { sentence } from '$lib/state/words.ts';
  import { STATE_WORDS } from './link-states.ts';

  /** What is known of one link of the path, and what usually helps. */
  let { desk }: { desk: LinesDesk } = $props();
  const found = $derived.by(() => {
    const { path } = desk;
    const is = (link: PathLink): boolean => link.key === desk.link;
    for (const link of [path.playing, path.engine]) if (is(link)) return { link, outputId: null, lineId: null };
    for (const universe of path.universes) {
      if (is(universe.link)) return { link: universe.link, outputId: null, lineId: null, universe: universe.universe };
      for (const leg of universe.legs) {
        const { outputId } = leg;
        for (const link of [leg.output, leg.network, ...leg.devices.flatMap((d) => [d.device, d.port])])
          if (is(link)) return { link, outputId, lineId: null, universe: universe.universe };
        for (const line of leg.lines)
          if (is(line.link)) return { link: line.link, outputId, lineId: line.lineId, universe: universe.universe };
      }
    }
    return null;
  });
</script>

{#if found}
  {@const { link } = found}
  <h3>{link.title}</h3>
  <p>
    <b>{sentence(STATE_WORDS[link.state])}</b>{#if link.detail}. {sentence(link.detail)}.{/if}
  </p>
  {#each link.advice as advice, i (i)}
    <div class="advice">
      <b>{sentence(advice.title)}</b>
      <p>{advice.words}</p>
    </div>
  {:else}
    <p class="quiet">Nothing is known to be wrong here.</p>
  {/each}
  <div class="go">
    {#if found.outputId}
      <Button
        onclick={() => {
          openIn('/lines', found.outputId, 'output');
          desk.open('outputs');
        }}>Settings of the output</Button
      >
    {/if}
    {#if found.lineId}
      <Button
        onclick={() => {
          desk.line.open(found.lineId);
          desk.open('cables');
        }}>The line</Button
      >
    {/if}
    {#if found.universe}
      <Button
        onclick={() => {
          desk.universe = found.universe ?? null;
          desk.open('monitor');
        }}>Monitor of universe {found.universe}</Button
      >
    {/if}
    <Button onclick={() => desk.open('test')}>Test signal</Button>
  </div>
{:else}
  <p class="quiet">Click a link: its state in words, and what usually helps.</p>
{/if}

<style>
  .advice {
    border-left: 3px solid var(--look);
    padding: 2px 0 2px 10px;
  }
  .advice p {
    color: var(--quiet);
  }
  .go {
    display: grid;
    gap: 6px;
  }
</style>
