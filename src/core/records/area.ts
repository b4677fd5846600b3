import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { keepOutSchema } from './movement.ts';
import { crossesItself } from '../polygon.ts';
import { keySchema, metresSchema, nameSchema, numberSchema } from './common.ts';

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
  /** Its corners on the plan in metres, in order; null where it is not drawn. */
  outline: z
    .array(z.strictObject({ x: metresSchema, y: metresSchema }))
    .min(3, 'at least three corners')
    .max(200, 'at most 200 corners')
    .refine((corners) => !crossesItself(corners), 'must not cross itself')
    .nullable()
    .default(null),
  /** No beam is to meet people who stand there in the eyes; null where nobody stands. */
  keepOut: keepOutSchema.nullable().default(null),
  /** It does not move on the plot by accident. */
  locked: z.boolean().default(false),
});
export type AreaRecord = z.infer<typeof areaSchema>;
