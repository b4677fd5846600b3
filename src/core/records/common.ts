import { z } from 'zod';
import { BPM_LIMITS } from '../units.ts';

/** Control characters (but for tab and newline in notes) have no place in a name and break sheets and packets. */
// eslint-disable-next-line no-control-regex
const CONTROL = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/;
const UNPAIRED = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

const cleanText = (max: number) =>
  z
    .string()
    .max(max, `at most ${max} characters`)
    .refine((text) => !CONTROL.test(text) && !UNPAIRED.test(text), 'must not contain control characters');

/** A name people read: 1-100 characters, not only spaces. */
export const nameSchema = cleanText(100).refine((text) => text.trim().length > 0, 'must not be empty');
/** Free text of up to 4,000 characters. */
export const notesSchema = cleanText(4000);
/** `#rrggbb`, sRGB, lower case. */
export const hexColourSchema = z.string().regex(/^#[0-9a-f]{6}$/, 'must be a colour such as "#ffb347"');
/** Milliseconds of a fade or a hold: 0 to one hour. */
export const durationMsSchema = z.number().min(0, 'must not be negative').max(3_600_000, 'at most one hour (3600000)');
/** A level: 0 (nothing) to 1 (full). */
export const levelSchema = z.number().min(0, 'must be 0-1').max(1, 'must be 0-1');
/** How often faster than written everything plays together. */
export const PACE_LIMITS = [0.1, 8] as const;
export const paceSchema = z.number().min(PACE_LIMITS[0], 'must be 0.1-8').max(PACE_LIMITS[1], 'must be 0.1-8');
/** Beats a minute. */
export const bpmSchema = z.number().min(BPM_LIMITS[0], 'must be 20-300').max(BPM_LIMITS[1], 'must be 20-300');
/** How far the beats are moved at a time. */
export const nudgeSchema = z.number().min(-4, 'must be -4 to 4').max(4, 'must be -4 to 4');
/** Priority of what plays: 0-200, default 100, like the priority of a packet in ANSI E1.31. */
export const prioritySchema = z.int().min(0).max(200);
/** A running number people use: 1-99999. */
export const numberSchema = z
  .int('must be a whole number')
  .min(1, 'must be at least 1')
  .max(99_999, 'must be at most 99999');
/** Metres in the room, -1000 to 1000. Axes: x stage left, y up-stage, z up; right-handed. */
export const metresSchema = z.number().min(-1000).max(1000);
/** A place in the room. */
export const placeInRoomSchema = z.strictObject({ x: metresSchema, y: metresSchema, z: metresSchema });
const turnDegrees = z.number().min(-360).max(360);
/** Turns about x, y and z in degrees, applied in that order. 0 0 0 stands on the floor facing up-stage. */
export const turnsSchema = z.strictObject({ x: turnDegrees, y: turnDegrees, z: turnDegrees });
/** Lines to snap to, in metres: `x` runs up and down on plan and front, and so on. */
export const guidesSchema = z
  .array(z.strictObject({ axis: z.enum(['x', 'y', 'z']), at: metresSchema }))
  .max(100, 'at most 100 guides')
  .default([]);
export const universeSchema = z.int('must be a whole number').min(1, 'must be 1-63999').max(63_999, 'must be 1-63999');
export const addressSchema = z.int('must be a whole number').min(1, 'must be 1-512').max(512, 'must be 1-512');
/** Short stable key inside a record (a channel, a mode): a-z, A-Z, 0-9, `_` and `-`. */
export const keySchema = z
  .string()
  .regex(/^[A-Za-z0-9][A-Za-z0-9_-]{0,47}$/, 'must be 1-48 letters, digits, "_" or "-"');
