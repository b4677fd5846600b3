import { recordsOf, type Document } from '../document/change.ts';
import type { AreaId, UnitId } from '../ids.ts';
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

/** The first 26 groups by number have a letter each: A to Z. */
export function groupLetters(groups: readonly GroupRecord[]): ReadonlyMap<string, GroupRecord> {
  const sorted = [...groups].sort((a, b) => a.number - b.number || (a.id < b.id ? -1 : 1));
  return new Map(sorted.slice(0, 26).map((group, i) => [String.fromCharCode(65 + i), group]));
}
