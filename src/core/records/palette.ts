import { z } from 'zod';
import { idSchema, litIdSchema, type LitId, type ProfileId } from '../ids.ts';
import { colourField, listedFields } from './playable.ts';
import { plainValuesSchema } from './scene.ts';

export const PALETTE_FAMILIES = ['level', 'colour', 'aim', 'beam', 'effect'] as const;
export type PaletteFamily = (typeof PALETTE_FAMILIES)[number];

/**
 * Values that scenes refer to in place of having their own: what is changed here is changed in all of them. A unit takes
 * what is said of itself, else of its profile, else of all. Palettes hold plain values, so that none can lead to itself.
 */
export const paletteSchema = z.strictObject({
  kind: z.literal('palette'),
  id: idSchema('palette'),
  ...listedFields,
  colour: colourField('#ffb347'),
  family: z.enum(PALETTE_FAMILIES),
  all: plainValuesSchema.default({}),
  profiles: z.record(idSchema('profile') as unknown as z.ZodType<ProfileId, ProfileId>, plainValuesSchema).default({}),
  units: z.record(litIdSchema as unknown as z.ZodType<LitId, LitId>, plainValuesSchema).default({}),
});
export type PaletteRecord = z.infer<typeof paletteSchema>;
