import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { nameSchema, numberSchema, notesSchema } from './common.ts';

/**
 * Sockets of DMX and pixel lines. On RJ45 the standard pin-out (ANSI E1.27-2) has data on pins 1 and 2; `rj45-45` is
 * the pin-out of some pixel and dimmer controllers with data on pins 4 and 5.
 */
export const CONNECTORS = ['xlr5', 'xlr3', 'rj45', 'rj45-45', 'screw', 'pixel3', 'pixel4', 'wireless'] as const;
export type Connector = (typeof CONNECTORS)[number];

/** The piece of cable that leads to one unit of a line. What is not given follows from the units before it. */
export const cableSchema = z.strictObject({
  /** Metres of cable up to this unit; null where nobody measured. */
  lengthM: z.number().min(0, 'must not be negative').max(1000, 'at most 1000 m').nullable().default(null),
  /** Socket of the unit the cable ends in; null for what its profile says. */
  connector: z.enum(CONNECTORS).nullable().default(null),
  /** Unit it comes from; null for the unit before it in the line. */
  from: idSchema('unit').nullable().default(null),
  /** True where a splitter stands at its beginning: it drives the units behind it anew. */
  splitter: z.boolean().default(false),
});
export type Cable = z.infer<typeof cableSchema>;

/** One cable run from a port of an output: its units in cable order. A unit hangs on one line at the most. */
export const lineSchema = z.strictObject({
  kind: z.literal('line'),
  id: idSchema('line'),
  number: numberSchema,
  name: nameSchema,
  outputId: idSchema('output').nullable().default(null),
  /** The port as the device names it: "1", "B", "DMX 2". */
  port: z.string().max(20, 'at most 20 characters').default(''),
  /** `dmx`: 32 loads, 300 m, a terminator. `pixels`: one-wire pixel data. `mains`: circuits, no data. */
  medium: z.enum(['dmx', 'pixels', 'mains']).default('dmx'),
  /** Socket of the port. */
  connector: z.enum(CONNECTORS).default('xlr5'),
  /** True where a 120 ohm terminator sits at every end of the line. */
  terminated: z.boolean().default(false),
  unitIds: z
    .array(idSchema('unit'))
    .max(20_000)
    .refine((ids) => new Set(ids).size === ids.length, 'must not name a unit twice')
    .default([]),
  cables: z.record(idSchema('unit') as unknown as z.ZodType<string, string>, cableSchema).default({}),
  /** Most pixels the port drives; null where there is no such limit. */
  pixelLimit: z.int().min(1).max(100_000).nullable().default(null),
  /** Watts of one pixel at full white, and the voltage of the string. */
  pixelWatts: z.number().min(0.001, 'must be above 0').max(100, 'at most 100 W').default(0.3),
  volts: z.number().min(3, 'must be 3-60').max(60, 'must be 3-60').default(12),
  /** Power is fed in anew after so many pixels. */
  injectEvery: z.int().min(1, 'must be at least 1').max(10_000, 'at most 10000').default(100),
  /** Level the pixels are limited to, 0-1: what the supply is reckoned with. */
  levelLimit: z.number().min(0.01, 'must be 0.01-1').max(1, 'must be 0.01-1').default(1),
  notes: notesSchema.default(''),
});
export type LineRecord = z.infer<typeof lineSchema>;
