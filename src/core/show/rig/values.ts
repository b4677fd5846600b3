import type { Document } from '../../document/change.ts';
import type { LitId } from '../../ids.ts';
import { plainValue } from '../../palette/resolve.ts';
import { attributeKey, splitAttributeKey } from '../../attributes.ts';
import { valueToFraction } from '../../profile/layout.ts';
import type { UnitValues } from '../../records/scene.ts';
import type { CompiledRig, CompiledUnit } from './rig.ts';

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
    eachFraction(document, unit, attributes, (slot, fraction) => found.set(slot, fraction));
  }
  return found;
}

/** Visits what the values of one unit come to: those of the whole unit first, then those of single cells. */
function eachFraction(
  document: Document,
  unit: CompiledUnit,
  attributes: UnitValues,
  visit: (slot: number, fraction: number) => void,
): void {
  const set = (key: string, value: UnitValues[string], from: string): void => {
    const target = unit.slots.get(key);
    if (!target) return;
    const { unitId, profileId } = unit;
    const plain = plainValue(document, value, { id: unit.id, unitId, profileId, channel: target.channel }, from);
    const fraction = plain === null ? null : valueToFraction(target.channel, plain);
    if (fraction !== null) visit(unit.base + target.slot, fraction);
  };
  const keys = Object.keys(attributes);
  for (const wholeUnit of [true, false])
    for (const key of keys) {
      const { attribute, cell } = splitAttributeKey(key);
      if ((cell === 0) !== wholeUnit) continue;
      const value = attributes[key]!;
      if (cell === 0) {
        const cells = unit.cells.get(attribute) ?? 0;
        for (let i = 1; i <= cells; i++) set(attributeKey(attribute, i), value, key);
      }
      set(key, value, key);
    }
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

export function slotList({ arrays: { htp, snap } }: CompiledRig, slots: Iterable<number>): SlotList {
  const parts: [number[], number[], number[]] = [[], [], []];
  for (const slot of slots) parts[htp[slot] === 1 ? 0 : snap[slot] === 1 ? 1 : 2].push(slot);
  const sorted = new Uint32Array(parts[0].length + parts[1].length + parts[2].length);
  let at = 0;
  for (const part of parts) {
    sorted.set(Uint32Array.from(part).sort(), at);
    at += part.length;
  }
  return { slots: sorted, htpEnd: parts[0].length, snapEnd: parts[0].length + parts[1].length };
}

/** What the values of one unit come to. */
interface UnitFractions {
  readonly given: UnitValues;
  readonly slots: readonly number[];
  readonly fractions: readonly number[];
}

/**
 * `compileValues` for what is by hand. A step of a fader changes few of many units: what the others came to the last
 * time is kept, as long as rig and show stay the same.
 */
export class HandCompiler {
  #rig: CompiledRig | null = null;
  #document: Document | null = null;
  #units = new Map<string, UnitFractions>();
  #last: { readonly hand: object; readonly values: SlotValues } | null = null;

  compile(rig: CompiledRig, document: Document, hand: Readonly<Record<string, UnitValues>>): SlotValues {
    if (this.#rig !== rig || this.#document !== document) {
      this.#units = new Map();
      this.#last = null;
      this.#rig = rig;
      this.#document = document;
    }
    if (this.#last?.hand === hand) return this.#last.values;
    const values = gathered(rig, this.#fractions(rig, document, hand));
    this.#last = { hand, values };
    return values;
  }

  /** Fractions by slot, NaN where nothing is by hand. What is said of a part counts over what is said of its unit. */
  #fractions(rig: CompiledRig, document: Document, hand: Readonly<Record<string, UnitValues>>): Float32Array {
    const found = new Float32Array(rig.arrays.slotCount).fill(NaN);
    const parts: UnitFractions[] = [];
    const lay = ({ slots, fractions }: UnitFractions): void => {
      for (let i = 0; i < slots.length; i++) found[slots[i]!] = fractions[i]!;
    };
    const ids = Object.keys(hand);
    for (const id of ids) {
      const given = hand[id]!;
      let unit = this.#units.get(id);
      if (unit?.given !== given) {
        const own = { given, slots: [] as number[], fractions: [] as number[] };
        const compiled = rig.units.get(id as LitId);
        if (compiled)
          eachFraction(document, compiled, given, (slot, fraction) => {
            own.slots.push(slot);
            own.fractions.push(fraction);
          });
        unit = own;
        this.#units.set(id, unit);
      }
      if (isPart(id)) parts.push(unit);
      else lay(unit);
    }
    parts.forEach(lay);
    // What is by hand no more is forgotten.
    if (this.#units.size > 2 * ids.length + 64)
      for (const id of this.#units.keys()) if (!Object.hasOwn(hand, id)) this.#units.delete(id);
    return found;
  }
}

/** The slots that have a value, in the order the renderer takes them. */
function gathered({ arrays: { slotCount, htp, snap } }: CompiledRig, found: Float32Array): SlotValues {
  const rank = (slot: number): number => (htp[slot] === 1 ? 0 : snap[slot] === 1 ? 1 : 2);
  const counts = [0, 0, 0];
  for (let slot = 0; slot < slotCount; slot++) if (found[slot] === found[slot]) counts[rank(slot)]!++;
  const [htpEnd, snapEnd] = [counts[0]!, counts[0]! + counts[1]!];
  const all = snapEnd + counts[2]!;
  const list = { slots: new Uint32Array(all), values: new Float32Array(all), htpEnd, snapEnd };
  const at = [0, htpEnd, snapEnd];
  for (let slot = 0; slot < slotCount; slot++) {
    const value = found[slot]!;
    if (value !== value) continue;
    const place = at[rank(slot)]!++;
    list.slots[place] = slot;
    list.values[place] = value;
  }
  return list;
}
