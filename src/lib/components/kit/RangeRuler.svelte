<script lang="ts">
  import type { Channel } from '$core/records/profile.ts';
  import { rangeAt } from '$core/profile/layout.ts';
  import { gapsOf } from '$core/profile/ranges.ts';
  import type { ProfileRecord } from '$core/records/index.ts';
  import { physicalWords, sweepOf } from '$lib/state/kit/physical.ts';
  import Picture from './Picture.svelte';

  /**
   * The values 0-255 of a channel as a ruler with its ranges. The value under the pointer, or under the arrow keys, is
   * told in words: which range, and what it does.
   */
  interface Props {
    channel: Channel;
    pictures?: Readonly<Record<string, string>>;
    /** Measures of the fixture: pan and tilt read degrees. */
    physical?: ProfileRecord['physical'];
    /** Takes the value that was pointed at or moved to. */
    pick?: (value: number) => void;
  }
  let { channel, pictures = {}, physical = {}, pick }: Props = $props();
  const sweep = $derived(sweepOf(channel.attribute, physical));
  let at = $state<number | null>(null);
  const range = $derived(at === null ? undefined : rangeAt(channel, at));
  const words = $derived.by(() => {
    if (at === null) return '';
    if (!range && channel.ranges.length === 0)
      return sweep ? physicalWords(sweep, at / 255) : `${Math.round((at / 255) * 100)} %`;
    if (!range) return 'no function';
    const within = range.to > range.from ? (at - range.from) / (range.to - range.from) : 0;
    return range.physical ? `${range.name}, ${physicalWords(range.physical, within)}` : range.name;
  });
  const left = (value: number): string => `${(value / 256) * 100}%`;
  const width = (from: number, to: number): string => `${((to - from + 1) / 256) * 100}%`;
  function point(event: PointerEvent): void {
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    at = Math.min(255, Math.max(0, Math.floor(((event.clientX - box.left) / box.width) * 256)));
    if (event.buttons > 0) pick?.(at);
  }
  function key(event: KeyboardEvent): void {
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowUp: 16, ArrowDown: -16 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    at = Math.min(255, Math.max(0, (at ?? 0) + step));
    pick?.(at);
  }
</script>

<div class="ruler">
  <div
    class="bar"
    role="slider"
    tabindex="0"
    aria-label="Values of {channel.name}"
    aria-valuemin="0"
    aria-valuemax="255"
    aria-valuenow={at ?? 0}
    aria-valuetext={at === null ? 'move with the arrow keys' : `${at}: ${words}`}
    onpointermove={point}
    onpointerdown={point}
    onpointerleave={() => (at = null)}
    onkeydown={key}
  >
    {#if channel.ranges.length === 0}
      <span class="part whole" style:left="0" style:width="100%"
        >{sweep ? `${physicalWords(sweep, 0)} to ${physicalWords(sweep, 1)}` : 'nothing to full'}</span
      >
    {/if}
    {#each channel.ranges as part (part.name)}
      <span
        class="part"
        class:here={part === range}
        style:left={left(part.from)}
        style:width={width(part.from, part.to)}
        style:--tint={part.colour}
        style:--tint2={part.colour2 ?? part.colour}
        title="{part.from}-{part.to} {part.name}"
        class:tinted={part.colour !== undefined}
        >{#if part.to - part.from > 5}<span
            class="name"
            class:bare={part.to - part.from <= 17 && part.picture !== undefined}
            ><Picture picture={part.picture} own={pictures} size={15} />
            {part.to - part.from > (part.picture === undefined ? 11 : 17) ? part.name : ''}</span
          >{/if}</span
      >
    {/each}
    {#if channel.ranges.length > 0}
      {#each gapsOf(channel.ranges) as gap (gap.from)}
        <span
          class="gap"
          style:left={left(gap.from)}
          style:width={width(gap.from, gap.to)}
          title="{gap.from}-{gap.to}: no function"
        ></span>
      {/each}
    {/if}
    {#if at !== null}<span class="at" style:left={left(at + 0.5)}></span>{/if}
  </div>
  <div class="told num" class:quiet={at === null} aria-hidden="true">
    {#if at === null}<span class="scale">0</span><span class="scale">64</span><span class="scale">128</span><span
        class="scale">192</span
      ><span class="scale end">255</span>
    {:else}<b>{at}</b>&nbsp;{words}{/if}
  </div>
</div>

<style>
  .ruler {
    min-width: 0;
  }
  .bar {
    position: relative;
    height: 26px;
    background: var(--panel);
    border: 1px solid var(--line);
    border-radius: 4px;
    overflow: hidden;
    touch-action: none;
    cursor: crosshair;
  }
  .part {
    position: absolute;
    top: 0;
    bottom: 0;
    display: flex;
    align-items: center;
    background: var(--raised);
    border-right: 1px solid var(--line-strong);
    overflow: hidden;
    font-size: 12px;
    line-height: 1;
  }
  .tinted {
    background:
      linear-gradient(90deg, var(--tint) 50%, var(--tint2) 50%) bottom / 100% 30% no-repeat,
      var(--raised);
  }
  .here {
    background-color: var(--hover);
    color: var(--amber-text);
  }
  .whole {
    color: var(--quiet);
    padding-left: 6px;
  }
  .name {
    padding: 0 3px;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .bare {
    text-overflow: clip;
  }
  .gap {
    position: absolute;
    top: 0;
    bottom: 0;
    background: repeating-linear-gradient(135deg, transparent 0 4px, var(--line) 4px 5px);
  }
  .at {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 2px;
    margin-left: -1px;
    background: var(--amber);
  }
  .told {
    display: flex;
    justify-content: space-between;
    height: 17px;
    font-size: 11.5px;
    white-space: nowrap;
    overflow: hidden;
  }
  .told b {
    color: var(--amber-text);
  }
  .told:not(.quiet) {
    justify-content: flex-start;
  }
  .scale {
    width: 0;
    flex: 1;
  }
  .end {
    flex: none;
    width: auto;
  }
</style>
