import { recordsOf, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import { make, type ProfileRecord, type UnitRecord } from '../records/index.ts';
import type { Prop } from '../records/prop.ts';
import { takenSpans } from './clash.ts';
import { numberedNames } from './naming.ts';
import { modeSpans, patchOf, slotsPerUniverseOf } from './of-document.ts';
import { placeRun, type Footprint } from './place.ts';

export interface NewUnits {
  readonly profile: ProfileRecord;
  readonly mode: string;
  /** Shape and wiring of each, where they are props. */
  readonly prop?: Prop | null;
  readonly count: number;
  readonly names: string;
  readonly firstNumber: number;
  /** First address to look from; the lowest gap of all where absent. */
  readonly start?: { readonly universe: number; readonly address: number };
  /** Slots left free after each. */
  readonly gap?: number;
  /** Every address begins a block of so many slots (`placeRun`). */
  readonly block?: number;
}

/**
 * Makes units of one mode, named and numbered in a row, each at the next free address that takes it whole, standing
 * in a row across the middle of the plan. Units for which no address is left come without one.
 */
export function newUnits(document: Document, wanted: NewUnits, newId: () => UnitId): UnitRecord[] {
  const { profile } = wanted;
  const slotsOf = slotsPerUniverseOf(document);
  const form = { mode: wanted.mode, prop: wanted.prop ?? null };
  const footprint: Footprint = (place) => modeSpans(profile, form, place, slotsOf(place.universe));
  const places = placeRun(
    Array.from({ length: wanted.count }, () => footprint),
    {
      ...(wanted.start ? { start: wanted.start } : {}),
      gap: wanted.gap,
      block: wanted.block,
      slotsOf,
      taken: takenSpans(patchOf(document).units),
    },
  );
  const names = numberedNames(wanted.names, wanted.count, 1);
  const spacing = rowSpacing(document, wanted.count);
  return names.map((name, i) =>
    make('unit', {
      id: newId(),
      number: wanted.firstNumber + i,
      name,
      profileId: profile.id,
      ...form,
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
