import { z } from 'zod';
import { idSchema } from '../ids.ts';
import {
  addressSchema,
  hexColourSchema,
  keySchema,
  nameSchema,
  notesSchema,
  numberSchema,
  placeInRoomSchema,
  turnsSchema,
  universeSchema,
} from './common.ts';

import { movementSchema } from './movement.ts';
import { propSchema } from './prop.ts';

export const placeSchema = z.strictObject({ universe: universeSchema, address: addressSchema });

/**
 * An address that follows from another unit's. A twin has the very same one, on purpose; a chained unit starts in the
 * slot after the other's last, `gap` slots further on.
 */
export const relationSchema = z.union([
  z.strictObject({ twinOf: idSchema('unit') }),
  z.strictObject({ after: idSchema('unit'), gap: z.int().min(0).max(511).default(0) }),
]);
export type Relation = z.infer<typeof relationSchema>;

/** What the person with the ladder said of a unit, and for which address. */
export const walkSchema = z.strictObject({
  state: z.enum(['done', 'skipped']),
  by: z.string().max(60, 'at most 60 characters'),
  /** Milliseconds since 1970. */
  at: z.int().min(0).max(8_640_000_000_000_000),
  /** The address the unit had then; a tick for another address is out of date. */
  place: placeSchema.nullable(),
  reason: z.string().max(200, 'at most 200 characters').default(''),
});
export type Walked = z.infer<typeof walkSchema>;

/** A blade at the edge of a beam: how far it is pushed in (0-1 of the way across) and how far it is turned, degrees. */
export const bladeSchema = z.strictObject({
  in: z.number().min(0, 'must be 0-1').max(1, 'must be 0-1').default(0),
  deg: z.number().min(-60, 'must be -60 to 60').max(60, 'must be -60 to 60').default(0),
});
export type Blade = z.infer<typeof bladeSchema>;
/** The sides of a beam that blades stand at, as seen from behind the lamp. */
export const BLADES = ['top', 'right', 'bottom', 'left'] as const;

/** How a fixed lamp was set on the ladder; null where it is as its profile says. */
export const focusSchema = z.strictObject({
  /** Full beam angle, degrees. */
  beamDeg: z.number().min(0.5, 'must be 0.5-170').max(170, 'must be 0.5-170').nullable().default(null),
  /** Where in its range its lens stands, 0-1: sharp in the middle. */
  edge: z.number().min(0, 'must be 0-1').max(1, 'must be 0-1').nullable().default(null),
  /** Top, right, bottom, left. */
  shutters: z.array(bladeSchema).length(BLADES.length, 'has four blades').nullable().default(null),
  /** What its gel is called by the person who cuts it. */
  gelName: z.string().max(60, 'at most 60 characters').default(''),
});
export type UnitFocus = z.infer<typeof focusSchema>;
export const AS_IT_COMES: UnitFocus = { beamDeg: null, edge: null, shutters: null, gelName: '' };

/** One physical thing in the rig that is addressed. */
export const unitSchema = z.strictObject({
  kind: z.literal('unit'),
  id: idSchema('unit'),
  number: numberSchema,
  name: nameSchema,
  profileId: idSchema('profile'),
  /** Key of one of the profile's modes. */
  mode: keySchema,
  /** Where its first slot is; null while it has not been addressed. Without meaning while there is a `relation`. */
  patch: placeSchema.nullable().default(null),
  relation: relationSchema.nullable().default(null),
  /** Where its last slot must be according to the builder's own sheet. */
  expectedEnd: placeSchema.nullable().default(null),
  /** Its area where that was set by hand; else it belongs to the innermost one it stands in (`patch/areas.ts`). */
  areaId: idSchema('area').nullable().default(null),
  /** Key of one of the show's colour tags. */
  tag: keySchema.nullable().default(null),
  walk: walkSchema.nullable().default(null),
  position: placeInRoomSchema.default({ x: 0, y: 0, z: 0 }),
  rotation: turnsSchema.default({ x: 0, y: 0, z: 0 }),
  /** The thing it hangs on: when that moves, it moves too. Its own place stays one in the room. */
  hungOn: idSchema('thing').nullable().default(null),
  /** Places of its cells where they are not simply in a row (`plot/places.ts`): base64, six bytes a cell. */
  cellPlaces: z
    .string()
    .max(524_288, 'at most 65,536 cells')
    .regex(/^[A-Za-z0-9+/]*={0,2}$/, 'must be base64')
    .nullable()
    .default(null),
  /** Shape and wiring of its cells; null where it is as its profile says. */
  prop: propSchema.nullable().default(null),
  /** It does not move on the plot by accident. */
  locked: z.boolean().default(false),
  /** Filter in front of a single-channel lamp. */
  gel: hexColourSchema.nullable().default(null),
  focus: focusSchema.nullable().default(null),
  /** Its RDM device (ANSI E1.20), where it was found and told apart. */
  rdmUid: z
    .string()
    .regex(/^[0-9a-f]{4}:[0-9a-f]{8}$/, 'must be a UID such as "7ff1:00000a01"')
    .nullable()
    .default(null),
  /** Its level never passes this, 0-1: for lamps that dazzle and supplies that are small. */
  levelLimit: z.number().min(0, 'must be 0-1').max(1, 'must be 0-1').default(1),
  invertPan: z.boolean().default(false),
  invertTilt: z.boolean().default(false),
  /** How it is wired and how far it may go; null where it is as its profile says. */
  movement: movementSchema.nullable().default(null),
  notes: notesSchema.default(''),
});
export type UnitRecord = z.infer<typeof unitSchema>;
