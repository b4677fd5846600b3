import { getRecord, type Document } from '../document/change.ts';
import type { AreaId } from '../ids.ts';
import { membersOf } from '../patch/groups.ts';
import { LOCKED_BYTE, SHUTTER_BYTE } from '../signal/index.ts';
import { darkLevel } from './clock.ts';
import type { CompiledRig, RigArrays } from './rig.ts';
import type { Dark, LiveState } from './state.ts';

/** What is left of levels after the merge, apart from the grand master and Dark. */
export interface Masters {
  /** For each unit what groups, kinds and solo leave of its level, 0-1; null where all are at full. */
  readonly units: Float32Array | null;
  /** What each area (as numbered by the rig) leaves of a level; null where all are at full. */
  readonly areas: AreaMasters | null;
}

interface AreaMasters {
  /** Levels set by hand, chains multiplied. */
  readonly levels: Float32Array;
  /** Areas that are dark alone, or on the way: which of the rig's areas they take with them. */
  readonly darks: readonly { readonly dark: Dark; readonly places: readonly number[] }[];
  /** The levels of this moment: written anew in every frame. */
  readonly now: Float32Array;
}

export function prepareMasters(rig: CompiledRig, document: Document, state: LiveState): Masters {
  const left = unitFactors(rig, document, state);
  return {
    units: left && Float32Array.from(rig.placed, (id) => left.get(id) ?? 1),
    areas: prepareAreas(rig, state),
  };
}

/** What groups, kinds and solo leave of each unit; null where nothing takes anything. */
function unitFactors(rig: CompiledRig, document: Document, state: LiveState): Map<string, number> | null {
  const groups = Object.entries(state.groups);
  const kinds = Object.keys(state.kinds).length;
  if (groups.length === 0 && kinds === 0 && state.solo.length === 0) return null;
  const left = new Map<string, number>();
  const scale = (id: string, by: number): void => void left.set(id, (left.get(id) ?? 1) * by);
  for (const [id, level] of groups) {
    const group = getRecord(document, 'group', id);
    if (group) for (const unit of membersOf(document, group)) scale(unit, level!);
  }
  const solo = new Set<string>(state.solo.map((id) => rig.units.get(id)?.unitId ?? id));
  for (const unit of rig.units.values()) {
    if (unit.id !== unit.unitId) continue;
    const profile = getRecord(document, 'profile', unit.profileId);
    const kind = profile && state.kinds[profile.fixtureKind];
    if (kind !== undefined) scale(unit.id, kind);
    if (solo.size > 0 && !solo.has(unit.id)) scale(unit.id, 0);
  }
  return left;
}

function prepareAreas(rig: CompiledRig, { areas, areasDark }: LiveState): AreaMasters | null {
  const levels = Float32Array.from(rig.areaChains, (chain) => chain.reduce((left, id) => left * (areas[id] ?? 1), 1));
  const darks = Object.entries(areasDark).map(([id, dark]) => ({
    dark: dark!,
    places: rig.areaChains.flatMap((chain, place) => (chain.includes(id as AreaId) ? [place] : [])),
  }));
  if (darks.length === 0 && levels.every((level) => level === 1)) return null;
  return { levels, darks, now: new Float32Array(levels.length) };
}

/** Levels of areas at a moment, written to `now`; null where all are at full. */
export function areasAt(masters: Masters, nowMs: number): Float32Array | null {
  const { areas } = masters;
  if (!areas) return null;
  areas.now.set(areas.levels);
  for (const { dark, places } of areas.darks) {
    const level = darkLevel(dark, nowMs);
    for (const place of places) areas.now[place] = areas.now[place]! * level;
  }
  return areas.now;
}

/**
 * What raw bytes may do while groups, kinds or areas are down; null where nothing is. A shutter of a unit at nothing
 * stays as it is. An area on its way into the dark counts as dark.
 */
export function ceilingUnder({ arrays }: CompiledRig, { units, areas }: Masters): Float32Array | null {
  if (!units && !areas) return null;
  const { ceiling, byteUnit, unitArea } = arrays;
  const levels = areas && Float32Array.from(areas.levels);
  for (const { dark, places } of areas?.darks ?? []) if (dark.on) for (const place of places) levels![place] = 0;
  return ceiling.map((most, i) => {
    const unit = byteUnit[i]!;
    return unit < 0 ? most : lowered(most, (units?.[unit] ?? 1) * (levels?.[unitArea[unit]!] ?? 1));
  });
}

const lowered = (most: number, level: number): number =>
  most >= 0 ? most * level : most === SHUTTER_BYTE && level === 0 ? LOCKED_BYTE : most;

/** Limits, then masters: levels are scaled, shutters of units without a level close at nothing. */
export function applyMasters(
  rig: RigArrays,
  current: Float32Array,
  masters: Masters,
  areas: Float32Array | null,
  whole: number,
): void {
  const { mastered, masteredUnit, unitArea, limited, limits, shutters, shutterUnit, shutAt } = rig;
  const { units } = masters;
  for (let i = 0; i < limited.length; i++) {
    const slot = limited[i]!;
    current[slot] = current[slot]! * limits[i]!;
  }
  if (units)
    for (let i = 0; i < mastered.length; i++) {
      const slot = mastered[i]!;
      current[slot] = current[slot]! * units[masteredUnit[i]!]!;
    }
  if (areas)
    for (let i = 0; i < mastered.length; i++) {
      const slot = mastered[i]!;
      current[slot] = current[slot]! * areas[unitArea[masteredUnit[i]!]!]!;
    }
  for (let i = 0; i < shutters.length; i++) {
    const unit = shutterUnit[i]!;
    if (whole <= 0 || units?.[unit] === 0 || (areas && areas[unitArea[unit]!] === 0))
      current[shutters[i]!] = shutAt[i]!;
  }
  if (whole >= 1) return;
  for (let i = 0; i < mastered.length; i++) {
    const slot = mastered[i]!;
    current[slot] = current[slot]! * whole;
  }
}

/** Haze and fog go to rest with Dark, where it takes them. */
export function applyHaze({ haze, home }: RigArrays, current: Float32Array, dark: number): void {
  for (let i = 0; i < haze.length; i++) {
    const slot = haze[i]!;
    current[slot] = home[slot]! + (current[slot]! - home[slot]!) * dark;
  }
}
