import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { BLOB_LIMITS, IMAGE_TYPES, blobHashSchema } from './blob.ts';
import { metresSchema, nameSchema } from './common.ts';

/** Longest side of a picture that is kept, pixels: what is larger is made smaller when it is brought in. */
export const PICTURE_SIDE = 4096;

/**
 * A picture to draw over: a photo of the house, a floor plan. What is kept was drawn anew by the browser that brought
 * it in; nothing else of the file is left. `blob` names the file itself (`blob.ts`), which has `bytes` bytes.
 */
export const pictureRecordSchema = z.strictObject({
  kind: z.literal('picture'),
  id: idSchema('picture'),
  name: nameSchema,
  widthPx: z.int().min(1).max(PICTURE_SIDE),
  heightPx: z.int().min(1).max(PICTURE_SIDE),
  type: z.enum(IMAGE_TYPES),
  bytes: z
    .int()
    .min(1)
    .max(Math.max(...Object.values(BLOB_LIMITS))),
  blob: blobHashSchema,
});
export type PictureRecord = z.infer<typeof pictureRecordSchema>;

/** Ways of looking at the plot: from above, from the audience, and from stage left. */
export const PLOT_SIDES = ['plan', 'front', 'side'] as const;
export type PlotSide = (typeof PLOT_SIDES)[number];

/** A picture laid under one way of looking at the plot. `x` and `y` are the middle, in metres along the paper. */
export const backdropSchema = z.strictObject({
  kind: z.literal('backdrop'),
  id: idSchema('backdrop'),
  name: nameSchema,
  pictureId: idSchema('picture'),
  side: z.enum(PLOT_SIDES),
  x: metresSchema.default(0),
  y: metresSchema.default(0),
  widthM: z.number().min(0.01, 'must be 0.01-2000 m').max(2000, 'must be 0.01-2000 m'),
  /** Degrees counter-clockwise. */
  turnDeg: z.number().min(-360).max(360).default(0),
  opacity: z.number().min(0, 'must be 0-1').max(1, 'must be 0-1').default(0.6),
  locked: z.boolean().default(false),
  hidden: z.boolean().default(false),
});
export type BackdropRecord = z.infer<typeof backdropSchema>;
