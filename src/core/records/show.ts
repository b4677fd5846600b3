import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { nameSchema, notesSchema } from './common.ts';

/** The show itself: one record a show, the root that all others belong to. */
export const showSchema = z.strictObject({
  kind: z.literal('show'),
  id: idSchema('show'),
  name: nameSchema,
  notes: notesSchema.default(''),
  /** Frames a second the engine renders and sends: 10-44 (44 is the limit of ANSI E1.11 with 512 slots). */
  frameRate: z.int().min(10, 'must be 10-44').max(44, 'must be 10-44').default(40),
  /** Tempo at which the show opens, beats a minute. */
  tempoBpm: z.number().min(20, 'must be 20-300').max(300, 'must be 20-300').default(120),
  /** Profiles marked as favourites, and those units were added of lately, newest first. They need not be in the show. */
  favourites: z.array(idSchema('profile')).max(200).default([]),
  recent: z.array(idSchema('profile')).max(12).default([]),
  /** Size of the room in metres: x across, y deep, z high. The plan's origin is the middle of the floor. */
  room: z
    .strictObject({
      name: nameSchema,
      widthM: z.number().min(1).max(2000),
      depthM: z.number().min(1).max(2000),
      heightM: z.number().min(1).max(200),
    })
    .default({ name: 'Room', widthM: 12, depthM: 8, heightM: 4 }),
});
export type ShowRecord = z.infer<typeof showSchema>;
