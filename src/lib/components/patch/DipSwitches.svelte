<script lang="ts">
  import type { SwitchState } from '$core/patch/setting.ts';

  /** Switches as they stand on the unit, from left to right: the white part up is on. With `flip` they can be clicked. */
  let {
    switches,
    flip,
    large = false,
  }: {
    switches: readonly SwitchState[];
    flip?: (number: number) => void;
    large?: boolean;
  } = $props();
  const words = $derived(
    switches
      .filter((s) => s.on)
      .map((s) => s.number)
      .join(', ') || 'none',
  );
  const about = (s: SwitchState): string => (s.role === 'mode' ? 'mode switch' : `worth ${s.worth}`);
</script>

<div
  class="dip"
  class:large
  role={flip ? 'group' : 'img'}
  aria-label={flip ? 'DIP switches' : `DIP switches on: ${words}`}
  style:grid-template-columns="repeat({switches.length}, 1fr)"
>
  {#each switches as s (s.number)}
    {#if flip && s.role === 'address'}
      <button
        type="button"
        role="switch"
        aria-checked={s.on}
        aria-label="Switch {s.number}, {about(s)}"
        title={about(s)}
        onclick={() => flip(s.number)}><i class="slot" class:on={s.on}></i><b class="num">{s.number}</b></button
      >
    {:else}
      <span class="still" class:mode={s.role === 'mode'} title="{about(s)}, {s.on ? 'on' : 'off'}"
        ><i class="slot" class:on={s.on}></i><b class="num">{s.number}</b></span
      >
    {/if}
  {/each}
</div>

<style>
  .dip {
    display: grid;
    gap: 3px;
    padding: 8px;
    border-radius: var(--radius);
    background: var(--back);
    border: 1px solid var(--line);
  }
  button,
  .still {
    display: grid;
    justify-items: center;
    gap: 3px;
    padding: 3px 0 0;
    border: 0;
    background: none;
    font-size: 11px;
  }
  .mode {
    border-left: 1px dashed var(--line-strong);
  }
  .slot {
    position: relative;
    width: 18px;
    height: 34px;
    border-radius: 3px;
    background: var(--line);
    border: 2px solid var(--line);
  }
  .slot::after {
    content: '';
    position: absolute;
    left: 0;
    right: 0;
    bottom: 0;
    height: 50%;
    border-radius: 2px;
    background: var(--quiet);
  }
  .slot.on::after {
    bottom: auto;
    top: 0;
    background: var(--amber);
  }
  .large .slot {
    width: 100%;
    max-width: 30px;
    height: 58px;
  }
  .large b {
    font-size: 15px;
  }
  @media print {
    .dip {
      background: none;
      border-color: #000;
    }
    .slot {
      background: #fff !important;
      border-color: #000 !important;
    }
    .slot::after,
    .slot.on::after {
      background: #000;
      print-color-adjust: exact;
      -webkit-print-color-adjust: exact;
    }
  }
</style>
