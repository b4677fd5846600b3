<script lang="ts">
  import type { UnitRecord } from '$core/records/index.ts';
  import { parseNumber } from '$core/numbers.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { onDestroy } from 'svelte';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';

  /** A unit and the thing itself: the level it never passes, and which RDM device it is. */
  let { units, what }: { units: readonly UnitRecord[]; what: string } = $props();
  const app = getApp();
  const first = $derived(units[0]!);
  const mixed = $derived(units.some((u) => u.levelLimit !== first.levelLimit));
  const found = $derived(app.live.network.rdm.filter((d) => d.state !== 'lost'));
  const device = $derived(found.find((d) => d.uid === first.rdmUid));
  const taken = $derived(new Map(app.rig.units.flatMap((u) => (u.rdmUid ? [[u.rdmUid, u.name]] : []))));
  const devices = $derived([
    { value: '', text: 'not told yet' },
    ...found.map((d) => {
      const owner = taken.get(d.uid);
      return {
        value: d.uid as string,
        text: `${d.label || d.model || d.uid}${d.info ? ` at ${d.info.startAddress}` : ''}${owner && d.uid !== first.rdmUid ? ` (${owner})` : ''}`,
      };
    }),
    ...(first.rdmUid && !device ? [{ value: first.rdmUid, text: `${first.rdmUid} (not found now)` }] : []),
  ]);
  function saveLimit(text: string): string | null {
    const value = parseNumber(text);
    if (value === null || value < 0 || value > 100) return 'Give 0 to 100 percent.';
    app.live.edit(`Level limit of ${what}`, { put: units.map((u) => ({ ...u, levelLimit: value / 100 })), remove: [] });
    return null;
  }
  function associate(uid: string): void {
    const put = app.rig.units
      .filter((u) => u.id === first.id || (uid !== '' && u.rdmUid === uid))
      .map((u) => ({ ...u, rdmUid: u.id === first.id && uid !== '' ? uid : null }));
    app.live.edit(`RDM device of ${first.name}`, { put, remove: [] });
  }
  /** Device that this panel lets identify: goes from one to the next so that each can be looked for in the room. */
  let identifying = $state<string | null>(null);
  async function identify(uid: string | null): Promise<void> {
    const before = identifying;
    identifying = uid;
    if (before) await app.live.ask({ ask: 'rdmIdentify', uid: before as `${string}:${string}`, on: false }, true);
    if (uid) await app.live.ask({ ask: 'rdmIdentify', uid: uid as `${string}:${string}`, on: true });
  }
  function next(): void {
    const free = found.filter((d) => d.state === 'ready' && (!taken.has(d.uid) || d.uid === first.rdmUid));
    const at = free.findIndex((d) => d.uid === identifying);
    void identify(free[(at + 1) % Math.max(1, free.length)]?.uid ?? null);
  }
  const shown = $derived(found.find((d) => d.uid === identifying));
  onDestroy(() => void (identifying && identify(null)));
</script>

<Field
  label="Level it never passes"
  numeric
  suffix="%"
  value={Math.round(first.levelLimit * 1000) / 10}
  {mixed}
  save={saveLimit}
/>
{#if units.length === 1 && (found.length > 0 || first.rdmUid)}
  <Choice label="RDM device" value={first.rdmUid ?? ''} options={devices} choose={associate} />
  <div class="row">
    <Button onclick={next}>{identifying ? 'Next device' : 'Let devices identify'}</Button>
    {#if shown}
      <Button kind="main" onclick={() => associate(shown.uid)}>It is {shown.label || shown.uid}</Button>
      <Button onclick={() => void identify(null)}>Stop</Button>
    {/if}
  </div>
{/if}

<style>
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
</style>
