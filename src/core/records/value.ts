import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { nameSchema } from './common.ts';

/**
 * What an attribute is set to: a fraction 0-1 of everything the channel can do, or a place (0-1) inside a range
 * that is named as in the profile, so that it survives another mode or another profile.
 */
export const plainValueSchema = z.union([
  z.number().min(0, 'must be 0-1').max(1, 'must be 0-1'),
  z.strictObject({ range: nameSchema, at: z.number().min(0).max(1) }),
]);
export type PlainValue = z.infer<typeof plainValueSchema>;

const paletteValueSchema = z.strictObject({ palette: idSchema('palette') });
const aimValueSchema = z.strictObject({ aim: idSchema('aim') });
export type PaletteValue = z.infer<typeof paletteValueSchema>;
export type AimValue = z.infer<typeof aimValueSchema>;

/** A plain value, whatever a palette says for that unit and attribute, or the pan and tilt that bring it to an aim. */
export const valueSchema = z.union([plainValueSchema, paletteValueSchema, aimValueSchema]);
export type AttributeValue = z.infer<typeof valueSchema>;

export const isPaletteValue = (value: AttributeValue): value is PaletteValue =>
  typeof value === 'object' && 'palette' in value;
export const isAimValue = (value: AttributeValue): value is AimValue => typeof value === 'object' && 'aim' in value;
/** What a value follows; null for one that says something itself, the same for everybody. */
export const followedBy = (value: AttributeValue): PaletteValue['palette'] | AimValue['aim'] | null =>
  isPaletteValue(value) ? value.palette : isAimValue(value) ? value.aim : null;
export const isPlainValue = (value: AttributeValue): value is PlainValue => followedBy(value) === null;
