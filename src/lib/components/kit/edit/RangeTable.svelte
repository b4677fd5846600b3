<script lang="ts">
  import { guessRange } from '$core/profile/guess.ts';
  import { addRange, gapsOf, moveEdge, sortedRanges } from '$core/profile/ranges.ts';
  import { PHYSICAL_UNITS, type Channel, type Range } from '$core/records/profile.ts';
  import type { ProfileEditor } from '$lib/state/kit/profile-editor.svelte.ts';
  import { parseNumber } from '$core/numbers.ts';
  import ClipboardPaste from '@lucide/svelte/icons/clipboard-paste';
  import Plus from '@lucide/svelte/icons/plus';
  import Rows3 from '@lucide/svelte/icons/rows-3';
  import X from '@lucide/svelte/icons/x';
  import Button from '../../Button.svelte';
  import EqualRanges from './EqualRanges.svelte';
  import PasteRanges from './PasteRanges.svelte';
  import PicturePick from './PicturePick.svelte';

  /** Ranges of one channel as a sheet: Enter and the arrows go down and up, a pasted table is read. */
  let { editor, channel }: { editor: ProfileEditor; channel: Channel } = $props();
  let fault = $state<string | null>(null);
  let dialog = $state<'paste' | 'equal' | null>(null);
  let pasted = $state('');
  const ranges = $derived(sortedRanges(channel.ranges));
  const gaps = $derived(gapsOf(ranges));
  const shutter = $derived(/^Shutter\d/.test(channel.attribute));
  const coloured = $derived(/^Color/.test(channel.attribute));

  function put(next: readonly Range[], label = 'Ranges'): void {
    fault = editor.setChannel(label, channel.key, { ranges: [...next] });
  }
  const change = (i: number, fields: Partial<Range>): void =>
    put(ranges.map((r, j) => (j === i ? { ...r, ...fields } : r)));
  function edge(i: number, which: 'from' | 'to', text: string): void {
    const value = parseNumber(text);
    const moved = moveEdge(ranges, i, which, value ?? NaN);
    if ('fault' in moved) fault = `${moved.fault.message}. ${moved.fault.remedy}`;
    else put(moved.ranges, 'Range edge');
  }
  function rename(i: number, text: string): void {
    const name = text.trim();
    if (name === ranges[i]!.name) return;
    change(i, guessRange({ ...ranges[i]!, name }, channel.attribute));
  }
  function physical(i: number, part: 'from' | 'to' | 'unit', text: string): void {
    const now = ranges[i]!.physical ?? { from: 0, to: 0, unit: '' as const };
    if (part === 'unit') {
      const { physical: _, ...rest } = ranges[i]!;
      if (text === 'none') put(ranges.map((r, j) => (j === i ? rest : r)));
      else change(i, { physical: { ...now, unit: text as (typeof PHYSICAL_UNITS)[number] } });
      return;
    }
    const value = parseNumber(text);
    if (value === null) fault = `“${text.slice(0, 20)}” is not a number.`;
    else change(i, { physical: { ...now, [part]: value } });
  }
  function keys(event: KeyboardEvent): void {
    const input = event.target as HTMLElement;
    const step = event.key === 'ArrowDown' || event.key === 'Enter' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (step === 0 || input.tagName !== 'INPUT' || (input as HTMLInputElement).type === 'color') return;
    event.preventDefault();
    const cell = input.closest('td')!;
    const row = cell.parentElement!;
    const next = (step > 0 ? row.nextElementSibling : row.previousElementSibling) as HTMLTableRowElement | null;
    input.blur();
    const index = [...row.children].indexOf(cell);
    requestAnimationFrame(() => (next?.children[index]?.querySelector('input') as HTMLInputElement | null)?.select());
  }
  function paste(event: ClipboardEvent): void {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    if (!text.includes('\n')) return;
    event.preventDefault();
    pasted = text;
    dialog = 'paste';
  }
  function add(): void {
    const next = addRange(ranges, 'New range');
    if (next) put(next, 'Add a range');
    else fault = 'Every value has a range of its own already.';
  }
</script>

<div class="tools">
  <Button onclick={add}><Plus size={15} /> Range</Button>
  <Button
    onclick={() => {
      pasted = '';
      dialog = 'paste';
    }}><ClipboardPaste size={15} /> Paste a manual’s table</Button
  >
  <Button onclick={() => (dialog = 'equal')}><Rows3 size={15} /> Equal ranges</Button>
  {#if ranges.length > 0}
    <Button kind="bare" onclick={() => put([], 'Remove all ranges')}>Remove all</Button>
  {/if}
</div>
{#if fault}<p class="fault" role="alert">▲ {fault}</p>{/if}
{#if ranges.length > 0}
  <!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
  <table onkeydown={keys} onpaste={paste}>
    <thead>
      <tr>
        <th class="v">From</th><th class="v">To</th><th>Name</th><th class="look">Look</th>
        {#if shutter}<th>Light</th>{/if}
        <th class="measure">Does</th><th class="out"></th>
      </tr>
    </thead>
    <tbody>
      {#each ranges as range, i (range.from)}
        <tr>
          <td class="v"
            ><input
              class="num"
              inputmode="numeric"
              aria-label="From of {range.name}"
              value={range.from}
              onchange={(e) => {
                edge(i, 'from', e.currentTarget.value);
                e.currentTarget.value = String(ranges[i]?.from ?? '');
              }}
            /></td
          >
          <td class="v"
            ><input
              class="num"
              inputmode="numeric"
              aria-label="To of {range.name}"
              value={range.to}
              onchange={(e) => {
                edge(i, 'to', e.currentTarget.value);
                e.currentTarget.value = String(ranges[i]?.to ?? '');
              }}
            /></td
          >
          <td
            ><input
              aria-label="Name of {range.from}-{range.to}"
              value={range.name}
              maxlength="100"
              onchange={(e) => rename(i, e.currentTarget.value)}
            /></td
          >
          <td><PicturePick {editor} {range} {coloured} change={(fields) => change(i, fields)} /></td>
          {#if shutter}
            <td>
              <select
                aria-label="Light of {range.name}"
                value={range.light ?? ''}
                onchange={(e) => change(i, { light: (e.currentTarget.value || undefined) as Range['light'] })}
              >
                <option value="">–</option><option value="open">open</option><option value="closed">closed</option
                ><option value="strobe">strobe</option>
              </select>
            </td>
          {/if}
          <td class="does">
            {#if range.physical}
              <input
                class="num"
                aria-label="{range.name} begins with"
                value={range.physical.from}
                onchange={(e) => physical(i, 'from', e.currentTarget.value)}
              />
              <input
                class="num"
                aria-label="{range.name} ends with"
                value={range.physical.to}
                onchange={(e) => physical(i, 'to', e.currentTarget.value)}
              />
            {/if}
            <select
              aria-label="Unit of {range.name}"
              value={range.physical?.unit ?? 'none'}
              onchange={(e) => physical(i, 'unit', e.currentTarget.value)}
            >
              <option value="none">nothing measured</option>
              {#each PHYSICAL_UNITS as unit (unit)}<option value={unit}>{unit === '' ? 'a number' : unit}</option
                >{/each}
            </select>
          </td>
          <td
            ><Button
              kind="bare"
              aria-label="Remove range {range.name}"
              onclick={() =>
                put(
                  ranges.filter((_, j) => j !== i),
                  'Remove a range',
                )}><X size={15} /></Button
            ></td
          >
        </tr>
      {/each}
    </tbody>
  </table>
  {#if gaps.length > 0}
    <p class="quiet">
      Without a range: <span class="num"
        >{gaps.map((g) => (g.from === g.to ? g.from : `${g.from}-${g.to}`)).join(', ')}</span
      >
    </p>
  {/if}
{:else}
  <p class="quiet">
    No ranges: the channel goes from nothing to full. Paste the table of the manual, or add ranges one by one.
  </p>
{/if}

{#if dialog === 'paste'}
  <PasteRanges
    {channel}
    text={pasted}
    close={() => (dialog = null)}
    take={(next) => {
      put(next, 'Paste ranges');
      dialog = null;
    }}
  />
{:else if dialog === 'equal'}
  <EqualRanges
    {channel}
    close={() => (dialog = null)}
    take={(next) => {
      put(next, 'Equal ranges');
      dialog = null;
    }}
  />
{/if}

<style>
  .tools {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  .fault {
    color: var(--wrong);
  }
  table {
    border-collapse: collapse;
    width: 100%;
  }
  th {
    text-align: left;
    font-weight: 500;
    font-size: 12.5px;
    color: var(--quiet);
  }
  th,
  td {
    padding: 1px 4px 1px 0;
    border-bottom: 1px solid var(--line);
  }
  table {
    table-layout: fixed;
  }
  .v {
    width: 58px;
  }
  .look {
    width: 52px;
  }
  .measure {
    width: 240px;
  }
  .out {
    width: 44px;
  }
  input,
  select {
    width: 100%;
    min-height: 30px;
    border: 1px solid transparent;
    border-radius: 4px;
    background: none;
    padding: 2px 6px;
    min-width: 0;
  }
  .v input {
    text-align: right;
  }
  input:hover,
  select:hover,
  input:focus {
    border-color: var(--line-strong);
    background: var(--raised);
  }
  .does {
    display: grid;
    grid-template-columns: 58px 58px minmax(70px, 1fr);
    gap: 2px;
  }
  .does select:only-child {
    grid-column: 1 / -1;
    color: var(--quiet);
  }
  .does .num {
    text-align: right;
  }
</style>
