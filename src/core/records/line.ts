import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { nameSchema, numberSchema, notesSchema } from './common.ts';

/** One cable run from a port of an output: its units in cable order. A unit hangs on one line at the most. */
export const lineSchema = z.strictObject({
  kind: z.literal('line'),
  id: idSchema('line'),
  number: numberSchema,
  name: nameSchema,
  outputId: idSchema('output').nullable().default(null),
  /** The port as the device names it: "1", "B", "DMX 2". */
  port: z.string().max(20, 'at most 20 characters').default(''),
  /** Most pixels the port drives; null where there is no such limit. */
  pixelLimit: z.int().min(1).max(100_000).nullable().default(null),
  unitIds: z
    .array(idSchema('unit'))
    .max(20_000)
    .refine((ids) => new Set(ids).size === ids.length, 'must not name a unit twice')
    .default([]),
  notes: notesSchema.default(''),
});
export type LineRecord = z.infer<typeof lineSchema>;
