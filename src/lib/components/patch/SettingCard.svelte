<script lang="ts">
  import { bitOfSwitch, settingOf } from '$core/patch/setting.ts';
  import { fromDipSwitches } from '$core/patch/address.ts';
  import type { ProfileRecord } from '$core/records/index.ts';
  import DipSwitches from './DipSwitches.svelte';

  /** What to set on the unit itself for an address, the way it is set first. `set` makes the switches clickable. */
  let {
    profile,
    address,
    set,
    large = false,
  }: {
    profile: ProfileRecord | undefined;
    address: number;
    set?: (address: number) => void;
    large?: boolean;
  } = $props();
  const setting = $derived(settingOf(profile, address));

  function flip(number: number): void {
    const highFirst = profile?.dip?.highFirst ?? false;
    const on = setting.switches
      .filter((s) => s.role === 'address' && s.on !== (s.number === number))
      .map((s) => bitOfSwitch(s.number, highFirst));
    const next = fromDipSwitches(on, profile?.addressFromZero);
    if (next !== null) set?.(next);
  }
</script>

<div class="setting" class:large>
  {#if setting.way === 'unit number'}
    {#if setting.unitNumber}
      <p class="main"><span class="quiet">Unit number</span> <b class="num">{setting.unitNumber.decimal}</b></p>
      <p class="quiet">hexadecimal <b class="num">{setting.unitNumber.hex}</b></p>
    {:else}<p class="wrong">▲ {setting.problem}</p>{/if}
  {:else}
    <p class="main">
      <span class="quiet">{setting.way === 'switches' ? 'Switches for' : 'Address in the menu'}</span>
      <b class="num">{setting.way === 'menu' ? String(setting.menu).padStart(3, '0') : setting.menu}</b>
    </p>
    {#if profile?.addressFromZero}<p class="quiet">This unit counts from 0: one less than the address.</p>{/if}
  {/if}
  {#if setting.way === 'switches'}
    <DipSwitches switches={setting.switches} {large} flip={set ? flip : undefined} />
    {#if profile?.dip?.highFirst}<p class="quiet">Switch 1 is worth 256 on this unit.</p>{/if}
  {/if}
</div>

<style>
  .setting {
    display: grid;
    gap: 6px;
  }
  .main {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    gap: 10px;
  }
  .main b {
    font-size: 18px;
  }
  .large .main b {
    font-size: 56px;
    line-height: 1.1;
  }
  .wrong {
    color: var(--wrong);
  }
</style>
