import { getRecord, recordsOf, type Document } from '../../document/change.ts';
import type { AreaId, LitId, ProfileId, UnitId } from '../../ids.ts';
import { membersOf } from '../../patch/groups.ts';
import { layoutOfUnit, patchOf, sameMake, type PatchedUnit } from '../../patch/of-document.ts';
import { areaChain, areaIdOf } from '../../patch/areas.ts';
import { litAreaM2 } from '../../plot/lit-area.ts';
import { attributeKey, splitAttributeKey } from '../../attributes.ts';
import { partCells } from '../../prop/parts.ts';
import type { PartRecord, ProfileRecord, UnitRecord } from '../../records/index.ts';
import { MAX_SLOTS } from '../../units.ts';
import { GAMMA_STEPS } from './encode.ts';
import { runsOf, type ByteEncoders, type ByteRuns } from './byte-runs.ts';
import { cellRunsOf, type CellRuns } from './cell-runs.ts';
import { lampsOf, strobesOf, type Lamps, type Strobes } from './lamps.ts';
import { moversOf, type Mover } from './movers.ts';
import { byteAt, compilePiece, type AttributeSlot, type Piece } from './piece.ts';

/**
 * A unit (or a part of one) in the rig. Its attributes by key (`Dimmer`, `ColorRGB_Red#3`) stand at `base` + slot among
 * the rig's attribute slots; `identify` counts from `base` too.
 */
export interface CompiledUnit {
  readonly id: LitId;
  /** The unit it is, or is a part of. */
  readonly unitId: UnitId;
  readonly profileId: ProfileId;
  readonly base: number;
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
  /** For each of `mastered`, and for each of `shutters`: its unit, counted as in `placed`. */
  readonly masteredUnit: Uint32Array;
  readonly shutterUnit: Uint32Array;
  /** For each unit: the area it hangs in, as a place in `areaChains`; 0 for none. */
  readonly unitArea: Uint16Array;
  /** Levels of units that have a limit, and the limit (0-1) they are scaled by. */
  readonly limited: Uint32Array;
  readonly limits: Float32Array;
  /**
   * What a raw byte laid over the frame may do, for each byte: 0-1 is a level (or nobody's slot) and scaled by this and
   * the masters; FREE_BYTE is sent as it is; SHUTTER_BYTE stays closed while the masters are at nothing.
   */
  readonly ceiling: Float32Array;
  /** For each byte its unit, counted as in `placed`; -1 for nobody's. */
  readonly byteUnit: Int32Array;
  /** Shutters of units without any level: closed (at these fractions) when the masters are at nothing. */
  readonly shutters: Uint32Array;
  readonly shutAt: Float32Array;
  /** What makes haze and fog: Dark takes it with it where that is asked for. */
  readonly haze: Uint32Array;
  readonly lamps: Lamps;
  readonly strobes: Strobes;
  /** Units whose movement is held, or whose beam keeps out of something. */
  readonly movers: readonly Mover[];
  /** Universe numbers in ascending order; their place is the universe index. */
  readonly universes: Uint16Array;
  readonly mixers: Mixers;
  /** Plain pixels, and what else is written to single bytes. */
  readonly cells: CellRuns;
  readonly rest8: ByteRuns;
  readonly bytes16: WideEncoders;
  /** GAMMA_STEPS values each: what a level (0-1) leaves of the light. */
  readonly gammaTables: Float32Array;
}

/** White from the mixed colour: reads R, G, B at `input`.. and an own white at `own`, writes R, G, B, W to `output`... */
export interface Mixers {
  readonly input: Uint32Array;
  readonly own: Int32Array;
  readonly output: Uint32Array;
}

/** Two or three slots each, coarse first; `offset2` is -1 for 16 bit. */
export interface WideEncoders extends ByteEncoders {
  readonly offset1: Int32Array;
  readonly offset2: Int32Array;
}

export interface CompiledRig {
  readonly arrays: RigArrays;
  /** Units and parts by id. */
  readonly units: ReadonlyMap<LitId, CompiledUnit>;
  /** The units that have slots of their own, in the order of those. */
  readonly placed: readonly UnitId[];
  /** For each area that units hang in: itself and those it lies in. The first is no area at all. */
  readonly areaChains: readonly (readonly AreaId[])[];
}

interface Kept {
  readonly profile: ProfileRecord | undefined;
  readonly patched: PatchedUnit;
  readonly piece: Piece;
}
/** What a unit was compiled to: at an edit most of a rig is as it was. */
const kept = new WeakMap<UnitRecord, Kept>();

function pieceOf(document: Document, unit: UnitRecord, patched: PatchedUnit): Piece {
  const profile = getRecord(document, 'profile', unit.profileId);
  const old = kept.get(unit);
  if (old && old.profile === profile && old.patched === patched) return old.piece;
  const layout = layoutOfUnit(document, unit);
  const piece = compilePiece(unit, layout, patched.spans, litAreaM2(unit, profile, layout.cells));
  kept.set(unit, { profile, patched, piece });
  return piece;
}

/** A unit at its place among the attribute slots. */
export interface Placed {
  readonly id: UnitId;
  readonly piece: Piece;
  /** Its level never passes this. */
  readonly limit: number;
  readonly base: number;
  readonly area: number;
  /** Byte offset of each of the piece's universes in the frame. */
  readonly bytes: readonly number[];
}

/**
 * Compiles units, parts and routes into arrays. Where two units share a slot the one with the higher number is written
 * last; twins share the attributes of their original. Only units that changed are compiled anew; the rest is put
 * together again, linear in the number of slots.
 */
export function compileRig(document: Document): CompiledRig {
  const records = recordsOf(document, 'unit').toSorted((a, b) => a.number - b.number || (a.id < b.id ? -1 : 1));
  const patch = patchOf(document);
  const areas = new AreaPlaces(document);
  const limits = groupLimits(document);
  const units = new Map<LitId, CompiledUnit>();
  const found: Omit<Placed, 'bytes'>[] = [];
  const twins: [unit: UnitRecord, original: UnitId][] = [];
  let base = 0;
  for (const unit of records) {
    const patched = patch.get(unit.id)!;
    if (isTwin(document, unit, patched.wire)) {
      twins.push([unit, patched.wire]);
      continue;
    }
    const piece = pieceOf(document, unit, patched);
    const { slots, cells, identify, home } = piece.shape;
    const { id, profileId } = unit;
    units.set(id, { id, unitId: id, profileId, base, slots, cells, identify });
    found.push({ piece, base, area: areas.of(unit), id, limit: Math.min(unit.levelLimit, limits.get(id) ?? 1) });
    base += home.length;
  }
  // A twin is the same slots under another name: what is programmed for one is done by both.
  for (const [unit, original] of twins) units.set(unit.id, { ...units.get(original)!, id: unit.id, unitId: unit.id });
  for (const part of recordsOf(document, 'part')) {
    const unit = units.get(part.unitId);
    if (unit) units.set(part.id, compilePart(part, unit));
  }
  const numbers = new Set<number>(recordsOf(document, 'route').map((r) => r.universe));
  for (const { piece } of found) for (const universe of piece.universes) numbers.add(universe);
  const universes = [...numbers].sort((a, b) => a - b);
  const indexOf = new Map(universes.map((u, i) => [u, i * MAX_SLOTS]));
  const placed = found.map((p): Placed => ({ ...p, bytes: p.piece.universes.map((u) => indexOf.get(u)!) }));
  return {
    arrays: { ...assemble(placed, base, universes), movers: moversOf(document, placed, twins) },
    units,
    placed: placed.map((p) => p.id),
    areaChains: areas.chains,
  };
}

/** The lowest limit that a group sets for each unit. */
function groupLimits(document: Document): Map<UnitId, number> {
  const limits = new Map<UnitId, number>();
  for (const group of recordsOf(document, 'group'))
    if (group.levelLimit < 1)
      for (const id of membersOf(document, group)) limits.set(id, Math.min(limits.get(id) ?? 1, group.levelLimit));
  return limits;
}

/** Numbers areas as they are met. */
class AreaPlaces {
  readonly chains: AreaId[][] = [[]];
  readonly #known = new Map<AreaId, number>();
  readonly #document: Document;
  constructor(document: Document) {
    this.#document = document;
  }
  of(unit: UnitRecord): number {
    const id = areaIdOf(this.#document, unit);
    if (id === null) return 0;
    let place = this.#known.get(id);
    if (place === undefined) {
      place = this.chains.push(areaChain(this.#document, id)) - 1;
      this.#known.set(id, place);
    }
    return place;
  }
}

/** True where the unit has its slots from another of the same make; one that differs is encoded itself. */
function isTwin(document: Document, unit: UnitRecord, wire: UnitId): boolean {
  if (wire === unit.id) return false;
  const original = getRecord(document, 'unit', wire);
  return original !== undefined && sameMake(original, unit);
}

/** A part has the attributes its unit has for each cell, of its own cells, counted from 1. */
function compilePart(part: PartRecord, unit: CompiledUnit): CompiledUnit {
  const own = partCells(part);
  const slots = new Map<string, AttributeSlot>();
  const cells = new Map<string, number>();
  for (const [attribute, count] of unit.cells) {
    if (count === 0) continue;
    cells.set(attribute, own.length);
    own.forEach((cell, i) => {
      const slot = unit.slots.get(attributeKey(attribute, cell));
      if (slot) slots.set(attributeKey(attribute, i + 1), slot);
    });
  }
  const mine = new Set([...slots.values()].map((s) => s.slot));
  // What lights the whole unit, such as a shutter or a level, has to let the part be seen.
  for (const [key, { slot }] of unit.slots)
    if (splitAttributeKey(key).cell === 0 && !unit.cells.get(key)) mine.add(slot);
  return { ...unit, id: part.id, slots, cells, identify: unit.identify.filter((slot) => mine.has(slot)) };
}

/** Puts a list of one piece after the other, each number moved by what `shift` says for its piece. */
function joined<T extends Uint32Array | Int32Array>(
  into: T,
  placed: readonly Placed[],
  list: (piece: Piece) => ArrayLike<number>,
  shift: (value: number, placed: Placed) => number,
): T {
  let at = 0;
  for (const item of placed) {
    const values = list(item.piece);
    for (let i = 0; i < values.length; i++) into[at++] = shift(values[i]!, item);
  }
  return into;
}

/** Lists of all pieces put one after the other, each shifted to where its piece lies. */
class Joining {
  readonly #placed: readonly Placed[];
  constructor(placed: readonly Placed[]) {
    this.#placed = placed;
  }

  #count(of: (piece: Piece) => ArrayLike<unknown>): number {
    return this.#placed.reduce((sum, { piece }) => sum + of(piece).length, 0);
  }
  slots(of: (piece: Piece) => ArrayLike<number>): Uint32Array {
    return joined(new Uint32Array(this.#count(of)), this.#placed, of, slotOf);
  }
  /** Below 0 is none. */
  signed(of: (piece: Piece) => ArrayLike<number>, shift: typeof slotOf): Int32Array {
    return joined(new Int32Array(this.#count(of)), this.#placed, of, shift);
  }
  floats(of: (piece: Piece) => Float32Array): Float32Array {
    const into = new Float32Array(this.#count(of));
    let at = 0;
    for (const { piece } of this.#placed) {
      into.set(of(piece), at);
      at += of(piece).length;
    }
    return into;
  }
  flags(of: (piece: Piece) => Uint8Array, value = (v: number, _: Piece): number => v): Uint8Array {
    const into = new Uint8Array(this.#count(of));
    let at = 0;
    for (const { piece } of this.#placed) for (const v of of(piece)) into[at++] = value(v, piece);
    return into;
  }
  /** Of which unit each item is. */
  units(of: (piece: Piece) => ArrayLike<number>): Uint32Array {
    const into = new Uint32Array(this.#count(of));
    let at = 0;
    this.#placed.forEach(({ piece }, unit) => into.fill(unit, at, (at += of(piece).length)));
    return into;
  }
}
const slotOf = (value: number, { base }: Placed): number => (value < 0 ? value : value + base);
const byteOf = (value: number, { bytes }: Placed): number => byteAt(value, bytes);

function assemble(
  placed: readonly Placed[],
  slotCount: number,
  universes: readonly number[],
): Omit<RigArrays, 'movers'> {
  const join = new Joining(placed);
  const gammas = [...new Set(placed.map((p) => p.piece.gamma))].filter((g) => g !== 1);
  const curve = (curved: number, { gamma }: Piece): number => (curved ? gammas.indexOf(gamma) + 1 : 0);
  const limited = placed.filter((p) => p.limit < 1);
  const lamps = lampsOf(placed, gammas);
  const bytes8 = runsOf({
    slot: join.slots((p) => p.narrow.slot),
    scale: join.signed((p) => p.narrow.scale, slotOf),
    flip: join.flags((p) => p.narrow.flip),
    offset: join.signed((p) => p.narrow.offset, byteOf),
    gamma: join.flags((p) => p.narrow.curved, curve),
  });
  const bytes16 = {
    slot: join.slots((p) => p.wide.slot),
    scale: join.signed((p) => p.wide.scale, slotOf),
    flip: join.flags((p) => p.wide.flip),
    offset: join.signed((p) => p.wide.offset, byteOf),
    offset1: join.signed((p) => p.wide.offset1, byteOf),
    offset2: join.signed((p) => p.wide.offset2, byteOf),
    gamma: join.flags((p) => p.wide.curved, curve),
  };
  return {
    slotCount,
    home: join.floats((p) => p.shape.home),
    highlight: join.floats((p) => p.shape.highlight),
    htp: join.flags((p) => p.shape.htp),
    snap: join.flags((p) => p.shape.snap),
    mastered: join.slots((p) => p.shape.mastered),
    masteredUnit: join.units((p) => p.shape.mastered),
    unitArea: Uint16Array.from(placed, (p) => p.area),
    limited: joined(
      new Uint32Array(limited.reduce((sum, { piece }) => sum + piece.shape.mastered.length, 0)),
      limited,
      (p) => p.shape.mastered,
      slotOf,
    ),
    limits: Float32Array.from(limited.flatMap((p) => Array.from(p.piece.shape.mastered, () => limitOf(p)))),
    ...bytesOf(placed, universes.length),
    shutters: join.slots((p) => p.shape.shutters),
    shutterUnit: join.units((p) => p.shape.shutters),
    haze: join.slots((p) => p.shape.haze),
    lamps,
    ...cellRunsOf(lamps, bytes8, [bytes16.offset, bytes16.offset1, bytes16.offset2], universes.length * MAX_SLOTS),
    strobes: strobesOf(placed),
    shutAt: join.floats((p) => p.shape.shutAt),
    universes: Uint16Array.from(universes),
    mixers: {
      input: join.slots((p) => p.shape.mixInput),
      own: join.signed((p) => p.shape.mixOwn, slotOf),
      output: join.slots((p) => p.shape.mixOutput),
    },
    bytes16,
    gammaTables: gammaTables(gammas),
  };
}

/** A limit is one of light: it holds after the gamma. */
const limitOf = ({ limit, piece: { gamma } }: Placed): number => limit ** (1 / gamma);

function bytesOf(placed: readonly Placed[], universes: number): Pick<RigArrays, 'ceiling' | 'byteUnit'> {
  const ceiling = new Float32Array(universes * MAX_SLOTS).fill(1);
  const byteUnit = new Int32Array(ceiling.length).fill(-1);
  placed.forEach((item, unit) => {
    const { ceilingAt, ceiling: values, levelLimit } = item.piece;
    for (let i = 0; i < ceilingAt.length; i++) {
      const at = item.bytes[ceilingAt[i]! >> 9]! + (ceilingAt[i]! & 511);
      // A group may hold a unit lower than it holds itself.
      ceiling[at] = values[i] === levelLimit && values[i]! >= 0 ? item.limit : values[i]!;
      byteUnit[at] = unit;
    }
  });
  return { ceiling, byteUnit };
}

function gammaTables(gammas: readonly number[]): Float32Array {
  const tables = new Float32Array(gammas.length * GAMMA_STEPS);
  gammas.forEach((gamma, g) => {
    for (let i = 0; i < GAMMA_STEPS; i++) tables[g * GAMMA_STEPS + i] = (i / (GAMMA_STEPS - 1)) ** gamma;
  });
  return tables;
}
