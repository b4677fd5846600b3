import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { durationMsSchema, hexColourSchema, nameSchema, numberSchema, prioritySchema } from './common.ts';

/** Length of a fade or hold of a step: 0-3600 seconds or beats, as the chase's `timeUnit` says. */
const lengthSchema = z.number().min(0, 'must not be negative').max(3600, 'at most 3600');

export const chaseStepSchema = z.strictObject({
  sceneId: idSchema('scene'),
  /** Own times; where absent those of the chase count. */
  fade: lengthSchema.optional(),
  hold: lengthSchema.optional(),
});

export const CHASE_ORDERS = ['repeat', 'once', 'thereAndBack', 'shuffled'] as const;

/** Scenes one after the other. */
export const chaseSchema = z.strictObject({
  kind: z.literal('chase'),
  id: idSchema('chase'),
  number: numberSchema,
  name: nameSchema,
  colour: hexColourSchema.default('#7fd4c1'),
  steps: z.array(chaseStepSchema).max(10_000).default([]),
  timeUnit: z.enum(['seconds', 'beats']).default('seconds'),
  fade: lengthSchema.default(0.5),
  hold: lengthSchema.default(1),
  order: z.enum(CHASE_ORDERS).default('repeat'),
  direction: z.enum(['forward', 'backward']).default('forward'),
  /** Seed of the shuffled order. */
  seed: z.int().min(0).max(0xffffffff).default(1),
  fadeInMs: durationMsSchema.default(0),
  fadeOutMs: durationMsSchema.default(1000),
  priority: prioritySchema.default(100),
});
export type ChaseRecord = z.infer<typeof chaseSchema>;
