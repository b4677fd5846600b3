import { z } from 'zod';
import { MOODS } from '../records/profile.ts';
import { SECTION_TURNS } from '../records/song.ts';

/** What an ear that listens says of what it hears, some times a second. */
export const listeningSchema = z.strictObject({
  /** Loudness, decibels below full scale (root mean square of the last moment), and the highest swing, 0-1. */
  db: z.number().min(-200).max(60),
  peak: z.number().min(0).max(100),
  /** Swings are cut off: the source is too loud. */
  clips: z.boolean(),
  /** `silent`: nothing to hear; `unsure`: sound without a beat it is sure of; `hearing`: beats are announced. */
  state: z.enum(['silent', 'unsure', 'hearing']),
  bpm: z.number().min(0).max(1000).nullable(),
  confidence: z.number().min(0).max(1),
  /** Beats of a bar. */
  metre: z.int().min(1).max(16).nullable().default(null),
  mood: z.enum(MOODS).nullable(),
  turn: z.enum(SECTION_TURNS).nullable(),
});
export type Listening = z.infer<typeof listeningSchema>;
