import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { keepOutSchema } from './movement.ts';
import { BLOB_LIMITS, blobHashSchema } from './blob.ts';
import { hexColourSchema, nameSchema, notesSchema, numberSchema, placeInRoomSchema, turnsSchema } from './common.ts';

/** What can stand in a room and is not lit. A truss and a stand have places to hang units on. */
export const THING_SHAPES = [
  'box',
  'cylinder',
  'platform',
  'truss',
  'stand',
  'booth',
  'loudspeaker',
  'screen',
  'wall',
  'marker',
  'person',
  'model',
] as const;
export type ThingShape = (typeof THING_SHAPES)[number];

const sizeSchema = z.number().min(0.01, 'must be 0.01-1000 m').max(1000, 'must be 0.01-1000 m');

/** Most triangles of a model as it is kept: a larger one is made simpler when it is brought in. */
export const MODEL_TRIANGLES = 60_000;

/** A model that was brought in, as a file of its own (`format/mesh.ts`), with what its file was called. */
export const modelSchema = z.strictObject({
  blob: blobHashSchema,
  bytes: z.int().min(1).max(BLOB_LIMITS['model/gltf-binary']),
  triangles: z.int().min(1).max(MODEL_TRIANGLES),
  /** Triangles of the file it was made from. */
  of: z.int().min(1),
  file: z.string().max(200, 'at most 200 characters'),
});
export type ThingModel = z.infer<typeof modelSchema>;

/** Something that stands in the room and is not lit: a booth, a truss, a loudspeaker, a wall. */
export const thingSchema = z.strictObject({
  kind: z.literal('thing'),
  id: idSchema('thing'),
  number: numberSchema,
  name: nameSchema,
  shape: z.enum(THING_SHAPES),
  /** The middle of its foot (of a truss: of its lower side), metres in the room. */
  position: placeInRoomSchema.default({ x: 0, y: 0, z: 0 }),
  rotation: turnsSchema.default({ x: 0, y: 0, z: 0 }),
  /** Across, deep and high, metres, before it is turned. */
  size: z.strictObject({ widthM: sizeSchema, depthM: sizeSchema, heightM: sizeSchema }),
  colour: hexColourSchema.default('#5b6577'),
  /** What is drawn of a `model`; a box where nothing was brought in. */
  model: modelSchema.nullable().default(null),
  /** No beam is to meet it: a window, a mirror, a projector screen. Its heights are its own. */
  keepOut: keepOutSchema.nullable().default(null),
  /** It does not move on the plot by accident. */
  locked: z.boolean().default(false),
  notes: notesSchema.default(''),
});
export type ThingRecord = z.infer<typeof thingSchema>;
