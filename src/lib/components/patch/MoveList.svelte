<script lang="ts">
  import { formatAddress } from '$core/patch/address.ts';
  import type { Move } from '$core/patch/pack.ts';

  /** Addresses before and after, unit by unit. */
  let { moves }: { moves: readonly Move[] } = $props();
  const MOST = 400;
  const text = (place: Move['before']): string => (place ? formatAddress(place.universe, place.address) : 'none');
</script>

<div class="moves" role="table" aria-label="Addresses before and after">
  {#each moves.slice(0, MOST) as { unit, before, after } (unit.id)}
    <div role="row">
      <span role="cell" class="num quiet">{unit.number}</span>
      <span role="cell" class="name">{unit.name}</span>
      <span role="cell" class="num quiet">{text(before)}</span>
      <span role="cell" class="num after">→ {text(after)}</span>
    </div>
  {/each}
  {#if moves.length > MOST}<p class="quiet">and {moves.length - MOST} more</p>{/if}
</div>

<style>
  .moves {
    max-height: 300px;
    overflow: auto;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    font-size: 13px;
  }
  [role='row'] {
    display: grid;
    grid-template-columns: 34px 1fr auto auto;
    gap: 8px;
    padding: 3px 8px;
    border-bottom: 1px solid var(--line);
  }
  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .after {
    color: var(--amber-text);
  }
  p {
    padding: 4px 8px;
  }
</style>
