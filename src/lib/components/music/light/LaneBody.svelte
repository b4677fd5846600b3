<script lang="ts">
  import type { Block, LaneRecord } from '$core/records/lane.ts';
  import type { LaneHands } from '$lib/state/music/lane-hands.svelte.ts';
  import type { LightCurves } from '$lib/state/music/light-curves.svelte.ts';
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';
  import BlockStrip from './BlockStrip.svelte';
  import CurveLines from './CurveLines.svelte';

  /** The blocks of a lane in what is seen of the song, each as the light it makes. */
  interface Props {
    desk: SongDesk;
    light: LightDesk;
    hands: LaneHands;
    curves: LightCurves;
    lane: LaneRecord;
    width: number;
  }
  let { desk, light, hands, curves, lane, width }: Props = $props();
  const LAYER_PX = 15;
  /** Blocks narrower than this (pixels) that follow one another closely are drawn as one crowd. */
  const NARROW_PX = 10;
  const blocks = $derived(hands.blocksOf(lane));
  const depth = $derived(1 + blocks.reduce((most, { layer }) => Math.max(most, layer), 0));
  const share = (s: number): string => `${(100 * s) / desk.span}%`;
  const px = (s: number): number => (s / desk.span) * width;
  let body = $state<HTMLElement>();
  let inSight = $state(false);
  $effect(() => {
    if (!body) return;
    const observer = new IntersectionObserver((entries) => (inSight = entries.at(-1)!.isIntersecting), {
      rootMargin: '200px',
    });
    observer.observe(body);
    return () => observer.disconnect();
  });
  interface Crowd {
    readonly key: string;
    readonly at: number;
    to: number;
    count: number;
    readonly first: Block;
  }
  /** What is seen: blocks, and crowds of such as are too narrow to be told apart. */
  const seen = $derived.by(() => {
    const single: Block[] = [];
    const crowds: Crowd[] = [];
    if (!inSight) return { single, crowds };
    const [from, to] = [desk.from, desk.from + desk.span];
    const shown = blocks.filter(({ at, length }) => at < to && at + length > from);
    if (shown.length < 40) return { single: shown, crowds };
    const open = new Map<number, Crowd>();
    for (const block of [...shown].sort((a, b) => a.at - b.at)) {
      if (px(block.length) >= NARROW_PX || light.isChosen(lane.id, block.key)) {
        single.push(block);
        continue;
      }
      const last = open.get(block.layer);
      if (last && px(block.at - last.to) < NARROW_PX && px(block.at - last.at) < 60) {
        last.to = block.at + block.length;
        last.count++;
      } else {
        const crowd = { key: block.key, at: block.at, to: block.at + block.length, count: 1, first: block };
        open.set(block.layer, crowd);
        crowds.push(crowd);
      }
    }
    return { single, crowds };
  });
  const gesture = $derived(hands.gesture);
  const boxed = $derived(
    gesture?.kind === 'box' && hands.boxed(gesture.lane, gesture.to).some(({ id }) => id === lane.id) ? gesture : null,
  );
  function drop(event: DragEvent): void {
    const key = event.dataTransfer?.getData('text/x-amber-putting');
    const putting = light.puttings.find((p) => p.key === key);
    if (!putting || !body) return;
    event.preventDefault();
    const box = body.getBoundingClientRect();
    const at = desk.from + ((event.clientX - box.left) / box.width) * desk.span;
    const from = light.snap(at, light.beatS(at) * 2, event.altKey);
    light.put(lane, from, from + 4 * light.beatS(from), putting);
  }
</script>

<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
  class="body"
  class:paints={light.hand !== null && !lane.locked}
  class:muted={lane.muted}
  data-lane={lane.id}
  bind:this={body}
  style:height="{Math.max(44, depth * LAYER_PX + 30)}px"
  onpointerdown={(e) => hands.down(e, lane)}
  onpointermove={(e) => hands.move(e)}
  onpointerup={(e) => hands.up(e)}
  onpointercancel={(e) => hands.lost(e)}
  ondragover={(e) => !lane.locked && e.preventDefault()}
  ondrop={drop}
>
  {#each seen.crowds as { key, at, to, count, first } (key)}
    <button
      type="button"
      class="block crowd"
      data-key={first.key}
      aria-label="{count} blocks, {clockText(at, 2)}"
      title="{count} blocks: see closer"
      style:left={share(at - desk.from)}
      style:width={share(to - at)}
      style:top="{first.layer * LAYER_PX}px"
      style:bottom="{(depth - 1 - first.layer) * LAYER_PX}px"
      ><BlockStrip {desk} {lane} block={first} px={NARROW_PX} /></button
    >
  {/each}
  {#each seen.single as block (block.key)}
    {@const wide = px(block.length)}
    {@const chosen = light.isChosen(lane.id, block.key)}
    <button
      type="button"
      class="block"
      class:chosen
      class:gone={block.plays.is === 'gone'}
      data-key={block.key}
      aria-pressed={chosen}
      aria-label="{light.nameOf(block)}, {clockText(block.at, 2)}, {block.length.toFixed(2)} s"
      title={light.nameOf(block)}
      style:left={share(block.at - desk.from)}
      style:width={share(block.length)}
      style:top="{block.layer * LAYER_PX}px"
      style:bottom="{(depth - 1 - block.layer) * LAYER_PX}px"
      onclick={(e) => {
        // Keys choose too; what the pointer did is done already.
        if (e.detail === 0) light.chosen = [{ lane: lane.id, key: block.key }];
      }}
    >
      <BlockStrip {desk} {lane} {block} px={wide} />
      {#if wide > 34}
        <!-- A name stays in sight while its block is. -->
        <span class="text" style:left="{Math.max(5, px(desk.from - block.at) + 5)}px">{light.nameOf(block)}</span>
      {/if}
      {#if wide > 16}
        <i data-edge="from" class="edge from"></i>
        <i data-edge="to" class="edge to"></i>
      {/if}
      {#if chosen && wide > 56 && !curves.of}
        <i data-fade="in" class="fade" style:left="clamp(16px, {(100 * block.fadeIn) / block.length}%, 100% - 16px)"
        ></i>
        <i
          data-fade="out"
          class="fade"
          style:left="clamp(16px, {100 - (100 * block.fadeOut) / block.length}%, 100% - 16px)"
        ></i>
      {/if}
    </button>
  {/each}
  {#if curves.of && inSight}<CurveLines {desk} {light} {curves} {lane} {width} />{/if}
  {#if gesture?.kind === 'paint' && gesture.lane.id === lane.id}
    <span
      class="painted"
      style:left={share(Math.min(gesture.from, gesture.to) - desk.from)}
      style:width={share(Math.abs(gesture.to - gesture.from))}
    ></span>
  {/if}
  {#if boxed}
    <span
      class="painted"
      style:left={share(Math.min(boxed.from, boxed.now) - desk.from)}
      style:width={share(Math.abs(boxed.now - boxed.from))}
    ></span>
  {/if}
</div>

<style>
  .body {
    position: relative;
    overflow: hidden;
    touch-action: pan-y;
    border-bottom: 1px solid var(--line);
  }
  .paints {
    cursor: cell;
    touch-action: none;
  }
  .muted {
    opacity: 0.35;
  }
  .block {
    position: absolute;
    min-width: 3px;
    padding: 0;
    overflow: hidden;
    text-align: left;
    background: #0c0f15;
    border: 1px solid var(--line-strong);
    border-radius: 3px;
    cursor: grab;
  }
  .crowd {
    border-style: dotted;
    border-inline-width: 0;
  }
  .block.chosen {
    border-color: var(--amber);
    box-shadow: 0 0 0 1px var(--amber);
    z-index: 1;
  }
  .gone {
    border-style: dashed;
  }
  .text {
    position: absolute;
    bottom: 1px;
    font-size: 11px;
    color: #f2efe9;
    text-shadow:
      0 0 3px #000,
      0 0 3px #000;
    white-space: nowrap;
    pointer-events: none;
  }
  .edge {
    position: absolute;
    inset-block: 0;
    width: 7px;
    cursor: ew-resize;
  }
  .from {
    left: 0;
  }
  .to {
    right: 0;
  }
  .fade {
    position: absolute;
    top: 2px;
    width: 12px;
    height: 12px;
    margin-left: -6px;
    background: var(--amber);
    border: 2px solid #0c0f15;
    border-radius: 50%;
    cursor: ew-resize;
  }
  .painted {
    position: absolute;
    inset-block: 0;
    background: var(--amber-wash);
    border: 1px solid var(--amber);
    pointer-events: none;
  }
</style>
