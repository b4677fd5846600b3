import { areaIdOf } from './areas.ts';
import { getRecord, recordsOf, type ChangeSet, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import type { UnitRecord } from '../records/index.ts';
import type { UnitOrder } from '../records/group.ts';
import { orderUnits } from './order.ts';

const unitsOf = (document: Document, ids: Iterable<UnitId>): UnitRecord[] =>
  [...new Set(ids)].flatMap((id) => getRecord(document, 'unit', id) ?? []);

/** What may stand in a pattern for names, each in square brackets. */
export const NAME_PARTS = ['name', 'number', 'model', 'mode', 'area', 'line'] as const;

export interface Renaming {
  readonly unit: UnitRecord;
  readonly name: string;
  /** What is wrong with the new name, or null. */
  readonly fault: string | null;
}

/**
 * New names from a pattern: `#` counts from `first` on (`##` with zeros before), `[name]`, `[number]`, `[model]`,
 * `[mode]`, `[area]` and `[line]` stand for what the unit has. `Bar #` -> `Bar 1`, `Bar 2`; `[area] [name]` -> `North
 * Wash 3`. Units in the order given.
 */
export function renameUnits(
  document: Document,
  ids: readonly UnitId[],
  pattern: string,
  first = 1,
): { readonly names: readonly Renaming[]; readonly change: ChangeSet } {
  const lines = new Map(recordsOf(document, 'line').flatMap((l) => l.unitIds.map((id) => [id, l.name] as const)));
  const names = unitsOf(document, ids).map((unit, i): Renaming => {
    const profile = getRecord(document, 'profile', unit.profileId);
    const parts: Record<(typeof NAME_PARTS)[number], string> = {
      name: unit.name,
      number: String(unit.number),
      model: profile?.model ?? '',
      mode: profile?.modes.find((m) => m.key === unit.mode)?.name ?? '',
      area: getRecord(document, 'area', areaIdOf(document, unit) ?? '')?.name ?? '',
      line: lines.get(unit.id) ?? '',
    };
    const name = pattern
      .replace(/#+/g, (hashes) => String(first + i).padStart(hashes.length, '0'))
      .replace(/\[([a-z]+)\]/g, (whole, part: string) =>
        Object.hasOwn(parts, part) ? parts[part as keyof typeof parts] : whole,
      )
      .replace(/\s+/g, ' ')
      .trim();
    return { unit, name, fault: nameProblem(name) };
  });
  const put = names.filter((n) => n.fault === null && n.name !== n.unit.name).map((n) => ({ ...n.unit, name: n.name }));
  return { names, change: { put, remove: [] } };
}

const nameProblem = (name: string): string | null =>
  name === '' ? 'the name would be empty' : name.length > 100 ? `${name.length} characters; at most 100` : null;

export interface Renumbering {
  readonly unit: UnitRecord;
  readonly number: number;
  /** Who has that number already and is not renumbered along. */
  readonly clash: UnitRecord | null;
}

/**
 * New unit numbers from `first` on, in an order. `close` puts them one after the other; `keep` leaves the holes there
 * are between the present numbers (12, 13, 20 from 101 on become 101, 102, 109). Programming and addresses stay.
 */
export function renumberUnits(
  document: Document,
  ids: Iterable<UnitId>,
  options: { readonly first: number; readonly holes: 'keep' | 'close'; readonly order: UnitOrder },
): { readonly numbers: readonly Renumbering[]; readonly change: ChangeSet } {
  const chosen = orderUnits(document, unitsOf(document, ids), options.order);
  const moving = new Set(chosen.map((u) => u.id));
  const present = chosen.map((u) => u.number).sort((a, b) => a - b);
  const others = new Map<number, UnitRecord>();
  for (const unit of recordsOf(document, 'unit')) if (!moving.has(unit.id)) others.set(unit.number, unit);
  const numbers = chosen.map((unit, i): Renumbering => {
    const number = options.first + (options.holes === 'close' ? i : present[i]! - present[0]!);
    return { unit, number, clash: others.get(number) ?? null };
  });
  const fits = numbers.every((n) => n.number >= 1 && n.number <= 99_999);
  const put = fits
    ? numbers.filter((n) => n.number !== n.unit.number).map((n) => ({ ...n.unit, number: n.number }))
    : [];
  return { numbers, change: { put, remove: [] } };
}
