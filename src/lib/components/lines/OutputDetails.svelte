<script lang="ts">
  import { removalOf } from '$core/document/rules.ts';
  import type { OutputRecord, RouteRecord } from '$core/records/index.ts';
  import { splitPortAddress } from '$core/protocol/artnet.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';

  let { output }: { output: OutputRecord } = $props();
  const app = getApp();
  const routes = $derived(app.rig.routes.filter((r) => r.outputId === output.id));
  const put = (label: string, fields: Partial<OutputRecord>): boolean =>
    app.live.edit(`${label} of ${output.name}`, { put: [{ ...output, ...fields }], remove: [] });
  const IPV4 = /^(25[0-5]|2[0-4]\d|1?\d?\d)(\.(25[0-5]|2[0-4]\d|1?\d?\d)){3}$/;

  function saveDestinations(text: string): string | null {
    const list = text.split(/[\s,;]+/).filter(Boolean);
    const bad = list.find((ip) => !IPV4.test(ip));
    if (bad) return `“${bad.slice(0, 40)}” is not an IPv4 address such as 192.168.1.20.`;
    put('Destinations', { destinations: list });
    return null;
  }
  function saveInterface(text: string): string | null {
    const ip = text.trim();
    if (ip !== '' && !IPV4.test(ip)) return 'Give the address of one of this machine’s network interfaces, or nothing.';
    put('Interface', { interfaceAddress: ip === '' ? null : ip });
    return null;
  }
  const whole = (text: string, low: number, high: number): number | null => {
    const value = /^\s*\d+\s*$/.test(text) ? Number(text) : NaN;
    return value >= low && value <= high ? value : null;
  };
  const wireLimits = $derived<[number, number]>(output.protocol === 'sacn' ? [1, 63_999] : [0, 32_767]);
  function saveRoute(route: RouteRecord, key: 'universe' | 'wireUniverse', text: string): string | null {
    const [low, high] = key === 'universe' ? [1, 63_999] : wireLimits;
    const value = whole(text, low, high);
    if (value === null) return `Give ${low} to ${high}.`;
    app.live.edit(`Route of ${output.name}`, { put: [{ ...route, [key]: value }], remove: [] });
    return null;
  }
  /** The next universe that this output does not carry yet, counted on from the last route. */
  function addRoute(): void {
    const last = routes.at(-1);
    const universe = last ? Math.min(63_999, last.universe + 1) : (app.rig.unrouted[0] ?? 1);
    const wireUniverse = last
      ? Math.min(wireLimits[1], last.wireUniverse + 1)
      : output.protocol === 'sacn'
        ? universe
        : 0;
    app.live.edit(`Route universe ${universe}`, {
      put: [{ kind: 'route', id: app.newId('route'), universe, outputId: output.id, wireUniverse, enabled: true }],
      remove: [],
    });
  }
  const portWords = (value: number): string => {
    const { net, subNet, universe } = splitPortAddress(value);
    return `net ${net}, sub-net ${subNet}, universe ${universe}`;
  };
</script>

<label class="check"
  ><input
    type="checkbox"
    checked={output.enabled}
    onchange={(e) => put(e.currentTarget.checked ? 'Switch on' : 'Switch off', { enabled: e.currentTarget.checked })}
  /> Sends</label
>
<Field
  label="Name"
  value={output.name}
  save={(t) => {
    if (t.trim() === '' || t.length > 100) return 'Give a name of 1 to 100 characters.';
    put('Name', { name: t.trim() });
    return null;
  }}
/>
<Choice
  label="Protocol"
  value={output.protocol}
  options={[
    { value: 'sacn', text: 'sACN' },
    { value: 'artnet', text: 'Art-Net' },
  ]}
  choose={(protocol) => put('Protocol', { protocol, multicast: protocol === 'sacn' && output.multicast })}
/>
{#if output.protocol === 'sacn'}
  <Choice
    label="Sent to"
    value={output.multicast ? 'multicast' : 'unicast'}
    options={[
      { value: 'multicast', text: 'multicast: everybody who listens' },
      { value: 'unicast', text: 'single addresses' },
    ]}
    choose={(way) => put('Way', { multicast: way === 'multicast' })}
  />
{/if}
{#if !output.multicast}
  <Field
    label="Addresses of the gateways"
    value={output.destinations.join(', ')}
    placeholder="192.168.1.20"
    save={saveDestinations}
  />
{/if}
<Field
  label="Own network interface"
  value={output.interfaceAddress ?? ''}
  placeholder="the system chooses"
  save={saveInterface}
/>
{#if output.protocol === 'sacn'}
  <Field
    label="Priority (0-200)"
    numeric
    value={output.priority}
    save={(t) => {
      const value = whole(t, 0, 200);
      if (value === null) return 'Give 0 to 200; 100 is usual.';
      put('Priority', { priority: value });
      return null;
    }}
  />
{/if}
<Choice
  label="Slots in a universe"
  value={String(output.slotsPerUniverse) as '510' | '512'}
  options={[
    { value: '512', text: '512' },
    { value: '510', text: '510: whole RGB pixels' },
  ]}
  choose={(v) => put('Slots', { slotsPerUniverse: v === '510' ? 510 : 512 })}
/>
<Choice
  label="Packets"
  value={output.refresh}
  options={[
    { value: 'frames', text: 'for every frame' },
    { value: 'changes', text: 'on changes, and every 0.9 s' },
  ]}
  choose={(refresh) => put('Packets', { refresh })}
/>
<h3>Universes</h3>
<div class="routes">
  <span class="quiet">ours</span><span class="quiet"
    >{output.protocol === 'sacn' ? 'sACN universe' : 'Art-Net port-address'}</span
  ><span></span>
  {#each routes as route (route.id)}
    <Field
      hideLabel
      label="Our universe"
      numeric
      value={route.universe}
      save={(t) => saveRoute(route, 'universe', t)}
    />
    <Field
      hideLabel
      label="Universe on the wire"
      numeric
      value={route.wireUniverse}
      save={(t) => saveRoute(route, 'wireUniverse', t)}
    />
    <Button
      kind="bare"
      aria-label="Remove route of universe {route.universe}"
      onclick={() => app.live.edit(`Remove route of universe ${route.universe}`, { put: [], remove: [route.id] })}
      ><X size={16} /></Button
    >
    {#if output.protocol === 'artnet'}<span class="quiet wide">{portWords(route.wireUniverse)}</span>{/if}
  {/each}
</div>
<Button onclick={addRoute}><Plus size={16} /> Universe</Button>
<Button
  kind="wrong"
  onclick={() => app.live.edit(`Remove output ${output.name}`, removalOf(app.live.document, [output.id]))}
  ><Trash2 size={16} /> Remove output</Button
>

<style>
  .check {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  .check input {
    accent-color: var(--amber);
    width: 18px;
    height: 18px;
  }
  .routes {
    display: grid;
    grid-template-columns: 1fr 1.4fr 36px;
    gap: 6px 8px;
    align-items: center;
    font-size: 12.5px;
  }
  .wide {
    grid-column: 1 / -1;
    text-align: right;
    padding-right: 44px;
    margin-top: -4px;
  }
</style>
