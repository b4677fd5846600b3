import { recordsOf, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import { footprintOf, findMode } from '../profile/layout.ts';
import { make, type ProfileRecord, type UnitRecord } from '../records/index.ts';
import { nextFree } from './clash.ts';
import { numberedNames } from './naming.ts';
import { patchedUnits, slotsPerUniverseOf } from './of-document.ts';

export interface NewUnits {
  readonly profile: ProfileRecord;
  readonly mode: string;
  readonly count: number;
  readonly names: string;
  readonly firstNumber: number;
  /** First address to look from; the lowest gap of all where absent. */
  readonly start?: { readonly universe: number; readonly address: number };
}

/**
 * Makes units of one mode, named and numbered in a row, each at the next free address that takes it whole, standing
 * in a row across the middle of the plan. Units for which no address is left come without one.
 */
export function newUnits(document: Document, wanted: NewUnits, newId: () => UnitId): UnitRecord[] {
  const mode = findMode(wanted.profile, wanted.mode);
  const footprint = mode ? footprintOf(mode) : 0;
  const places = nextFree(patchedUnits(document), footprint, wanted.count, {
    start: wanted.start,
    slotsPerUniverse: slotsPerUniverseOf(document),
  });
  const names = numberedNames(wanted.names, wanted.count, 1);
  const spacing = rowSpacing(document, wanted.count);
  return names.map((name, i) =>
    make('unit', {
      id: newId(),
      number: wanted.firstNumber + i,
      name,
      profileId: wanted.profile.id,
      mode: wanted.mode,
      patch: places[i] ?? null,
      position: { x: round((i - (wanted.count - 1) / 2) * spacing), y: 0, z: 3 },
    }),
  );
}

/** A metre between neighbours, less where the room is too narrow for it. */
function rowSpacing(document: Document, count: number): number {
  const width = recordsOf(document, 'show')[0]?.room.widthM ?? 12;
  return count <= 1 ? 0 : Math.min(1, (width * 0.9) / (count - 1));
}

const round = (value: number): number => Math.round(value * 1000) / 1000;
