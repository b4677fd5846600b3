import { getRecord, type Document } from '../../document/change.ts';
import type { UnitId } from '../../ids.ts';
import { layoutOfUnit, patchOf } from '../../patch/of-document.ts';
import type { LampColour } from '../../protocol/lamp-pacer.ts';

/** Where the colour of a unit is among the slots: its red, green, blue, white and level, -1 where it has none. */
export interface LampSlots {
  readonly universe: number;
  readonly red: number;
  readonly green: number;
  readonly blue: number;
  readonly white: number;
  readonly level: number;
}

const PARTS = { red: 'ColorAdd_R', green: 'ColorAdd_G', blue: 'ColorAdd_B', white: 'ColorAdd_W', level: 'Dimmer' };

/** Slots (0-511) of a unit that a smart lamp shows; null where it has no address or no colour or level in one universe. */
export function lampSlotsOf(document: Document, unitId: UnitId): LampSlots | null {
  const unit = getRecord(document, 'unit', unitId);
  const span = patchOf(document).get(unitId)?.spans[0];
  if (!unit || !span) return null;
  const { channels } = layoutOfUnit(document, unit);
  const slotOf = (attribute: string): number => {
    const offset = channels.find((c) => c.channel.attribute === attribute)?.offsets[0];
    return offset === undefined || span.from + offset > span.to ? -1 : span.from + offset - 1;
  };
  const found = Object.fromEntries(
    Object.entries(PARTS).map(([part, attribute]) => [part, slotOf(attribute)]),
  ) as Record<keyof typeof PARTS, number>;
  if (Object.values(found).every((slot) => slot < 0)) return null;
  return { universe: span.universe, ...found };
}

/** The colour a lamp shows for the slots of a universe; a unit without colour is white at its level. */
export function lampColour(at: LampSlots, slots: Uint8Array): LampColour {
  const value = (slot: number): number => (slot < 0 ? 0 : slots[slot]! / 255);
  const level = at.level < 0 ? 1 : value(at.level);
  const plain = at.red < 0 && at.green < 0 && at.blue < 0 && at.white < 0;
  const white = plain ? 1 : value(at.white);
  const part = (slot: number): number => Math.min(1, value(slot) + white) * level;
  return { red: part(at.red), green: part(at.green), blue: part(at.blue) };
}
