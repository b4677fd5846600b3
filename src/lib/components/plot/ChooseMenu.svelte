<script lang="ts">
  import { Popover } from 'bits-ui';
  import type { UnitId } from '$core/ids.ts';
  import { everyNth, nextTo, shrunk } from '$core/plot/choose.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveWhole } from '$lib/state/entry.ts';
  import { KIND_WORDS } from '$lib/state/kinds.ts';
  import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import ScanSearch from '@lucide/svelte/icons/scan-search';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';

  let { desk }: { desk: PlotDesk } = $props();
  const app = getApp();
  const chosen = $derived(new Set(app.selection.ids));
  const units = $derived(desk.chosenUnits);
  const none = $derived(units.length === 0);
  let every = $state(2);
  let from = $state(1);

  const where = (test: (unit: (typeof desk.shown)[number]) => boolean): void =>
    app.selection.set(desk.shown.filter(test).map((u) => u.id));
  const kinds = $derived([...new Set(desk.shown.map((u) => desk.kindOf(u)))]);
  const universesOf = (id: UnitId): number[] => (app.rig.patchedById.get(id)?.spans ?? []).map((s) => s.universe);
  function sameUniverse(): void {
    const mine = new Set(units.flatMap((u) => universesOf(u.id)));
    where((u) => universesOf(u.id).some((n) => mine.has(n)));
  }
  function sameProfile(): void {
    const mine = new Set(units.map((u) => `${u.profileId} ${u.mode}`));
    where((u) => mine.has(`${u.profileId} ${u.mode}`));
  }
</script>

<Popover.Root>
  <Popover.Trigger class="menu-trigger"><ScanSearch size={16} aria-hidden="true" /> Choose</Popover.Trigger>
  <Popover.Portal>
    <Popover.Content sideOffset={6} align="start" class="choose-menu" aria-label="Choose units">
      <h3>Units shown</h3>
      <div class="row">
        <Button onclick={() => where(() => true)}>All</Button>
        <Button onclick={() => where((u) => !chosen.has(u.id))}>The others</Button>
      </div>
      <Choice
        label="Of one kind"
        value={null}
        options={kinds.map((k) => ({ value: k, text: KIND_WORDS[k] }))}
        choose={(kind) => where((u) => desk.kindOf(u) === kind)}
      />
      <Choice
        label="In one universe"
        value={null}
        options={app.rig.universes.map((n) => ({ value: String(n), text: `Universe ${n}` }))}
        choose={(n) => where((u) => universesOf(u.id).includes(Number(n)))}
      />
      <h3>Like what is selected</h3>
      <div class="row">
        <Button disabled={none} onclick={sameProfile}>Same profile and mode</Button>
        <Button disabled={none} onclick={sameUniverse}>Same universe</Button>
        <Button disabled={none} onclick={() => app.selection.set(nextTo(desk.spots, chosen))}>Next to it</Button>
        <Button disabled={none} onclick={() => app.selection.add(nextTo(desk.spots, chosen))}>Grow</Button>
        <Button disabled={none} onclick={() => app.selection.set(shrunk(desk.spots, chosen))}>Shrink</Button>
      </div>
      <div class="nth">
        <Field label="Every Nth" numeric value={every} save={(t) => saveWhole(t, 1, 1000, (n) => void (every = n))} />
        <Field label="from" numeric value={from} save={(t) => saveWhole(t, 1, 1000, (n) => void (from = n))} />
        <Button disabled={none} onclick={() => app.selection.set(everyNth(app.selection.ids, every, from))}>Keep</Button
        >
      </div>
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>

<style>
  :global(.choose-menu) {
    width: 320px;
    display: flex;
    flex-direction: column;
    gap: 10px;
    padding: 12px;
    background: var(--panel);
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    z-index: 30;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  .nth {
    display: grid;
    grid-template-columns: 1fr 1fr auto;
    gap: 8px;
    align-items: end;
  }
</style>
