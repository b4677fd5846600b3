import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { nameSchema, numberSchema } from './common.ts';

/** Units selected together, in an order that matters for chases and spreads. */
export const groupSchema = z.strictObject({
  kind: z.literal('group'),
  id: idSchema('group'),
  number: numberSchema,
  name: nameSchema,
  unitIds: z
    .array(idSchema('unit'))
    .max(20_000)
    .refine((ids) => new Set(ids).size === ids.length, 'must not name a unit twice'),
});
export type GroupRecord = z.infer<typeof groupSchema>;
