<script lang="ts">
  import { fromHex, fromHueSaturation, toHex, toHueSaturation } from '$core/colour/convert.ts';
  import { COLDEST_K, fromKelvin, HOTTEST_K } from '$core/colour/kelvin.ts';
  import { SWATCHES } from '$core/ready/ready.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import X from '@lucide/svelte/icons/x';
  import { ARROWS } from '../arrows.ts';
  import NumberSlide from '../NumberSlide.svelte';
  import Slider from '../Slider.svelte';
  import FanPop from './FanPop.svelte';

  /** Hue across, saturation up; swatches beside. The level is left to the level fader. */
  const app = getApp();
  const units = $derived(app.hand.colourUnits);
  const colour = $derived(app.hand.colour);
  let view = $state<'pad' | 'parts'>('pad');
  let kelvin = $state(3200);
  const PARTS = [
    ['r', 'Red'],
    ['g', 'Green'],
    ['b', 'Blue'],
  ] as const;
  function setKelvin(value: number): void {
    kelvin = value;
    app.hand.setColour(units, fromKelvin(value));
  }
  const setPart = (part: 'r' | 'g' | 'b', value: number): void =>
    app.hand.setColour(units, { ...(colour ?? { r: 0, g: 0, b: 0 }), [part]: value });
  const at = $derived(colour ? toHueSaturation(colour) : null);
  let pad = $state<HTMLElement>();

  function point(event: PointerEvent): void {
    const box = pad!.getBoundingClientRect();
    const hue = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width)) * 360;
    const saturation = 1 - Math.min(1, Math.max(0, (event.clientY - box.top) / box.height));
    app.hand.setColour(units, fromHueSaturation(Math.min(hue, 359.9), saturation));
  }
  function key(event: KeyboardEvent): void {
    const big = event.shiftKey ? 10 : 1;
    const { hueDeg, saturation } = at ?? { hueDeg: 30, saturation: 1 };
    const way = ARROWS[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    const next = Math.min(1, Math.max(0, saturation + 0.02 * big * way.y));
    app.hand.setColour(units, fromHueSaturation(hueDeg + 3 * big * way.x, next));
  }
</script>

<div class="colour">
  <div
    bind:this={pad}
    class="pad"
    role="slider"
    tabindex="0"
    aria-label="Colour: hue with left and right, saturation with up and down"
    aria-valuenow={Math.round(at?.hueDeg ?? 0)}
    aria-valuemin="0"
    aria-valuemax="360"
    aria-valuetext={at
      ? `hue ${Math.round(at.hueDeg)} degrees, saturation ${Math.round(at.saturation * 100)} percent`
      : 'not set by hand'}
    onpointerdown={(e) => {
      e.currentTarget.setPointerCapture(e.pointerId);
      point(e);
    }}
    onpointermove={(e) => e.currentTarget.hasPointerCapture(e.pointerId) && point(e)}
    onkeydown={key}
  >
    {#if at && colour}<span
        class="knob"
        style:left="{(at.hueDeg / 360) * 100}%"
        style:top="{(1 - at.saturation) * 100}%"
        style:background={toHex(colour)}
      ></span>{/if}
  </div>
  <div class="swatches">
    {#each SWATCHES as [name, hex] (hex)}
      <button
        type="button"
        style:background={hex}
        aria-label={name}
        title={name}
        onclick={() => app.hand.setColour(units, fromHex(hex))}
      ></button>
    {/each}
    {#if colour}
      <button
        type="button"
        class="release"
        aria-label="Let the colour go"
        title="Let the colour go"
        onclick={() => app.hand.letGoColour(units)}><X size={14} /></button
      >
    {/if}
  </div>
  <div class="more">
    <div class="ways" role="group" aria-label="Colour by">
      <button type="button" aria-pressed={view === 'pad'} onclick={() => (view = 'pad')}>Kelvin</button>
      <button type="button" aria-pressed={view === 'parts'} onclick={() => (view = 'parts')}>Red, green, blue</button>
      {#if units.length > 1}
        <FanPop
          words="Colour"
          count={units.length}
          fanColour={(from, to, shape, seed) => app.hand.fanColour(units, from, to, shape, seed)}
        />
      {/if}
    </div>
    {#if view === 'pad'}
      <NumberSlide
        label="White"
        value={kelvin}
        min={COLDEST_K}
        max={HOTTEST_K}
        slideMax={10_000}
        step={50}
        suffix="K"
        change={setKelvin}
      />
    {:else}
      {#each PARTS as [part, words] (part)}
        <div class="part">
          <span class="quiet">{words}</span>
          <Slider
            label={words}
            hideLabel
            value={colour?.[part] ?? 0}
            touched={colour !== null}
            change={(v) => setPart(part, v)}
          />
        </div>
      {/each}
    {/if}
  </div>
</div>

<style>
  .colour {
    display: flex;
    gap: 10px;
    flex: none;
    height: 92px;
  }
  .pad {
    position: relative;
    width: 180px;
    height: 92px;
    border-radius: var(--radius);
    touch-action: none;
    cursor: crosshair;
    background:
      linear-gradient(180deg, transparent, #fff),
      linear-gradient(90deg, #f00, #ff0 16.7%, #0f0 33.3%, #0ff 50%, #00f 66.7%, #f0f 83.3%, #f00);
  }
  .knob {
    position: absolute;
    width: 18px;
    height: 18px;
    margin: -9px;
    border-radius: 50%;
    border: 2px solid #fff;
    box-shadow: 0 0 0 2px #000;
  }
  .swatches {
    display: grid;
    grid-template-columns: repeat(4, 26px);
    grid-auto-rows: 26px;
    gap: 6px;
    align-content: start;
  }
  .swatches button {
    border: 1px solid var(--line-strong);
    border-radius: 5px;
  }
  .release {
    display: grid;
    place-items: center;
    background: none;
    color: var(--amber-text);
  }
  .more {
    width: 216px;
  }
  .part {
    display: grid;
    grid-template-columns: 44px 1fr;
    gap: 8px;
    align-items: center;
    min-height: 24px;
    font-size: 12.5px;
  }
  .ways {
    display: flex;
    align-items: center;
    gap: 4px;
  }
  .ways button {
    border: 0;
    background: none;
    padding: 2px 8px;
    border-radius: 4px;
    font-size: 12.5px;
    color: var(--quiet);
  }
  .ways [aria-pressed='true'] {
    background: var(--hover);
    color: var(--text);
  }
</style>
