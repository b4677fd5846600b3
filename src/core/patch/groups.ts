import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { AreaId, GroupId, LitId, UnitId } from '../ids.ts';
import type { GroupRecord, UnitRecord } from '../records/index.ts';
import type { GroupRule } from '../records/group.ts';
import { areaChain, areaIdOf } from './areas.ts';
import { orderUnits } from './order.ts';

/** The units a rule takes, in its order. Follows the show: a unit that begins to match is in at once. */
export function ruleMembers(document: Document, rule: GroupRule): UnitRecord[] {
  const matching = recordsOf(document, 'unit').filter(
    (u) =>
      (rule.profileId === null || u.profileId === rule.profileId) &&
      (rule.areaId === null || isInArea(document, u, rule.areaId)) &&
      (rule.tag === null || u.tag === rule.tag),
  );
  return orderUnits(document, matching, rule.order).filter(
    (_, i) => i + 1 >= rule.from && (i + 1 - rule.from) % rule.every === 0,
  );
}

/** True where the unit is in the area or in one that lies in it. */
export const isInArea = (document: Document, unit: UnitRecord, areaId: AreaId): boolean =>
  areaChain(document, areaIdOf(document, unit)).includes(areaId);

/** The units of a group in their order, by its rule or its list. */
export const membersOf = (document: Document, group: GroupRecord): UnitId[] =>
  group.rule ? ruleMembers(document, group.rule).map((u) => u.id) : [...group.unitIds];

/** Units in an area and in areas that lie in it, by number. */
export const unitsIn = (document: Document, areaId: AreaId): UnitId[] => {
  const units = recordsOf(document, 'unit').filter((unit) => isInArea(document, unit, areaId));
  return orderUnits(document, units, 'number').map((unit) => unit.id);
};

/** Units and parts that ids of groups and areas stand for, in order, each once; those outside `reach` left out. */
export function reached(
  document: Document,
  ids: readonly (LitId | GroupId | AreaId)[],
  reach: ReadonlySet<string> | null = null,
): LitId[] {
  const found = new Set<LitId>();
  for (const id of ids) {
    if (id.startsWith('group:')) {
      const group = getRecord(document, 'group', id);
      if (group) for (const unit of membersOf(document, group)) found.add(unit);
    } else if (id.startsWith('area:')) for (const unit of unitsIn(document, id as AreaId)) found.add(unit);
    else found.add(id as LitId);
  }
  if (!reach) return [...found];
  return [...found].filter((id) => reach.has(id) || reach.has(getRecord(document, 'part', id)?.unitId ?? id));
}

/** The first 26 groups by number have a letter each: A to Z. */
export function groupLetters(groups: readonly GroupRecord[]): ReadonlyMap<string, GroupRecord> {
  const sorted = [...groups].sort((a, b) => a.number - b.number || (a.id < b.id ? -1 : 1));
  return new Map(sorted.slice(0, 26).map((group, i) => [String.fromCharCode(65 + i), group]));
}
