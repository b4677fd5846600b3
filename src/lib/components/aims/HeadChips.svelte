<script lang="ts">
  import type { UnitId } from '$core/ids.ts';
  import type { UnitRecord } from '$core/records/index.ts';

  /** Heads to choose from, several or one. */
  interface Props {
    heads: readonly UnitRecord[];
    chosen: readonly UnitId[];
    choose: (ids: UnitId[]) => void;
    /** Words for all of them; without it one is chosen at a time. */
    all?: string;
    mark?: (unit: UnitRecord) => string;
  }
  let { heads, chosen, choose, all, mark }: Props = $props();
  const has = (id: UnitId): boolean => chosen.includes(id);
</script>

<div class="chips" role="group" aria-label="Heads">
  {#if all}
    <button type="button" aria-pressed={chosen.length === 0} onclick={() => choose([])}>{all}</button>
  {/if}
  {#each heads as unit (unit.id)}
    <button type="button" aria-pressed={has(unit.id)} onclick={() => choose([unit.id])}
      ><span class="num">{unit.number}</span> {unit.name}{mark ? ` ${mark(unit)}` : ''}</button
    >
  {/each}
</div>

<style>
  .chips {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  button {
    min-height: 40px;
    padding: 4px 12px;
    background: var(--raised);
    border: 1px solid var(--line);
    border-radius: 20px;
    touch-action: manipulation;
  }
  button[aria-pressed='true'] {
    border-color: var(--amber);
    color: var(--amber-text);
  }
</style>
