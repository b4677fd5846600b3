import { getRecord, recordsOf, type Document } from '../document/change.ts';
import { unitLayout } from './of-document.ts';
import type { ProfileRecord, UnitRecord } from '../records/index.ts';
import { attributeInfo, splitAttributeKey } from '../attributes.ts';
import { litOf } from './lit.ts';
import { findRange, type ModeLayout } from '../profile/layout.ts';

/** What a changed profile means for one unit of it. */
export interface UnitImpact {
  readonly unit: UnitRecord;
  readonly footprintBefore: number;
  readonly footprintAfter: number;
  /** True when its mode is gone: the change cannot be made before the unit has another. */
  readonly modeGone: boolean;
}

/** Values of a scene that have no home any more (or have one again) after the change. */
export interface SceneImpact {
  readonly sceneId: string;
  readonly name: string;
  readonly lost: readonly {
    readonly unit: string;
    readonly key: string;
    readonly words: string;
    readonly why: string;
  }[];
  readonly regained: number;
}

export interface ProfileImpact {
  readonly units: readonly UnitImpact[];
  readonly scenes: readonly SceneImpact[];
}

/** Why a value cannot be sent by a unit in this layout; null when it can. */
export function homeless(layout: ModeLayout, key: string, value: unknown): string | null {
  const { attribute, cell } = splitAttributeKey(key);
  const items = layout.programmable.filter((p) => p.attribute === attribute);
  if (items.length === 0) return 'the mode has no such attribute';
  if (cell > 0 && !items.some((p) => p.cells >= cell)) return `there is no cell ${cell}`;
  // What a palette says is looked up when it is played.
  if (typeof value !== 'object' || value === null || !('range' in value)) return null;
  const { range } = value as { range: string };
  const channel = items.find((p) => p.channel)?.channel;
  return channel && findRange(channel, range) ? null : `there is no range “${range}”`;
}

/**
 * What putting `changed` in the place of the profile with its id would do to the units that use it and to the scenes
 * that hold values for them. Values without a home stay in their scenes and are sent again when it comes back.
 */
export function impactOf(document: Document, changed: ProfileRecord): ProfileImpact {
  const before = getRecord(document, 'profile', changed.id);
  const users = new Map(
    recordsOf(document, 'unit')
      .filter((u) => u.profileId === changed.id)
      .map((u) => [u.id as string, u]),
  );
  const units = [...users.values()].map((unit) => ({
    unit,
    footprintBefore: unitLayout(before, unit).footprint,
    footprintAfter: unitLayout(changed, unit).footprint,
    modeGone: !changed.modes.some((m) => m.key === unit.mode),
  }));
  const scenes: SceneImpact[] = [];
  for (const scene of recordsOf(document, 'scene')) {
    const lost: SceneImpact['lost'][number][] = [];
    let regained = 0;
    for (const [unitId, values] of Object.entries(scene.values)) {
      const unit = users.get(unitId);
      if (!unit) continue;
      const [was, is] = [unitLayout(before, unit), unitLayout(changed, unit)];
      for (const [key, value] of Object.entries(values)) {
        const [had, has] = [homeless(was, key, value), homeless(is, key, value)];
        if (had === null && has !== null) {
          const info = attributeInfo(splitAttributeKey(key).attribute);
          lost.push({ unit: unit.name, key, words: info?.words ?? key, why: has });
        } else if (had !== null && has === null) regained++;
      }
    }
    if (lost.length > 0 || regained > 0) scenes.push({ sceneId: scene.id, name: scene.name, lost, regained });
  }
  return { units, scenes };
}

/** Values of the whole show that have no home now: kept, not sent. By scene, with unit and reason. */
export function keptAside(document: Document): { scene: string; unit: string; key: string; why: string }[] {
  const found: { scene: string; unit: string; key: string; why: string }[] = [];
  for (const scene of recordsOf(document, 'scene'))
    for (const [id, values] of Object.entries(scene.values)) {
      const lit = litOf(document, id);
      if (!lit) continue;
      for (const [key, value] of Object.entries(values)) {
        const why = homeless(lit.layout, key, value);
        if (why !== null) found.push({ scene: scene.name, unit: lit.name, key, why });
      }
    }
  return found;
}
