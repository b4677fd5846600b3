import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { nameSchema, numberSchema } from './common.ts';

/**
 * Cells of a prop that are taken together, such as "left wing": it is selected, lit and programmed like a unit.
 * `cells` counts from 1 in wiring order, as ranges: `1-12, 20, 30-25` (in this order).
 */
export const partSchema = z.strictObject({
  kind: z.literal('part'),
  id: idSchema('part'),
  unitId: idSchema('unit'),
  number: numberSchema,
  name: nameSchema,
  cells: z
    .string()
    .max(20_000, 'at most 20000 characters')
    .regex(/^\d{1,5}(-\d{1,5})?(, ?\d{1,5}(-\d{1,5})?)*$/, 'must be cells such as "1-12, 20"'),
});
export type PartRecord = z.infer<typeof partSchema>;
