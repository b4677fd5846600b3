import { solutionFor } from '../aim/solutions.ts';
import { mixtureOf } from '../colour/mixture.ts';
import { getRecord, type Document } from '../document/change.ts';
import type { LitId, UnitId } from '../ids.ts';
import { splitAttributeKey } from '../attributes.ts';
import { isColourWheel, nearestSlot } from '../profile/wheel.ts';
import type { PaletteRecord } from '../records/index.ts';
import type { Channel } from '../records/profile.ts';
import type { PlainValue, PlainValues, UnitValues } from '../records/scene.ts';
import { isAimValue, isPaletteValue, isPlainValue, type AttributeValue } from '../records/value.ts';
import { litOf } from '../patch/lit.ts';

/** Whose value is asked for: a unit or part, its profile, and the channel behind the attribute (null: made up). */
export interface Asking {
  readonly id: LitId;
  readonly unitId: LitId;
  readonly profileId: string;
  readonly channel: Channel | null;
}

/** What a palette says of an attribute of somebody: the nearest to them first. Null where it says nothing. */
export function paletteValue(palette: PaletteRecord, asking: Asking, key: string): PlainValue | null {
  const { attribute, cell } = splitAttributeKey(key);
  const lists: (PlainValues | undefined)[] = [
    palette.units[asking.id],
    asking.unitId === asking.id ? undefined : palette.units[asking.unitId],
    (palette.profiles as Record<string, PlainValues | undefined>)[asking.profileId],
    palette.all,
  ];
  for (const list of lists) {
    const value = list?.[key] ?? (cell > 0 ? list?.[attribute] : undefined);
    if (value !== undefined) return value;
  }
  // A palette that only knows a mixed colour gives wheels the nearest slot.
  return isColourWheel(attribute, asking.channel) ? slotFor(palette.all, asking.channel) : null;
}

function slotFor(all: PlainValues, channel: Channel | null): PlainValue | null {
  const mixture = mixtureOf(all);
  const slot = mixture && channel ? nearestSlot(channel, mixture) : undefined;
  return slot ? { range: slot.name, at: 0.5 } : null;
}

/**
 * A value as it stands, or what its palette or its aim says; null where that says nothing (a unit that cannot move) or is
 * gone.
 */
export function plainValue(document: Document, value: AttributeValue, asking: Asking, key: string): PlainValue | null {
  if (isAimValue(value)) return solutionFor(document, asking.unitId as UnitId, value.aim)?.values[key] ?? null;
  if (!isPaletteValue(value)) return value;
  const palette = getRecord(document, 'palette', value.palette);
  return palette ? paletteValue(palette, asking, key) : null;
}

/** Values of one unit or part with every palette and aim put in; what none gives is left out. */
export function plainValues(document: Document, id: LitId, values: Readonly<UnitValues>): PlainValues {
  const lit = litOf(document, id);
  const found: PlainValues = {};
  for (const [key, value] of Object.entries(values)) {
    if (isPlainValue(value)) found[key] = value;
    else if (lit) {
      const { attribute } = splitAttributeKey(key);
      const channel = lit.layout.programmable.find((p) => p.attribute === attribute)?.channel ?? null;
      const asking = { id, unitId: lit.unit.id, profileId: lit.unit.profileId, channel };
      const plain = plainValue(document, value, asking, key);
      if (plain !== null) found[key] = plain;
    }
  }
  return found;
}

/**
 * Attributes a palette has something to say of for a unit or part: what is set when it is chosen for them. Colours of a
 * mixture reach wheels too.
 */
export function paletteKeys(document: Document, palette: PaletteRecord, id: LitId): string[] {
  const lit = litOf(document, id);
  if (!lit) return [];
  return lit.layout.programmable.flatMap(({ attribute, channel }) => {
    const asking = { id, unitId: lit.unit.id, profileId: lit.unit.profileId, channel };
    return paletteValue(palette, asking, attribute) === null ? [] : [attribute];
  });
}
