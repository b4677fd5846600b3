import { idSchema } from '../ids.ts';
import { z } from 'zod';
import { durationMsSchema, hexColourSchema, keySchema, nameSchema, numberSchema, prioritySchema } from './common.ts';

/** How records of a library are numbered, named and found. */
export const listedFields = {
  number: numberSchema,
  name: nameSchema,
  /** Where it lies in the library, such as `Disco/Slow`; empty for the top. */
  folder: z
    .string()
    .max(200, 'at most 200 characters')
    .regex(/^$|^[^/\p{Cc}]+(\/[^/\p{Cc}]+){0,5}$/u, 'must be names with "/" between, at most six')
    .default(''),
  /** Keys of the show's colour tags. */
  tags: z.array(keySchema).max(8, 'at most 8 tags').default([]),
};

/** What scenes, chases and effects have in common: they are found, shown as a pad, played, and merged with others. */
export const playableFields = {
  ...listedFields,
  /** Shown on its pad in place of the colour. */
  pictureId: idSchema('picture').nullable().default(null),
  /** It reaches only what hangs in this area (or in areas that lie in it); null for the whole rig. */
  areaId: idSchema('area').nullable().default(null),
  priority: prioritySchema.default(100),
};

export const colourField = (fallback: string) => hexColourSchema.default(fallback);
export const fadeFields = (fadeInMs: number, fadeOutMs: number) => ({
  fadeInMs: durationMsSchema.default(fadeInMs),
  fadeOutMs: durationMsSchema.default(fadeOutMs),
});
