import { z } from 'zod';
import { idSchema, type AimId, type ChaseId, type EffectId, type SceneId } from '../ids.ts';
import { hexColourSchema, nameSchema, notesSchema, numberSchema } from './common.ts';
import { MOODS, type Mood } from './profile.ts';

/** What units do in light that runs by itself. `house` is never touched. */
export const ROLES = ['wash', 'wash2', 'beams', 'effects', 'pixels', 'whites', 'house'] as const;
export type Role = (typeof ROLES)[number];
/** Roles that something plays on. */
export const PLAYED_ROLES = ['wash', 'wash2', 'beams', 'effects', 'pixels', 'whites'] as const;
export type PlayedRole = (typeof PLAYED_ROLES)[number];
/** What they are called. */
export const ROLE_WORDS: Readonly<Record<Role, string>> = {
  wash: 'wash',
  wash2: 'second wash',
  beams: 'beams',
  effects: 'effects',
  pixels: 'pixels',
  whites: 'whites',
  house: 'house',
};
export const roleSchema = z.enum(ROLES);

/** Something that Auto may play: one of its own ideas by key, or a scene, chase, effect or aim of the show. */
export type OwnId = SceneId | ChaseId | EffectId | AimId;
export const ideaKeySchema = z
  .string()
  .regex(/^(?:[a-z][a-z0-9]{0,39}|(?:scene|chase|effect|aim):[a-z0-9][a-z0-9-]{0,39})$/, {
    message: 'must be an idea such as "breath", or the id of a scene, chase, effect or aim',
  });
export const ownIdIn = (key: string): OwnId | null => (key.includes(':') ? (key as OwnId) : null);

const keysSchema = z
  .array(ideaKeySchema)
  .max(500, 'at most 500')
  .refine((keys) => new Set(keys).size === keys.length, 'must not name anything twice')
  .default([]);
const slotSchema = z.strictObject({
  /** Whether the role takes part in this mood; null: as Auto has it. */
  plays: z.boolean().nullable().default(null),
  /** What may play besides what is meant for the mood, and what of that may not. */
  also: keysSchema,
  never: keysSchema,
  /** Its idea is turned round after so many phrases; 0: not within a section. */
  every: z.int().min(0, 'must be 0-16').max(16, 'must be 0-16').default(1),
});
export type VariantSlot = z.infer<typeof slotSchema>;
const moodSchema = z.strictObject({
  /** Bars after which something changes; null: as Auto has it. */
  bars: z.int().min(1, 'must be 1-64 bars').max(64, 'must be 1-64 bars').nullable().default(null),
  roles: z.partialRecord(z.enum(PLAYED_ROLES), slotSchema).default({}),
});

/** What light that runs by itself may play, by mood and role, and what it does in silence: kept by name. */
export const variantSchema = z.strictObject({
  kind: z.literal('variant'),
  id: idSchema('variant'),
  number: numberSchema,
  name: nameSchema,
  notes: notesSchema.default(''),
  moods: z.partialRecord(z.enum(MOODS), moodSchema).default({}),
  /** Colours to choose from; empty: its own harmonies. */
  colours: z.array(hexColourSchema).max(6, 'at most 6 colours').default([]),
  silence: z
    .strictObject({
      /** Silence of so many seconds is the end of the music. */
      afterS: z.int().min(3, 'must be 3-3600 s').max(3600, 'must be 3-3600 s').default(20),
      /** What is to be seen then; null: the washes, still and warm. */
      sceneId: idSchema('scene').nullable().default(null),
    })
    .default({ afterS: 20, sceneId: null }),
});
export type VariantRecord = z.infer<typeof variantSchema>;

/** Every id of the show in a variant, with the path it stands at. */
export function* ownIn({ moods, silence }: VariantRecord): Iterable<readonly [path: string, id: OwnId]> {
  if (silence.sceneId) yield ['silence.sceneId', silence.sceneId];
  for (const [mood, { roles }] of Object.entries(moods))
    for (const [role, slot] of Object.entries(roles))
      for (const list of ['also', 'never'] as const)
        for (const [i, key] of slot[list].entries()) {
          const id = ownIdIn(key);
          if (id) yield [`moods.${mood}.roles.${role}.${list}.${i}`, id];
        }
}

/** A variant without what is gone; the same one where it names none of it. */
export function variantWithout(variant: VariantRecord, gone: (id: string) => boolean): VariantRecord {
  if (![...ownIn(variant)].some(([, id]) => gone(id))) return variant;
  const left = (keys: readonly string[]): string[] => keys.filter((key) => !gone(key));
  const moods = Object.entries(variant.moods).map(([mood, { bars, roles }]) => {
    const kept = Object.entries(roles).map(([role, slot]) => [
      role,
      { ...slot, also: left(slot.also), never: left(slot.never) },
    ]);
    return [mood, { bars, roles: Object.fromEntries(kept) as typeof roles }];
  });
  const { sceneId, afterS } = variant.silence;
  return {
    ...variant,
    moods: Object.fromEntries(moods) as Partial<Record<Mood, z.infer<typeof moodSchema>>>,
    silence: { afterS, sceneId: sceneId && gone(sceneId) ? null : sceneId },
  };
}
