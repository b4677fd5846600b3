import { z } from 'zod';
import { idSchema } from '../ids.ts';
import {
  addressSchema,
  hexColourSchema,
  keySchema,
  metresSchema,
  nameSchema,
  notesSchema,
  numberSchema,
  universeSchema,
} from './common.ts';

const degrees = z.number().min(-360).max(360);

/** One physical thing in the rig that is addressed. */
export const unitSchema = z.strictObject({
  kind: z.literal('unit'),
  id: idSchema('unit'),
  number: numberSchema,
  name: nameSchema,
  profileId: idSchema('profile'),
  /** Key of one of the profile's modes. */
  mode: keySchema,
  /** Where its first slot is; null while it has not been addressed. */
  patch: z.strictObject({ universe: universeSchema, address: addressSchema }).nullable().default(null),
  position: z.strictObject({ x: metresSchema, y: metresSchema, z: metresSchema }).default({ x: 0, y: 0, z: 0 }),
  /** Turns about x, y and z in degrees, applied in that order. 0 0 0 stands on the floor facing up-stage. */
  rotation: z.strictObject({ x: degrees, y: degrees, z: degrees }).default({ x: 0, y: 0, z: 0 }),
  /** Filter in front of a single-channel lamp. */
  gel: hexColourSchema.nullable().default(null),
  invertPan: z.boolean().default(false),
  invertTilt: z.boolean().default(false),
  notes: notesSchema.default(''),
});
export type UnitRecord = z.infer<typeof unitSchema>;
