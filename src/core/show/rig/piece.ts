import { attributeInfo, attributeKey, COLOUR_ATTRIBUTES } from '../../attributes.ts';
import {
  highlightFraction,
  homeFraction,
  isEmitter,
  valueToFraction,
  type LaidChannel,
  type ModeLayout,
  type Programmable,
} from '../../profile/layout.ts';
import type { Span } from '../../patch/address.ts';
import { wiredTo } from '../../patch/readout.ts';
import type { UnitRecord } from '../../records/index.ts';
import type { Channel } from '../../records/profile.ts';
import { lampParts, type LampParts } from './light-parts.ts';
import { FREE_BYTE, SHUTTER_BYTE } from '../../signal/apply.ts';
import { MAX_SLOTS } from '../../units.ts';

/** Where a byte of a unit stands in a frame whose universes begin at these places; below 0 for none. */
export const byteAt = (offset: number, universes: readonly number[]): number =>
  offset < 0 ? offset : universes[offset >> 9]! + (offset & 511);

/** Where one programmable attribute lives among the attribute slots of its unit. */
export interface AttributeSlot {
  readonly slot: number;
  readonly channel: Channel | null;
}

/** One byte to write: from attribute slot `slot`, scaled by slot `scale` (or -1), turned round where `flip` is 1. */
interface Writing {
  readonly slot: Uint32Array;
  readonly scale: Int32Array;
  readonly flip: Uint8Array;
  /** Byte offsets, coarse first; `offset1` and `offset2` -1 where there is none. */
  readonly offset: Int32Array;
  /** 1 where the level goes through the gamma of the prop before it scales. */
  readonly curved: Uint8Array;
}

/**
 * What a layout comes to, whoever has it, as structure of arrays: units of one layout share it. Attribute slots count from
 * 0 within the unit.
 */
export interface Shape {
  readonly slots: ReadonlyMap<string, AttributeSlot>;
  /** Number of cells by attribute; 0 where the attribute belongs to the whole unit. */
  readonly cells: ReadonlyMap<string, number>;
  readonly identify: Uint32Array;
  readonly home: Float32Array;
  readonly highlight: Float32Array;
  readonly htp: Uint8Array;
  readonly snap: Uint8Array;
  readonly mastered: Uint32Array;
  readonly shutters: Uint32Array;
  readonly shutAt: Float32Array;
  readonly haze: Uint32Array;
  readonly strobes: readonly AttributeSlot[];
  readonly mixInput: Uint32Array;
  readonly mixOwn: Int32Array;
  readonly mixOutput: Uint32Array;
}

/**
 * One unit compiled by itself. Byte offsets are (place in `universes`) x 512 + address - 1. `assemble` in `rig.ts` puts
 * pieces together.
 */
export interface Piece {
  readonly shape: Shape;
  readonly universes: readonly number[];
  readonly levelLimit: number;
  /** Exponent of the made-up levels of a prop; 1 for none. */
  readonly gamma: number;
  /** What can flash: each cell that gives light, or the unit where it has none. */
  readonly lamps: readonly LampParts[];
  /** Area of the plot they light together. */
  readonly litM2: number;
  readonly narrow: Writing;
  readonly wide: Writing & { readonly offset1: Int32Array; readonly offset2: Int32Array };
  /** Bytes with what may be laid over them raw (`RigArrays.ceiling`). */
  readonly ceilingAt: Uint32Array;
  readonly ceiling: Float32Array;
}

/** Where a channel of a layout is written from: attribute slot and the level it is scaled by, -1 for none. */
interface Source {
  readonly laid: LaidChannel;
  readonly slot: number;
  readonly level: number;
}

/** A shape with what its units need to be compiled. */
interface Shaped {
  readonly shape: Shape;
  readonly sources: readonly Source[];
  readonly lamps: readonly LampParts[];
}

interface Building {
  home: number[];
  highlight: number[];
  htp: number[];
  snap: number[];
  shutters: number[];
  shutAt: number[];
  mixInput: number[];
  mixOwn: number[];
  mixOutput: number[];
}

const shapes = new WeakMap<ModeLayout, Shaped>();

/** Kept as long as the layout is. */
function shapeOf(layout: ModeLayout): Shaped {
  let found = shapes.get(layout);
  if (!found) shapes.set(layout, (found = compileShape(layout)));
  return found;
}

function compileShape(layout: ModeLayout): Shaped {
  const b: Building = {
    home: [],
    highlight: [],
    htp: [],
    snap: [],
    shutters: [],
    shutAt: [],
    mixInput: [],
    mixOwn: [],
    mixOutput: [],
  };
  const slots = new Map<string, AttributeSlot>();
  const cells = new Map<string, number>();
  const identify: number[] = [];
  const add = (item: Programmable, cell: number): void => {
    const slot = b.home.length;
    slots.set(attributeKey(item.attribute, cell), { slot, channel: item.channel });
    b.home.push(homeFraction(item));
    b.highlight.push(highlightFraction(item));
    const info = attributeInfo(item.attribute);
    b.htp.push(info?.merge === 'htp' ? 1 : 0);
    b.snap.push(item.channel?.snap ? 1 : 0);
    if (info?.family !== 'aim') identify.push(slot);
  };
  const colourOf = (cell: number): boolean =>
    layout.programmable.some(
      (p) => p.attribute === COLOUR_ATTRIBUTES[0] && (cell === 0 ? p.cells === 0 : p.cells >= cell),
    );
  const colours = layout.programmable.filter((p) => (COLOUR_ATTRIBUTES as readonly string[]).includes(p.attribute));
  for (const item of layout.programmable) {
    cells.set(item.attribute, Math.max(cells.get(item.attribute) ?? 0, item.cells));
    if (colours.includes(item)) continue;
    if (item.cells === 0) add(item, 0);
    else for (let cell = 1; cell <= item.cells; cell++) add(item, cell);
  }
  // The three parts of a colour stand side by side, cell after cell: the mixer and the encoders count on it.
  for (let cell = 0; cell <= layout.cells; cell++) {
    if (colourOf(cell)) for (const attribute of COLOUR_ATTRIBUTES) add({ attribute, cells: cell, channel: null }, cell);
  }
  const mastered = masteredSlots(layout, slots);
  if (mastered.length === 0) noteShutters(b, slots);
  const sources = sourcesOf(b, layout, slots);
  const shape: Shape = {
    slots,
    cells,
    identify: Uint32Array.from(identify),
    home: Float32Array.from(b.home),
    highlight: Float32Array.from(b.highlight),
    htp: Uint8Array.from(b.htp),
    snap: Uint8Array.from(b.snap),
    mastered: Uint32Array.from(mastered),
    shutters: Uint32Array.from(b.shutters),
    shutAt: Float32Array.from(b.shutAt),
    haze: Uint32Array.from(slotsNamed(slots, /^(Haze|Fog)\d+$/), ({ slot }) => slot),
    strobes: slotsNamed(slots, STROBE).filter(({ channel }) => channel !== null && canStrobe(channel)),
    mixInput: Uint32Array.from(b.mixInput),
    mixOwn: Int32Array.from(b.mixOwn),
    mixOutput: Uint32Array.from(b.mixOutput),
  };
  return { shape, sources, lamps: lampParts(slots, mostCells(cells), null) };
}

const mostCells = (cells: ReadonlyMap<string, number>): number => Math.max(0, ...cells.values());

function masteredSlots(layout: ModeLayout, slots: ReadonlyMap<string, AttributeSlot>): number[] {
  const unitLevel = slots.get('Dimmer');
  if (unitLevel) return [unitLevel.slot];
  const found: number[] = [];
  for (let cell = 1; cell <= layout.cells; cell++) {
    const slot = slots.get(attributeKey('Dimmer', cell));
    if (slot) found.push(slot.slot);
  }
  return found;
}

function noteShutters(b: Building, slots: ReadonlyMap<string, AttributeSlot>): void {
  for (const { slot, channel } of slots.values()) {
    const closed = channel?.ranges.find((r) => r.light === 'closed');
    if (!channel || !closed) continue;
    b.shutters.push(slot);
    b.shutAt.push(valueToFraction(channel, { range: closed.name, at: 0 }) ?? 0);
  }
}

const PART: Readonly<Record<string, number>> = {
  ColorAdd_R: 0,
  ColorAdd_G: 1,
  ColorAdd_B: 2,
  ColorSub_C: 0,
  ColorSub_M: 1,
  ColorSub_Y: 2,
};

function sourcesOf(b: Building, layout: ModeLayout, slots: ReadonlyMap<string, AttributeSlot>): Source[] {
  const mixed = new Map<number, number>();
  const hasWhite = new Set(layout.channels.filter((c) => c.channel.attribute === 'ColorAdd_W').map((c) => c.cell));
  const virtualLevel = (cell: number): number =>
    layout.virtualDimmer ? ((slots.get(attributeKey('Dimmer', cell)) ?? slots.get('Dimmer'))?.slot ?? -1) : -1;
  const colourBase = (cell: number): number => {
    const input =
      slots.get(attributeKey(COLOUR_ATTRIBUTES[0], cell))?.slot ?? slots.get(COLOUR_ATTRIBUTES[0])?.slot ?? -1;
    if (input < 0 || !hasWhite.has(cell)) return input;
    let output = mixed.get(cell);
    if (output === undefined) {
      output = b.home.length;
      for (let i = 0; i < 4; i++) {
        b.home.push(0);
        b.highlight.push(0);
        b.htp.push(0);
        b.snap.push(0);
      }
      b.mixInput.push(input);
      b.mixOwn.push(slots.get(attributeKey('ColorAdd_W', cell))?.slot ?? -1);
      b.mixOutput.push(output);
      mixed.set(cell, output);
    }
    return output;
  };
  return layout.channels.map((laid) => ({
    laid,
    slot: sourceSlot(laid, slots, colourBase),
    level: isEmitter(laid.channel.attribute) ? virtualLevel(laid.cell) : -1,
  }));
}

function sourceSlot(
  laid: LaidChannel,
  slots: ReadonlyMap<string, AttributeSlot>,
  colourBase: (cell: number) => number,
): number {
  const { attribute } = laid.channel;
  const part = PART[attribute];
  if (part !== undefined) {
    const base = colourBase(laid.cell);
    return base < 0 ? -1 : base + part;
  }
  if (attribute === 'ColorAdd_W') {
    const base = colourBase(laid.cell);
    if (base >= 0) return base + 3;
  }
  return slots.get(attributeKey(attribute, laid.cell))?.slot ?? -1;
}

const STROBE = /^(Shutter\d+(Strobe(Pulse|Random)?)?|StrobeRate)$/;
const canStrobe = ({ attribute, ranges }: Channel): boolean =>
  attribute === 'StrobeRate' || ranges.some((r) => r.light === 'strobe' || r.physical?.unit === 'hz');

const slotsNamed = (slots: ReadonlyMap<string, AttributeSlot>, name: RegExp): AttributeSlot[] =>
  [...slots].flatMap(([key, slot]) => (name.test(key) ? [slot] : []));

/** Byte offset of a slot of the unit, counted from 0; -1 past the end of a universe. */
function byteOffsets(spans: readonly Span[], universes: readonly number[]): (index: number) => number {
  const table: number[] = [];
  for (const { universe, from, to } of spans) {
    const base = universes.indexOf(universe) * MAX_SLOTS;
    for (let address = from; address <= to; address++) table.push(address > MAX_SLOTS ? -1 : base + address - 1);
  }
  return (index) => table[index] ?? -1;
}

/**
 * Compiles one unit that lights `litM2` of the plot. Slots past the end of a universe are left out. Linear in its
 * channels.
 */
export function compilePiece(unit: UnitRecord, layout: ModeLayout, spans: readonly Span[], litM2: number): Piece {
  const universes = [...new Set(spans.map((s) => s.universe))];
  const { shape, sources, lamps } = shapeOf(layout);
  const toOffset = byteOffsets(spans, universes);
  const [levels, shutters] = [new Set(shape.mastered), new Set(shape.shutters)];
  const ceiling: [at: number, ceiling: number][] = [];
  const narrow: Omit<Written, 'offsets'>[] = [];
  const wide: Written[] = [];
  for (const { laid, slot: own, level } of sources) {
    // Where pan and tilt are swapped each is sent on the other's channel.
    const attribute = wiredTo(unit, laid.channel.attribute);
    const slot = attribute === laid.channel.attribute ? own : (shape.slots.get(attribute)?.slot ?? -1);
    const levelled = levels.has(slot) || levels.has(level);
    const offsets = laid.offsets.map(toOffset);
    for (const offset of offsets)
      if (offset >= 0)
        ceiling.push([offset, levelled ? unit.levelLimit : shutters.has(slot) ? SHUTTER_BYTE : FREE_BYTE]);
    const [offset = -1] = offsets;
    if (slot < 0 || offset < 0) continue;
    const inverted = (attribute === 'Pan' && unit.invertPan) || (attribute === 'Tilt' && unit.invertTilt);
    const flip = attribute.startsWith('ColorSub_') || inverted ? 1 : 0;
    if (offsets.length > 1) wide.push({ slot, scale: level, flip, offset, offsets });
    else narrow.push({ slot, scale: level, flip, offset });
  }
  return {
    shape,
    universes,
    levelLimit: unit.levelLimit,
    gamma: unit.prop?.gamma ?? 1,
    lamps: unit.gel ? lampParts(shape.slots, mostCells(shape.cells), unit.gel) : lamps,
    litM2,
    narrow: writingOf(unit, narrow),
    wide: {
      ...writingOf(unit, wide),
      offset1: Int32Array.from(wide, (e) => e.offsets[1] ?? -1),
      offset2: Int32Array.from(wide, (e) => e.offsets[2] ?? -1),
    },
    ceilingAt: Uint32Array.from(ceiling, (e) => e[0]),
    ceiling: Float32Array.from(ceiling, (e) => e[1]),
  };
}

interface Written {
  readonly slot: number;
  readonly scale: number;
  readonly flip: number;
  readonly offset: number;
  readonly offsets: readonly number[];
}

const writingOf = (unit: UnitRecord, list: readonly Omit<Written, 'offsets'>[]): Writing => ({
  slot: Uint32Array.from(list, (e) => e.slot),
  scale: Int32Array.from(list, (e) => e.scale),
  flip: Uint8Array.from(list, (e) => e.flip),
  offset: Int32Array.from(list, (e) => e.offset),
  curved: Uint8Array.from(list, (e) => (unit.prop && e.scale >= 0 ? 1 : 0)),
});
