<script lang="ts">
  import type { OutputRecord, RouteRecord } from '$core/records/index.ts';
  import { splitPortAddress } from '$core/protocol/artnet.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';
  import Field from '../Field.svelte';
  import { whole } from '$lib/state/entry.ts';

  /** The universes an output carries, and their numbers on the wire. */
  let { output }: { output: OutputRecord } = $props();
  const app = getApp();
  const routes = $derived(app.rig.routes.filter((r) => r.outputId === output.id));
  /** A USB interface has one port or two. */
  const ports = $derived(output.serialKind === 'framed' && output.serialLabel2 !== null ? 2 : 1);
  const wireLimits = $derived<[number, number]>(
    output.protocol === 'artnet' ? [0, 32_767] : output.protocol === 'serial' ? [1, ports] : [1, 63_999],
  );
  const WIRE = { sacn: 'sACN universe', artnet: 'Art-Net port-address', serial: 'port', hub: '' };
  function saveRoute(route: RouteRecord, key: 'universe' | 'wireUniverse', text: string): string | null {
    const [low, high] = key === 'universe' ? [1, 63_999] : wireLimits;
    const value = whole(text, low, high);
    if (value === null) return `Give ${low} to ${high}.`;
    app.live.edit(`Route of ${output.name}`, { put: [{ ...route, [key]: value }], remove: [] });
    return null;
  }
  function saveSource(route: RouteRecord, text: string): string | null {
    if (new TextEncoder().encode(text).length > 63) return 'At most 63 bytes of text.';
    app.live.edit(`Source name of universe ${route.universe}`, {
      put: [{ ...route, sourceName: text.trim() }],
      remove: [],
    });
    return null;
  }
  /** The next universe that this output does not carry yet, counted on from the last route. */
  function addRoute(): void {
    const last = routes.at(-1);
    const universe = last ? Math.min(63_999, last.universe + 1) : (app.rig.unrouted[0] ?? app.rig.universes[0] ?? 1);
    const wireUniverse = last
      ? Math.min(wireLimits[1], last.wireUniverse + 1)
      : output.protocol === 'sacn'
        ? universe
        : wireLimits[0];
    app.live.edit(`Route universe ${universe}`, {
      put: [
        {
          kind: 'route',
          id: app.newId('route'),
          universe,
          outputId: output.id,
          wireUniverse,
          enabled: true,
          sourceName: '',
        },
      ],
      remove: [],
    });
  }
  const portWords = (value: number): string => {
    const { net, subNet, universe } = splitPortAddress(value);
    return `device shows net ${net}, sub-net ${subNet}, universe ${universe}`;
  };
</script>

<h3>Universes</h3>
<div class="routes">
  <span class="quiet">ours</span><span class="quiet">{WIRE[output.protocol]}</span><span></span>
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
    {#if output.protocol === 'artnet'}<span class="quiet wide">{portWords(route.wireUniverse)}</span>
    {:else if output.protocol === 'sacn'}
      <span class="name"
        ><Field
          hideLabel
          label="Source name of universe {route.universe}"
          value={route.sourceName}
          placeholder="source name: Amber Kite"
          save={(t) => saveSource(route, t)}
        /></span
      >{/if}
  {/each}
</div>
{#if output.protocol !== 'serial' || routes.length < ports}<Button onclick={addRoute}
    ><Plus size={16} /> Universe</Button
  >{/if}

<style>
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
  .name {
    grid-column: 1 / 3;
    margin-top: -2px;
  }
</style>
