import { z } from 'zod';
import { BPM_LIMITS, MOST_POINTS, type BeatMap } from '../play/beat-map.ts';

const [least, most] = BPM_LIMITS;

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
  bpm: z.number().min(least, `must be ${least}-${most}`).max(most, `must be ${least}-${most}`),
});
