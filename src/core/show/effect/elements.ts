import { fromHueSaturation } from '../../colour/convert.ts';
import { getRecord, type Document } from '../../document/change.ts';
import type { LitId } from '../../ids.ts';
import { USUAL_PAN_DEG, USUAL_TILT_DEG } from '../../plot/beam.ts';
import { ownDots, roomDots } from '../../plot/dots.ts';
import { attributeKey, COLOUR_ATTRIBUTES } from '../../attributes.ts';
import { isEmitter, valueToFraction } from '../../profile/layout.ts';
import { isColourWheel, nearestSlot } from '../../profile/wheel.ts';
import { litOf } from '../../patch/lit.ts';
import { partCells } from '../../prop/parts.ts';
import type { ProfileRecord } from '../../records/index.ts';
import type { Channel } from '../../records/profile.ts';
import type { CompiledRig, CompiledUnit } from '../rig/rig.ts';
import { HUES, SATURATIONS } from './wheel-table.ts';

/**
 * What an effect plays on, one element for each cell (or unit without cells) in the order named; -1 stands for "has
 * none". `level`, `colour` (the first of three), `pan`, `tilt` are attribute slots. Where a cell has no level of its own
 * its level is laid into its colour, and `above` lists the levels of the units that stand over such cells.
 */
export interface Elements {
  readonly count: number;
  readonly level: Int32Array;
  readonly colour: Int32Array;
  /** For each element the unit (or part) it is of, counted from 0, and how many there are. */
  readonly unit: Int32Array;
  readonly units: number;
  readonly number: Int32Array;
  /** Place in the wire: the slot of the first attribute. */
  readonly wire: Int32Array;
  /** Metres in the room, three an element. */
  readonly xyz: Float32Array;
  readonly above: Uint32Array;
  /** Shutters that must open before there is light, and emitters without which there is none: slots and values. */
  readonly opens: Uint32Array;
  readonly openAt: Float32Array;
  /** Colour wheels: slot, element, and fractions by hue and saturation. */
  readonly wheels: readonly { readonly slot: number; readonly element: number; readonly table: Float32Array }[];
  readonly heads: readonly Head[];
  readonly runs: ElementRuns;
}

/**
 * Neighbours whose levels lie side by side among the attribute slots, and whose colours do: elements from `from[r]` up to
 * `from[r + 1]` have the levels from `level[r]` on and the colours from `colour[r]` on, three slots each; -1 for none.
 */
export interface ElementRuns {
  readonly from: Int32Array;
  readonly level: Int32Array;
  readonly colour: Int32Array;
}

export interface Head {
  readonly element: number;
  /** The unit it is. */
  readonly id: LitId;
  readonly pan: number;
  readonly tilt: number;
  /** Fraction of the channel in a degree. */
  readonly panPerDeg: number;
  readonly tiltPerDeg: number;
}

const kept = new WeakMap<CompiledRig, Map<string, Elements>>();
const KEPT = 64;

/** Takes neighbours together. Linear in the elements. */
export function elementRuns(level: readonly number[], colour: readonly number[]): ElementRuns {
  const starts: number[] = [];
  for (let i = 0; i < level.length; i++) {
    const [l, c] = [level[i]!, colour[i]!];
    const goesOn =
      i > 0 &&
      (l < 0 ? level[i - 1]! < 0 : l === level[i - 1]! + 1 && level[i - 1]! >= 0) &&
      (c < 0 ? colour[i - 1]! < 0 : c === colour[i - 1]! + 3 && colour[i - 1]! >= 0);
    if (!goesOn) starts.push(i);
  }
  return {
    from: Int32Array.from([...starts, level.length]),
    level: Int32Array.from(starts, (start) => level[start]!),
    colour: Int32Array.from(starts, (start) => colour[start]!),
  };
}

/** The elements of units and parts, kept as long as the rig. Linear in the cells. */
export function elementsOf(rig: CompiledRig, document: Document, ids: readonly LitId[]): Elements {
  const key = ids.join();
  let byKey = kept.get(rig);
  if (!byKey) kept.set(rig, (byKey = new Map()));
  let found = byKey.get(key);
  if (!found) {
    if (byKey.size >= KEPT) byKey.clear();
    byKey.set(key, (found = new Gathering(rig, document).all(ids)));
  }
  return found;
}

class Gathering {
  readonly #rig: CompiledRig;
  readonly #document: Document;
  readonly #level: number[] = [];
  readonly #colour: number[] = [];
  readonly #unit: number[] = [];
  readonly #number: number[] = [];
  readonly #wire: number[] = [];
  readonly #xyz: number[] = [];
  readonly #above = new Set<number>();
  readonly #opens = new Map<number, number>();
  readonly #wheels: { slot: number; element: number; table: Float32Array }[] = [];
  readonly #heads: Head[] = [];
  readonly #taken = new Set<number>();
  readonly #tables = new Map<Channel, Float32Array>();
  #units = 0;

  constructor(rig: CompiledRig, document: Document) {
    this.#rig = rig;
    this.#document = document;
  }

  all(ids: readonly LitId[]): Elements {
    for (const id of ids) this.#add(id);
    return {
      count: this.#level.length,
      level: Int32Array.from(this.#level),
      colour: Int32Array.from(this.#colour),
      unit: Int32Array.from(this.#unit),
      units: this.#units,
      number: Int32Array.from(this.#number),
      wire: Int32Array.from(this.#wire),
      xyz: Float32Array.from(this.#xyz),
      above: Uint32Array.from(this.#above),
      opens: Uint32Array.from(this.#opens.keys()),
      openAt: Float32Array.from(this.#opens.values()),
      wheels: this.#wheels,
      heads: this.#heads,
      runs: elementRuns(this.#level, this.#colour),
    };
  }

  #add(id: LitId): void {
    const compiled = this.#rig.units.get(id);
    const lit = litOf(this.#document, id);
    if (!compiled || !lit) return;
    const { unit, part, layout } = lit;
    const profile = getRecord(this.#document, 'profile', unit.profileId);
    const cells = part ? partCells(part).filter((cell) => cell <= lit.layout.cells) : null;
    const count = cells?.length ?? layout.cells;
    const dots = roomDots(unit, ownDots(unit, profile, Math.max(layout.cells, 1)));
    const place = new Map<number, number>();
    dots.cells.forEach((cell, dot) => place.has(cell) || place.set(cell, dot));
    const at = (cell: number): readonly [number, number, number] => {
      const dot = place.get(cell - 1);
      const { x, y, z } = unit.position;
      return dot === undefined ? [x, y, z] : [dots.xyz[dot * 3]!, dots.xyz[dot * 3 + 1]!, dots.xyz[dot * 3 + 2]!];
    };
    const slot = (attribute: string, cell: number): number => {
      const found = compiled.slots.get(attributeKey(attribute, cell));
      return found ? compiled.base + found.slot : -1;
    };
    const before = this.#level.length;
    let levelless = false;
    for (let i = 1; i <= count; i++) {
      const [level, colour] = [slot('Dimmer', i), slot(COLOUR_ATTRIBUTES[0], i)];
      if (level < 0 && colour < 0) continue;
      levelless ||= level < 0;
      this.#element(level, colour, unit.number, at(cells?.[i - 1] ?? i));
    }
    const unitLevel = slot('Dimmer', 0);
    if (this.#level.length === before) this.#element(unitLevel, slot(COLOUR_ATTRIBUTES[0], 0), unit.number, at(0));
    else if (unitLevel >= 0 && levelless) this.#above.add(unitLevel);
    if (this.#level.length === before) return;
    this.#special(compiled, before, profile);
    this.#units++;
  }

  /** Slots that another unit (a twin) has given already are not taken twice. */
  #element(level: number, colour: number, number: number, xyz: readonly [number, number, number]): void {
    const wire = level >= 0 ? level : colour;
    if (wire >= 0 && this.#taken.has(wire)) return;
    if (wire >= 0) this.#taken.add(wire);
    this.#level.push(level);
    this.#colour.push(colour);
    this.#unit.push(this.#units);
    this.#number.push(number);
    this.#wire.push(wire);
    this.#xyz.push(...xyz);
  }

  #special({ id, base, slots }: CompiledUnit, element: number, profile: ProfileRecord | undefined): void {
    const pan = slots.get('Pan');
    const tilt = slots.get('Tilt');
    if (pan ?? tilt) {
      const { panDeg, tiltDeg } = profile?.physical ?? {};
      this.#heads.push({
        element,
        id,
        pan: pan ? base + pan.slot : -1,
        tilt: tilt ? base + tilt.slot : -1,
        panPerDeg: 1 / (panDeg || USUAL_PAN_DEG),
        tiltPerDeg: 1 / (tiltDeg || USUAL_TILT_DEG),
      });
    }
    for (const [key, { slot, channel }] of slots) {
      if (!channel) continue;
      // Where there is no colour to mix, single emitters are the light itself.
      if (isEmitter(channel.attribute) && this.#colour[element]! < 0) this.#opens.set(base + slot, 1);
      const open = channel.ranges.find((r) => r.light === 'open');
      if (open && channel.ranges.some((r) => r.light === 'closed'))
        this.#opens.set(base + slot, valueToFraction(channel, { range: open.name, at: 0.5 }) ?? 1);
      if (this.#colour[element]! < 0 && isColourWheel(key, channel))
        this.#wheels.push({ slot: base + slot, element, table: this.#tableOf(channel) });
    }
  }

  #tableOf(channel: Channel): Float32Array {
    let table = this.#tables.get(channel);
    if (table) return table;
    table = new Float32Array(HUES * SATURATIONS);
    for (let s = 0; s < SATURATIONS; s++)
      for (let h = 0; h < HUES; h++) {
        const wanted = fromHueSaturation((h / HUES) * 360, s / (SATURATIONS - 1));
        table[s * HUES + h] = valueToFraction(channel, { range: nearestSlot(channel, wanted)!.name, at: 0.5 }) ?? 0;
      }
    this.#tables.set(channel, table);
    return table;
  }
}
