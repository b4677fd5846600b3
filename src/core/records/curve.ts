import { z } from 'zod';
import { CURVED, type Curved } from '../curved.ts';
import { LONGEST_SONG_S } from './song.ts';

/** What goes over time: of a block from its beginning, of a lane from the beginning of the song. */

/** How a value goes on to the next point: it stays until there, in a straight line, or softly at both ends. */
export const CURVE_SHAPES = ['step', 'line', 'ease'] as const;
export type CurveShape = (typeof CURVE_SHAPES)[number];
export const MOST_CURVE_POINTS = 20_000;

const pointSchema = z.strictObject({
  at: z.number().min(0, 'must not be negative').max(LONGEST_SONG_S, 'at most one hour (3600)'),
  value: z.number(),
  shape: z.enum(CURVE_SHAPES).default('line'),
});
export type CurvePoint = z.infer<typeof pointSchema>;
/** Before its first point a curve has the value of that, after its last the value of the last. */
export type Curve = readonly CurvePoint[];

const curveSchema = (of: Curved) => {
  const { least, most } = CURVED[of];
  return z
    .array(pointSchema)
    .min(1, 'at least one point')
    .max(MOST_CURVE_POINTS, `at most ${MOST_CURVE_POINTS} points`)
    .superRefine((points, context) => {
      const say = (i: number, key: string, message: string): void =>
        context.addIssue({ code: 'custom', path: [i, key], message });
      for (const [i, { at, value }] of points.entries()) {
        if (i > 0 && at < points[i - 1]!.at) return say(i, 'at', 'must not be before the point before it');
        if (value < least || value > most) return say(i, 'value', `must be ${least} to ${most}`);
      }
    })
    .optional();
};

export const curvesSchema = z
  .strictObject({
    level: curveSchema('level'),
    size: curveSchema('size'),
    speed: curveSchema('speed'),
    phase: curveSchema('phase'),
    width: curveSchema('width'),
    base: curveSchema('base'),
    hue: curveSchema('hue'),
  })
  .default({});
export type Curves = z.infer<typeof curvesSchema>;
