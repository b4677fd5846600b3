<script lang="ts">
  import { make } from '$core/records/index.ts';
  import type { FoundNode, FoundPort, FoundSource } from '$core/protocol/network.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { openIn } from '$lib/state/opened.svelte.ts';
  import type { LinesDesk } from '$lib/state/lines/lines-desk.svelte.ts';
  import { agoWords, plural } from '$lib/state/words.ts';
  import Search from '@lucide/svelte/icons/search';
  import Button from '../Button.svelte';
  import Mark from '../Mark.svelte';
  import { rangeWords } from '$core/lines/index.ts';
  import { addNode, addPort, addHub, addString } from '$lib/state/found.ts';

  /** Everything that was found: Art-Net devices, other sources, serial ports, hubs and strings. */
  let { desk }: { desk: LinesDesk } = $props();
  const app = getApp();
  const net = $derived(app.live.network);
  const scanning = $derived(net.scanUntil !== null);
  const nodes = $derived.by(() => {
    const byIp = new Map<string, FoundNode[]>();
    for (const node of net.nodes) byIp.set(node.ip, [...(byIp.get(node.ip) ?? []), node]);
    return [...byIp].sort((a, b) => a[0].localeCompare(b[0], 'en', { numeric: true }));
  });
  const isOutput = (ip: string): boolean =>
    app.rig.outputs.some((o) => o.protocol === 'artnet' && o.destinations.includes(ip));
  const isPortUsed = (path: string): boolean => app.rig.outputs.some((o) => o.serialPath === path);
  const goOutput = (id: string | null): void => {
    if (!id) return;
    openIn('/lines', id, 'output');
    desk.open('outputs');
  };
  function addInput(source: FoundSource): void {
    const record = make('input', {
      id: app.newId('input'),
      name: (source.name || source.ip).slice(0, 100),
      protocol: source.protocol,
      from: source.ip,
      universes: source.universes.slice(0, 64).map((wireUniverse) => ({
        wireUniverse,
        universe: source.protocol === 'sacn' ? wireUniverse : wireUniverse + 1,
      })),
    });
    if (!app.live.edit(`Take in ${record.name}`, { put: [record], remove: [] })) return;
    desk.input.open(record.id);
    desk.open('inputs');
  }
  const firmware = (value: number): string => `${value >> 8}.${value & 255}`;
  const portName = (p: FoundPort): string => (p.standin ? 'USB interface (stand-in)' : p.maker || 'serial port');
  let typed = $state('');
  function addTyped(): void {
    const ip = typed.trim();
    if (!/^(\d{1,3}\.){3}\d{1,3}$/.test(ip)) {
      app.live.tell('error', `“${ip.slice(0, 40)}” is no address`, 'Type an IPv4 address such as 192.168.1.20.');
      return;
    }
    goOutput(addNode(app, ip, ip, []));
    typed = '';
  }
</script>

<div class="all">
  <div class="bar">
    <Button kind="main" disabled={scanning} onclick={() => void app.live.ask({ ask: 'scan' })}
      ><Search size={16} /> {scanning ? 'Looking…' : 'Look for devices'}</Button
    >
    <span class="quiet"
      >{plural(nodes.length, 'Art-Net device')}, {plural(net.sources.length, 'other source')}, {plural(
        net.rdm.length,
        'RDM device',
      )}{net.refused > 0 ? `; ${net.refused} packets were not sound` : ''}{net.ignored > 0
        ? `; ${net.ignored} beyond what is kept`
        : ''}</span
    >
    <form
      onsubmit={(e) => {
        e.preventDefault();
        addTyped();
      }}
    >
      <input bind:value={typed} placeholder="192.168.1.20" aria-label="Address of a device that does not answer" />
      <Button type="submit">Add by address</Button>
    </form>
  </div>
  {#each net.troubles as trouble (trouble)}<p class="trouble"><Mark kind="look" /> {trouble}</p>{/each}

  <section aria-label="Art-Net devices">
    <h2>Art-Net devices</h2>
    <table class="plain">
      <thead
        ><tr
          ><th>Device</th><th>Address</th><th>Ports out</th><th>Ports in</th><th>Firmware</th><th>State</th><th
          ></th></tr
        ></thead
      >
      <tbody>
        {#each nodes as [ip, list] (ip)}
          {@const first = list[0]!}
          {@const lost = list.every((n) => n.state === 'lost')}
          {@const out = list.flatMap((n) => n.outputs)}
          <tr>
            <td><b>{first.name}</b><span class="quiet long">{first.longName}</span></td>
            <td class="num">{ip}</td>
            <td class="num">{rangeWords(out.map((o) => o.portAddress)) || 'none'}</td>
            <td class="num">{rangeWords(list.flatMap((n) => n.inputs).map((i) => i.portAddress)) || 'none'}</td>
            <td class="num">{firmware(first.firmware)}</td>
            <td>
              {#if lost}<Mark kind="wrong" /> lost, last seen {agoWords(net.now, first.lastSeenMs)}
              {:else if out.some((o) => o.merging)}<Mark kind="look" /> merges two sources
              {:else}answers{first.rdm ? ', RDM' : ''}{/if}
            </td>
            <td>
              {#if isOutput(ip)}<span class="quiet">in use</span>
              {:else}<Button
                  onclick={() =>
                    goOutput(
                      addNode(
                        app,
                        first.name || ip,
                        ip,
                        out.map((o) => o.portAddress),
                      ),
                    )}>Add</Button
                >{/if}
            </td>
          </tr>
        {:else}<tr><td colspan="7" class="quiet">None yet. Look for devices, or type an address.</td></tr>{/each}
      </tbody>
    </table>
  </section>

  <section aria-label="Other sources">
    <h2>Other sources on the network</h2>
    <table class="plain">
      <thead
        ><tr
          ><th>Source</th><th>Address</th><th>Universes</th><th class="n">Priority</th><th class="n">Packets</th><th
            class="n">Lost</th
          ><th>State</th><th></th></tr
        ></thead
      >
      <tbody>
        {#each net.sources as source (source.id)}
          <tr>
            <td
              ><b>{source.name || source.ip}</b>
              <span class="quiet">{source.protocol === 'sacn' ? 'sACN' : 'Art-Net'}</span></td
            >
            <td class="num">{source.ip}</td>
            <td class="num">{rangeWords(source.universes)}</td>
            <td class="n num">{source.priority ?? ''}</td>
            <td class="n num">{source.packetsPerSecond} /s</td>
            <td class="n num">{source.lost}</td>
            <td
              >{#if source.state === 'lost'}<Mark kind="look" /> lost, last heard {agoWords(
                  net.now,
                  source.lastSeenMs,
                )}{:else}heard{/if}</td
            >
            <td><Button onclick={() => addInput(source)}>Take in</Button></td>
          </tr>
        {:else}<tr><td colspan="8" class="quiet">Nobody else sends here.</td></tr>{/each}
      </tbody>
    </table>
  </section>

  <section aria-label="Ports and hubs">
    <h2>Serial ports, hubs and strings</h2>
    <table class="plain">
      <thead><tr><th>What</th><th>Where</th><th>About</th><th>State</th><th></th></tr></thead>
      <tbody>
        {#each net.ports as port (port.path)}
          <tr>
            <td><b>{portName(port)}</b></td>
            <td class="num path">{port.path}</td>
            <td class="quiet">{port.serialNumber ? `serial number ${port.serialNumber}` : ''}</td>
            <td>plugged in</td>
            <td
              >{#if isPortUsed(port.path)}<span class="quiet">in use</span>{:else}<Button
                  onclick={() => goOutput(addPort(app, port))}>Add</Button
                >{/if}</td
            >
          </tr>
        {/each}
        {#each net.devices as device (device.address)}
          <tr>
            <td><b>{device.name}</b></td>
            <td class="num">{device.address}</td>
            <td class="quiet"
              >{device.kind === 'lamp-hub'
                ? `${plural(device.count, 'lamp')}, ${device.paired ? 'paired' : 'not paired'}`
                : `${plural(device.count, 'cell')} with places of their own`}</td
            >
            <td
              >{#if device.state === 'lost'}<Mark kind="wrong" /> lost, last seen {agoWords(
                  net.now,
                  device.lastSeenMs,
                )}{:else}answers{/if}</td
            >
            <td>
              {#if device.kind === 'mapped-string'}
                <Button onclick={() => void addString(app, device.address)}>Onto the plot</Button>
              {:else if app.rig.outputs.some((o) => o.hubAddress === device.address)}<span class="quiet">in use</span>
              {:else}<Button onclick={() => goOutput(addHub(app, device))}>Add</Button>{/if}
            </td>
          </tr>
        {/each}
        {#if net.ports.length + net.devices.length === 0}<tr><td colspan="5" class="quiet">None yet.</td></tr>{/if}
      </tbody>
    </table>
  </section>
</div>

<style>
  .all {
    overflow: auto;
    padding: 4px 16px 24px;
    display: grid;
    gap: 16px;
    align-content: start;
  }
  .bar {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 12px;
  }
  form {
    display: flex;
    gap: 6px;
    margin-left: auto;
  }
  input {
    width: 150px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 5px 8px;
  }
  section {
    overflow-x: auto;
  }
  table {
    margin-top: 4px;
  }
  th {
    font-size: 12.5px;
    padding: 3px 8px;
    border-bottom: 1px solid var(--line-strong);
  }
  td {
    padding: 3px 8px;
    height: 38px;
    border-bottom: 1px solid var(--line);
  }
  td:last-child:not([colspan]) {
    text-align: right;
  }
  .long {
    display: block;
    font-size: 12px;
  }
  .path {
    overflow-wrap: anywhere;
  }
  .n {
    text-align: right;
  }
</style>
