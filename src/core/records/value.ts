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

/** A plain value, or whatever a palette says for that unit and attribute. */
export const valueSchema = z.union([plainValueSchema, z.strictObject({ palette: idSchema('palette') })]);
export type AttributeValue = z.infer<typeof valueSchema>;

export const isPaletteValue = (value: AttributeValue): value is Exclude<AttributeValue, PlainValue> =>
  typeof value === 'object' && 'palette' in value;
