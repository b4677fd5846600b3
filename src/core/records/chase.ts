import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { nameSchema } from './common.ts';
import { colourField, fadeFields, playableFields } from './playable.ts';
import { valuesSchema } from './scene.ts';

/** Length of a fade or hold of a step: 0-3600 seconds or beats, as the chase's `timeUnit` says. */
const lengthSchema = z.number().min(0, 'must not be negative').max(3600, 'at most 3600');

/** A step shows one thing: a scene, values of its own, or what another chase or an effect looks like at that moment. */
export const chaseStepSchema = z
  .strictObject({
    sceneId: idSchema('scene').optional(),
    chaseId: idSchema('chase').optional(),
    effectId: idSchema('effect').optional(),
    values: valuesSchema.optional(),
    /** For values of its own. */
    name: nameSchema.optional(),
    /** Own times; where absent those of the chase count. */
    fade: lengthSchema.optional(),
    hold: lengthSchema.optional(),
  })
  .refine(
    (step) => [step.sceneId, step.chaseId, step.effectId, step.values].filter((v) => v !== undefined).length === 1,
    'must show exactly one thing: sceneId, chaseId, effectId or values',
  );
export type ChaseStep = z.infer<typeof chaseStepSchema>;

/** The scene, chase or effect a step shows; null for values of its own. */
export const shownBy = (
  step: ChaseStep,
): NonNullable<ChaseStep['sceneId'] | ChaseStep['chaseId'] | ChaseStep['effectId']> | null =>
  step.sceneId ?? step.chaseId ?? step.effectId ?? null;

export const CHASE_ORDERS = ['repeat', 'once', 'thereAndBack', 'shuffled'] as const;

/** Looks one after the other. */
export const chaseSchema = z.strictObject({
  kind: z.literal('chase'),
  id: idSchema('chase'),
  ...playableFields,
  colour: colourField('#7fd4c1'),
  steps: z.array(chaseStepSchema).max(10_000, 'at most 10000 steps').default([]),
  /** How heads go from aim to aim: as they turn, or along a straight line in the room. */
  travel: z.enum(['turn', 'straight']).default('turn'),
  timeUnit: z.enum(['seconds', 'beats']).default('seconds'),
  fade: lengthSchema.default(0.5),
  hold: lengthSchema.default(1),
  order: z.enum(CHASE_ORDERS).default('repeat'),
  direction: z.enum(['forward', 'backward']).default('forward'),
  /** Seed of the shuffled order. */
  seed: z.int().min(0).max(0xffffffff).default(1),
  ...fadeFields(0, 1000),
});
export type ChaseRecord = z.infer<typeof chaseSchema>;
