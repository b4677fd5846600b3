import { darkLevel } from './clock.ts';
import type { RigArrays } from '../rig/rig.ts';
import type { Dark } from '../live/state.ts';

/** What is left of levels after the merge, apart from the grand master and Dark. */
export interface Masters {
  /** For each unit what groups, kinds and solo leave of its level, 0-1; null where all are at full. */
  readonly units: Float32Array | null;
  /** What each area (as numbered by the rig) leaves of a level; null where all are at full. */
  readonly areas: AreaMasters | null;
}

export interface AreaMasters {
  /** Levels set by hand, chains multiplied. */
  readonly levels: Float32Array;
  /** Areas that are dark alone, or on the way: which of the rig's areas they take with them. */
  readonly darks: readonly { readonly dark: Dark; readonly places: readonly number[] }[];
  /** The levels of this moment: written anew in every frame. */
  readonly now: Float32Array;
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
