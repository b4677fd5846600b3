import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import { layoutOf, patchOf } from '../patch/of-document.ts';
import { attributeInfo, attributeKey, COLOUR_ATTRIBUTES } from '../profile/attributes.ts';
import {
  highlightFraction,
  homeFraction,
  isEmitter,
  valueToFraction,
  type LaidChannel,
  type ModeLayout,
  type Programmable,
} from '../profile/layout.ts';
import type { UnitRecord } from '../records/index.ts';
import type { Channel } from '../records/profile.ts';
import { FREE_BYTE, SHUTTER_BYTE } from '../signal/apply.ts';
import { MAX_SLOTS } from '../units.ts';

/** Where one programmable attribute lives among the rig's attribute slots. */
export interface AttributeSlot {
  readonly slot: number;
  readonly channel: Channel | null;
}

/** A unit's attributes by key (`Dimmer`, `ColorRGB_Red#3`), and what identifying it sets. */
export interface CompiledUnit {
  readonly id: UnitId;
  readonly slots: ReadonlyMap<string, AttributeSlot>;
  /** Number of cells by attribute; 0 where the attribute belongs to the whole unit. */
  readonly cells: ReadonlyMap<string, number>;
  readonly identify: Uint32Array;
}

/**
 * The rig as structure of arrays. Index by attribute slot: `home`, `highlight` (fractions 0-1), `htp`, `snap` (0/1).
 * The encoders write bytes at `offset = universe index x 512 + address - 1`; -1 stands for "nowhere".
 */
export interface RigArrays {
  readonly slotCount: number;
  readonly home: Float32Array;
  readonly highlight: Float32Array;
  readonly htp: Uint8Array;
  readonly snap: Uint8Array;
  /** Slots of real and virtual level channels: grand master and Dark scale them after the merge. */
  readonly mastered: Uint32Array;
  /** Levels of units that have a limit, and the limit (0-1) they are scaled by. */
  readonly limited: Uint32Array;
  readonly limits: Float32Array;
  /**
   * What a raw byte laid over the frame may do, for each byte: 0-1 is a level (or nobody's slot) and scaled by this and
   * the masters; FREE_BYTE is sent as it is; SHUTTER_BYTE stays closed while the masters are at nothing.
   */
  readonly ceiling: Float32Array;
  /** Shutters of units without any level: closed (at these fractions) when the masters are at nothing. */
  readonly shutters: Uint32Array;
  readonly shutAt: Float32Array;
  /** Universe numbers in ascending order; their place is the universe index. */
  readonly universes: Uint16Array;
  readonly mixers: Mixers;
  readonly bytes8: ByteEncoders;
  readonly bytes16: WideEncoders;
}

/** White from the mixed colour: reads R, G, B at `input`.. and an own white at `own`, writes R, G, B, W to `output`... */
export interface Mixers {
  readonly input: Uint32Array;
  readonly own: Int32Array;
  readonly output: Uint32Array;
}

/** One slot each. `scale` is the slot of a virtual level or -1; `flip` 1 means 1 - value. */
export interface ByteEncoders {
  readonly slot: Uint32Array;
  readonly scale: Int32Array;
  readonly flip: Uint8Array;
  readonly offset: Int32Array;
}

/** Two or three slots each, coarse first; `offset2` is -1 for 16 bit. */
export interface WideEncoders extends ByteEncoders {
  readonly offset1: Int32Array;
  readonly offset2: Int32Array;
}

export interface CompiledRig {
  readonly arrays: RigArrays;
  readonly units: ReadonlyMap<UnitId, CompiledUnit>;
}

interface Building {
  home: number[];
  highlight: number[];
  htp: number[];
  snap: number[];
  mastered: number[];
  limited: number[];
  limits: number[];
  ceiling: Float32Array;
  shutters: number[];
  shutAt: number[];
  mixInput: number[];
  mixOwn: number[];
  mixOutput: number[];
  narrow: { slot: number; scale: number; flip: number; offset: number }[];
  wide: { slot: number; scale: number; flip: number; offsets: number[] }[];
}

/**
 * Compiles units and routes into arrays. Where two units share a slot the one with the higher number is written last;
 * twins share the attributes of their original.
 * Slots past the end of a universe are left out. Linear in the number of channels.
 */
export function compileRig(document: Document): CompiledRig {
  const units = recordsOf(document, 'unit').sort((a, b) => a.number - b.number || (a.id < b.id ? -1 : 1));
  const patches = patchOf(document);
  const placed = units.map((unit) => ({ unit, patch: patches.get(unit.id)! }));
  const numbers = new Set<number>(recordsOf(document, 'route').map((r) => r.universe));
  for (const { patch } of placed) for (const span of patch.spans) numbers.add(span.universe);
  const universes = [...numbers].sort((a, b) => a - b);
  const indexOf = new Map(universes.map((u, i) => [u, i]));
  const b: Building = {
    home: [],
    highlight: [],
    htp: [],
    snap: [],
    mastered: [],
    limited: [],
    limits: [],
    ceiling: new Float32Array(universes.length * MAX_SLOTS).fill(1),
    shutters: [],
    shutAt: [],
    mixInput: [],
    mixOwn: [],
    mixOutput: [],
    narrow: [],
    wide: [],
  };
  const compiled = new Map<UnitId, CompiledUnit>();
  const twins: [unit: UnitRecord, original: UnitId][] = [];
  for (const { unit, patch } of placed) {
    if (isTwin(document, unit, patch.wire)) {
      twins.push([unit, patch.wire]);
      continue;
    }
    const layout = layoutOf(getRecord(document, 'profile', unit.profileId), unit.mode);
    const spans = patch.spans.map((s) => ({
      base: (indexOf.get(s.universe) ?? 0) * MAX_SLOTS,
      from: s.from,
      to: s.to,
    }));
    const toOffset = (index: number): number => {
      let left = index;
      for (const span of spans) {
        const length = span.to - span.from + 1;
        if (left < length) return span.from + left > MAX_SLOTS ? -1 : span.base + span.from + left - 1;
        left -= length;
      }
      return -1;
    };
    compiled.set(unit.id, compileUnit(b, unit, layout, toOffset));
  }
  // A twin is the same slots under another name: what is programmed for one is done by both.
  for (const [unit, original] of twins) compiled.set(unit.id, { ...compiled.get(original)!, id: unit.id });
  return { arrays: toArrays(b, universes), units: compiled };
}

/** True where the unit has its slots from another of the same profile and mode; one that differs is encoded itself. */
function isTwin(document: Document, unit: UnitRecord, wire: UnitId): boolean {
  if (wire === unit.id) return false;
  const original = getRecord(document, 'unit', wire);
  return original?.profileId === unit.profileId && original.mode === unit.mode;
}

function compileUnit(
  b: Building,
  unit: UnitRecord,
  layout: ModeLayout,
  toOffset: (index: number) => number,
): CompiledUnit {
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
  b.mastered.push(...mastered);
  if (unit.levelLimit < 1)
    for (const slot of mastered) {
      b.limited.push(slot);
      b.limits.push(unit.levelLimit);
    }
  const shuttersFrom = b.shutters.length;
  if (mastered.length === 0) noteShutters(b, slots);
  const kinds = { levels: new Set(mastered), shutters: new Set(b.shutters.slice(shuttersFrom)) };
  encodeUnit(b, unit, layout, slots, toOffset, kinds);
  return { id: unit.id, slots, cells, identify: Uint32Array.from(identify) };
}

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

function encodeUnit(
  b: Building,
  unit: UnitRecord,
  layout: ModeLayout,
  slots: ReadonlyMap<string, AttributeSlot>,
  toOffset: (index: number) => number,
  kinds: { readonly levels: ReadonlySet<number>; readonly shutters: ReadonlySet<number> },
): void {
  const mixed = new Map<number, number>();
  const hasWhite = new Set(layout.channels.filter((c) => c.channel.attribute === 'ColorAdd_W').map((c) => c.cell));
  const virtualLevel = layout.virtualDimmer ? (slots.get('Dimmer')?.slot ?? -1) : -1;
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
  for (const laid of layout.channels) {
    const slot = sourceSlot(laid, slots, colourBase);
    const levelled = kinds.levels.has(slot) || (isEmitter(laid.channel.attribute) && kinds.levels.has(virtualLevel));
    for (const offset of laid.offsets.map(toOffset))
      if (offset >= 0)
        b.ceiling[offset] = levelled ? unit.levelLimit : kinds.shutters.has(slot) ? SHUTTER_BYTE : FREE_BYTE;
    if (slot < 0) continue;
    const { attribute } = laid.channel;
    const inverted = (attribute === 'Pan' && unit.invertPan) || (attribute === 'Tilt' && unit.invertTilt);
    const flip = attribute.startsWith('ColorSub_') || inverted ? 1 : 0;
    const scale = isEmitter(attribute) ? virtualLevel : -1;
    const offsets = laid.offsets.map(toOffset);
    if (offsets.length === 1) b.narrow.push({ slot, scale, flip, offset: offsets[0]! });
    else if (offsets.length > 1) b.wide.push({ slot, scale, flip, offsets });
  }
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

function toArrays(b: Building, universes: readonly number[]): RigArrays {
  const narrow = b.narrow.filter((e) => e.offset >= 0);
  const wide = b.wide.filter((e) => e.offsets[0]! >= 0);
  const common = (
    list: readonly { slot: number; scale: number; flip: number }[],
    first: (i: number) => number,
  ): ByteEncoders => ({
    slot: Uint32Array.from(list, (e) => e.slot),
    scale: Int32Array.from(list, (e) => e.scale),
    flip: Uint8Array.from(list, (e) => e.flip),
    offset: Int32Array.from(list, (_, i) => first(i)),
  });
  return {
    slotCount: b.home.length,
    home: Float32Array.from(b.home),
    highlight: Float32Array.from(b.highlight),
    htp: Uint8Array.from(b.htp),
    snap: Uint8Array.from(b.snap),
    mastered: Uint32Array.from(b.mastered),
    limited: Uint32Array.from(b.limited),
    limits: Float32Array.from(b.limits),
    ceiling: b.ceiling,
    shutters: Uint32Array.from(b.shutters),
    shutAt: Float32Array.from(b.shutAt),
    universes: Uint16Array.from(universes),
    mixers: {
      input: Uint32Array.from(b.mixInput),
      own: Int32Array.from(b.mixOwn),
      output: Uint32Array.from(b.mixOutput),
    },
    bytes8: common(narrow, (i) => narrow[i]!.offset),
    bytes16: {
      ...common(wide, (i) => wide[i]!.offsets[0]!),
      offset1: Int32Array.from(wide, (e) => e.offsets[1]!),
      offset2: Int32Array.from(wide, (e) => e.offsets[2] ?? -1),
    },
  };
}
