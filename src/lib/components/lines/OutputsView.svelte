<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import Mark from '../Mark.svelte';
  import { PROTOCOL_WORDS, whereTo } from './output-words.ts';

  /** Every way out of the machine with its state. */
  let { chosen, open }: { chosen: string | undefined; open: (id: string) => void } = $props();
  const app = getApp();
  const engine = $derived(app.live.system.engine);
  const healthOf = (id: string) => engine?.outputs.find((o) => o.id === id);
  const universes = (id: string): string =>
    app.rig.routes
      .filter((r) => r.outputId === id)
      .map((r) => `${r.universe} → ${r.wireUniverse}`)
      .join(', ');
</script>

<section aria-label="Outputs">
  <table class="plain">
    <thead
      ><tr
        ><th>Output</th><th>Protocol</th><th>To</th><th>Universes (ours → wire)</th><th class="n">Packets</th><th
          >State</th
        ></tr
      ></thead
    >
    <tbody>
      {#each app.rig.outputs as output (output.id)}
        {@const health = healthOf(output.id)}
        {@const gateways = health?.gateways ?? []}
        <tr class:on={output.id === chosen}>
          <td
            ><button type="button" aria-pressed={output.id === chosen} onclick={() => open(output.id)}
              >{output.name}</button
            ></td
          >
          <td>{PROTOCOL_WORDS[output.protocol]}</td>
          <td class="num to">{whereTo(output)}</td>
          <td class="num"
            >{output.protocol === 'hub'
              ? `${output.lamps.filter((l) => l.unitId).length} of ${output.lamps.length} lamps`
              : universes(output.id)}</td
          >
          <td class="n num">{health?.packetsPerSecond ?? 0}<span class="quiet"> /s</span></td>
          <td>
            {#if !output.enabled}<span class="quiet">off</span>
            {:else if health?.lastError && gateways.every((g) => g.state !== 'found')}<Mark kind="wrong" />
              {health.lastError}
            {:else if gateways.some((g) => g.state === 'lost')}<Mark kind="wrong" /> gateway lost
            {:else if gateways.some((g) => g.state === 'silent')}<Mark kind="look" /> no answer to the poll
            {:else if gateways.length > 0}answers as {gateways.map((g) => g.name).join(', ')}
            {:else if (health?.packetsPerSecond ?? 0) > 0}sending{health?.says ? `, ${health.says}` : ''}{:else}<span
                class="quiet">nothing to send</span
              >{/if}
          </td>
        </tr>
      {:else}
        <tr
          ><td colspan="6" class="quiet"
            >No outputs yet: nothing leaves this machine. Add one and give it universes, or take a found device.</td
          ></tr
        >
      {/each}
    </tbody>
  </table>
</section>

<style>
  section {
    overflow: auto;
    padding: 4px 16px 24px;
  }
  th {
    padding: 4px 8px;
    border-bottom: 1px solid var(--line-strong);
  }
  td {
    padding: 2px 8px;
    border-bottom: 1px solid var(--line);
    height: 36px;
  }
  tr.on {
    background: var(--amber-wash);
    box-shadow: inset 3px 0 var(--amber);
  }
  td button {
    border: 0;
    background: none;
    padding: 6px 4px;
    font-weight: 600;
    text-align: left;
  }
  .to {
    overflow-wrap: anywhere;
  }
  .n {
    text-align: right;
    white-space: nowrap;
  }
</style>
