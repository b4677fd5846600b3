import { getRecord, type Document } from '../../document/change.ts';
import type { AreaId } from '../../ids.ts';
import { membersOf } from '../../patch/groups.ts';
import { LOCKED_BYTE, SHUTTER_BYTE } from '../../signal/index.ts';
import type { AreaMasters, Masters } from './masters.ts';
import type { CompiledRig } from '../rig/rig.ts';
import type { LiveState } from '../live/state.ts';

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
