<script lang="ts">
  import type { HubLamp } from '$core/protocol/network.ts';
  import type { OutputRecord } from '$core/records/index.ts';
  import type { UnitId } from '$core/ids.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import Mark from '../Mark.svelte';

  /** A hub of smart lamps: pairing, its lamps, and which unit each one is. */
  let { output, put }: { output: OutputRecord; put: (label: string, fields: Partial<OutputRecord>) => boolean } =
    $props();
  const app = getApp();
  const hub = $derived(app.live.network.devices.find((d) => d.address === output.hubAddress));
  const hubs = $derived(app.live.network.devices.filter((d) => d.kind === 'lamp-hub'));
  let busy = $state(false);
  /** What is typed here is the operator's own; what came with a show from a file is asked about. */
  const foreign = $derived(
    output.hubAddress !== null && !app.live.network.trusted.includes(output.hubAddress) ? output.hubAddress : null,
  );
  async function use(address: string | null): Promise<void> {
    if (address !== null && !(await app.live.ask({ ask: 'trustHost', address }))) return;
    if (address !== output.hubAddress) put('Hub', { hubAddress: address });
  }
  async function pair(): Promise<void> {
    if (!output.hubAddress) return;
    busy = true;
    const done = await app.live.ask({ ask: 'hubPair', address: output.hubAddress });
    if (done) {
      app.live.tell('note', 'Paired', `${hub?.name ?? output.hubAddress} takes colours from now on.`);
      await list();
    }
    busy = false;
  }
  async function list(): Promise<void> {
    if (!output.hubAddress) return;
    const answer = await app.live.ask({ ask: 'hubLamps', address: output.hubAddress });
    if (answer?.kind === 'lamps') put('Lamps', { lamps: merged(answer.lamps) });
  }
  /** Lamps as the hub lists them; what was mapped stays mapped. */
  const merged = (lamps: readonly HubLamp[]): OutputRecord['lamps'] =>
    lamps.map(({ id, name }) => ({
      lampId: id,
      name,
      unitId: output.lamps.find((l) => l.lampId === id)?.unitId ?? null,
    }));
  const map = (lampId: string, unitId: string): void =>
    void put('Lamp', {
      lamps: output.lamps.map((l) =>
        l.lampId === lampId ? { ...l, unitId: unitId === '' ? null : (unitId as UnitId) } : l,
      ),
    });
  const units = $derived([
    { value: '', text: 'no unit' },
    ...app.rig.units.map((u) => ({ value: u.id as string, text: `${u.number} ${u.name}` })),
  ]);
</script>

<Field
  label="Address of the hub"
  value={output.hubAddress ?? ''}
  placeholder="192.168.1.30:80"
  save={(t) => {
    const text = t.trim();
    if (text !== '' && !/^[A-Za-z0-9.-]{1,100}:\d{1,5}$/.test(text))
      return 'Give an address with its port such as 192.168.1.30:80.';
    void use(text === '' ? null : text);
    return null;
  }}
/>
{#each hubs.filter((h) => h.address !== output.hubAddress) as found (found.address)}
  <Button onclick={() => put('Hub', { hubAddress: found.address })}>Take {found.name} ({found.address})</Button>
{/each}
{#if foreign}
  <p class="look">
    <Mark kind="look" />
    {foreign} came with the show. Nothing is sent to it until you say it is yours.
  </p>
  <Button onclick={() => void use(foreign)}>It is mine</Button>
{/if}
<p class="quiet">
  {#if foreign}{:else if !hub}Nothing has answered there yet.
  {:else if hub.state === 'lost'}The hub does not answer any more.
  {:else if hub.paired}Paired with {hub.name}; {hub.count} lamps.
  {:else}{hub.name} answers. Press its button, then pair within 30 seconds.{/if}
</p>
<Button kind="main" disabled={busy || !output.hubAddress || foreign !== null} onclick={() => void pair()}>Pair</Button>
{#if hub?.paired}<Button disabled={busy} onclick={() => void list()}>List its lamps again</Button>{/if}
{#if output.lamps.length > 0}
  <h3>Lamps and units</h3>
  {#each output.lamps as lamp (lamp.lampId)}
    <Choice
      label={lamp.name || `Lamp ${lamp.lampId}`}
      value={lamp.unitId ?? ''}
      options={units}
      choose={(id) => map(lamp.lampId, id)}
    />
  {/each}
{/if}

<style>
  .look {
    color: var(--look);
  }
</style>
