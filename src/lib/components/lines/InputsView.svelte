<script lang="ts">
  import { make } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LinesDesk } from '$lib/state/lines/lines-desk.svelte.ts';
  import { agoWords } from '$lib/state/words.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import Button from '../Button.svelte';
  import Mark from '../Mark.svelte';
  import { USE_WORDS } from './input-words.ts';

  /** Desks that come in over the network: what they send, who wins, and what becomes of it. */
  let { desk }: { desk: LinesDesk } = $props();
  const app = getApp();
  const net = $derived(app.live.network);
  const chosen = $derived(desk.input.record);
  function add(): void {
    const input = make('input', {
      id: app.newId('input'),
      name: 'Another desk',
      protocol: 'sacn',
      universes: (app.rig.universes.length > 0 ? app.rig.universes : [1])
        .slice(0, 16)
        .map((universe) => ({ wireUniverse: universe, universe })),
    });
    if (app.live.edit('Add a desk that comes in', { put: [input], remove: [] })) desk.input.open(input.id);
  }
</script>

<div class="all">
  <p><Button onclick={add}><Plus size={16} /> Desk</Button></p>
  {#each app.rig.inputs as input (input.id)}
    {@const rows = net.inputs.filter((i) => i.inputId === input.id)}
    <section class:on={chosen?.id === input.id} aria-label={input.name}>
      <header>
        <button type="button" aria-pressed={chosen?.id === input.id} onclick={() => desk.input.open(input.id)}
          >{input.name}</button
        >
        <span class="quiet"
          >{input.protocol === 'sacn' ? 'sACN' : 'Art-Net'}, {USE_WORDS[input.use]}{input.enabled ? '' : ', off'}</span
        >
      </header>
      {#if input.enabled}
        <table class="plain">
          <thead
            ><tr
              ><th>On the wire</th><th>Ours</th><th>From</th><th class="n">Packets</th><th class="n">Lost</th><th
                >State</th
              ></tr
            ></thead
          >
          <tbody>
            {#each rows as row (row.wireUniverse + ' ' + row.universe)}
              <tr>
                <td class="num">{row.wireUniverse}</td>
                <td class="num">{row.universe || ''}</td>
                <td
                  >{row.sources
                    .map((s) => `${s.name}${input.protocol === 'sacn' ? ` (${s.priority})` : ''}`)
                    .join(', ')}</td
                >
                <td class="n num">{row.packetsPerSecond} /s</td>
                <td class="n num">{row.lost}</td>
                <td>
                  {#if row.sources.length === 0}<span class="quiet"
                      >{row.lastSeenMs === null ? 'silent' : `silent since ${agoWords(net.now, row.lastSeenMs)}`}</span
                    >
                  {:else if row.merged}<Mark kind="hand" />
                    {input.use === 'takeover' ? 'goes out instead of ours' : 'merged into ours'}
                  {:else if input.use === 'takeover'}below priority {input.priority}
                  {:else}heard{/if}
                </td>
              </tr>
            {:else}<tr><td colspan="6" class="quiet">No universe yet.</td></tr>{/each}
          </tbody>
        </table>
      {/if}
    </section>
  {:else}
    <p class="quiet">
      Nothing comes in. Add the desk of a guest: see it on the plot, merge it, let it take over, or map its slots to
      masters, scenes and tempo.
    </p>
  {/each}
</div>

<style>
  .all {
    padding: 4px 16px 24px;
    overflow: auto;
    display: grid;
    gap: 12px;
    align-content: start;
  }
  section {
    border: 1px solid var(--line);
    border-radius: 10px;
    padding: 8px 14px;
    background: var(--panel);
  }
  section.on {
    border-color: var(--amber);
  }
  header {
    display: flex;
    gap: 12px;
    align-items: baseline;
  }
  header button {
    border: 0;
    background: none;
    font-weight: 600;
    padding: 6px 0;
  }
  th {
    font-size: 12.5px;
  }
  td,
  th {
    padding: 3px 12px 3px 0;
  }
  .n {
    text-align: right;
  }
</style>
