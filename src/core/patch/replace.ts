import { applyChange, getRecord, recordsOf, type ChangeSet, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import { attributeInfo } from '../attributes.ts';
import { homeless } from './impact.ts';
import { type ModeLayout, type Programmable } from '../profile/layout.ts';
import type { ProfileRecord, UnitRecord } from '../records/index.ts';
import { isSevere, type Clash } from './clash.ts';
import { patchFaults } from './faults.ts';
import { movesOf, type Move } from './pack.ts';
import { layoutOfUnit, unitLayout } from './of-document.ts';

/** What becomes of one attribute: it is there in both, only in the old one, or only in the new one. */
export interface AttributeFate {
  readonly attribute: string;
  readonly words: string;
  readonly fate: 'kept' | 'lost' | 'new';
  /** Cells before and after; 0 for the whole unit, null where it is not there. */
  readonly cellsBefore: number | null;
  readonly cellsAfter: number | null;
  /** Programmed values of these units: all of them, and those that find no home afterwards. */
  readonly values: number;
  readonly homeless: number;
  /** Why values have no home, said once each. */
  readonly why: readonly string[];
}

export interface Replacement {
  readonly change: ChangeSet;
  readonly attributes: readonly AttributeFate[];
  readonly footprintBefore: readonly number[];
  readonly footprintAfter: number;
  /** Scenes in which values have no home afterwards. They stay in them, and are sent again when it comes back. */
  readonly scenes: readonly string[];
  /** Units that move because they follow one of these. */
  readonly moves: readonly Move[];
  /** Clashes that are not there now. */
  readonly clashes: readonly Clash[];
}

/**
 * What putting units on another profile and mode would do, attribute by attribute, before it is done. Addresses stay;
 * what follows them moves. Nothing that is programmed is thrown away.
 */
export function replaceUnits(
  document: Document,
  ids: Iterable<UnitId>,
  profile: ProfileRecord,
  modeKey: string,
): Replacement {
  const units = withTwins(
    document,
    [...new Set(ids)].flatMap((id) => getRecord(document, 'unit', id) ?? []),
  );
  const after = unitLayout(profile, { mode: modeKey, prop: units[0]?.prop ?? null });
  const put = units.map((u) => ({ ...u, profileId: profile.id, mode: modeKey }));
  const change: ChangeSet = { put: [...(document.has(profile.id) ? [] : [profile]), ...put], remove: [] };
  const { attributes, scenes } = fates(document, units, after);
  const next = applyChange(document, change);
  const known = new Set(patchFaults(document).map(clashKey));
  return {
    change,
    attributes,
    footprintBefore: [...new Set(units.map((u) => layoutOfUnit(document, u).footprint))],
    footprintAfter: after.footprint,
    scenes,
    moves: movesOf(document, change),
    clashes: patchFaults(next).filter((c) => (isSevere(c) || c.code === 'EXPECTED_END') && !known.has(clashKey(c))),
  };
}

/** Twins stay twins: those of a replaced unit are replaced along. */
function withTwins(document: Document, units: readonly UnitRecord[]): UnitRecord[] {
  const all = new Map(units.map((u) => [u.id, u]));
  for (let grew = true; grew;) {
    grew = false;
    for (const unit of recordsOf(document, 'unit')) {
      if (all.has(unit.id) || !unit.relation || !('twinOf' in unit.relation) || !all.has(unit.relation.twinOf))
        continue;
      all.set(unit.id, unit);
      grew = true;
    }
  }
  return [...all.values()];
}

const clashKey = (clash: Clash): string => `${clash.code} ${clash.unitId} ${clash.message}`;

function fates(
  document: Document,
  units: readonly UnitRecord[],
  after: ModeLayout,
): { attributes: AttributeFate[]; scenes: string[] } {
  const layouts = new Map(units.map((u) => [u.id as string, layoutOfUnit(document, u)]));
  const before = new Map<string, number>();
  for (const layout of layouts.values())
    for (const p of layout.programmable) before.set(p.attribute, Math.max(before.get(p.attribute) ?? 0, p.cells));
  const now = cellsByAttribute(after.programmable);
  const counted = new Map<string, { values: number; homeless: number; why: Set<string> }>();
  const scenes: string[] = [];
  for (const scene of recordsOf(document, 'scene')) {
    let hurt = false;
    for (const [unitId, values] of Object.entries(scene.values)) {
      if (!layouts.has(unitId)) continue;
      for (const [key, value] of Object.entries(values)) {
        const attribute = key.split('#')[0]!;
        const entry = counted.get(attribute) ?? { values: 0, homeless: 0, why: new Set<string>() };
        counted.set(attribute, entry);
        entry.values++;
        const why = homeless(after, key, value);
        if (why === null) continue;
        entry.homeless++;
        entry.why.add(why);
        hurt = true;
      }
    }
    if (hurt) scenes.push(scene.name);
  }
  const attributes = [...new Set([...before.keys(), ...now.keys()])].map((attribute): AttributeFate => {
    const uses = counted.get(attribute);
    return {
      attribute,
      words: attributeInfo(attribute)?.words ?? attribute,
      fate: !now.has(attribute) ? 'lost' : before.has(attribute) ? 'kept' : 'new',
      cellsBefore: before.get(attribute) ?? null,
      cellsAfter: now.get(attribute) ?? null,
      values: uses?.values ?? 0,
      homeless: uses?.homeless ?? 0,
      why: [...(uses?.why ?? [])],
    };
  });
  const rank = { lost: 0, kept: 1, new: 2 };
  return { attributes: attributes.sort((a, b) => rank[a.fate] - rank[b.fate] || b.homeless - a.homeless), scenes };
}

const cellsByAttribute = (programmable: readonly Programmable[]): Map<string, number> => {
  const cells = new Map<string, number>();
  for (const p of programmable) cells.set(p.attribute, Math.max(cells.get(p.attribute) ?? 0, p.cells));
  return cells;
};
