<script lang="ts">
  import { removalOf } from '$core/rules/removal.ts';
  import type { OutputRecord } from '$core/records/index.ts';
  import { PROTOCOLS } from '$core/records/output.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import Button from '../Button.svelte';
  import CommentField from '../CommentField.svelte';
  import Check from '../Check.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import NameField from '../NameField.svelte';
  import LampList from './LampList.svelte';
  import OutputRoutes from './OutputRoutes.svelte';
  import { whole } from '$lib/state/entry.ts';
  import { PROTOCOL_WORDS } from './output-words.ts';

  let { output }: { output: OutputRecord } = $props();
  const app = getApp();
  const put = (label: string, fields: Partial<OutputRecord>): boolean =>
    app.live.edit(`${label} of ${output.name}`, { put: [{ ...output, ...fields }], remove: [] });
  const IPV4 = /^(25[0-5]|2[0-4]\d|1?\d?\d)(\.(25[0-5]|2[0-4]\d|1?\d?\d)){3}$/;
  /** Mostly it is another: its manual says. */
  const SECOND_LABEL = 7;
  const packets = $derived(output.protocol === 'sacn' || output.protocol === 'artnet');

  function saveDestinations(text: string): string | null {
    const list = text.split(/[\s,;]+/).filter(Boolean);
    const bad = list.find((ip) => !IPV4.test(ip));
    if (bad) return `“${bad.slice(0, 40)}” is not an IPv4 address such as 192.168.1.20.`;
    if (list.length > 64) return 'At most 64 addresses: use multicast, or a second output.';
    put('Destinations', { destinations: list });
    return null;
  }
  /** Own addresses as they are now, and the one that is set although it is gone. */
  const interfaces = $derived.by(() => {
    const own = app.live.network.interfaces.map((i) => ({ value: i.address, text: `${i.address} (${i.name})` }));
    const set = output.interfaceAddress;
    const gone = set && !own.some((o) => o.value === set) ? [{ value: set, text: `${set} (not there now)` }] : [];
    return [{ value: '', text: 'the system chooses' }, ...own, ...gone];
  });
  const ports = $derived.by(() => {
    const found = app.live.network.ports.map((p) => ({
      value: p.path,
      text: p.standin ? `${p.path.split('/').at(-1)} (stand-in)` : `${p.path}${p.maker ? ` (${p.maker})` : ''}`,
    }));
    const gone = output.serialPath && !found.some((p) => p.value === output.serialPath);
    return gone ? [...found, { value: output.serialPath, text: `${output.serialPath} (not there now)` }] : found;
  });
  function saveNumber(
    label: string,
    key: 'priority' | 'syncUniverse' | 'frameRateCap' | 'serialLabel2',
    [low, high]: readonly [number, number],
    empty: boolean,
  ) {
    return (text: string): string | null => {
      if (empty && text.trim() === '') {
        put(label, { [key]: null });
        return null;
      }
      const value = whole(text, low, high);
      if (value === null) return `Give ${low} to ${high}${empty ? ', or nothing' : ''}.`;
      put(label, { [key]: value });
      return null;
    };
  }
</script>

<Check label="Sends" checked={output.enabled} change={(on) => put(on ? 'Switch on' : 'Switch off', { enabled: on })} />
<NameField value={output.name} save={(name) => put('Name', { name })} />
<Choice
  label="Protocol"
  value={output.protocol}
  options={PROTOCOLS.map((value) => ({ value, text: PROTOCOL_WORDS[value] }))}
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
{:else if output.protocol === 'artnet'}
  <Choice
    label="Sent to"
    value={output.delivery}
    options={[
      { value: 'listed', text: 'single addresses' },
      { value: 'found', text: 'devices that are found' },
      { value: 'broadcast', text: 'broadcast: everybody' },
    ]}
    choose={(delivery) => put('Way', { delivery })}
  />
{:else if output.protocol === 'serial'}
  <Choice
    label="Serial port"
    value={output.serialPath || null}
    options={ports}
    choose={(serialPath) => put('Port', { serialPath })}
  />
  <Field
    label="Or its path"
    value={output.serialPath}
    placeholder="/dev/ttyUSB0"
    save={(t) => {
      if (t.length > 200) return 'At most 200 characters.';
      put('Port', { serialPath: t.trim() });
      return null;
    }}
  />
  <Choice
    label="Kind of interface"
    value={output.serialKind}
    options={[
      { value: 'framed', text: 'framed: it keeps the timing' },
      { value: 'raw', text: 'raw: this machine makes the break' },
    ]}
    choose={(serialKind) => put('Kind', { serialKind })}
  />
  {#if output.serialKind === 'framed'}
    <Check
      label="It has a second port"
      checked={output.serialLabel2 !== null}
      change={(two) => put('Second port', { serialLabel2: two ? SECOND_LABEL : null })}
    />
    {#if output.serialLabel2 !== null}
      <Field
        label="Label of frames for the second port, as its manual says"
        numeric
        value={output.serialLabel2}
        save={saveNumber('Second port', 'serialLabel2', [1, 255], false)}
      />
    {/if}
  {/if}
{/if}
{#if packets && !output.multicast && (output.protocol === 'sacn' || output.delivery === 'listed')}
  <Field
    label="Addresses of the gateways"
    value={output.destinations.join(', ')}
    placeholder="192.168.1.20"
    save={saveDestinations}
  />
{/if}
{#if packets}
  <Choice
    label="Own network interface"
    value={output.interfaceAddress ?? ''}
    options={interfaces}
    choose={(address) => put('Interface', { interfaceAddress: address === '' ? null : address })}
  />
{/if}
{#if output.protocol === 'hub'}
  <LampList {output} {put} />
{:else}
  <OutputRoutes {output} />
  <details>
    <summary>More settings</summary>
    {#if output.protocol === 'sacn'}
      <Field
        label="Priority (0-200)"
        numeric
        value={output.priority}
        save={saveNumber('Priority', 'priority', [0, 200], false)}
      />
      <Field
        label="Sync universe"
        numeric
        value={output.syncUniverse ?? ''}
        placeholder="no sync"
        save={saveNumber('Sync universe', 'syncUniverse', [1, 63_999], true)}
      />
      <Check
        label="Preview: for pictures, not for the stage"
        checked={output.preview}
        change={(on) => put('Preview', { preview: on })}
      />
    {:else if output.protocol === 'artnet'}
      <Check
        label="ArtSync after each frame"
        checked={output.artSync}
        change={(on) => put('ArtSync', { artSync: on })}
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
    {#if packets}
      <Choice
        label="Packets"
        value={output.refresh}
        options={[
          { value: 'frames', text: 'for every frame' },
          { value: 'changes', text: 'on changes, and every 0.9 s' },
        ]}
        choose={(refresh) => put('Packets', { refresh })}
      />
    {/if}
    <Field
      label="Most frames a second"
      numeric
      value={output.frameRateCap ?? ''}
      placeholder="as the show"
      save={saveNumber('Cap', 'frameRateCap', [1, 44], true)}
    />
  </details>
{/if}
<CommentField value={output.notes} save={(notes) => put('Comments', { notes })} />
<Button
  kind="wrong"
  onclick={() => app.live.edit(`Remove output ${output.name}`, removalOf(app.live.document, [output.id]))}
  ><Trash2 size={16} /> Remove output</Button
>

<style>
  details {
    display: grid;
    gap: 10px;
  }
  details > :global(*) {
    margin-top: 10px;
  }
  summary {
    cursor: pointer;
    color: var(--quiet);
  }
</style>
