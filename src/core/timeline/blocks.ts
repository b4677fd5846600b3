import { sameJson } from '../document/change.ts';
import { CURVED, CURVED_KEYS } from '../curved.ts';
import type { Curve, CurvePoint, Curves } from '../records/curve.ts';
import { LANE_LAYERS, SHORTEST_BLOCK_S, type Block, type LaneRecord } from '../records/lane.ts';
import { curveFrom, eachCurve, point } from '../song/curves.ts';
import { kept, nearest, type Grid } from '../song/grid.ts';
import { clamp } from '../units.ts';

/** What is done to blocks: each gives another list (the same one where nothing changed). Times in seconds of the song. */

export type Blocks = LaneRecord['blocks'];

/** A block as it mostly is. */
export const blockOf = (fields: Pick<Block, 'key' | 'at' | 'length' | 'plays'> & Partial<Block>): Block => ({
  layer: 0,
  fadeIn: 0,
  fadeOut: 0,
  slip: 0,
  curves: {},
  ...fields,
});

/** Keys that no block of a list has, one after the other: each call gives another. */
export function keysFor(blocks: Blocks): () => string {
  const used = new Set(blocks.map(({ key }) => key));
  let n = blocks.length;
  return () => {
    do n++;
    while (used.has(n.toString(36)));
    return n.toString(36);
  };
}

const changed = (blocks: Blocks, keys: ReadonlySet<string>, change: (block: Block) => Block): Blocks =>
  blocks.map((block) => (keys.has(block.key) ? change(block) : block));

/** Moved by so long, none of them before the beginning or past the end: then all by as much as they may. */
export function moved(blocks: Blocks, keys: ReadonlySet<string>, by: number, endS: number): Blocks {
  const own = blocks.filter(({ key }) => keys.has(key));
  if (own.length === 0) return blocks;
  const first = Math.min(...own.map(({ at }) => at));
  const last = Math.max(...own.map(({ at, length }) => at + length));
  const step = clamp(by, -first, Math.max(0, endS - last));
  return step === 0 ? blocks : changed(blocks, keys, (block) => ({ ...block, at: kept(block.at + step) }));
}

/** Stretched or trimmed at one of its edges to a moment; what it plays stays where it is in the song where its beginning is trimmed. */
export function stretched(blocks: Blocks, key: string, edge: 'from' | 'to', to: number, endS: number): Blocks {
  return changed(blocks, new Set([key]), (block) => {
    const end = block.at + block.length;
    if (edge === 'to')
      return fitted({ ...block, length: kept(clamp(to, block.at + SHORTEST_BLOCK_S, endS) - block.at) });
    const at = kept(clamp(to, 0, end - SHORTEST_BLOCK_S));
    const curves = eachCurve(block.curves, (points) => laterBy(points, block.at - at));
    return fitted({ ...block, at, length: kept(end - at), curves });
  });
}

/** Fades never take more than there is. */
const fitted = (block: Block): Block => {
  const fadeIn = Math.min(block.fadeIn, block.length);
  return { ...block, fadeIn, fadeOut: Math.min(block.fadeOut, kept(block.length - fadeIn)) };
};

/** Other fields for some of them; fades fit. */
export const withFields = (blocks: Blocks, keys: ReadonlySet<string>, fields: Partial<Omit<Block, 'key'>>): Blocks =>
  changed(blocks, keys, (block) => fitted({ ...block, ...fields }));

/** `slipBy`: how far what it plays has come at a moment of the block, in its own course. */
export type SlipBy = (block: Block, at: number) => number;

/** What of a block lies between two moments; null where that is nothing. What it plays goes on as it was there. */
export function cutBlock(block: Block, from: number, to: number, slipBy: SlipBy): Block | null {
  const end = block.at + block.length;
  const [headCut, tailCut] = [from > block.at, to < end];
  if (!headCut && !tailCut) return block;
  const at = headCut ? kept(from) : block.at;
  const length = kept((tailCut ? to : end) - (headCut ? from : block.at));
  if (length < SHORTEST_BLOCK_S) return null;
  return fitted({
    ...block,
    at,
    length,
    fadeIn: headCut ? 0 : block.fadeIn,
    fadeOut: tailCut ? 0 : block.fadeOut,
    slip: headCut ? block.slip + slipBy(block, from) : block.slip,
    curves: eachCurve(block.curves, (points) =>
      curveFrom(points, headCut ? kept(from - block.at) : 0, tailCut ? kept(to - block.at) : Infinity),
    ),
  });
}

/** A block of which what lies between two moments is taken out: nothing, one or two blocks; `key` for the second. */
export function blockWithout(block: Block, from: number, to: number, slipBy: SlipBy, key: () => string): Block[] {
  const [head, tail] = [cutBlock(block, -Infinity, from, slipBy), cutBlock(block, to, Infinity, slipBy)];
  if (!head || !tail) return [head, tail].filter((left) => left !== null);
  return [head, { ...tail, key: key() }];
}

/** Cut in two at a moment; what it plays goes on in the second where it was. Blocks that the moment does not lie in stay. */
export function split(blocks: Blocks, keys: ReadonlySet<string>, at: number, slipBy: SlipBy): Blocks {
  const key = keysFor(blocks);
  const lies = (block: Block): boolean => keys.has(block.key) && at > block.at && at < block.at + block.length;
  const found = blocks.flatMap((block) => {
    const halves = lies(block) ? blockWithout(block, at, at, slipBy, key) : [block];
    // Half of it would be shorter than a block may be.
    return halves.length === 2 ? halves : [block];
  });
  return found.length > blocks.length ? found : blocks;
}

/** Curves of two blocks of which one follows the other; where one of them has none of a kind, nothing is changed there. */
function curvesJoined(a: Block, b: Block): Curves {
  const found: Curves = {};
  for (const of of CURVED_KEYS) {
    const [own, other] = [a.curves[of], b.curves[of]];
    if (!own && !other) continue;
    const usual = [point(0, CURVED[of].usual, 'step')];
    const first = [...curveFrom(own ?? usual, 0, b.at - a.at)];
    const last = first.at(-1)!;
    // It stays until the other begins, where that has another value.
    if (last.at < b.at - a.at - 1e-6) first.push(point(b.at - a.at, last.value));
    found[of] = [...first, ...curveFrom(other ?? usual, 0).map((p) => ({ ...p, at: kept(p.at + b.at - a.at) }))];
  }
  return found;
}

/** A curve so much later, or earlier: then it begins where it was at that moment. */
const laterBy = (points: Curve, by: number): CurvePoint[] =>
  by >= 0 ? points.map((p) => ({ ...p, at: p.at + by })) : curveFrom(points, -by);

const NEAR_S = 0.0015;
/** Blocks of a layer that follow one another and play the same become one; the others stay. */
export function joined(blocks: Blocks, keys: ReadonlySet<string>): Blocks {
  const own = blocks.filter(({ key }) => keys.has(key)).sort((a, b) => a.layer - b.layer || a.at - b.at);
  const gone = new Set<string>();
  const grown = new Map<string, Block>();
  const follows = (last: Block, block: Block): boolean =>
    last.layer === block.layer &&
    Math.abs(last.at + last.length - block.at) < NEAR_S &&
    sameJson(last.plays, block.plays);
  own.reduce<Block | null>((last, block) => {
    if (!last || !follows(last, block)) return block;
    const one = {
      ...last,
      length: kept(block.at + block.length - last.at),
      fadeOut: block.fadeOut,
      curves: curvesJoined(last, block),
    };
    grown.set(one.key, one);
    gone.add(block.key);
    return one;
  }, null);
  if (gone.size === 0) return blocks;
  return blocks.flatMap((block) => (gone.has(block.key) ? [] : [grown.get(block.key) ?? block]));
}

export const without = (blocks: Blocks, keys: ReadonlySet<string>): Blocks => {
  const left = blocks.filter(({ key }) => !keys.has(key));
  return left.length === blocks.length ? blocks : left;
};

/** Copies of blocks one after the other until a moment, the last cut there; each as far from the one before as all of them are long. */
export function repeated(blocks: Blocks, keys: ReadonlySet<string>, untilS: number): Blocks {
  const own = blocks.filter(({ key }) => keys.has(key));
  if (own.length === 0) return blocks;
  const first = Math.min(...own.map(({ at }) => at));
  const span = kept(Math.max(...own.map(({ at, length }) => at + length)) - first);
  const key = keysFor(blocks);
  const found: Block[] = [];
  for (let n = 1; first + n * span < untilS - NEAR_S && found.length < MOST_COPIES; n++)
    for (const block of own) {
      const at = kept(block.at + n * span);
      const length = kept(Math.min(block.length, untilS - at));
      if (length < SHORTEST_BLOCK_S) continue;
      found.push(fitted({ ...block, key: key(), at, length }));
    }
  return found.length > 0 ? [...blocks, ...found] : blocks;
}
const MOST_COPIES = 5000;

/** The lowest layer in which a stretch is free; the highest where none is. */
export function freeLayer(blocks: Blocks, at: number, length: number): number {
  for (let layer = 0; layer < LANE_LAYERS; layer++)
    if (!blocks.some((b) => b.layer === layer && b.at < at + length - NEAR_S && at < b.at + b.length - NEAR_S))
      return layer;
  return LANE_LAYERS - 1;
}

/** A moment drawn to the beat (or `parts` of one) that is nearest, within a reach; itself where none is so near. */
export function snapped({ beats }: Pick<Grid, 'beats'>, at: number, parts: number, reachS: number): number {
  if (beats.length === 0) return at;
  const i = nearest(beats, at);
  const around = [i - 1, i].filter((n) => n >= 0 && n + 1 < beats.length);
  const candidates = [
    beats[i]!,
    ...around.flatMap((n) =>
      Array.from({ length: parts - 1 }, (_, k) => beats[n]! + ((beats[n + 1]! - beats[n]!) * (k + 1)) / parts),
    ),
  ];
  const best = candidates.reduce((a, b) => (Math.abs(b - at) < Math.abs(a - at) ? b : a));
  return Math.abs(best - at) <= reachS ? kept(best) : at;
}

/** Of some moments the one that is nearest, within a reach; null where none is so near. */
export function snappedTo(moments: readonly number[], at: number, reachS: number): number | null {
  let best: number | null = null;
  for (const moment of moments)
    if (Math.abs(moment - at) <= reachS && (best === null || Math.abs(moment - at) < Math.abs(best - at)))
      best = moment;
  return best === null ? null : kept(best);
}
