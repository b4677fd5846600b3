import type { UnitId } from '../../ids.ts';
import { fromHex } from '../../colour/convert.ts';
import { rangeAt, valueToFraction } from '../../profile/layout.ts';
import type { Channel } from '../../records/profile.ts';
import type { LampSpecial } from './light-parts.ts';
import type { Placed } from './rig.ts';

/**
 * What can flash, as structure of arrays: each cell that gives light, or each unit without cells, unit after unit.
 * `level` and `colour` (the first of three) are attribute slots, -1 for none; `gamma` the table the level goes through
 * (from 1; 0 for none); `weight` its part of the plot in m², `whole` that of all.
 */
export interface Lamps {
  readonly count: number;
  readonly level: Int32Array;
  readonly colour: Int32Array;
  readonly gamma: Uint8Array;
  readonly weight: Float32Array;
  readonly whole: number;
  /** Lamps that more than level and colour decides: their place in `specials`; -1 for the others. */
  readonly special: Int32Array;
  readonly specials: readonly SpecialLamp[];
  /** 256 values for each shutter: 1 where it lets light through. */
  readonly gates: Float32Array;
  /** 256 times red, green, blue (linear, 0-1) for each wheel of colours. */
  readonly wheels: Float32Array;
  /** Whose lamps they are: those of `unitIds[i]` begin at `unitFrom[i]`. */
  readonly unitIds: readonly UnitId[];
  readonly unitFrom: Uint32Array;
}

/** What besides level and colour decides the light of a lamp. Slots are attribute slots of the rig. */
export interface SpecialLamp {
  readonly white: number;
  readonly emitters: readonly { readonly slot: number; readonly r: number; readonly g: number; readonly b: number }[];
  readonly gates: readonly { readonly slot: number; readonly table: number }[];
  readonly wheel: { readonly slot: number; readonly table: number } | null;
  readonly r: number;
  readonly g: number;
  readonly b: number;
}

/** Lamps of all units; `gammas` are the exponents of the rig's gamma tables, in their order. */
export function lampsOf(placed: readonly Placed[], gammas: readonly number[]): Lamps {
  const count = placed.reduce((sum, { piece }) => sum + piece.lamps.length, 0);
  const level = new Int32Array(count);
  const colour = new Int32Array(count);
  const gamma = new Uint8Array(count);
  const weight = new Float32Array(count);
  const special = new Int32Array(count).fill(-1);
  const specials: SpecialLamp[] = [];
  const gates = new Tables(gateTable);
  const wheels = new Tables(wheelTable);
  const lit = placed.filter(({ piece }) => piece.lamps.length > 0);
  const unitFrom = new Uint32Array(lit.length);
  let at = 0;
  lit.forEach(({ piece, base }, unit) => {
    unitFrom[unit] = at;
    for (const lamp of piece.lamps) {
      level[at] = lamp.level < 0 ? -1 : base + lamp.level;
      colour[at] = lamp.colour < 0 ? -1 : base + lamp.colour;
      gamma[at] = gammas.indexOf(piece.gamma) + 1;
      weight[at] = piece.litM2 / piece.lamps.length;
      if (lamp.special) special[at] = specials.push(specialAt(lamp.special, base, gates, wheels)) - 1;
      at++;
    }
  });
  return {
    count,
    level,
    colour,
    gamma,
    weight,
    whole: lit.reduce((sum, { piece }) => sum + piece.litM2, 0),
    special,
    specials,
    gates: gates.joined(),
    wheels: wheels.joined(),
    unitIds: lit.map(({ id }) => id),
    unitFrom,
  };
}

function specialAt(special: LampSpecial, base: number, gates: Tables, wheels: Tables): SpecialLamp {
  const { white, emitters, wheel, gel } = special;
  return {
    white: white < 0 ? -1 : base + white,
    emitters: emitters.map(({ slot, colour }) => ({ slot: base + slot, ...colour })),
    gates: special.gates.map(({ slot, channel }) => ({ slot: base + slot, table: gates.of(channel) })),
    wheel: wheel && { slot: base + wheel.slot, table: wheels.of(wheel.channel) },
    ...gel,
  };
}

/** Tables of channels by their 256 coarse values, each made once. */
class Tables {
  readonly #made = new Map<Channel, { place: number; table: Float32Array }>();
  readonly #make: (channel: Channel) => Float32Array;
  #length = 0;
  constructor(make: (channel: Channel) => Float32Array) {
    this.#make = make;
  }
  /** Where the table of a channel begins. */
  of(channel: Channel): number {
    let known = this.#made.get(channel);
    if (!known) {
      known = { place: this.#length, table: this.#make(channel) };
      this.#made.set(channel, known);
      this.#length += known.table.length;
    }
    return known.place;
  }
  joined(): Float32Array {
    const all = new Float32Array(this.#length);
    for (const { place, table } of this.#made.values()) all.set(table, place);
    return all;
  }
}

const gateTable = (channel: Channel): Float32Array =>
  Float32Array.from({ length: 256 }, (_, raw) => (rangeAt(channel, raw)?.light === 'closed' ? 0 : 1));

function wheelTable(channel: Channel): Float32Array {
  const table = new Float32Array(256 * 3).fill(1);
  for (let raw = 0; raw < 256; raw++) {
    const range = rangeAt(channel, raw);
    if (!range?.colour) continue;
    const one = fromHex(range.colour);
    const two = range.colour2 ? fromHex(range.colour2) : one;
    table.set([(one.r + two.r) / 2, (one.g + two.g) / 2, (one.b + two.b) / 2], raw * 3);
  }
  return table;
}

/** What a strobe range does where its profile does not say: from slow to fast, in flashes a second. */
const USUAL_HZ = { from: 0.5, to: 20 } as const;
const NO_RANGE = 255;

/**
 * Built-in strobes: slot, the area they light (m²), and which table of 256 coarse values tells flashes a second (`hz`),
 * the range a value is of (255 for none) and the fraction at which the table's shutter stands open.
 */
export interface Strobes {
  readonly slot: Uint32Array;
  readonly weight: Float32Array;
  readonly table: Uint16Array;
  readonly hz: Float32Array;
  readonly range: Uint8Array;
  readonly open: Float32Array;
}

export function strobesOf(placed: readonly Placed[]): Strobes {
  const tables = new Map<Channel, number>();
  const slot: number[] = [];
  const weight: number[] = [];
  const table: number[] = [];
  for (const { piece, base } of placed)
    for (const { slot: own, channel } of piece.shape.strobes) {
      if (!tables.has(channel!)) tables.set(channel!, tables.size);
      slot.push(base + own);
      weight.push(piece.litM2 / piece.shape.strobes.length);
      table.push(tables.get(channel!)!);
    }
  const hz = new Float32Array(tables.size * 256);
  const range = new Uint8Array(tables.size * 256).fill(NO_RANGE);
  const open = new Float32Array(tables.size);
  for (const [channel, at] of tables) {
    for (let raw = 0; raw < 256; raw++) {
      const place = channel.ranges.findIndex((r) => raw >= r.from && raw <= r.to);
      range[at * 256 + raw] = place < 0 ? NO_RANGE : Math.min(place, NO_RANGE - 1);
      hz[at * 256 + raw] = flashesAt(channel, place, raw);
    }
    const free = channel.ranges.find((r) => r.light === 'open');
    open[at] = free ? (valueToFraction(channel, { range: free.name, at: 0.5 }) ?? 0) : 0;
  }
  return {
    slot: Uint32Array.from(slot),
    weight: Float32Array.from(weight),
    table: Uint16Array.from(table),
    hz,
    range,
    open,
  };
}

/** Flashes a second at a coarse value; 0 where nothing strobes. */
export function flashesAt(channel: Channel, place: number, raw: number): number {
  const range = channel.ranges[place];
  if (!range) return channel.attribute === 'StrobeRate' && channel.ranges.length === 0 ? along(USUAL_HZ, raw / 255) : 0;
  const at = range.to > range.from ? (raw - range.from) / (range.to - range.from) : 0;
  if (range.physical?.unit === 'hz') return Math.abs(along(range.physical, at));
  return range.light === 'strobe' ? along(USUAL_HZ, at) : 0;
}

const along = ({ from, to }: { readonly from: number; readonly to: number }, at: number): number =>
  from + (to - from) * at;
