import type { Document } from '../../document/change.ts';
import type { LitId } from '../../ids.ts';
import { keysOf } from '../../keys.ts';
import { plainValue } from '../../palette/resolve.ts';
import { attributeKey, splitAttributeKey } from '../../attributes.ts';
import { valueToFraction } from '../../profile/layout.ts';
import type { UnitValues } from '../../records/scene.ts';
import { isPlainValue } from '../../records/value.ts';
import type { AttributeSlot } from './piece.ts';
import type { CompiledRig, CompiledUnit } from './rig.ts';

/**
 * Attribute slots in the order the renderer takes them: first those that merge highest-takes-precedence (before
 * `htpEnd`), then those that jump (before `snapEnd`), then those that glide. Each part in ascending order. `runs` says
 * where those that glide lie side by side: place in `slots` and how many, two numbers a run.
 */
export interface SlotList {
  readonly slots: Uint32Array;
  readonly htpEnd: number;
  readonly snapEnd: number;
  readonly runs: Uint32Array;
}

/** Values against one rig: `values[i]` (0-1) belongs to attribute slot `slots[i]`. */
export interface SlotValues extends SlotList {
  readonly values: Float32Array;
}

const isPart = (id: string): boolean => id.startsWith('part:');

/** Fractions by attribute slot of a rig, NaN where nothing is said. */
export type Fractions = Float32Array;
export const noFractions = ({ arrays }: CompiledRig): Fractions => new Float32Array(arrays.slotCount).fill(NaN);

/**
 * Lays what is said of units and parts over what is there. A value for a whole unit reaches all its cells; a value for
 * one cell is laid over it, what is said of a part over what is said of its unit. Values with no home in this rig
 * (another mode, a missing range, a palette that says nothing) are passed over: they stay in the record. `reach` holds
 * back all but these. Returns `into`.
 */
export function layFractions(
  rig: CompiledRig,
  document: Document,
  values: Readonly<Record<string, UnitValues>>,
  reach: Reach,
  into: Fractions,
): Fractions {
  const ids = Object.keys(values);
  for (const parts of [false, true])
    for (const id of ids) {
      if (isPart(id) !== parts) continue;
      const unit = rig.units.get(id as LitId);
      if (!unit || (reach && !reach.has(id) && !reach.has(unit.unitId))) continue;
      eachFraction(document, unit, values[id]!, (slot, fraction) => (into[slot] = fraction));
    }
  return into;
}

const cellSlots = new WeakMap<CompiledUnit['slots'], Map<string, readonly AttributeSlot[]>>();

/** The slots of all cells of an attribute; kept as long as the shape is, which units share. */
function slotsOfCells({ slots, cells }: CompiledUnit, attribute: string): readonly AttributeSlot[] {
  let byAttribute = cellSlots.get(slots);
  if (!byAttribute) cellSlots.set(slots, (byAttribute = new Map()));
  let found = byAttribute.get(attribute);
  if (!found) {
    const numbers = Array.from({ length: cells.get(attribute) ?? 0 }, (_, i) => i + 1);
    found = numbers.flatMap((cell) => slots.get(attributeKey(attribute, cell)) ?? []);
    byAttribute.set(attribute, found);
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
  const fractionOf = (channel: AttributeSlot['channel'], key: string): number | null => {
    const { id, unitId, profileId } = unit;
    const plain = plainValue(document, attributes[key]!, { id, unitId, profileId, channel }, key);
    return plain === null ? null : valueToFraction(channel, plain);
  };
  const setAll = (targets: readonly AttributeSlot[], key: string): void => {
    let last: AttributeSlot['channel'] | undefined;
    let fraction: number | null = null;
    for (const { slot, channel } of targets) {
      // Cells mostly have one channel in common, and so what a value comes to.
      if (channel !== last) fraction = fractionOf((last = channel), key);
      if (fraction !== null) visit(unit.base + slot, fraction);
    }
  };
  const keys = Object.keys(attributes);
  const single: string[] = [];
  for (const key of keys) {
    const { attribute, cell } = splitAttributeKey(key);
    if (cell !== 0) {
      single.push(key);
      continue;
    }
    setAll(slotsOfCells(unit, attribute), key);
    const whole = unit.slots.get(key);
    if (whole) setAll([whole], key);
  }
  for (const key of single) {
    const target = unit.slots.get(key);
    if (target) setAll([target], key);
  }
}

/** Whom something reaches: units and parts; null for all. */
export type Reach = ReadonlySet<string> | null;

export const compileValues = (
  rig: CompiledRig,
  document: Document,
  values: Readonly<Record<string, UnitValues>>,
  reach: Reach = null,
): SlotValues => slotValues(rig, layFractions(rig, document, values, reach, noFractions(rig)));

/** The slots for which `has` holds, in the order the renderer takes them. */
export function slotList({ arrays: { slotCount, htp, snap } }: CompiledRig, has: (slot: number) => boolean): SlotList {
  const rank = (slot: number): number => (htp[slot] === 1 ? 0 : snap[slot] === 1 ? 1 : 2);
  const counts = [0, 0, 0];
  for (let slot = 0; slot < slotCount; slot++) if (has(slot)) counts[rank(slot)]!++;
  const [htpEnd, snapEnd] = [counts[0]!, counts[0]! + counts[1]!];
  const slots = new Uint32Array(snapEnd + counts[2]!);
  const at = [0, htpEnd, snapEnd];
  for (let slot = 0; slot < slotCount; slot++) if (has(slot)) slots[at[rank(slot)]!++] = slot;
  return { slots, htpEnd, snapEnd, runs: glidesOf(slots, snapEnd) };
}

/** Where slots from a place on lie side by side: place and how many, two numbers a run. */
function glidesOf(slots: Uint32Array, from: number): Uint32Array {
  const runs: number[] = [];
  for (let i = from; i < slots.length;) {
    const start = i;
    while (i < slots.length && slots[i]! - slots[start]! === i - start) i++;
    runs.push(start, i - start);
  }
  return Uint32Array.from(runs);
}

/** Those slots that something is said of, with what is said. */
export function slotValues(rig: CompiledRig, found: Fractions): SlotValues {
  const list = slotList(rig, (slot) => found[slot] === found[slot]);
  return { ...list, values: gathered(list.slots, found) };
}

/** Nothing is said of any slot. */
export const NO_VALUES: SlotValues = {
  slots: new Uint32Array(0),
  values: new Float32Array(0),
  htpEnd: 0,
  snapEnd: 0,
  runs: new Uint32Array(0),
};

/** What the values of one unit come to, from the first of its own slots on. */
interface Laid {
  readonly slots: readonly number[];
  readonly fractions: readonly number[];
}
interface UnitFractions {
  readonly given: UnitValues;
  readonly unit: CompiledUnit | null;
  readonly laid: Laid;
}
const NOTHING: Laid = { slots: [], fractions: [] };

function lay({ unit, laid: { slots, fractions } }: UnitFractions, into: Fractions): void {
  if (unit) for (let i = 0; i < slots.length; i++) into[unit.base + slots[i]!] = fractions[i]!;
}

/** A palette or an aim may say something else of each unit. */
const isPlainOfAll = (given: UnitValues): boolean => Object.values(given).every(isPlainValue);

/**
 * `compileValues` for what is by hand. A step of a fader changes few of many units: what the others came to the last
 * time is kept, as long as rig and show stay the same.
 */
export class HandCompiler {
  #rig: CompiledRig | null = null;
  #document: Document | null = null;
  /** What is by hand, and what each came to, in the same order. */
  #ids: readonly string[] = [];
  #units: readonly UnitFractions[] = [];
  #last: { readonly hand: object; readonly values: SlotValues } | null = null;
  /** Lists of slots by shape and what is given, so that the same list is the same array. */
  readonly #slots = new Map<object, Map<string, readonly number[]>>();
  /** Other slots are set than the last time. */
  #elsewhere = true;

  compile(rig: CompiledRig, document: Document, hand: Readonly<Record<string, UnitValues>>): SlotValues {
    if (this.#rig !== rig || this.#document !== document) {
      this.#ids = [];
      this.#units = [];
      this.#slots.clear();
      this.#last = null;
      this.#rig = rig;
      this.#document = document;
    }
    if (this.#last?.hand === hand) return this.#last.values;
    const found = this.#fractions(rig, document, hand);
    // A fader that moves sets the same slots as a moment ago: only what they are set to is new.
    const values =
      this.#last && !this.#elsewhere
        ? { ...this.#last.values, values: gathered(this.#last.values.slots, found) }
        : slotValues(rig, found);
    this.#last = { hand, values };
    return values;
  }

  /** What is said of a part counts over what is said of its unit. */
  #fractions(rig: CompiledRig, document: Document, hand: Readonly<Record<string, UnitValues>>): Fractions {
    const found = noFractions(rig);
    const parts: UnitFractions[] = [];
    const alike = new Map<object, Map<UnitValues, Laid>>();
    const ids = keysOf(hand);
    const same = ids === this.#ids;
    const before = this.#units;
    const byId = same ? null : new Map(this.#ids.map((id, i) => [id, before[i]!]));
    this.#elsewhere = ids.length !== before.length;
    this.#ids = ids;
    this.#units = ids.map((id, i) => {
      const given = hand[id]!;
      const known = byId ? byId.get(id) : before[i];
      let is = known;
      if (is?.given !== given) {
        const unit = known ? known.unit : (rig.units.get(id as LitId) ?? null);
        is = { given, unit, laid: unit ? this.#laidAlike(document, unit, given, alike) : NOTHING };
        if (known?.laid.slots !== is.laid.slots) this.#elsewhere = true;
      }
      if (isPart(id)) parts.push(is);
      else lay(is, found);
      return is;
    });
    for (const part of parts) lay(part, found);
    return found;
  }

  /** Units of one layout that are given one and the same values come to the same. */
  #laidAlike(
    document: Document,
    unit: CompiledUnit,
    given: UnitValues,
    alike: Map<object, Map<UnitValues, Laid>>,
  ): Laid {
    let ofShape = alike.get(unit.slots);
    if (!ofShape) alike.set(unit.slots, (ofShape = new Map()));
    const known = ofShape.get(given);
    if (known) return known;
    const slots: number[] = [];
    const fractions: number[] = [];
    eachFraction(document, unit, given, (slot, fraction) => {
      slots.push(slot - unit.base);
      fractions.push(fraction);
    });
    let lists = this.#slots.get(unit.slots);
    if (!lists) this.#slots.set(unit.slots, (lists = new Map()));
    const key = slots.join();
    const list = lists.get(key) ?? slots;
    lists.set(key, list);
    const laid = { slots: list, fractions };
    if (isPlainOfAll(given)) ofShape.set(given, laid);
    return laid;
  }
}

const gathered = (slots: Uint32Array, found: Fractions): Float32Array => {
  const values = new Float32Array(slots.length);
  for (let i = 0; i < values.length; i++) values[i] = found[slots[i]!]!;
  return values;
};
