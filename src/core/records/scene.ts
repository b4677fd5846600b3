import { z } from 'zod';
import { idSchema, litIdSchema, type AimId, type LitId } from '../ids.ts';
import { durationMsSchema } from './common.ts';
import { colourField, fadeFields, playableFields } from './playable.ts';
import { MOODS } from './profile.ts';
import { isAimValue, plainValueSchema, valueSchema, type AttributeValue, type PlainValue } from './value.ts';

/** `Dimmer`, or `Dimmer#3` for the third cell alone. */
export const attributeKeySchema = z
  .string()
  .regex(/^[A-Za-z][A-Za-z0-9_]{0,63}(#[1-9]\d{0,4})?$/, 'must be an attribute such as "Dimmer" or "ColorRGB_Red#3"');

export { valueSchema, type AttributeValue, type PlainValue };
/** Aims say nothing of any other attribute. */
export function axesAlone(values: Readonly<Record<string, AttributeValue | null>>, context: z.RefinementCtx): void {
  for (const [key, value] of Object.entries(values))
    if (value !== null && isAimValue(value) && key !== 'Pan' && key !== 'Tilt')
      context.addIssue({ code: 'custom', path: [key], message: 'only Pan and Tilt can follow an aim', input: value });
}
export const unitValuesSchema = z.record(attributeKeySchema, valueSchema).superRefine(axesAlone);
export type UnitValues = Record<string, AttributeValue>;
/** The aim that a unit's axes follow; null for none. */
export function aimIn(values: Readonly<UnitValues> | undefined): AimId | null {
  for (const value of [values?.['Pan'], values?.['Tilt']])
    if (value !== undefined && isAimValue(value)) return value.aim;
  return null;
}
export const plainValuesSchema = z.record(attributeKeySchema, plainValueSchema);
export type PlainValues = Record<string, PlainValue>;
/** Values by what they are for: a unit, or a part of one; what is said of a part is laid over what is said of its unit. */
export const valuesSchema = z.record(litIdSchema as unknown as z.ZodType<LitId, LitId>, unitValuesSchema);

/** Own times of one attribute in a scene; what is absent is as the scene says. `snap`: it jumps once its delay is over. */
export const attributeTimeSchema = z.strictObject({
  fadeInMs: durationMsSchema.optional(),
  fadeOutMs: durationMsSchema.optional(),
  delayMs: durationMsSchema.optional(),
  snap: z.boolean().optional(),
});
export type AttributeTime = z.infer<typeof attributeTimeSchema>;

/** A look: exactly the attributes that were touched, by unit. */
export const sceneSchema = z.strictObject({
  kind: z.literal('scene'),
  id: idSchema('scene'),
  ...playableFields,
  colour: colourField('#ffb347'),
  ...fadeFields(1000, 1000),
  /** It waits this long before it fades in. */
  delayMs: durationMsSchema.default(0),
  /** Own times by attribute (without cell); the three parts of a colour each have theirs. */
  times: z
    .record(
      z.string().regex(/^[A-Za-z][A-Za-z0-9_]{0,63}$/, 'must be an attribute such as "Dimmer"'),
      attributeTimeSchema,
    )
    .default({}),
  /** Special channels of what it reaches follow this mood, where the scene says nothing else of them. */
  mood: z.enum(MOODS).nullable().default(null),
  values: valuesSchema.default({}),
});
export type SceneRecord = z.infer<typeof sceneSchema>;
