import { z } from 'zod';
import { bpmSchema } from '../../records/common.ts';
import { MOST_POINTS, type BeatMap } from '../play/beat-map.ts';

/** The tempo of what plays, as a beat map (`play/beat-map.ts`). */
export const beatMapSchema: z.ZodType<BeatMap> = z.strictObject({
  points: z
    .array(z.strictObject({ ms: z.number(), beat: z.number() }))
    .min(1)
    .max(MOST_POINTS)
    .refine(
      (points) => points.every(({ ms, beat }, i) => i === 0 || (ms > points[i - 1]!.ms && beat > points[i - 1]!.beat)),
      'time and beats must rise from point to point',
    ),
  bpm: bpmSchema,
});
