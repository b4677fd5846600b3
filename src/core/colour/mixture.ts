import { COLOUR_ATTRIBUTES } from '../attributes.ts';
import type { LinearRgb } from './convert.ts';

/** The mixed colour that values of a whole unit say, in linear light; null where they do not say all of it plainly. */
export function mixtureOf(values: Readonly<Record<string, unknown>> | undefined): LinearRgb | null {
  const [r, g, b] = COLOUR_ATTRIBUTES.map((attribute) => values?.[attribute]);
  return typeof r === 'number' && typeof g === 'number' && typeof b === 'number' ? { r, g, b } : null;
}

/** A mixed colour as values of a whole unit. */
export const mixtureValues = ({ r, g, b }: LinearRgb): Record<string, number> => {
  const [red, green, blue] = COLOUR_ATTRIBUTES;
  return { [red]: r, [green]: g, [blue]: b };
};
