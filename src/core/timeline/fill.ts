import { LANE_LAYERS, SHORTEST_BLOCK_S, type Block, type BlockPlays } from '../records/lane.ts';
import { kept } from '../song/grid.ts';
import { blockOf, freeLayer, keysFor, type Blocks } from './blocks.ts';
import type { Stretch } from './passages.ts';

/** Lanes filled from what was heard in a song. */

/**
 * Blocks that play the same at each of these moments (s, rising) within a stretch, each so long, but never into the next;
 * they fade out over `fade` of their length (0-1). Added in the lowest layer that is free.
 */
export function atMoments(
  blocks: Blocks,
  moments: readonly number[],
  stretch: Stretch,
  { plays, length, fade = 0 }: { readonly plays: BlockPlays; readonly length: number; readonly fade?: number },
): Blocks {
  const within = moments.filter((at) => at >= stretch.from - 1e-6 && at < stretch.to - SHORTEST_BLOCK_S);
  if (within.length === 0) return blocks;
  const layer = freeLayer(blocks, within[0]!, within.at(-1)! + length - within[0]!);
  const key = keysFor(blocks);
  const found = within.map((at, i) => {
    const room = Math.min(within[i + 1] ?? stretch.to, stretch.to) - at;
    const own = kept(Math.max(SHORTEST_BLOCK_S, Math.min(length, room)));
    return blockOf({ key: key(), at: kept(at), length: own, layer, plays, fadeOut: kept(own * fade) });
  });
  return [...blocks, ...found];
}

/** Moments dealt out: the first to the first of so many, the next to the next, and round again. */
export const dealtOut = (moments: readonly number[], count: number): number[][] =>
  Array.from({ length: count }, (_, n) => moments.filter((_, i) => i % count === n));

/** What overlaps in a layer: the blocks of it that begin before another of it has ended. */
export function overlapping(blocks: Blocks): Block[] {
  const found: Block[] = [];
  for (let layer = 0; layer < LANE_LAYERS; layer++) {
    const own = blocks.filter((block) => block.layer === layer).sort((a, b) => a.at - b.at);
    let end = -Infinity;
    for (const block of own) {
      if (block.at < end - 1e-3) found.push(block);
      end = Math.max(end, block.at + block.length);
    }
  }
  return found;
}
