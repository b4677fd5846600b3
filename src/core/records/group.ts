import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { keySchema, nameSchema, numberSchema } from './common.ts';
import { roleSchema } from './variant.ts';

/** Orders in which units can be taken. `plot`: left to right on the plan; `serpentine`: row by row, there and back. */
export const UNIT_ORDERS = ['number', 'name', 'address', 'plot', 'serpentine', 'line'] as const;
export type UnitOrder = (typeof UNIT_ORDERS)[number];

/** Which units belong to a group of its own accord: all conditions that are given hold, then every Nth from one on. */
export const groupRuleSchema = z.strictObject({
  profileId: idSchema('profile').nullable().default(null),
  areaId: idSchema('area').nullable().default(null),
  tag: keySchema.nullable().default(null),
  /** Takes each `every`th unit in the order, beginning with the `from`th: 2 from 1 are the odd ones. */
  every: z.int().min(1).max(1000).default(1),
  from: z.int().min(1).max(1000).default(1),
  order: z.enum(UNIT_ORDERS).default('number'),
});
export type GroupRule = z.infer<typeof groupRuleSchema>;

/** Units selected together, in an order that matters for chases and spreads. */
export const groupSchema = z.strictObject({
  kind: z.literal('group'),
  id: idSchema('group'),
  number: numberSchema,
  name: nameSchema,
  /** Members of a group without a rule, in their order. With a rule the members follow from it (`membersOf`). */
  unitIds: z
    .array(idSchema('unit'))
    .max(20_000)
    .refine((ids) => new Set(ids).size === ids.length, 'must not name a unit twice'),
  rule: groupRuleSchema.nullable().default(null),
  tag: keySchema.nullable().default(null),
  /** What its units do in light that runs by itself; null: as each is guessed. */
  role: roleSchema.nullable().default(null),
  /** The level of its units never passes this, 0-1. */
  levelLimit: z.number().min(0, 'must be 0-1').max(1, 'must be 0-1').default(1),
});
export type GroupRecord = z.infer<typeof groupSchema>;
