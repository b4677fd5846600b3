<script lang="ts">
  import { getRecord } from '$core/document/change.ts';
  import { songAlone } from '$core/timeline/frames.ts';
  import { lanesOf } from '$core/timeline/light.ts';
  import { differences } from '$core/timeline/versions.ts';
  import Button from '$lib/components/Button.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';
  import { plural } from '$lib/state/words.ts';
  import MomentFace from '../../auto/MomentFace.svelte';

  /** Two versions of a song side by side: the rig at the same moment, and what differs. */
  let { light }: { light: LightDesk } = $props();
  const app = getApp();
  const desk = $derived(light.song);
  const other = $derived(light.compared ? getRecord(app.live.document, 'song', light.compared) : undefined);
  const WORDS = { gone: 'only here', new: 'only there', other: 'otherwise' } as const;
  const LISTED = 300;
  const list = $derived(other ? differences(light.lanes, lanesOf(app.live.document, other.id)) : []);
  let width = $state(0);
  let at = $state(0);
  $effect(() => {
    const timer = setInterval(() => (at = Math.round(desk.place * 50) / 50), 66);
    return () => clearInterval(timer);
  });
  const faces = $derived(
    other ? [desk.song, other].map(({ id, name }) => ({ id, name, alone: songAlone(app.live.document, id) })) : [],
  );
</script>

{#if other}
  <section aria-label="Compare versions">
    <div class="faces">
      {#each faces as { id, name, alone }, i (id)}
        <div bind:clientWidth={width}>
          <b>{i === 0 ? 'Here' : 'There'}: {name}</b>
          {#if width > 0}<MomentFace peek={{ live: alone, ms: at * 1000 }} width={width - 8} height={130} />{/if}
        </div>
      {/each}
    </div>
    <div class="head">
      <span role="status">{list.length === 0 ? 'They are the same.' : plural(list.length, 'difference')}</span>
      <Button onclick={() => (light.compared = null)}>Compare no more</Button>
    </div>
    <ol>
      {#each list.slice(0, LISTED) as { on, lost, is, a, b, at: when }, i (i)}
        <li>
          <button type="button" onclick={() => (desk.go(when), desk.reveal(when))}>
            <span class="num">{clockText(when, 2)}</span>
            <span>{light.laneName({ on, lost })}</span>
            <span
              >{[a, b]
                .flatMap((block) => (block ? [`${light.nameOf(block)} ${block.length.toFixed(2)} s`] : []))
                .join(' → ')}</span
            >
            <span class="quiet">{WORDS[is]}</span>
          </button>
        </li>
      {/each}
    </ol>
    {#if list.length > LISTED}<p class="quiet">and {list.length - LISTED} more.</p>{/if}
  </section>
{/if}

<style>
  section {
    flex: 1.6;
    min-height: 160px;
    padding: 8px 12px;
    overflow-y: auto;
    border-top: 1px solid var(--line);
  }
  .faces {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 10px;
  }
  .head {
    display: flex;
    gap: 12px;
    align-items: center;
    justify-content: space-between;
    padding: 6px 0;
  }
  ol {
    margin: 0;
    padding: 0;
    list-style: none;
  }
  button {
    display: grid;
    grid-template-columns: 80px 1fr 2fr auto;
    gap: 10px;
    width: 100%;
    padding: 4px 0;
    text-align: left;
    color: inherit;
    background: none;
    border: 0;
    border-bottom: 1px solid var(--line);
  }
</style>
