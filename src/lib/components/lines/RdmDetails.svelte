<script lang="ts">
  import { compareRdm } from '$core/lines/index.ts';
  import type { UnitId } from '$core/ids.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LinesDesk } from '$lib/state/lines/lines-desk.svelte.ts';
  import { agoWords } from '$lib/state/words.ts';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import { whole } from '$lib/state/entry.ts';

  /** Everything one RDM device says of itself, and what can be set on it. */
  let { desk }: { desk: LinesDesk } = $props();
  const app = getApp();
  const device = $derived(desk.chosenRdm);
  const gateway = $derived(
    app.live.network.nodes.find((n) => n.ip === device?.gatewayIp)?.name ?? device?.gatewayIp ?? '',
  );
  const row = $derived(compareRdm(app.live.document, app.live.network.rdm).find((r) => r.device?.uid === device?.uid));
  function saveAddress(text: string): string | null {
    const value = whole(text, 1, 512);
    if (value === null || !device) return 'Give 1 to 512.';
    void app.live.ask({ ask: 'rdmSet', uid: device.uid, startAddress: value });
    return null;
  }
  function saveLabel(text: string): string | null {
    if (!/^[\x20-\x7e]{0,32}$/.test(text)) return 'At most 32 plain characters (no accents).';
    if (device) void app.live.ask({ ask: 'rdmSet', uid: device.uid, label: text });
    return null;
  }
  const units = $derived([
    { value: '', text: 'no unit' },
    ...app.rig.units.map((u) => ({ value: u.id as string, text: `${u.number} ${u.name}` })),
  ]);
  function associate(id: string): void {
    if (!device) return;
    const put = app.rig.units
      .filter((u) => u.rdmUid === device.uid || u.id === id)
      .map((u) => ({ ...u, rdmUid: u.id === (id as UnitId) ? device.uid : null }));
    app.live.edit('Say which unit a device is', { put, remove: [] });
  }
</script>

{#if device}
  <h3>{device.label || device.model || device.uid}</h3>
  <dl>
    <dt>UID</dt>
    <dd class="num">{device.uid}</dd>
    <dt>Maker</dt>
    <dd>{device.maker || 'not said'}</dd>
    <dt>Model</dt>
    <dd>{device.model || 'not said'}</dd>
    <dt>Software</dt>
    <dd>{device.software || 'not said'}</dd>
    <dt>Behind</dt>
    <dd>{gateway}, port-address <span class="num">{device.portAddress}</span></dd>
    <dt>Heard</dt>
    <dd>{device.state === 'lost' ? agoWords(app.live.network.now, device.lastSeenMs) : 'now'}</dd>
    {#each device.sensors as sensor (sensor.number)}
      <dt>{sensor.name}</dt>
      <dd class="num">{sensor.value} {sensor.unit}</dd>
    {/each}
  </dl>
  {#if device.fault}<p>It cannot be read: {device.fault}. The other devices are not held up by it.</p>{/if}
  <Choice label="Which unit it is" value={row?.unit?.id ?? ''} options={units} choose={associate} />
  {#if device.info}
    <Field label="Start address" numeric value={device.info.startAddress} save={saveAddress} />
    {#if device.personalities.length > 0}
      <Choice
        label="Mode"
        value={String(device.info.personality)}
        options={device.personalities.map((p) => ({
          value: String(p.number),
          text: `${p.name} (${p.footprint} slots)`,
        }))}
        choose={(v) => void app.live.ask({ ask: 'rdmSet', uid: device.uid, personality: Number(v) })}
      />
    {/if}
    <Field label="Label on the device" value={device.label} save={saveLabel} />
  {/if}
  <Button onclick={() => void app.live.ask({ ask: 'rdmRead', uid: device.uid })}>Read it again</Button>
{:else}
  <p class="quiet">
    Click a device for what it says of itself. To tell which is which: let it identify, look which lamp answers, select
    that unit on the plot or in a sheet, and say “It is …”.
  </p>
{/if}

<style>
  dl {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 3px 12px;
    margin: 0;
  }
  dt {
    color: var(--quiet);
  }
  dd {
    margin: 0;
  }
</style>
