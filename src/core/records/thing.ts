import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { hexColourSchema, metresSchema, nameSchema, notesSchema, numberSchema } from './common.ts';

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
] as const;
export type ThingShape = (typeof THING_SHAPES)[number];

const degrees = z.number().min(-360).max(360);
const sizeSchema = z.number().min(0.01, 'must be 0.01-1000 m').max(1000, 'must be 0.01-1000 m');

/** Something that stands in the room and is not lit: a booth, a truss, a loudspeaker, a wall. */
export const thingSchema = z.strictObject({
  kind: z.literal('thing'),
  id: idSchema('thing'),
  number: numberSchema,
  name: nameSchema,
  shape: z.enum(THING_SHAPES),
  /** The middle of its foot (of a truss: of its lower side), metres in the room. */
  position: z.strictObject({ x: metresSchema, y: metresSchema, z: metresSchema }).default({ x: 0, y: 0, z: 0 }),
  /** Turns about x, y and z in degrees, applied in that order, as those of units. */
  rotation: z.strictObject({ x: degrees, y: degrees, z: degrees }).default({ x: 0, y: 0, z: 0 }),
  /** Across, deep and high, metres, before it is turned. */
  size: z.strictObject({ widthM: sizeSchema, depthM: sizeSchema, heightM: sizeSchema }),
  colour: hexColourSchema.default('#5b6577'),
  /** It does not move on the plot by accident. */
  locked: z.boolean().default(false),
  notes: notesSchema.default(''),
});
export type ThingRecord = z.infer<typeof thingSchema>;
