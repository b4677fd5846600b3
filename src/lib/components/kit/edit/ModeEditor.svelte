<script lang="ts">
  import { dndzone, type DndEvent } from 'svelte-dnd-action';
  import { footprintOf } from '$core/profile/layout.ts';
  import type { Channel, Mode, ModeSlot } from '$core/records/profile.ts';
  import type { ProfileEditor } from '$lib/state/kit/profile-editor.svelte.ts';
  import ArrowDown from '@lucide/svelte/icons/arrow-down';
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import GripVertical from '@lucide/svelte/icons/grip-vertical';
  import Plus from '@lucide/svelte/icons/plus';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import X from '@lucide/svelte/icons/x';
  import Button from '../../Button.svelte';
  import Choice from '../../Choice.svelte';
  import Field from '../../Field.svelte';

  /** A mode as the list of its slots, in the order of the manual: dragged, or moved with the arrows. */
  let { editor, mode }: { editor: ProfileEditor; mode: Mode } = $props();
  let fault = $state<string | null>(null);
  let newName = $state('');
  let adding = $state('');
  let cellCount = $state('8');
  let cellKeys = $state<string[]>([]);
  const channels = $derived(editor.profile?.channels ?? []);
  const has = $derived(
    new Set(mode.slots.flatMap((s) => ('unused' in s ? [] : 'cells' in s ? s.slots.map((x) => x.channel) : s.channel))),
  );
  const missing = $derived(channels.filter((c) => !has.has(c.key)).length);
  const nameOf = (key: string): string => channels.find((c) => c.key === key)?.name ?? `missing: ${key}`;
  const FINE = ['', 'fine', 'ultra fine'];

  interface Item {
    readonly id: string;
    readonly slot: ModeSlot;
  }
  let dragged = $state.raw<Item[] | null>(null);
  const items = $derived(dragged ?? mode.slots.map((slot, i): Item => ({ id: `${mode.key}-${i}`, slot })));
  const size = (slot: ModeSlot): number => ('cells' in slot ? slot.cells * slot.slots.length : 1);
  const starts = $derived.by(() => {
    let next = 1;
    return items.map(({ slot }) => {
      const start = next;
      next += size(slot);
      return start;
    });
  });
  const text = (slot: ModeSlot): string => {
    if ('unused' in slot) return 'not used';
    if ('cells' in slot)
      return `${slot.cells} cells: ${slot.slots.map((s) => [nameOf(s.channel), FINE[s.byte]].filter(Boolean).join(' ')).join(', ')}`;
    return [nameOf(slot.channel), FINE[slot.byte]].filter(Boolean).join(', ');
  };
  const put = (label: string, slots: readonly ModeSlot[]): void => {
    fault = editor.setMode(label, mode.key, { slots: [...slots] });
  };
  function shift(i: number, by: number): void {
    const slots = [...mode.slots];
    const [slot] = slots.splice(i, 1);
    slots.splice(i + by, 0, slot!);
    put('Order', slots);
  }
  /** Coarse, fine, ultra fine: as many slots as the channel has bytes. */
  const bytesOf = (channel: Channel): { channel: string; byte: number }[] =>
    Array.from({ length: channel.bits / 8 }, (_, byte) => ({ channel: channel.key, byte }));
  function addSlots(): void {
    if (adding === '') return;
    if (adding === '-') return put('Add a slot', [...mode.slots, { unused: true }]);
    const channel = channels.find((c) => c.key === adding);
    if (!channel) return;
    put('Add a channel', [...mode.slots, ...bytesOf(channel)]);
  }
  function addCells(): void {
    const cells = Number(cellCount);
    if (!Number.isInteger(cells) || cells < 1 || cells > 2048) fault = 'Give a number of cells from 1 to 2048.';
    else if (cellKeys.length === 0) fault = 'Mark the channels of one cell first.';
    else {
      const firstCell = Math.max(0, ...mode.slots.map((s) => ('cells' in s ? s.firstCell + s.cells - 1 : 0))) + 1;
      put('Add cells', [
        ...mode.slots,
        {
          cells,
          firstCell,
          slots: channels.filter((c) => cellKeys.includes(c.key)).flatMap(bytesOf),
        },
      ]);
      if (fault === null) cellKeys = [];
    }
  }
  const consider = (event: CustomEvent<DndEvent<Item>>): void => {
    dragged = event.detail.items;
  };
  function finalize(event: CustomEvent<DndEvent<Item>>): void {
    dragged = null;
    put(
      'Order',
      event.detail.items.map((item) => item.slot),
    );
  }
</script>

<div class="modes">
  {#each editor.profile?.modes ?? [] as other (other.key)}
    <Button pressed={other.key === mode.key} onclick={() => (editor.modeKey = other.key)}
      >{other.name} <span class="num">{footprintOf(other)} ch</span></Button
    >
  {/each}
  <form
    onsubmit={(e) => {
      e.preventDefault();
      fault = editor.addMode(newName.trim() || `Mode ${(editor.profile?.modes.length ?? 0) + 1}`, mode);
      if (fault === null) newName = '';
    }}
  >
    <input aria-label="Name of a new mode" placeholder="New mode: Extended" bind:value={newName} maxlength="100" />
    <Button type="submit" title="Begins with the slots of this one"><Plus size={15} /> Mode</Button>
  </form>
</div>
{#if fault}<p class="fault" role="alert">▲ {fault}</p>{/if}
<div class="head">
  <Field
    label="Name of the mode"
    value={mode.name}
    save={(name) => editor.setMode('Name', mode.key, { name: name.trim() })}
  />
  <span class="num total">{footprintOf(mode)} ch</span>
  {#if (editor.profile?.modes.length ?? 0) > 1}
    <Button
      kind="bare"
      onclick={() =>
        (fault = editor.set('Remove a mode', { modes: editor.profile!.modes.filter((m) => m.key !== mode.key) }))}
      ><Trash2 size={15} /> Remove mode</Button
    >
  {/if}
</div>
<ol
  aria-label="Slots of {mode.name}"
  use:dndzone={{ items, flipDurationMs: 120, dropTargetStyle: {}, zoneTabIndex: -1, zoneItemTabIndex: -1 }}
  onconsider={consider}
  onfinalize={finalize}
>
  {#each items as item, i (item.id)}
    <li>
      <span class="grip" title="Drag to order"><GripVertical size={15} /></span>
      <span class="num slot">{starts[i]}{size(item.slot) > 1 ? `-${starts[i]! + size(item.slot) - 1}` : ''}</span>
      <span class:quiet={'unused' in item.slot}>{text(item.slot)}</span>
      <Button kind="bare" aria-label="Move slot {starts[i]} up" disabled={i === 0} onclick={() => shift(i, -1)}
        ><ArrowUp size={15} /></Button
      >
      <Button
        kind="bare"
        aria-label="Move slot {starts[i]} down"
        disabled={i === items.length - 1}
        onclick={() => shift(i, 1)}><ArrowDown size={15} /></Button
      >
      <Button
        kind="bare"
        aria-label="Take slot {starts[i]} out"
        onclick={() =>
          put(
            'Take a slot out',
            mode.slots.filter((_, j) => j !== i),
          )}><X size={15} /></Button
      >
    </li>
  {/each}
</ol>
<div class="adders">
  <form
    onsubmit={(e) => {
      e.preventDefault();
      addSlots();
    }}
  >
    <Choice
      label="Add to the end"
      value={adding || null}
      options={[
        ...channels.map((c) => ({ value: c.key, text: c.bits > 8 ? `${c.name}, ${c.bits} bit` : c.name })),
        { value: '-', text: 'a slot that is not used' },
      ]}
      choose={(v) => (adding = v)}
    />
    <Button type="submit" disabled={adding === ''}>Add slot</Button>
    {#if missing > 0}
      <Button
        title="Each channel that this mode does not have yet, at its end, in the order of the profile"
        onclick={() => (fault = editor.fill(mode))}
        >Put {missing === 1 ? 'the other channel' : `all ${missing} other channels`} in</Button
      >
    {/if}
  </form>
  <details>
    <summary>Add cells: the same channels again and again</summary>
    <div class="cells">
      <label>Cells <input class="num" inputmode="numeric" bind:value={cellCount} /></label>
      {#each channels as channel (channel.key)}
        <label class="tick"><input type="checkbox" value={channel.key} bind:group={cellKeys} /> {channel.name}</label>
      {/each}
      <Button onclick={addCells}>Add cells</Button>
    </div>
  </details>
</div>

<style>
  .modes,
  .modes form,
  .head {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: end;
  }
  .total {
    padding-bottom: 6px;
  }
  input:not([type='checkbox']) {
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 5px 8px;
    width: 160px;
  }
  .cells input.num {
    width: 64px;
  }
  .fault {
    color: var(--wrong);
  }
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
    max-width: 640px;
  }
  li {
    display: grid;
    grid-template-columns: 20px 62px 1fr auto auto auto;
    gap: 6px;
    align-items: center;
    min-height: 34px;
    border-bottom: 1px solid var(--line);
    background: var(--back);
  }
  .grip {
    cursor: grab;
    color: var(--quiet);
  }
  .slot {
    text-align: right;
    padding-right: 6px;
    color: var(--quiet);
  }
  .adders,
  .adders form {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: end;
  }
  .adders {
    flex-direction: column;
    align-items: start;
  }
  .cells {
    display: flex;
    flex-wrap: wrap;
    gap: 10px 16px;
    align-items: center;
    padding: 8px 0;
  }
  .tick {
    display: flex;
    gap: 6px;
    align-items: center;
  }
</style>
