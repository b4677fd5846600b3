import { z } from 'zod';
import { shapeSchema } from './shape.ts';
import { addressSchema } from './common.ts';

/** Orders in which the colours of a pixel stand on the wire; white last where it is not named elsewhere. */
export const COLOUR_ORDERS = ['RGB', 'RBG', 'GRB', 'GBR', 'BRG', 'BGR', 'RGBW', 'GRBW', 'WRGB', 'BGRW'] as const;
export type ColourOrder = (typeof COLOUR_ORDERS)[number];

/**
 * One string of a prop: so many cells that follow one another on a wire. `start` is where its first slot is, `null`
 * right after the string before; its universe is counted from the universe the prop starts in, so that a prop that
 * moves takes its strings along.
 */
export const stringSchema = z.strictObject({
  cells: z.int('must be a whole number').min(1, 'must be 1-65536').max(65_536, 'must be 1-65536'),
  start: z
    .strictObject({ universe: z.int().min(-63_998).max(63_998), address: addressSchema })
    .nullable()
    .default(null),
  /** The wire comes in at the far end: its first pixel is the last cell. */
  backward: z.boolean().default(false),
  /** Pixels before its first cell that are on the wire and stay dark. */
  nulls: z.int('must be a whole number').min(0, 'must be 0-1000').max(1000, 'must be 0-1000').default(0),
});
export type PropString = z.infer<typeof stringSchema>;

/** How a unit of many cells is shaped and wired. The cells of its mode's repeated block become as many as the shape has. */
export const propSchema = z.strictObject({
  shape: shapeSchema,
  /** Order of the colours on the wire; null as the profile has it. */
  colourOrder: z.enum(COLOUR_ORDERS).nullable().default(null),
  /**
   * Light = colour x level ^ gamma, at the very end: pixels give light in proportion to what is sent, eyes see it by a
   * power. Colours are kept as linear light and are not bent.
   */
  gamma: z.number().min(1, 'must be 1-4').max(4, 'must be 1-4').default(2.2),
  /** Whether a cell may lie in two universes; `auto`: not where a universe has 510 slots. */
  split: z.enum(['auto', 'allowed', 'never']).default('auto'),
  /** Strings in wiring order; none is one string of all cells. What they leave over follows as a last one. */
  strings: z.array(stringSchema).max(512, 'at most 512 strings').default([]),
});
export type Prop = z.infer<typeof propSchema>;
export type PropInput = z.input<typeof propSchema>;
