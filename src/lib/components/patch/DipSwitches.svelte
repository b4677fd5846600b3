<script lang="ts">
  import { dipSwitches, fromDipSwitches } from '$core/patch/address.ts';

  /** Switches 1-9 as they stand on the unit; click one to change the address. */
  let { address, countsFromZero, set }: { address: number; countsFromZero: boolean; set: (address: number) => void } =
    $props();
  const on = $derived(new Set(dipSwitches(address, countsFromZero)));
  function toggle(k: number): void {
    const next = fromDipSwitches(on.has(k) ? [...on].filter((s) => s !== k) : [...on, k], countsFromZero);
    if (next !== null) set(next);
  }
</script>

<div class="dip" role="group" aria-label="DIP switches">
  {#each [1, 2, 3, 4, 5, 6, 7, 8, 9] as k (k)}
    <button
      type="button"
      role="switch"
      aria-checked={on.has(k)}
      aria-label="Switch {k}, worth {2 ** (k - 1)}"
      title="Worth {2 ** (k - 1)}"
      onclick={() => toggle(k)}><span></span><b class="num">{k}</b></button
    >
  {/each}
</div>

<style>
  .dip {
    display: grid;
    grid-template-columns: repeat(9, 1fr);
    gap: 3px;
    padding: 8px;
    border-radius: var(--radius);
    background: var(--back);
    border: 1px solid var(--line);
  }
  button {
    display: grid;
    justify-items: center;
    gap: 3px;
    padding: 3px 0 0;
    border: 0;
    background: none;
    font-size: 11px;
  }
  span {
    width: 18px;
    height: 34px;
    border-radius: 3px;
    background: linear-gradient(180deg, var(--line) 50%, var(--quiet) 50%);
    border: 2px solid var(--line);
  }
  [aria-checked='true'] span {
    background: linear-gradient(180deg, var(--amber) 50%, var(--line) 50%);
  }
  [aria-checked='true'] b {
    color: var(--amber-text);
  }
</style>
