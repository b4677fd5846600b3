import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import type { GroupRecord, UnitRecord } from '../records/index.ts';
import type { GroupRule } from '../records/group.ts';
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
export function isInArea(document: Document, unit: UnitRecord, areaId: string): boolean {
  let at: string | null = unit.areaId;
  for (let depth = 0; at !== null && depth < 100; depth++) {
    if (at === areaId) return true;
    at = getRecord(document, 'area', at)?.parentId ?? null;
  }
  return false;
}

/** The units of a group in their order, by its rule or its list. */
export const membersOf = (document: Document, group: GroupRecord): UnitId[] =>
  group.rule ? ruleMembers(document, group.rule).map((u) => u.id) : [...group.unitIds];

/** The first 26 groups by number have a letter each: A to Z. */
export function groupLetters(groups: readonly GroupRecord[]): ReadonlyMap<string, GroupRecord> {
  const sorted = [...groups].sort((a, b) => a.number - b.number || (a.id < b.id ? -1 : 1));
  return new Map(sorted.slice(0, 26).map((group, i) => [String.fromCharCode(65 + i), group]));
}
