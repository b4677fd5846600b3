<script lang="ts">
  import type { LaneId } from '$core/ids.ts';
  import type { Block, LaneRecord } from '$core/records/lane.ts';
  import Button from '$lib/components/Button.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';
  import Headphones from '@lucide/svelte/icons/headphones';
  import Lock from '@lucide/svelte/icons/lock';
  import VolumeX from '@lucide/svelte/icons/volume-x';
  import X from '@lucide/svelte/icons/x';
  import BlockStrip from './BlockStrip.svelte';
  import LightTools from './LightTools.svelte';

  /** The lanes of a song under its sound, on the same line of time: what is put there is drawn as the light it makes. */
  let { desk, light }: { desk: SongDesk; light: LightDesk } = $props();
  const app = getApp();
  const LAYER_PX = 15;
  /** Blocks of lanes while they are dragged, before that is one edit. */
  let trial = $state.raw<ReadonlyMap<LaneId, Block[]> | null>(null);
  const blocksOf = (lane: LaneRecord): Block[] => trial?.get(lane.id) ?? lane.blocks;
  const seen = (block: Block): boolean => block.at < desk.from + desk.span && block.at + block.length > desk.from;
  const share = (s: number): string => `${(100 * s) / desk.span}%`;

  type Gesture =
    | { kind: 'paint'; lane: LaneRecord; from: number; to: number }
    | { kind: 'move'; at: number; anchor: number; moved: boolean }
    | { kind: 'edge'; lane: LaneRecord; key: string; edge: 'from' | 'to' };
  let gesture = $state.raw<Gesture | null>(null);
  const timeAt = (event: PointerEvent): number => {
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    return desk.from + ((event.clientX - box.left) / box.width) * desk.span;
  };
  const reach = (event: PointerEvent): number =>
    (14 / (event.currentTarget as HTMLElement).getBoundingClientRect().width) * desk.span;

  function down(event: PointerEvent, lane: LaneRecord): void {
    if (event.button !== 0) return;
    const body = event.currentTarget as HTMLElement;
    body.setPointerCapture(event.pointerId);
    const on = (event.target as HTMLElement).closest<HTMLElement>('[data-key]');
    const at = timeAt(event);
    const key = on?.dataset['key'];
    const block = key === undefined ? undefined : lane.blocks.find((b) => b.key === key);
    // With something in the hand it is painted, over what is there too.
    if (!block || (light.hand && !lane.locked)) {
      if (light.hand && !lane.locked) {
        const from = light.snap(at, Math.max(reach(event), light.beatS(at) / 2), event.altKey);
        gesture = { kind: 'paint', lane, from, to: from };
      } else {
        light.chosen = [];
        desk.go(at);
      }
      return;
    }
    const already = light.isChosen(lane.id, block.key);
    if (event.shiftKey)
      light.chosen = already
        ? light.chosen.filter((c) => c.lane !== lane.id || c.key !== block.key)
        : [...light.chosen, { lane: lane.id, key: block.key }];
    else if (!already) light.chosen = [{ lane: lane.id, key: block.key }];
    if (lane.locked) return;
    const edge = (event.target as HTMLElement).dataset['edge'] as 'from' | 'to' | undefined;
    gesture = edge
      ? { kind: 'edge', lane, key: block.key, edge }
      : { kind: 'move', at, anchor: block.at, moved: false };
  }
  function move(event: PointerEvent): void {
    if (!gesture) return;
    const at = timeAt(event);
    if (gesture.kind === 'paint') {
      gesture = { ...gesture, to: light.snap(at, Math.max(reach(event), light.beatS(at) / 2), event.altKey) };
      return;
    }
    if (gesture.kind === 'edge') {
      const { lane, key, edge } = gesture;
      trial = new Map([[lane.id, light.stretchedIn(lane, key, edge, light.snap(at, reach(event), event.altKey))]]);
      return;
    }
    if (!gesture.moved && Math.abs(at - gesture.at) < reach(event) / 4) return;
    gesture = { ...gesture, moved: true };
    const to = light.snap(gesture.anchor + at - gesture.at, reach(event), event.altKey);
    const by = to - gesture.anchor;
    trial = new Map(
      light.lanes
        .filter((lane) => !lane.locked && light.keysIn(lane.id).size > 0)
        .map((lane) => [lane.id, light.movedIn(lane, by)]),
    );
  }
  function up(): void {
    const [now, tried] = [gesture, trial];
    [gesture, trial] = [null, null];
    if (!now) return;
    if (now.kind === 'paint') {
      const [from, to] = [Math.min(now.from, now.to), Math.max(now.from, now.to)];
      // A press alone puts one beat of it.
      light.put(now.lane, from, to - from < 0.001 ? from + light.beatS(from) : to);
      return;
    }
    if (!tried) return;
    const put = light.lanes.flatMap((lane) => {
      const blocks = tried.get(lane.id);
      return blocks && blocks !== lane.blocks ? [{ ...lane, blocks }] : [];
    });
    if (put.length > 0) app.live.edit(now.kind === 'edge' ? 'Stretch a block' : 'Move blocks', { put, remove: [] });
  }
  function cancel(): void {
    [gesture, trial] = [null, null];
  }
  function keys(event: KeyboardEvent): void {
    if ((event.target as HTMLElement).closest('input, select') || event.ctrlKey || event.metaKey) return;
    if (event.key === 'Escape' && light.hand) {
      light.hand = null;
      event.preventDefault();
      event.stopPropagation();
      return;
    }
    if (light.chosen.length === 0) return;
    const step = event.altKey ? 0.01 : light.beatS(light.first?.at ?? 0);
    if (event.key === 'Delete' || event.key === 'Backspace') light.remove();
    else if (event.key === 'ArrowRight') light.move(step);
    else if (event.key === 'ArrowLeft') light.move(-step);
    else if (event.key === 'x' || event.key === 'X') light.split(desk.place);
    else if (event.key === 'Escape') light.chosen = [];
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
  let head = $state<HTMLElement>();
  $effect(() => {
    let frame = 0;
    const place = (): void => {
      if (head) {
        const part = (desk.place - desk.from) / desk.span;
        head.style.left = `${part * 100}%`;
        head.style.visibility = part < 0 || part > 1 ? 'hidden' : 'visible';
      }
      frame = requestAnimationFrame(place);
    };
    frame = requestAnimationFrame(place);
    return () => cancelAnimationFrame(frame);
  });
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<section class="light" aria-label="Light of the song" onkeydown={keys}>
  <LightTools {desk} {light} />
  <div class="lanes">
    {#each light.lanes as lane (lane.id)}
      {@const depth = 1 + Math.max(0, ...blocksOf(lane).map(({ layer }) => layer))}
      <div class="lane" class:muted={lane.muted} class:lost={lane.lost !== null}>
        <div class="name">
          <span>{light.laneName(lane)}</span>
          <span class="quiet num">{lane.blocks.length}</span>
          <Button
            kind="bare"
            pressed={lane.muted}
            aria-label="Mute {light.laneName(lane)}"
            title="Does not play"
            onclick={() => light.changeLane(lane, 'Mute a lane', { muted: !lane.muted })}><VolumeX size={14} /></Button
          >
          <Button
            kind="bare"
            pressed={lane.solo}
            aria-label="Only {light.laneName(lane)}"
            title="Only this plays"
            onclick={() => light.changeLane(lane, 'Solo a lane', { solo: !lane.solo })}><Headphones size={14} /></Button
          >
          <Button
            kind="bare"
            pressed={lane.locked}
            aria-label="Lock {light.laneName(lane)}"
            title="Cannot be changed"
            onclick={() => light.changeLane(lane, 'Lock a lane', { locked: !lane.locked })}><Lock size={14} /></Button
          >
          <Button
            kind="bare"
            aria-label="Remove the lane {light.laneName(lane)}"
            title="Remove the lane"
            disabled={lane.locked}
            onclick={() => light.removeLane(lane)}><X size={14} /></Button
          >
        </div>
        <!-- svelte-ignore a11y_no_static_element_interactions -->
        <div
          class="body"
          class:paints={light.hand !== null && !lane.locked}
          data-lane={lane.id}
          style:height="{Math.max(44, depth * LAYER_PX + 30)}px"
          onpointerdown={(e) => down(e, lane)}
          onpointermove={move}
          onpointerup={up}
          onpointercancel={cancel}
        >
          {#each blocksOf(lane).filter(seen) as block (block.key)}
            <button
              type="button"
              class="block"
              class:chosen={light.isChosen(lane.id, block.key)}
              class:gone={block.plays.is === 'gone'}
              data-key={block.key}
              aria-pressed={light.isChosen(lane.id, block.key)}
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
              <BlockStrip {lane} {block} song={desk.song} />
              <span class="text">{light.nameOf(block)}</span>
              <i data-edge="from" class="edge from"></i>
              <i data-edge="to" class="edge to"></i>
            </button>
          {/each}
          {#if gesture?.kind === 'paint' && gesture.lane.id === lane.id}
            <span
              class="painted"
              style:left={share(Math.min(gesture.from, gesture.to) - desk.from)}
              style:width={share(Math.abs(gesture.to - gesture.from))}
            ></span>
          {/if}
        </div>
      </div>
    {:else}
      <p class="quiet none">
        No light of its own yet. Add a lane for what is to play, take something in the hand, and paint it on the lane: a
        press puts one beat, a drag as much as you draw. Esc empties the hand.
      </p>
    {/each}
    <span class="headline" bind:this={head}></span>
  </div>
</section>

<style>
  .light {
    display: flex;
    flex-direction: column;
    flex: 1.6;
    min-height: 160px;
    border-top: 1px solid var(--line);
  }
  .lanes {
    position: relative;
    user-select: none;
    flex: 1;
    min-height: 0;
    overflow-y: auto;
    overflow-x: hidden;
    background: var(--back);
  }
  .name {
    display: flex;
    gap: 6px;
    align-items: center;
    height: 24px;
    padding-left: 8px;
    font-size: 12.5px;
    background: var(--panel);
  }
  .name :global(button) {
    min-height: 22px;
    padding: 0 5px;
  }
  .name :global([aria-pressed='true']) {
    color: var(--amber);
  }
  .body {
    position: relative;
    overflow: hidden;
    touch-action: none;
    border-bottom: 1px solid var(--line);
  }
  .paints {
    cursor: cell;
  }
  .muted .body {
    opacity: 0.35;
  }
  .lost .name {
    color: var(--amber);
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
    left: 5px;
    bottom: 1px;
    font-size: 11px;
    color: var(--text);
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
  .painted {
    position: absolute;
    inset-block: 0;
    background: var(--amber-wash);
    border: 1px solid var(--amber);
    pointer-events: none;
  }
  .headline {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 2px;
    margin-left: -1px;
    background: var(--amber);
    pointer-events: none;
  }
  .none {
    padding: 12px 16px;
  }
</style>
