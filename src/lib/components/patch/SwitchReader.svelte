<script lang="ts">
  import { fromDipSwitches, formatAddress } from '$core/patch/address.ts';
  import { bitOfSwitch, type SwitchState } from '$core/patch/setting.ts';
  import { readWhole } from '$core/numbers.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { PatchDesk } from '$lib/state/patch/patch-desk.svelte.ts';
  import Button from '../Button.svelte';
  import DipSwitches from './DipSwitches.svelte';
  import ToolPanel from './ToolPanel.svelte';

  /** The other way round: click the switches as they stand, read the address and who lives there. */
  let { desk }: { desk: PatchDesk } = $props();
  const app = getApp();
  let on = $state.raw<readonly number[]>([1]);
  let fromZero = $state(false);
  let highFirst = $state(false);
  let universeText = $state('1');
  const universe = $derived(readWhole(universeText));
  const switches = $derived(
    Array.from({ length: 9 }, (_, i): SwitchState => {
      const number = i + 1;
      return { number, on: on.includes(number), role: 'address', worth: 2 ** (bitOfSwitch(number, highFirst) - 1) };
    }),
  );
  const address = $derived(
    fromDipSwitches(
      on.map((n) => bitOfSwitch(n, highFirst)),
      fromZero,
    ),
  );
  const flip = (number: number): void => {
    on = on.includes(number) ? on.filter((n) => n !== number) : [...on, number];
  };
  /** Who listens there: in the universe that is asked for, and elsewhere. */
  const living = $derived(
    address === null
      ? []
      : app.rig.patched
          .flatMap((p) => p.spans.filter((s) => s.from <= address && s.to >= address).map((s) => ({ p, s })))
          .sort((a, b) => Number(b.s.universe === universe) - Number(a.s.universe === universe)),
  );
</script>

<ToolPanel title="Read the switches" close={() => desk.open('details')}>
  <p class="quiet">Set them as they stand on the unit.</p>
  <DipSwitches {switches} {flip} />
  <label><input type="checkbox" bind:checked={fromZero} /> counts from 0</label>
  <label><input type="checkbox" bind:checked={highFirst} /> switch 1 is worth 256</label>
  <p class="main">
    {#if address === null}<span class="wrong">▲ All off is no address on a unit that counts from 1.</span>
    {:else}<span class="quiet">Address</span> <b class="num">{address}</b>{/if}
  </p>
  <label class="universe">Universe <input class="num" inputmode="numeric" bind:value={universeText} /></label>
  {#if address !== null}
    <h3>Who lives there</h3>
    {#each living.slice(0, 20) as { p, s } (p.id + s.universe)}
      <Button onclick={() => app.selection.set([p.id])}
        ><span class="num">{formatAddress(s.universe, s.from)}-{s.to}</span>
        {p.number}
        {p.name}{s.from === address ? '' : ` (slot ${address - s.from + 1})`}</Button
      >
    {:else}<p class="quiet">Nobody, in any universe.</p>{/each}
  {/if}
</ToolPanel>

<style>
  label {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  .universe {
    justify-content: space-between;
    color: var(--quiet);
  }
  .universe input {
    width: 80px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 6px 8px;
    color: var(--text);
  }
  .main {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
  }
  .main b {
    font-size: 32px;
  }
  .wrong {
    color: var(--wrong);
  }
</style>
