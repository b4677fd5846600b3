import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { universeSchema } from './common.ts';

/** One of our universes sent through one output, under the number it has there. */
export const routeSchema = z.strictObject({
  kind: z.literal('route'),
  id: idSchema('route'),
  universe: universeSchema,
  outputId: idSchema('output'),
  /** sACN: universe 1-63999. Art-Net: 15-bit port-address 0-32767 (net 7, sub-net 4, universe 4). */
  wireUniverse: z.int('must be a whole number').min(0, 'must be 0-63999').max(63_999, 'must be 0-63999'),
  enabled: z.boolean().default(true),
  /** sACN: name of the source in this universe's packets; empty for the name of the program. */
  sourceName: z
    .string()
    .max(60, 'at most 60 characters')
    // eslint-disable-next-line no-control-regex
    .refine((text) => !/[\u0000-\u001f\u007f]/.test(text), 'must not contain control characters')
    .default(''),
});
export type RouteRecord = z.infer<typeof routeSchema>;
