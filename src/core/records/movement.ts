import { z } from 'zod';

const degrees = z.number().min(-720, 'must be -720 to 720').max(720, 'must be -720 to 720');
const travelSchema = z
  .strictObject({ fromDeg: degrees, toDeg: degrees })
  .refine(({ fromDeg, toDeg }) => fromDeg < toDeg, 'must go from a lower to a higher angle');

/**
 * How a head is wired and how far it may go. Degrees are those of its axes from the middle of their ranges, as they are
 * programmed (before anything is turned round on the wire).
 */
export const movementSchema = z.strictObject({
  /** Its pan channel moves its tilt, and the other way round. */
  swap: z.boolean().default(false),
  /** Where its axes have to stand for the beam to be in the middle. */
  panOffsetDeg: z.number().min(-180, 'must be -180 to 180').max(180, 'must be -180 to 180').default(0),
  tiltOffsetDeg: z.number().min(-180, 'must be -180 to 180').max(180, 'must be -180 to 180').default(0),
  /** It never goes beyond: a wall, a cable, people. */
  pan: travelSchema.nullable().default(null),
  tilt: travelSchema.nullable().default(null),
  /** It never turns faster, degrees a second, on either axis. */
  fastestDegS: z.number().min(1, 'must be 1-2000').max(2000, 'must be 1-2000').nullable().default(null),
});
export type Movement = z.infer<typeof movementSchema>;
export const AS_WIRED: Movement = {
  swap: false,
  panOffsetDeg: 0,
  tiltOffsetDeg: 0,
  pan: null,
  tilt: null,
  fastestDegS: null,
};

/** What nobody wants light in: eyes, a window, a mirror, a projector screen. */
export const keepOutSchema = z.strictObject({
  /** Off on purpose: it stays drawn and said. */
  on: z.boolean().default(true),
  /** Of an area: between these heights over the floor, metres. */
  fromM: z.number().min(0, 'must be 0-200 m').max(200, 'must be 0-200 m').default(1.2),
  toM: z.number().min(0, 'must be 0-200 m').max(200, 'must be 0-200 m').default(1.9),
  /** What is left of the level of a beam that meets it, 0-1. */
  level: z.number().min(0, 'must be 0-1').max(1, 'must be 0-1').default(0),
  /** Of an area: beams that come down steeper than this pass, degrees from the level: they meet hair, not eyes. */
  steepDeg: z.number().min(20, 'must be 20-90').max(90, 'must be 20-90').nullable().default(null),
  /** How wide the edge is over which the level goes down, degrees. */
  softDeg: z.number().min(0.5, 'must be 0.5-45').max(45, 'must be 0.5-45').default(4),
});
export type KeepOut = z.infer<typeof keepOutSchema>;
