import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import { unitLayout } from '../patch/of-document.ts';
import { COLOUR_ATTRIBUTES } from '../attributes.ts';
import type { ProfileRecord, UnitRecord } from '../records/index.ts';
import { ownDots } from './dots.ts';

/** What a unit counts at least, m²: a lamp fills more of the eye than its housing does. */
export const LEAST_M2 = 0.1;
/** Between neighbouring cells, metres: closer and farther ones count as this far apart. */
const PITCH_M = { least: 0.02, most: 1 } as const;
/** So many distances are looked at. */
const LOOKED_AT = 64;

/**
 * The area of the plot a unit lights, m²: each cell a square as wide as it is far from the next on the wire (the
 * middle of what is found), at least LEAST_M2 in all. `cells` as its mode has them, at least 1.
 */
export function litAreaM2(unit: UnitRecord, profile: ProfileRecord | undefined, cells: number): number {
  const { xyz } = ownDots(unit, profile, Math.max(1, cells));
  const count = xyz.length / 3;
  if (count < 2) return LEAST_M2;
  const step = Math.max(1, Math.floor((count - 1) / LOOKED_AT));
  const apart: number[] = [];
  for (let i = 0; i + 1 < count; i += step) {
    const at = i * 3;
    apart.push(Math.hypot(xyz[at + 3]! - xyz[at]!, xyz[at + 4]! - xyz[at + 1]!, xyz[at + 5]! - xyz[at + 2]!));
  }
  apart.sort((a, b) => a - b);
  const pitch = Math.min(PITCH_M.most, Math.max(PITCH_M.least, apart[apart.length >> 1]!));
  return Math.max(LEAST_M2, count * pitch * pitch);
}

const known = new WeakMap<Document, ReadonlyMap<UnitId, number>>();

/** What each unit that gives light has of the plot, 0-1 of the area all of them light. Kept as long as the document. */
export function plotShares(document: Document): ReadonlyMap<UnitId, number> {
  let shares = known.get(document);
  if (!shares) {
    const areas: [UnitId, number][] = [];
    for (const unit of recordsOf(document, 'unit')) {
      const profile = getRecord(document, 'profile', unit.profileId);
      const { programmable, cells } = unitLayout(profile, unit);
      if (programmable.some(({ attribute }) => LIGHT.has(attribute)))
        areas.push([unit.id, litAreaM2(unit, profile, cells)]);
    }
    const whole = areas.reduce((sum, [, area]) => sum + area, 0);
    known.set(document, (shares = new Map(areas.map(([id, area]) => [id, area / whole]))));
  }
  return shares;
}

const LIGHT: ReadonlySet<string> = new Set(['Dimmer', 'Shutter1', ...COLOUR_ATTRIBUTES]);
