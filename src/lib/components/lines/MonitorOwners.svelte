<script lang="ts">
  import type { UnitId } from '$core/ids.ts';
  import type { ScopeSlot } from '$core/signal/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';

  /** The slots of a universe by who owns them, with their attributes by name. */
  interface Props {
    slots: readonly ScopeSlot[];
    /** Values of the 512 slots, and those of the other end. */
    values: ArrayLike<number>;
    beside: ArrayLike<number> | null;
    text: (value: number) => string;
    at: number;
    choose: (slot: number) => void;
  }
  let { slots, values, beside, text, at, choose }: Props = $props();
  const app = getApp();
  const owners = $derived.by(() => {
    const found = new Map<UnitId, ScopeSlot[]>();
    for (const slot of slots) if (slot.unitId) found.set(slot.unitId, [...(found.get(slot.unitId) ?? []), slot]);
    return [...found];
  });
</script>

<div class="owners">
  {#each owners as [id, own] (id)}
    {@const unit = app.rig.unit(id)}
    <section class:selected={app.selection.has(id)} aria-label={unit?.name ?? id}>
      <button type="button" class="name" onclick={() => app.selection.set([id])}
        ><span class="num quiet">{unit?.number}</span> {unit?.name}</button
      >
      <div class="slots">
        {#each own as slot (slot.address)}
          {@const value = values[slot.address - 1] ?? 0}
          <button
            type="button"
            class="slot"
            class:at={slot.address === at}
            class:differs={beside !== null && beside[slot.address - 1] !== value}
            style:--at="{(value / 255) * 100}%"
            onclick={() => choose(slot.address)}
          >
            <span class="what">{slot.words || 'unused'}</span><span class="num">{text(value)}</span>
          </button>
        {/each}
      </div>
    </section>
  {:else}<p class="quiet">No unit has a slot here.</p>{/each}
</div>

<style>
  .owners {
    display: grid;
    gap: 2px;
  }
  section {
    display: grid;
    grid-template-columns: 190px minmax(0, 1fr);
    border-bottom: 1px solid var(--line);
    padding: 4px 0;
  }
  .selected {
    background: var(--amber-wash);
  }
  .name {
    border: 0;
    background: none;
    text-align: left;
    padding: 4px 8px;
    font-weight: 600;
    align-self: start;
  }
  .slots {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
  }
  .slot {
    display: flex;
    gap: 8px;
    align-items: baseline;
    border: 1px solid var(--line);
    border-radius: 4px;
    padding: 3px 8px 5px;
    font-size: 12.5px;
    background: linear-gradient(to right, var(--amber) var(--at), transparent var(--at)) left bottom / 100% 3px
      no-repeat;
  }
  .slot .num {
    min-width: 26px;
    text-align: right;
  }
  .what {
    color: var(--quiet);
  }
  .at {
    border-color: var(--amber);
  }
  .differs .num {
    color: var(--wrong);
    font-weight: 700;
  }
  @media (max-width: 760px) {
    section {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
