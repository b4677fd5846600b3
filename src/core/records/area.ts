import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { keySchema, nameSchema, numberSchema } from './common.ts';

/** A named part of the plot: "Dance floor", "North wall". Areas nest. */
export const areaSchema = z.strictObject({
  kind: z.literal('area'),
  id: idSchema('area'),
  number: numberSchema,
  name: nameSchema,
  /** The area this one lies in. */
  parentId: idSchema('area').nullable().default(null),
  /** Key of one of the show's colour tags. */
  tag: keySchema.nullable().default(null),
});
export type AreaRecord = z.infer<typeof areaSchema>;
