import { z } from 'zod';
import { idSchema, litIdSchema, type LitId } from '../ids.ts';
import { valueSchema, type AttributeValue } from './value.ts';
import { durationMsSchema, hexColourSchema, nameSchema, numberSchema, prioritySchema } from './common.ts';

/** `Dimmer`, or `Dimmer#3` for the third cell alone. */
export const attributeKeySchema = z
  .string()
  .regex(/^[A-Za-z][A-Za-z0-9_]{0,63}(#[1-9]\d{0,4})?$/, 'must be an attribute such as "Dimmer" or "ColorRGB_Red#3"');

export { valueSchema, type AttributeValue };
export const unitValuesSchema = z.record(attributeKeySchema, valueSchema);
export type UnitValues = Record<string, AttributeValue>;
/** Values by what they are for: a unit, or a part of one; what is said of a part is laid over what is said of its unit. */
export const valuesSchema = z.record(litIdSchema as unknown as z.ZodType<LitId, LitId>, unitValuesSchema);

/** A look: exactly the attributes that were touched, by unit. */
export const sceneSchema = z.strictObject({
  kind: z.literal('scene'),
  id: idSchema('scene'),
  number: numberSchema,
  name: nameSchema,
  colour: hexColourSchema.default('#ffb347'),
  fadeInMs: durationMsSchema.default(1000),
  fadeOutMs: durationMsSchema.default(1000),
  priority: prioritySchema.default(100),
  values: valuesSchema.default({}),
});
export type SceneRecord = z.infer<typeof sceneSchema>;
