<script lang="ts">
  import { fromHex, fromHueSaturation, toHex, toHueSaturation } from '$core/colour/convert.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import X from '@lucide/svelte/icons/x';

  /** Hue across, saturation up; swatches beside. The level is left to the level fader. */
  const app = getApp();
  const SWATCHES = [
    ['Warm white', '#ffd6a0'],
    ['White', '#ffffff'],
    ['Red', '#ff2a1a'],
    ['Orange', '#ff7a14'],
    ['Amber', '#ffae2e'],
    ['Green', '#1fd84a'],
    ['Turquoise', '#14e0c4'],
    ['Blue', '#1f4bff'],
    ['Violet', '#8a2bff'],
    ['Pink', '#ff4fae'],
  ] as const;
  const units = $derived(app.hand.colourUnits);
  const colour = $derived(app.hand.colour);
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
    const moves: Record<string, [number, number]> = {
      ArrowRight: [3 * big, 0],
      ArrowLeft: [-3 * big, 0],
      ArrowUp: [0, 0.02 * big],
      ArrowDown: [0, -0.02 * big],
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    event.stopPropagation();
    app.hand.setColour(units, fromHueSaturation(hueDeg + move[0], Math.min(1, Math.max(0, saturation + move[1]))));
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
    width: 210px;
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
</style>
