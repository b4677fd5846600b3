import { z } from 'zod';
import { GRID_SIDE } from './grid.ts';

/**
 * Shapes of props: each makes the places of its cells in wiring order, in metres, in the frame of the prop: x to the
 * right, y away from the beholder, z up. The middle of the foot is at 0 0 0, but for polylines and hung strings, whose
 * points are given.
 */
const CELL_LIMIT = 65_536;
const metres = (low: number) => z.number().min(low, `must be ${low}-500 m`).max(500, `must be ${low}-500 m`);
const size = metres(0.001);
const count = z
  .int('must be a whole number')
  .min(1, `must be 1-${CELL_LIMIT}`)
  .max(CELL_LIMIT, `must be 1-${CELL_LIMIT}`);
const place = z.tuple([metres(-500), metres(-500), metres(-500)]);
const side = z.int('must be a whole number').min(1, `must be 1-${GRID_SIDE}`).max(GRID_SIDE, `must be 1-${GRID_SIDE}`);
export const CORNERS = ['bottom-left', 'bottom-right', 'top-left', 'top-right'] as const;

export const shapeSchema = z.discriminatedUnion('shape', [
  z.strictObject({ shape: z.literal('line'), count, widthM: size }),
  z.strictObject({
    shape: z.literal('polyline'),
    count,
    points: z.array(place).min(2, 'two points at least').max(1000),
  }),
  /** Half an ellipse from left to right. */
  z.strictObject({ shape: z.literal('arch'), count, widthM: size, heightM: size }),
  /** `startDeg` counted from the bottom; clockwise as it is looked at. */
  z.strictObject({
    shape: z.literal('ring'),
    count,
    diameterM: size,
    startDeg: z.number().min(-360).max(360).default(0),
    clockwise: z.boolean().default(true),
  }),
  /** `along`: whether the wire runs along rows or columns; `zigzag`: every second one is wired backwards. */
  z.strictObject({
    shape: z.literal('matrix'),
    columns: z.int().min(1).max(1000),
    rows: z.int().min(1).max(1000),
    widthM: metres(0),
    heightM: metres(0),
    corner: z.enum(CORNERS).default('bottom-left'),
    along: z.enum(['rows', 'columns']).default('rows'),
    zigzag: z.boolean().default(false),
  }),
  /** One string wound up a cone. */
  z.strictObject({
    shape: z.literal('spiral'),
    count,
    heightM: size,
    bottomM: metres(0),
    topM: metres(0).default(0),
    turns: z.number().min(0.1, 'must be 0.1-200').max(200, 'must be 0.1-200'),
  }),
  /** Straight strings down a cone; `zigzag`: every second one goes up instead. */
  z.strictObject({
    shape: z.literal('tree'),
    strings: z.int().min(1).max(1000),
    perString: z.int().min(1).max(10_000),
    heightM: size,
    bottomM: metres(0),
    topM: metres(0).default(0),
    zigzag: z.boolean().default(false),
  }),
  /** Round its outline, from the uppermost point on, clockwise. */
  z.strictObject({ shape: z.literal('star'), count, tips: z.int().min(3).max(64), outerM: size, innerM: size }),
  /** Strings that hang down from a line, of the lengths given in turn. */
  z.strictObject({
    shape: z.literal('icicles'),
    drops: z.int().min(1).max(2000),
    spacingM: size,
    cells: z.array(z.int().min(1).max(1000)).min(1, 'give the cells of one drop at least').max(100),
    cellM: size,
  }),
  /** Round a window, from the lower left corner on, clockwise. */
  z.strictObject({ shape: z.literal('frame'), count, widthM: size, heightM: size }),
  /** A string between two points that sags in the middle by so much. */
  z.strictObject({ shape: z.literal('hung'), count, from: place, to: place, sagM: metres(0) }),
  /**
   * Drawn in a block of a spreadsheet: `numbers` holds the place in the wiring order at each place of the grid, 0 for
   * nothing, row by row from the top (`packGrid`).
   */
  z.strictObject({
    shape: z.literal('grid'),
    columns: side,
    rows: side,
    pitchM: size,
    numbers: z
      .string()
      .max(430_000, `at most ${GRID_SIDE} x ${GRID_SIDE}`)
      .regex(/^[A-Za-z0-9+/]*={0,2}$/, 'must be base64'),
  }),
  /** Where its cells are is known one by one (`cellPlaces` of the unit). */
  z.strictObject({ shape: z.literal('given'), count }),
]);
export type Shape = z.infer<typeof shapeSchema>;
export type ShapeInput = z.input<typeof shapeSchema>;
