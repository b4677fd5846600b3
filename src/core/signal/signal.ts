import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { addressSchema, universeSchema } from '../records/common.ts';

/** A test ends this long after the page that runs it was last heard of. */
export const TEST_LEASE_MS = 5000;
/** Whole areas never change faster than this (flashes a second). */
export const FLASH_LIMIT_HZ = 3;

/** What a test signal is put on: slots of a universe, single units, or everything on a line. */
export const testScopeSchema = z.union([
  z.strictObject({ universe: universeSchema, from: addressSchema, to: addressSchema }),
  z.strictObject({ unitIds: z.array(idSchema('unit')).min(1, 'name at least one unit').max(20_000) }),
  z.strictObject({ lineId: idSchema('line') }),
]);
export type TestScope = z.infer<typeof testScopeSchema>;

const perSecond = (max: number) => z.number().min(0.1, `must be 0.1-${max}`).max(max, `must be 0.1-${max}`);

/**
 * What is put on it. Slots are counted from 0 in the order of the scope; machines (fog, motors, resets) are passed
 * over by everything but `slot`.
 */
export const testSignalSchema = z.discriminatedUnion('kind', [
  /** One slot alone. */
  z.strictObject({ kind: z.literal('slot'), index: z.int().min(0).max(200_000) }),
  /** One slot after the other. */
  z.strictObject({ kind: z.literal('sweep'), perSecond: perSecond(25) }),
  /** All together from nothing to the level, then from the start again. */
  z.strictObject({
    kind: z.literal('ramp'),
    seconds: z.number().min(0.5, 'must be 0.5-60').max(60, 'must be 0.5-60'),
  }),
  /** Every Nth slot; with `perSecond` above 0 the pattern moves on. */
  z.strictObject({
    kind: z.literal('every'),
    n: z.int().min(1, 'must be 1-512').max(512, 'must be 1-512'),
    offset: z.int().min(0).max(511).default(0),
    perSecond: z.number().min(0).max(FLASH_LIMIT_HZ, `at most ${FLASH_LIMIT_HZ} a second`).default(0),
  }),
  /** All at the level. */
  z.strictObject({ kind: z.literal('all') }),
  /** One cell after the other along the wire, with a short tail behind it. */
  z.strictObject({ kind: z.literal('wire'), cellsPerSecond: perSecond(200) }),
  /** Red, green, blue, white in turn; in each the cells come on one after the other, every tenth marked. */
  z.strictObject({ kind: z.literal('colours'), cellsPerSecond: perSecond(1000) }),
]);
export type TestSignal = z.infer<typeof testSignalSchema>;

export const testRequestSchema = z.strictObject({
  scope: testScopeSchema,
  signal: testSignalSchema,
  level: z.number().min(0, 'must be 0-1').max(1, 'must be 0-1'),
});
export type TestRequest = z.infer<typeof testRequestSchema>;

/** A test that runs: it lights nothing from `until` on (ms of the show clock). */
export const runningTestSchema = testRequestSchema.extend({ startedAt: z.number(), until: z.number() });
export type RunningTest = z.infer<typeof runningTestSchema>;
