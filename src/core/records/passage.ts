import { z } from 'zod';
import { idSchema, type Id } from '../ids.ts';
import { nameSchema } from './common.ts';
import { reachIdSchema } from './effect.ts';
import { blocksSchema, laneWithout, namedIn } from './lane.ts';
import { listedFields } from './playable.ts';

/** Most lanes of a passage. */
const PASSAGE_LANES = 500;

const passageLaneSchema = z.strictObject({
  /** What it plays on, and what that was called. */
  on: reachIdSchema.nullable().default(null),
  name: nameSchema,
  lost: nameSchema.nullable().default(null),
  /** As in a lane, with moments and lengths in beats from the beginning of the passage. */
  blocks: blocksSchema,
});
export type PassageLane = z.infer<typeof passageLaneSchema>;

/** A stretch of light of a song that is kept by name, counted in beats, so that it fits into another place of any song. */
export const passageSchema = z.strictObject({
  kind: z.literal('passage'),
  id: idSchema('passage'),
  ...listedFields,
  /** How long it is, beats. */
  beats: z.number().min(0.25, 'at least a quarter of a beat').max(3600, 'at most 3600 beats'),
  lanes: z.array(passageLaneSchema).max(PASSAGE_LANES, `at most ${PASSAGE_LANES} lanes`).default([]),
});
export type PassageRecord = z.infer<typeof passageSchema>;

/** Every id a passage names, with the path it stands at. */
export function* namedInPassage({ lanes }: PassageRecord): Iterable<readonly [path: string, id: Id]> {
  for (const [i, lane] of lanes.entries()) for (const [path, id] of namedIn(lane)) yield [`lanes.${i}.${path}`, id];
}

/** A passage without what is gone; the same one where it names none of it. */
export function passageWithout(
  passage: PassageRecord,
  gone: (id: Id) => boolean,
  nameOf: (id: Id) => string,
): PassageRecord {
  const lanes = passage.lanes.map((lane) => laneWithout(lane, gone, nameOf));
  return lanes.every((lane, i) => lane === passage.lanes[i]) ? passage : { ...passage, lanes };
}
