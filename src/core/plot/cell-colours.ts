import { encodeSrgb } from '../colour/convert.ts';
import { readCell, type CellLight, type CellReader, type Frames, type UnitReader } from '../patch/readout.ts';
import type { PlotSide } from '../records/picture.ts';
import type { Body } from './body.ts';
import type { Dots } from './dots.ts';
import { PAPER_AXES } from './paper.ts';

/** No slot: reads as nothing. */
const NO_SLOT = 0xffff;
/** 0-255 linear light to 0-255 sRGB. */
const TO_SRGB = Uint8Array.from({ length: 256 }, (_, i) => Math.round(encodeSrgb(i / 255) * 255));

/**
 * All dots of many units as structure of arrays, to be coloured thousands at a time. `u`, `v` on the paper in metres.
 * Dots of plain RGB(W) pixels have the slots of their colours; the others (with levels, shutters or wheels of their
 * own) are read one by one.
 */
export interface DotBatch {
  readonly count: number;
  /** How large a dot is, metres. */
  readonly dotM: number;
  readonly u: Float32Array;
  readonly v: Float32Array;
  readonly universes: readonly number[];
  /** For each dot: place in `universes` of each colour's slot and the slot from 0. Four a dot: r, g, b, w. */
  readonly universe: Uint16Array;
  readonly slot: Uint16Array;
  /** Dots that are read one by one. */
  readonly odd: readonly { readonly dot: number; readonly reader: UnitReader; readonly cell: number }[];
  /** 0xAABBGGRR of each dot, as an ImageData takes it on a little-endian machine; alpha 255. */
  readonly colours: Uint32Array;
}

/** A unit with the reader of its light. */
export interface ReadBody {
  readonly body: Body;
  readonly reader: UnitReader | undefined;
}

/** About the size of a pixel, and of the lens of a lamp. */
const PIXEL_M = 0.03;
const LENS_M = 0.13;
const LENS_CELLS = Uint32Array.of(0);

/** Makes a batch of all units that have dots. Linear in the dots. */
export const makeBatch = (side: PlotSide, bodies: readonly ReadBody[]): DotBatch =>
  batchOf(
    side,
    bodies.filter((b) => b.body.dots.cells.length > 0).map((b) => ({ ...b, ...b.body.dots })),
    PIXEL_M,
  );

/** Makes a batch of the lenses of units that are drawn as symbols: one dot each, in the light of its first cell. */
export const makeLenses = (side: PlotSide, bodies: readonly ReadBody[]): DotBatch =>
  batchOf(
    side,
    bodies.flatMap((b) => {
      if (b.body.dots.cells.length > 0 || !b.reader?.cells.length) return [];
      const { x, y, z } = b.body.unit.position;
      return [{ ...b, xyz: Float32Array.of(x, y, z), cells: LENS_CELLS }];
    }),
    LENS_M,
  );

function batchOf(side: PlotSide, dotted: readonly (ReadBody & Dots)[], dotM: number): DotBatch {
  const [u, v] = PAPER_AXES[side].map((axis) => 'xyz'.indexOf(axis)) as [number, number];
  const count = dotted.reduce((sum, b) => sum + b.cells.length, 0);
  const batch = {
    count,
    dotM,
    u: new Float32Array(count),
    v: new Float32Array(count),
    universes: [] as number[],
    universe: new Uint16Array(count * 4),
    slot: new Uint16Array(count * 4).fill(NO_SLOT),
    odd: [] as { dot: number; reader: UnitReader; cell: number }[],
    colours: new Uint32Array(count),
  };
  const known = new Map<number, number>();
  const indexOf = (universe: number): number => {
    let index = known.get(universe);
    if (index === undefined) known.set(universe, (index = batch.universes.push(universe) - 1));
    return index;
  };
  let dot = 0;
  for (const { reader, xyz, cells } of dotted) {
    for (let i = 0; i < cells.length; i++, dot++) {
      batch.u[dot] = xyz[i * 3 + u]!;
      batch.v[dot] = xyz[i * 3 + v]!;
      const cell = reader?.cells[cells[i]!];
      if (!cell) continue;
      const parts = plainParts(cell);
      if (!parts) batch.odd.push({ dot, reader: reader!, cell: cells[i]! });
      else
        parts.forEach((source, part) => {
          if (!source) return;
          batch.universe[dot * 4 + part] = indexOf(source.universe);
          batch.slot[dot * 4 + part] = source.indices[0]!;
        });
    }
  }
  return batch;
}

type Parts = readonly (CellReader['emitters'][number]['source'] | undefined)[];

/** Sources of red, green, blue and white of a cell that is nothing but 8-bit emitters of these; null for any other. */
function plainParts(cell: CellReader): Parts | null {
  if (cell.level || cell.shutter || cell.wheel || cell.filters.length > 0) return null;
  const parts: (Parts[number] | undefined)[] = [undefined, undefined, undefined, undefined];
  for (const { source, colour } of cell.emitters) {
    const part = colour.r + colour.g + colour.b === 3 ? 3 : [colour.r, colour.g, colour.b].indexOf(1);
    if (part < 0 || source.indices.length !== 1 || (part < 3 && colour.r + colour.g + colour.b !== 1)) return null;
    parts[part] = source;
  }
  return parts;
}

const NOTHING = new Uint8Array(512);
const light: CellLight = { r: 0, g: 0, b: 0, strobing: false };
const to8 = (v: number): number => TO_SRGB[v >= 1 ? 255 : (v * 255 + 0.5) | 0]!;

/** Fills `batch.colours` from what is sent. Linear in the dots; nothing is allocated but a list of universes. */
export function readColours(batch: DotBatch, frames: Frames): Uint32Array {
  const { count, universe, slot, colours } = batch;
  const slots = batch.universes.map((u) => frames.get(u) ?? NOTHING);
  for (let dot = 0, i = 0; dot < count; dot++, i += 4) {
    const white = slot[i + 3] === NO_SLOT ? 0 : slots[universe[i + 3]!]![slot[i + 3]!]!;
    let r = slot[i] === NO_SLOT ? 0 : slots[universe[i]!]![slot[i]!]! + white;
    let g = slot[i + 1] === NO_SLOT ? 0 : slots[universe[i + 1]!]![slot[i + 1]!]! + white;
    let b = slot[i + 2] === NO_SLOT ? 0 : slots[universe[i + 2]!]![slot[i + 2]!]! + white;
    if (r > 255) r = 255;
    if (g > 255) g = 255;
    if (b > 255) b = 255;
    colours[dot] = (0xff000000 | (TO_SRGB[b]! << 16) | (TO_SRGB[g]! << 8) | TO_SRGB[r]!) >>> 0;
  }
  for (const { dot, reader, cell } of batch.odd) {
    readCell(reader, cell, frames, light);
    colours[dot] = (0xff000000 | (to8(light.b) << 16) | (to8(light.g) << 8) | to8(light.r)) >>> 0;
  }
  return colours;
}
