<script lang="ts">
  import { compareRdm, type RdmRow, type RdmVerdict } from '$core/lines/index.ts';
  import type { AnyRecord, UnitRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LinesDesk } from '$lib/state/lines/lines-desk.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import { onDestroy } from 'svelte';
  import Button from '../Button.svelte';
  import Mark from '../Mark.svelte';
  import Search from '@lucide/svelte/icons/search';

  /** RDM devices behind gateways beside what the patch says, and both ways to make them agree. */
  let { desk }: { desk: LinesDesk } = $props();
  const app = getApp();
  const net = $derived(app.live.network);
  const rows = $derived(compareRdm(app.live.document, net.rdm));
  let only = $state(false);
  const shown = $derived(only ? rows.filter((r) => r.verdict !== 'matches') : rows);
  const count = (verdict: RdmVerdict): number => rows.filter((r) => r.verdict === verdict).length;
  const WORDS: Readonly<Record<RdmVerdict, string>> = {
    matches: 'matches',
    differs: 'differs',
    unknown: 'in no unit',
    missing: 'not found',
    faulty: 'answers rubbish',
    lost: 'lost',
    reading: 'being read…',
  };
  let busy = $state<string | null>(null);
  let looking = $state(false);
  async function look(): Promise<void> {
    looking = true;
    await app.live.ask({ ask: 'rdmFind', gatewayIp: null });
    setTimeout(() => (looking = false), 2500);
  }
  const keyOf = (r: RdmRow): string => r.device?.uid ?? r.unit!.id;

  /** Sets the device as the patch says. */
  async function toDevice(r: RdmRow): Promise<void> {
    if (!r.device || !r.wanted || r.wanted.universe !== r.universe) return;
    busy = r.device.uid;
    const personality = r.modeDiffers && r.personality !== null ? { personality: r.personality } : {};
    const done = await app.live.ask({
      ask: 'rdmSet',
      uid: r.device.uid,
      startAddress: r.wanted.address,
      ...personality,
    });
    if (done) app.live.tell('note', `${r.device.label || r.device.model} is set`, `Start address ${r.wanted.address}.`);
    busy = null;
  }
  /** Takes what the device is set to into the patch, as one edit. */
  function toPatch(r: RdmRow): void {
    const unit = r.unit ?? r.suggestion;
    if (!unit || !r.device?.info || r.universe === null) return;
    const next: UnitRecord = {
      ...unit,
      patch: { universe: r.universe, address: r.device.info.startAddress },
      relation: null,
      mode: r.modeDiffers && r.mode ? r.mode : unit.mode,
      rdmUid: r.device.uid,
    };
    app.live.edit(`Take the setting of ${unit.name} from the device`, { put: [next], remove: [] });
  }
  function associate(r: RdmRow, unit: UnitRecord | null): void {
    if (!r.device) return;
    const put: AnyRecord[] = app.rig.units
      .filter((u) => u.rdmUid === r.device!.uid && u.id !== unit?.id)
      .map((u) => ({ ...u, rdmUid: null }));
    if (unit) put.push({ ...unit, rdmUid: r.device.uid });
    app.live.edit(unit ? `${r.device.uid} is ${unit.name}` : `${r.device.uid} is no unit`, { put, remove: [] });
  }
  let identifying = $state.raw<ReadonlySet<string>>(new Set());
  async function identify(r: RdmRow, on: boolean): Promise<void> {
    const { uid } = r.device!;
    identifying = new Set([...identifying].filter((u) => u !== uid).concat(on ? [uid] : []));
    await app.live.ask({ ask: 'rdmIdentify', uid, on });
  }
  onDestroy(() => {
    for (const uid of identifying)
      void app.live.ask({ ask: 'rdmIdentify', uid: uid as `${string}:${string}`, on: false }, true);
  });
  const selected = $derived(app.selection.ids.length === 1 ? app.rig.unit(app.selection.ids[0]!) : undefined);
  async function setAll(): Promise<void> {
    for (const r of rows) if (r.verdict === 'differs' && r.unit) await toDevice(r);
  }
  const settable = $derived(rows.filter((r) => r.verdict === 'differs' && r.unit && r.wanted?.universe === r.universe));
</script>

<div class="rdm">
  <div class="bar">
    <Button kind="main" disabled={looking} onclick={() => void look()}
      ><Search size={16} /> {looking ? 'Looking…' : 'Find RDM devices'}</Button
    >
    <span class="quiet"
      >{plural(net.rdm.length, 'device')}: {count('matches')} match, {count('differs')} differ, {count('unknown')} in no unit,
      {count('missing')} not found{count('faulty') > 0 ? `, ${count('faulty')} faulty` : ''}</span
    >
    <label><input type="checkbox" bind:checked={only} /> only what does not match</label>
    <Button disabled={settable.length === 0 || busy !== null} onclick={() => void setAll()}
      >Set all that differ from the patch ({settable.length})</Button
    >
  </div>
  <div class="table">
    <table class="plain">
      <thead>
        <tr
          ><th>Unit in the patch</th><th class="n">Address</th><th class="n">Slots</th><th>Verdict</th><th>Device</th
          ><th class="n">Stands at</th><th class="n">Slots</th><th></th></tr
        >
      </thead>
      <tbody>
        {#each shown as r (keyOf(r))}
          {@const unit = r.unit ?? r.suggestion}
          <tr class:on={desk.uid !== null && desk.uid === r.device?.uid}>
            <td>
              {#if unit}
                <button type="button" class="name" onclick={() => app.selection.set([unit.id])}
                  ><span class="num quiet">{unit.number}</span> {unit.name}</button
                >
                {#if r.suggestion}<span class="quiet">probably</span>{/if}
              {:else if selected && r.verdict === 'unknown'}
                <Button onclick={() => associate(r, selected)}>It is {selected.name}</Button>
              {:else}<span class="quiet">none</span>{/if}
            </td>
            <td class="n num" class:differs={r.addressDiffers}
              >{r.wanted ? `${r.wanted.universe}.${r.wanted.address}` : ''}</td
            >
            <td class="n num" class:differs={r.modeDiffers}>{r.wanted?.footprint ?? ''}</td>
            <td class="verdict">
              {#if r.verdict === 'differs' || r.verdict === 'faulty' || r.verdict === 'lost'}<Mark
                  kind="wrong"
                />{:else if r.verdict === 'unknown' || r.verdict === 'missing'}<Mark kind="look" />{/if}
              {WORDS[r.verdict]}
            </td>
            <td>
              {#if r.device}
                <button
                  type="button"
                  class="name"
                  aria-pressed={desk.uid === r.device.uid}
                  onclick={() => (desk.uid = r.device!.uid)}
                >
                  {r.device.label || r.device.model || 'no name'}
                  <span class="num quiet uid">{r.device.uid}</span></button
                >
              {/if}
            </td>
            <td class="n num" class:differs={r.addressDiffers}
              >{r.device?.info ? `${r.universe ?? '?'}.${r.device.info.startAddress}` : ''}</td
            >
            <td class="n num" class:differs={r.modeDiffers}>{r.device?.info?.footprint ?? ''}</td>
            <td class="do"
              ><div>
                {#if r.device && r.verdict !== 'faulty' && r.verdict !== 'lost'}
                  <Button
                    pressed={r.device.identifying}
                    aria-label="Identify {r.device.uid}"
                    onclick={() => void identify(r, !r.device!.identifying)}>Identify</Button
                  >
                {/if}
                {#if r.suggestion}<Button onclick={() => associate(r, r.suggestion)}>That is it</Button>{/if}
                {#if r.verdict === 'differs' && r.unit}
                  <Button disabled={busy !== null || r.wanted?.universe !== r.universe} onclick={() => void toDevice(r)}
                    >Set the device</Button
                  >
                  <Button onclick={() => toPatch(r)}>Take into the patch</Button>
                {/if}
              </div></td
            >
          </tr>
        {:else}
          <tr
            ><td colspan="8" class="quiet"
              >No RDM devices yet. They are found behind Art-Net gateways that pass RDM on.</td
            ></tr
          >
        {/each}
      </tbody>
    </table>
  </div>
</div>

<style>
  .rdm {
    flex: 1;
    min-height: 0;
    display: grid;
    grid-template-rows: auto 1fr;
    gap: 10px;
    padding: 4px 16px 12px;
  }
  .bar {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 14px;
    align-items: center;
  }
  .table {
    overflow: auto;
    min-width: 0;
  }
  th {
    font-size: 12.5px;
    padding: 3px 8px;
    position: sticky;
    top: 0;
    background: var(--back);
    border-bottom: 1px solid var(--line-strong);
    z-index: 1;
  }
  td {
    padding: 2px 8px;
    height: 38px;
    border-bottom: 1px solid var(--line);
  }
  tr.on {
    background: var(--amber-wash);
  }
  .n {
    text-align: right;
  }
  .verdict {
    white-space: nowrap;
  }
  .differs {
    color: var(--wrong);
    font-weight: 700;
  }
  .name {
    border: 0;
    background: none;
    padding: 6px 0;
    text-align: left;
  }
  .uid {
    font-size: 12px;
    white-space: nowrap;
  }
  .name:hover {
    text-decoration: underline;
  }
  .do {
    width: 236px;
  }
  .do div {
    display: flex;
    flex-wrap: wrap;
    justify-content: flex-end;
    gap: 4px;
  }
</style>
