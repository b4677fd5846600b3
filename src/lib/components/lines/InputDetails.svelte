<script lang="ts">
  import type { InputRecord } from '$core/records/index.ts';
  import type { SlotControl } from '$core/records/input.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import X from '@lucide/svelte/icons/x';
  import ActionField from '../ActionField.svelte';
  import Button from '../Button.svelte';
  import CommentField from '../CommentField.svelte';
  import Check from '../Check.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import NameField from '../NameField.svelte';
  import { USE_WORDS } from './input-words.ts';
  import { whole } from '$lib/state/entry.ts';

  /** Settings of a desk that comes in: its universes, what becomes of them, and what its slots work. */
  let { input }: { input: InputRecord } = $props();
  const app = getApp();
  const put = (label: string, fields: Partial<InputRecord>): boolean =>
    app.live.edit(`${label} of ${input.name}`, { put: [{ ...input, ...fields }], remove: [] });
  const IPV4 = /^(25[0-5]|2[0-4]\d|1?\d?\d)(\.(25[0-5]|2[0-4]\d|1?\d?\d)){3}$/;
  const [low, high] = $derived(input.protocol === 'sacn' ? [1, 63_999] : [0, 32_767]);
  function saveUniverse(i: number, key: 'wireUniverse' | 'universe', text: string): string | null {
    const [a, b] = key === 'universe' ? [1, 63_999] : [low, high];
    const value = whole(text, a, b);
    if (value === null) return `Give ${a} to ${b}.`;
    put('Universe', { universes: input.universes.map((u, k) => (k === i ? { ...u, [key]: value } : u)) });
    return null;
  }
  function addUniverse(): void {
    const last = input.universes.at(-1);
    put('Universe', {
      universes: [
        ...input.universes,
        last
          ? { wireUniverse: Math.min(high, last.wireUniverse + 1), universe: Math.min(63_999, last.universe + 1) }
          : { wireUniverse: low, universe: 1 },
      ],
    });
  }
  const setControl = (i: number, fields: Partial<SlotControl>): boolean =>
    put('Control', { controls: input.controls.map((c, k) => (k === i ? { ...c, ...fields } : c)) });
  function saveSlot(i: number, text: string): string | null {
    const found = /^\s*(\d+)\s*[./:]\s*(\d+)\s*$/.exec(text);
    const universe = found ? whole(found[1]!, low, high) : null;
    const address = found ? whole(found[2]!, 1, 512) : null;
    if (universe === null || address === null) return 'Give universe and slot such as 1.25.';
    setControl(i, { wireUniverse: universe, address });
    return null;
  }
  function addControl(): void {
    const last = input.controls.at(-1);
    put('Control', {
      controls: [
        ...input.controls,
        {
          wireUniverse: last?.wireUniverse ?? input.universes[0]?.wireUniverse ?? low,
          address: Math.min(512, (last?.address ?? 0) + 1),
          does: { do: 'level', of: { what: 'grand' } },
        },
      ],
    });
  }
</script>

<Check label="Listens" checked={input.enabled} change={(on) => put(on ? 'Switch on' : 'Switch off', { enabled: on })} />
<NameField value={input.name} save={(name) => put('Name', { name })} />
<Choice
  label="Protocol"
  value={input.protocol}
  options={[
    { value: 'sacn', text: 'sACN' },
    { value: 'artnet', text: 'Art-Net' },
  ]}
  choose={(protocol) => put('Protocol', { protocol })}
/>
<Choice
  label="What becomes of it"
  value={input.use}
  options={(['show', 'htp', 'takeover', 'control'] as const).map((value) => ({ value, text: USE_WORDS[value] }))}
  choose={(use) => put('Use', { use })}
/>
{#if input.use === 'takeover'}
  <Field
    label="From priority (0-200)"
    numeric
    value={input.priority}
    save={(t) => {
      const value = whole(t, 0, 200);
      if (value === null) return 'Give 0 to 200; 100 is usual.';
      put('Priority', { priority: value });
      return null;
    }}
  />
{/if}
<Field
  label="Only from address"
  value={input.from ?? ''}
  placeholder="whoever sends"
  save={(t) => {
    const ip = t.trim();
    if (ip !== '' && !IPV4.test(ip)) return 'Give an IPv4 address such as 192.168.1.40, or nothing.';
    put('Address', { from: ip === '' ? null : ip });
    return null;
  }}
/>
<h3>Universes</h3>
<div class="grid">
  <span class="quiet">on the wire</span><span class="quiet">ours</span><span></span>
  {#each input.universes as u, i (i)}
    <Field
      hideLabel
      label="Universe on the wire"
      numeric
      value={u.wireUniverse}
      save={(t) => saveUniverse(i, 'wireUniverse', t)}
    />
    <Field hideLabel label="Our universe" numeric value={u.universe} save={(t) => saveUniverse(i, 'universe', t)} />
    <Button
      kind="bare"
      aria-label="Remove universe {u.wireUniverse}"
      onclick={() => put('Universe', { universes: input.universes.filter((_, k) => k !== i) })}><X size={16} /></Button
    >
  {/each}
</div>
<Button onclick={addUniverse}><Plus size={16} /> Universe</Button>
<h3>Slots that work something</h3>
{#each input.controls as control, i (i)}
  <div class="control">
    <Field
      hideLabel
      label="Slot of control {i + 1}"
      value="{control.wireUniverse}.{control.address}"
      save={(t) => saveSlot(i, t)}
    />
    <Button
      kind="bare"
      aria-label="Remove control {i + 1}"
      onclick={() => put('Control', { controls: input.controls.filter((_, k) => k !== i) })}><X size={16} /></Button
    >
    <div class="works">
      <ActionField action={control.does} of="control {i + 1}" change={(does) => setControl(i, { does })} />
    </div>
  </div>
{/each}
<Button onclick={addControl}><Plus size={16} /> Slot</Button>
<CommentField value={input.notes} save={(notes) => put('Comments', { notes })} />
<Button kind="wrong" onclick={() => app.remove(`Remove ${input.name}`, [input.id])}
  ><Trash2 size={16} /> Remove desk</Button
>

<style>
  .grid {
    display: grid;
    grid-template-columns: 1fr 1fr 36px;
    gap: 6px 8px;
    align-items: center;
    font-size: 12.5px;
  }
  .control {
    display: grid;
    grid-template-columns: 1fr 36px;
    gap: 4px 6px;
    align-items: center;
    padding-bottom: 10px;
    border-bottom: 1px solid var(--line);
  }
  .works {
    grid-column: 1 / -1;
  }
</style>
