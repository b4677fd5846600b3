import { z } from 'zod';
import { idSchema, type AimId, type Id } from '../ids.ts';
import { nameSchema, numberSchema } from './common.ts';
import { curvesSchema } from './curve.ts';
import { effectSpecSchema, followedIn, reachIdSchema } from './effect.ts';
import { songSecondsSchema } from './song.ts';
import { recordIdOf, targetSchema } from './target.ts';

/** The light of a song that is exact: lanes of what plays where, with blocks from one moment of the song to another. */

/** What a block plays: something of the show, which it follows; an effect of its own; heads at an aim; or what is gone. */
const blockPlaysSchema = z.discriminatedUnion('is', [
  z.strictObject({ is: z.literal('play'), target: targetSchema }),
  z.strictObject({ is: z.literal('effect'), name: nameSchema, spec: effectSpecSchema }),
  z.strictObject({ is: z.literal('aim'), aimId: idSchema('aim') }),
  /** What it played was deleted: it stands in its place until something else is put there. */
  z.strictObject({ is: z.literal('gone'), name: nameSchema }),
]);
export type BlockPlays = z.infer<typeof blockPlaysSchema>;

/** Shortest block, seconds; and how many layers of them a lane has. */
export const SHORTEST_BLOCK_S = 0.001;
export const LANE_LAYERS = 4;
export const MOST_BLOCKS = 20_000;
const fadeSchema = z.number().min(0, 'must not be negative').max(600, 'at most 600 s').default(0);

const blockSchema = z.strictObject({
  key: z.string().regex(/^[a-z0-9]{1,12}$/, 'must be 1-12 of a-z and 0-9'),
  /** Where it begins in the song, and how long it is, seconds. */
  at: songSecondsSchema,
  length: z.number().min(SHORTEST_BLOCK_S, `at least ${SHORTEST_BLOCK_S} s`).max(3600, 'at most one hour'),
  /** A higher layer lies over the lower ones of its lane. */
  layer: z
    .int()
    .min(0)
    .max(LANE_LAYERS - 1)
    .default(0),
  plays: blockPlaysSchema,
  fadeIn: fadeSchema,
  fadeOut: fadeSchema,
  /** What moves by itself begins so much later in its own course, seconds, beats or turns as it counts. */
  slip: z.number().min(-3600).max(3600).default(0),
  /** What goes over its time, from its beginning on. */
  curves: curvesSchema,
});
export type Block = z.infer<typeof blockSchema>;

export const blocksSchema = z
  .array(blockSchema)
  .max(MOST_BLOCKS, `at most ${MOST_BLOCKS} blocks`)
  .refine((blocks) => new Set(blocks.map(({ key }) => key)).size === blocks.length, 'must not use a key twice')
  .default([]);

export const laneSchema = z.strictObject({
  kind: z.literal('lane'),
  id: idSchema('lane'),
  number: numberSchema,
  songId: idSchema('song'),
  /** What it plays on: a unit, a part, a group or an area; null for the whole rig. */
  on: reachIdSchema.nullable().default(null),
  /** What it played on was deleted, and was called this: it plays nothing until it is bound anew. */
  lost: nameSchema.nullable().default(null),
  muted: z.boolean().default(false),
  solo: z.boolean().default(false),
  locked: z.boolean().default(false),
  /** What people play and do by hand lies over it; else it lies over what they play. */
  live: z.boolean().default(true),
  /** It stands above those that are none. */
  favourite: z.boolean().default(false),
  /** What goes over the time of the song for all its blocks. */
  curves: curvesSchema,
  blocks: blocksSchema,
});
export type LaneRecord = z.infer<typeof laneSchema>;

/** What has blocks that play on something: a lane, and a lane of a passage. */
type Laned = Pick<LaneRecord, 'on' | 'lost' | 'blocks'>;

/** Every id a lane names besides its song, with the path it stands at. */
export function* namedIn({ on, blocks }: Pick<Laned, 'on' | 'blocks'>): Iterable<readonly [path: string, id: Id]> {
  if (on) yield ['on', on];
  for (const [i, { plays }] of blocks.entries())
    for (const [path, id] of playedIn(plays)) yield [`blocks.${i}.plays.${path}`, id];
}

function* playedIn(plays: BlockPlays): Iterable<readonly [path: string, id: Id]> {
  if (plays.is === 'aim') yield ['aimId', plays.aimId satisfies AimId];
  else if (plays.is === 'play') {
    const id = recordIdOf(plays.target);
    if (id) yield ['target', id];
  } else if (plays.is === 'effect')
    for (const [n, part] of plays.spec.parts.entries())
      for (const [path, id] of followedIn(part)) yield [`spec.parts.${n}.${path}`, id];
}

/** A lane without what is gone: blocks and the lane itself keep the names of that. The same one where it names none of it. */
export function laneWithout<L extends Laned>(lane: L, gone: (id: Id) => boolean, nameOf: (id: Id) => string): L {
  if (![...namedIn(lane)].some(([, id]) => gone(id))) return lane;
  const blocks = lane.blocks.map((block): Block => {
    const named = [...playedIn(block.plays)].find(([, id]) => gone(id));
    if (!named) return block;
    const name = block.plays.is === 'effect' ? block.plays.name : nameOf(named[1]);
    return { ...block, plays: { is: 'gone', name } };
  });
  const lost = lane.on && gone(lane.on) ? nameOf(lane.on) : lane.lost;
  return { ...lane, blocks, on: lane.on && gone(lane.on) ? null : lane.on, lost };
}
