import { z } from 'zod';
import { idSchema, type AimId, type AreaId, type UnitId } from '../ids.ts';
import { correctionSchema, whereSchema } from './aim.ts';
import { areaSchema } from './area.ts';
import { guidesSchema, nameSchema, notesSchema, numberSchema, placeInRoomSchema, turnsSchema } from './common.ts';
import { thingSchema } from './thing.ts';
import { movementSchema } from './movement.ts';

/** Size of a room in metres: x across, y deep, z high. The plan's origin is the middle of the floor. */
export const measuresSchema = z.strictObject({
  name: nameSchema,
  widthM: z.number().min(1, 'must be 1-2000 m').max(2000, 'must be 1-2000 m'),
  depthM: z.number().min(1, 'must be 1-2000 m').max(2000, 'must be 1-2000 m'),
  heightM: z.number().min(1, 'must be 1-200 m').max(200, 'must be 1-200 m'),
  /** Whether it has walls and a ceiling that light falls on; a display stands in the open. */
  walls: z.boolean().default(true),
});
export type Measures = z.infer<typeof measuresSchema>;

/** The part of an id behind its kind: for what stands in another room and so is no record now. */
const bodySchema = z.string().regex(/^[a-z0-9][a-z0-9-]{0,39}$/, 'must be 1-40 of a-z, 0-9 and "-"');

/** All that belongs to a room and not to the programming: what stands in it, and where units and aims are. */
export const keptRoomSchema = z.strictObject({
  measures: measuresSchema,
  /** Things by the body of their ids. */
  things: z.record(bodySchema, thingSchema.omit({ kind: true, id: true })).default({}),
  units: z
    .record(
      idSchema('unit') as unknown as z.ZodType<UnitId, UnitId>,
      z.strictObject({
        position: placeInRoomSchema,
        rotation: turnsSchema,
        /** Body of the id of the thing it hangs on. */
        hungOn: bodySchema.nullable().default(null),
        invertPan: z.boolean().default(false),
        invertTilt: z.boolean().default(false),
        movement: movementSchema.nullable().default(null),
      }),
    )
    .default({}),
  areas: z
    .record(idSchema('area') as unknown as z.ZodType<AreaId, AreaId>, areaSchema.pick({ outline: true, keepOut: true }))
    .default({}),
  aims: z
    .record(
      idSchema('aim') as unknown as z.ZodType<AimId, AimId>,
      z.strictObject({
        where: whereSchema,
        anchor: z
          .strictObject({ kind: z.enum(['thing', 'area']), body: bodySchema })
          .nullable()
          .default(null),
        corrections: z.record(bodySchema, correctionSchema).default({}),
      }),
    )
    .default({}),
  guides: guidesSchema,
});
export type KeptRoom = z.infer<typeof keptRoomSchema>;

/**
 * A room the show is played in. The one it stands in now (`show.roomId`) is the show itself and keeps nothing here; the
 * others keep what belongs to them until somebody goes there again.
 */
export const roomSchema = z.strictObject({
  kind: z.literal('room'),
  id: idSchema('room'),
  number: numberSchema,
  name: nameSchema,
  notes: notesSchema.default(''),
  kept: keptRoomSchema.nullable().default(null),
});
export type RoomRecord = z.infer<typeof roomSchema>;
