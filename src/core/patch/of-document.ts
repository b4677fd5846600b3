import { getRecord, recordsOf, type Document } from '../document/change.ts';
import { findMode, layoutMode, type ModeLayout } from '../profile/layout.ts';
import type { ProfileRecord, UnitRecord } from '../records/index.ts';
import { spansOf, type SlotsPerUniverse } from './address.ts';
import type { PatchedUnit } from './clash.ts';

const layouts = new WeakMap<ProfileRecord, Map<string, ModeLayout>>();
const EMPTY: ModeLayout = {
  footprint: 0,
  channels: [],
  cells: 0,
  cellFootprint: 0,
  programmable: [],
  virtualDimmer: false,
};

/** The layout of a mode, kept for as long as the profile record itself. An unknown mode is empty. */
export function layoutOf(profile: ProfileRecord | undefined, modeKey: string): ModeLayout {
  if (!profile) return EMPTY;
  let byMode = layouts.get(profile);
  if (!byMode) layouts.set(profile, (byMode = new Map()));
  let layout = byMode.get(modeKey);
  if (!layout) {
    const mode = findMode(profile, modeKey);
    byMode.set(modeKey, (layout = mode ? layoutMode(profile, mode) : EMPTY));
  }
  return layout;
}

/** Slots of each universe: the smallest of the outputs it is routed through, 512 where it is not routed. */
export function slotsPerUniverseOf(document: Document): (universe: number) => SlotsPerUniverse {
  const limits = new Map<number, SlotsPerUniverse>();
  for (const route of recordsOf(document, 'route')) {
    if (getRecord(document, 'output', route.outputId)?.slotsPerUniverse === 510) limits.set(route.universe, 510);
  }
  return (universe) => limits.get(universe) ?? 512;
}

/** One unit as the patch sees it. */
export function patchedUnit(
  document: Document,
  unit: UnitRecord,
  slotsOf: (universe: number) => SlotsPerUniverse,
): PatchedUnit {
  const profile = getRecord(document, 'profile', unit.profileId);
  const layout = layoutOf(profile, unit.mode);
  const slotsPerUniverse = slotsOf(unit.patch?.universe ?? 1);
  const spans = unit.patch
    ? spansOf(unit.patch, layout.footprint, {
        flow: profile?.flow ?? false,
        slotsPerUniverse,
        cellFootprint: slotsPerUniverse === 510 ? layout.cellFootprint : 0,
      })
    : [];
  return { id: unit.id, number: unit.number, name: unit.name, spans, slotsPerUniverse };
}

export function patchedUnits(document: Document): PatchedUnit[] {
  const slotsOf = slotsPerUniverseOf(document);
  return recordsOf(document, 'unit').map((unit) => patchedUnit(document, unit, slotsOf));
}
