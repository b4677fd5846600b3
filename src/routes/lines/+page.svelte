<script lang="ts">
  import { make } from '$core/records/index.ts';
  import Button from '$lib/components/Button.svelte';
  import Mark from '$lib/components/Mark.svelte';
  import Step from '$lib/components/Step.svelte';
  import Gateways from '$lib/components/lines/Gateways.svelte';
  import Monitor from '$lib/components/lines/Monitor.svelte';
  import OutputDetails from '$lib/components/lines/OutputDetails.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Plus from '@lucide/svelte/icons/plus';

  const app = getApp();
  const engine = $derived(app.live.system.engine);
  const chosen = $derived(app.rig.outputs.find((o) => o.id === app.chosen.output) ?? app.rig.outputs[0]);
  const healthOf = (id: string) => engine?.outputs.find((o) => o.id === id);
  function add(): void {
    const output = make('output', {
      id: app.newId('output'),
      name: 'New output',
      protocol: 'sacn',
      multicast: true,
      enabled: false,
    });
    if (app.live.edit('Add an output', { put: [output], remove: [] })) app.chosen.output = output.id;
  }
  const where = (o: (typeof app.rig.outputs)[number]): string =>
    o.multicast ? 'multicast' : o.destinations.join(', ') || 'no address yet';
</script>

<Step title="Lines" detailsTitle="Output">
  {#snippet tools()}
    <Button onclick={add}><Plus size={16} /> Output</Button>
    {#if engine}
      <span class="quiet">
        <span class="num">{engine.frameRateMeasured.toFixed(1)}</span> of
        <span class="num">{engine.frameRateAsked}</span>
        frames a second, late by <span class="num">{engine.latenessP99Ms.toFixed(1)}</span> ms (p99)
      </span>
    {/if}
    {#each app.rig.unrouted as universe (universe)}<Mark
        kind="wrong"
        title="Universe {universe} has units but goes nowhere"
      /><span class="wrong">universe {universe} goes nowhere</span>{/each}
  {/snippet}
  <div class="all">
    <section aria-label="Outputs">
      <table>
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
            <tr class:on={output.id === chosen?.id}>
              <td
                ><button
                  type="button"
                  aria-pressed={output.id === chosen?.id}
                  onclick={() => (app.chosen.output = output.id)}>{output.name}</button
                ></td
              >
              <td>{output.protocol === 'sacn' ? 'sACN' : 'Art-Net'}</td>
              <td class="num">{where(output)}</td>
              <td class="num"
                >{app.rig.routes
                  .filter((r) => r.outputId === output.id)
                  .map((r) => `${r.universe} → ${r.wireUniverse}`)
                  .join(', ')}</td
              >
              <td class="n num">{health?.packetsPerSecond ?? 0}<span class="quiet"> /s</span></td>
              <td>
                {#if !output.enabled}<span class="quiet">off</span>
                {:else if health?.lastError && health.errors > 0 && gateways.every((g) => g.state !== 'found')}<Mark
                    kind="wrong"
                  />
                  {health.lastError}
                {:else if gateways.some((g) => g.state === 'lost')}<Mark kind="wrong" /> gateway lost
                {:else if gateways.some((g) => g.state === 'silent')}<Mark kind="look" /> no answer to the poll
                {:else if gateways.length > 0}answers as {gateways.map((g) => g.name).join(', ')}
                {:else if (health?.packetsPerSecond ?? 0) > 0}sending{:else}<span class="quiet">nothing to send</span
                  >{/if}
              </td>
            </tr>
          {:else}
            <tr
              ><td colspan="6" class="quiet"
                >No outputs yet: nothing leaves this machine. Add one and give it universes.</td
              ></tr
            >
          {/each}
        </tbody>
      </table>
    </section>
    <Gateways />
    <Monitor />
  </div>
  {#snippet details()}
    {#if chosen}
      {#key chosen.id}<OutputDetails output={chosen} />{/key}
    {:else}<p class="quiet">Add an output: sACN or Art-Net, multicast or to the address of a gateway.</p>{/if}
  {/snippet}
</Step>

<style>
  .all {
    flex: 1;
    overflow: auto;
    padding: 4px 16px 24px;
    display: flex;
    flex-direction: column;
    gap: 18px;
  }
  table {
    width: 100%;
    border-collapse: collapse;
  }
  th {
    text-align: left;
    font-weight: 500;
    color: var(--quiet);
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
  .n {
    text-align: right;
  }
  .wrong {
    color: var(--wrong);
  }
</style>
