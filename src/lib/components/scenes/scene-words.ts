import { toHex } from '$core/colour/convert.ts';
import { mixtureOf } from '$core/colour/mixture.ts';
import { attributeInfo, COLOUR_ATTRIBUTES, splitAttributeKey } from '$core/attributes.ts';
import { homeless } from '$core/patch/impact.ts';
import type { ModeLayout } from '$core/profile/layout.ts';
import type { AttributeValue, PlainValues, UnitValues } from '$core/records/scene.ts';
import { followedBy, isAimValue, isPaletteValue } from '$core/records/value.ts';

/** Attributes of a scene as people see them: the three parts of a colour are one. */
export interface Column {
  readonly key: string;
  readonly text: string;
  /** Attributes behind it, without cells. */
  readonly attributes: readonly string[];
}

const COLOUR: Column = { key: 'colour', text: 'Colour', attributes: COLOUR_ATTRIBUTES };
const isColour = (attribute: string): boolean => (COLOUR_ATTRIBUTES as readonly string[]).includes(attribute);
const FAMILIES = ['level', 'colour', 'aim', 'beam', 'effect', 'control'];

/** The columns for some attributes, levels first. */
export function columnsOf(attributes: Iterable<string>): Column[] {
  const found = new Map<string, Column>();
  for (const attribute of attributes) {
    const column = isColour(attribute)
      ? COLOUR
      : { key: attribute, text: attributeInfo(attribute)?.words ?? attribute, attributes: [attribute] };
    found.set(column.key, column);
  }
  const rank = ({ attributes: [first] }: Column): number =>
    first === 'Dimmer' ? -1 : FAMILIES.indexOf(attributeInfo(first!)?.family ?? 'control');
  return [...found.values()].sort((a, b) => rank(a) - rank(b) || (a.text < b.text ? -1 : 1));
}

/** Keys of a unit's values that belong to a column, cells among them. */
export const keysIn = (values: UnitValues, column: Column): string[] =>
  Object.keys(values).filter((key) => column.attributes.includes(splitAttributeKey(key).attribute));

export interface Shown {
  readonly text: string;
  readonly swatch: string | null;
  readonly palette: string | null;
}

/** What a unit has in a column; null where it has nothing. `plain` are its values with palettes and aims put in. */
export function shownIn(
  values: UnitValues,
  plain: PlainValues,
  column: Column,
  nameOf: (id: string) => string,
): Shown | null {
  const keys = keysIn(values, column);
  if (keys.length === 0) return null;
  const first = values[keys[0]!]!;
  const follows = followedBy(first);
  const palette = follows && nameOf(follows);
  const cells = new Set(keys.map((key) => splitAttributeKey(key).cell).filter((cell) => cell > 0)).size;
  const mixture = column.key === 'colour' ? mixtureOf(plain) : null;
  if (mixture) {
    const hex = toHex(mixture);
    return { text: palette ?? hex, swatch: hex, palette };
  }
  if (cells > 0) return { text: `${cells} cells`, swatch: null, palette };
  return { text: palette ?? valueWords(first), swatch: null, palette };
}

/** Why the first of these values cannot be sent in this layout now; null when all can. Such values are kept. */
export const whyAside = (layout: ModeLayout, values: UnitValues, keys: readonly string[]): string | null =>
  keys.map((key) => homeless(layout, key, values[key])).find((why) => why !== null) ?? null;

export const valueWords = (value: AttributeValue): string =>
  typeof value === 'number'
    ? `${Math.round(value * 1000) / 10} %`
    : isPaletteValue(value)
      ? 'palette'
      : isAimValue(value)
        ? 'aim'
        : `${value.range}${value.at === 0.5 ? '' : ` ${Math.round(value.at * 100)} %`}`;
