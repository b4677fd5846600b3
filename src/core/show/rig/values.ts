import type { Document } from '../../document/change.ts';
import type { LitId } from '../../ids.ts';
import { plainValue } from '../../palette/resolve.ts';
import { attributeKey, splitAttributeKey } from '../../attributes.ts';
import { valueToFraction } from '../../profile/layout.ts';
import type { UnitValues } from '../../records/scene.ts';
import type { CompiledRig } from './rig.ts';

/**
 * Attribute slots in the order the renderer takes them: first those that merge highest-takes-precedence (before
 * `htpEnd`), then those that jump (before `snapEnd`), then those that glide. Each part in ascending order.
 */
export interface SlotList {
  readonly slots: Uint32Array;
  readonly htpEnd: number;
  readonly snapEnd: number;
}

/** Values against one rig: `values[i]` (0-1) belongs to attribute slot `slots[i]`. */
export interface SlotValues extends SlotList {
  readonly values: Float32Array;
}

const isPart = (id: string): boolean => id.startsWith('part:');

/**
 * Fractions by attribute slot. A value for a whole unit reaches all its cells; a value for one cell is laid over it,
 * what is said of a part over what is said of its unit. Values with no home in this rig (another mode, a missing range,
 * a palette that says nothing) are passed over: they stay in the record. `reach` holds back all but these.
 */
export function fractionsOf(
  rig: CompiledRig,
  document: Document,
  values: Readonly<Record<string, UnitValues>>,
  reach: Reach = null,
): Map<number, number> {
  const found = new Map<number, number>();
  const entries = Object.entries(values);
  const ordered = [...entries.filter(([id]) => !isPart(id)), ...entries.filter(([id]) => isPart(id))];
  for (const [id, attributes] of ordered) {
    const unit = rig.units.get(id as LitId);
    if (!unit || (reach && !reach.has(id) && !reach.has(unit.unitId))) continue;
    const set = (key: string, value: UnitValues[string], from: string): void => {
      const target = unit.slots.get(key);
      if (!target) return;
      const { unitId, profileId } = unit;
      const plain = plainValue(document, value, { id: unit.id, unitId, profileId, channel: target.channel }, from);
      const fraction = plain === null ? null : valueToFraction(target.channel, plain);
      if (fraction !== null) found.set(unit.base + target.slot, fraction);
    };
    for (const wholeUnit of [true, false]) {
      for (const [key, value] of Object.entries(attributes)) {
        const { attribute, cell } = splitAttributeKey(key);
        if ((cell === 0) !== wholeUnit) continue;
        if (cell === 0) {
          const cells = unit.cells.get(attribute) ?? 0;
          for (let i = 1; i <= cells; i++) set(attributeKey(attribute, i), value, key);
        }
        set(key, value, key);
      }
    }
  }
  return found;
}

/** Whom something reaches: units and parts; null for all. */
export type Reach = ReadonlySet<string> | null;

export function compileValues(
  rig: CompiledRig,
  document: Document,
  values: Readonly<Record<string, UnitValues>>,
  reach: Reach = null,
): SlotValues {
  return slotValues(rig, fractionsOf(rig, document, values, reach));
}

export function slotValues(rig: CompiledRig, found: ReadonlyMap<number, number>): SlotValues {
  const list = slotList(rig, found.keys());
  return { ...list, values: Float32Array.from(list.slots, (slot) => found.get(slot)!) };
}

export function slotList(rig: CompiledRig, slots: Iterable<number>): SlotList {
  const { htp, snap } = rig.arrays;
  const rank = (slot: number): number => (htp[slot] === 1 ? 0 : snap[slot] === 1 ? 1 : 2);
  const sorted = Uint32Array.from([...slots].sort((a, b) => rank(a) - rank(b) || a - b));
  const end = (below: number): number => {
    const at = sorted.findIndex((slot) => rank(slot) >= below);
    return at < 0 ? sorted.length : at;
  };
  return { slots: sorted, htpEnd: end(1), snapEnd: end(2) };
}
