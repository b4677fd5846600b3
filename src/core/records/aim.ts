import { z } from 'zod';
import { idSchema, type AreaId, type GroupId, type ThingId, type UnitId } from '../ids.ts';
import { metresSchema, placeInRoomSchema } from './common.ts';
import { colourField, listedFields } from './playable.ts';
import { UNIT_ORDERS } from './group.ts';

const degrees = z.number().min(-360, 'must be -360 to 360').max(360, 'must be -360 to 360');
const radiusSchema = z.number().min(0, 'must be 0-200 m').max(200, 'must be 0-200 m');

/**
 * Where heads point, metres in the room or, with an anchor, from the middle of what it stands on (in that thing's own turned
 * frame; of an area from the middle of its outline on the floor).
 *
 * - `point`: one place for all.
 * - `pair`: the place and its mirror image across x = `middleX`; heads take the one on their side, or the other where they cross.
 * - `spread`: along a line by order, first to last; `bowM` lifts its middle off the line, towards up-stage.
 * - `ring`: round a middle by order, the first at `fromDeg` (0 stage left, 90 up-stage).
 * - `direction`: the same way for all, wherever they hang: `turnDeg` 0 to the audience (down-stage), 90 to stage left;
 *   `riseDeg` up from the level; `fanDeg` opened from first to last.
 * - `home`: the middle of pan and tilt.
 */
export const whereSchema = z.discriminatedUnion('is', [
  z.strictObject({ is: z.literal('point'), at: placeInRoomSchema }),
  z.strictObject({
    is: z.literal('pair'),
    at: placeInRoomSchema,
    middleX: metresSchema.default(0),
    crossing: z.boolean().default(false),
  }),
  z.strictObject({
    is: z.literal('spread'),
    from: placeInRoomSchema,
    to: placeInRoomSchema,
    bowM: z.number().min(-200, 'must be within 200 m').max(200, 'must be within 200 m').default(0),
  }),
  z.strictObject({ is: z.literal('ring'), at: placeInRoomSchema, radiusM: radiusSchema, fromDeg: degrees.default(0) }),
  z.strictObject({
    is: z.literal('direction'),
    turnDeg: degrees,
    riseDeg: z.number().min(-90, 'must be -90 to 90').max(90, 'must be -90 to 90'),
    fanDeg: degrees.default(0),
  }),
  z.strictObject({ is: z.literal('home') }),
]);
export type Where = z.infer<typeof whereSchema>;

/** How a head is off where it was worked out to point, degrees of its pan and tilt: as it was seen in the room. */
export const correctionSchema = z.strictObject({
  pan: z.number().min(-180, 'must be -180 to 180').max(180, 'must be -180 to 180').default(0),
  tilt: z.number().min(-180, 'must be -180 to 180').max(180, 'must be -180 to 180').default(0),
});
export type Correction = z.infer<typeof correctionSchema>;

export type AnchorId = ThingId | AreaId;
/** Who takes part: units, groups, areas. */
export type HeadsId = UnitId | GroupId | AreaId;
const headsIdSchema = z.custom<HeadsId>(
  (value) => typeof value === 'string' && /^(unit|group|area):[a-z0-9][a-z0-9-]{0,39}$/.test(value),
  { message: 'must be a unit, group or area id such as "group:ab12cd34"' },
);

/** A named place (or direction) that heads can point at. */
export const aimSchema = z.strictObject({
  kind: z.literal('aim'),
  id: idSchema('aim'),
  ...listedFields,
  colour: colourField('#7fd4c1'),
  where: whereSchema,
  /** What it stands on, and follows. */
  anchor: z
    .custom<AnchorId>((value) => typeof value === 'string' && /^(thing|area):[a-z0-9][a-z0-9-]{0,39}$/.test(value), {
      message: 'must be a thing or area id such as "thing:ab12cd34"',
    })
    .nullable()
    .default(null),
  /** Which heads take part; null for all that can move. */
  heads: z.array(headsIdSchema).max(20_000, 'at most 20000').nullable().default(null),
  /** In which order they do; `given`: as they are named, members of groups in the order of the group. */
  order: z.enum(['given', ...UNIT_ORDERS]).default('plot'),
  /** What was seen to be off, by unit. */
  corrections: z
    .record(idSchema('unit') as unknown as z.ZodType<`unit:${string}`, `unit:${string}`>, correctionSchema)
    .default({}),
});
export type AimRecord = z.infer<typeof aimSchema>;
