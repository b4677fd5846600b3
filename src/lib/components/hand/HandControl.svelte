<script lang="ts">
  import { findRange, fractionToValue, valueToFraction } from '$core/profile/layout.ts';
  import { followedBy } from '$core/records/value.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { HandAttribute } from '$lib/state/scenes/hand.svelte.ts';
  import { physicalWords } from '$lib/state/kit/physical.ts';
  import X from '@lucide/svelte/icons/x';
  import Slider from '../Slider.svelte';
  import FanPop from './FanPop.svelte';

  /** One attribute by hand: a range where the channel has ranges, and a fader for the place in it. */
  let { attribute }: { attribute: HandAttribute } = $props();
  const app = getApp();
  const held = $derived(app.hand.valueOf(attribute.unitIds, attribute.attribute));
  /** The name of the palette or aim it follows. */
  const follows = $derived.by(() => {
    const id = held === null || held === 'mixed' ? null : followedBy(held);
    return id && app.rig.referenceName(id);
  });
  const plain = $derived(held === 'mixed' ? null : app.hand.plain(attribute.unitIds[0]!, attribute.attribute, held));
  const ranges = $derived(attribute.channel?.ranges ?? []);
  /** Where nothing is held, what is sent is shown; the resting value where that cannot be told. */
  const sent = $derived(app.hand.sent.get(attribute.attribute));
  const shown = $derived(plain ?? fractionToValue(attribute.channel, sent ?? attribute.home));
  const ranged = $derived(typeof shown === 'object' ? shown : null);
  const range = $derived(ranged && attribute.channel ? findRange(attribute.channel, ranged.range) : undefined);
  const text = $derived.by(() => {
    if (held === 'mixed') return 'mixed';
    if (held === null && sent === undefined) return '–';
    if (range?.physical && ranged) return physicalWords(range.physical, ranged.at);
    const fraction = valueToFraction(attribute.channel, shown) ?? 0;
    return ranged ? `${Math.round(ranged.at * 100)} %` : `${Math.round(fraction * 100)} %`;
  });
  const wide = $derived(
    !range ||
      (range.to > range.from &&
        (range.physical ? range.physical.from !== range.physical.to : range.to - range.from > 2)),
  );

  function slide(at: number): void {
    app.hand.set(attribute.unitIds, attribute.attribute, ranged ? { range: ranged.range, at } : at);
  }
</script>

<div class="control" class:touched={held !== null}>
  <div class="head">
    <span class="name"
      >{attribute.words}{#if attribute.unitIds.length < app.selection.lit.length}<span class="quiet num">
          {attribute.unitIds.length}/{app.selection.lit.length}</span
        >{/if}{#if follows}<span class="palette">{follows}</span>{/if}</span
    >
    {#if wide && attribute.unitIds.length > 1}
      <FanPop
        words={attribute.words}
        count={attribute.unitIds.length}
        fan={(from, to, shape, seed) => app.hand.fan(attribute.unitIds, attribute.attribute, from, to, shape, seed)}
      />
    {/if}
    {#if held !== null}
      <button
        type="button"
        class="release"
        aria-label="Let {attribute.words} go"
        title="Let go"
        onclick={() => app.hand.letGoAttribute(attribute.unitIds, attribute.attribute)}><X size={14} /></button
      >
    {/if}
  </div>
  {#if ranges.length > 0}
    <select
      aria-label="{attribute.words}: range"
      value={held === 'mixed' ? '' : (ranged?.range ?? '')}
      onchange={(e) => app.hand.set(attribute.unitIds, attribute.attribute, { range: e.currentTarget.value, at: 0.5 })}
    >
      {#if held === 'mixed' || !ranged}<option value="" disabled>{held === 'mixed' ? 'mixed' : 'choose'}</option>{/if}
      {#each ranges as option (option.name)}<option value={option.name}>{option.name}</option>{/each}
    </select>
  {/if}
  {#if wide}
    <Slider
      label={attribute.words}
      hideLabel
      value={ranged ? ranged.at : typeof shown === 'number' ? shown : 0}
      {text}
      touched={held !== null}
      change={slide}
    />
  {/if}
</div>

<style>
  .control {
    min-width: 0;
  }
  .head {
    display: flex;
    align-items: center;
    min-height: 22px;
    font-size: 12.5px;
    color: var(--quiet);
  }
  .touched .name {
    color: var(--amber-text);
  }
  .name {
    flex: 1;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .palette {
    margin-left: 6px;
    padding: 0 6px;
    border: 1px solid var(--amber);
    border-radius: 9px;
    font-size: 11.5px;
  }
  .release {
    display: grid;
    place-items: center;
    width: 24px;
    height: 22px;
    border: 0;
    background: none;
    color: var(--amber-text);
  }
  select {
    width: 100%;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 3px 6px;
  }
  .touched select {
    border-color: var(--amber);
  }
</style>
