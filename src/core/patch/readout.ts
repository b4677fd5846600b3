import { fromHex, type LinearRgb } from '../colour/convert.ts';
import { patchedUnit, layoutOfUnit } from './of-document.ts';
import type { Span } from './address.ts';
import type { Document } from '../document/change.ts';
import type { UnitRecord } from '../records/index.ts';
import type { Channel, Range } from '../records/profile.ts';
import { fullScale, rangeAt, type LaidChannel } from '../profile/layout.ts';

/**
 * The way back from bytes to light: what a unit shows when it gets certain slots. The plot draws with this, so that it
 * shows what is sent and not what was meant.
 */

/** Where a channel's bytes are: a universe and slot indices from 0, coarse first. */
export interface Source {
  readonly universe: number;
  readonly indices: readonly number[];
  readonly full: number;
}

export interface CellReader {
  readonly level: Source | null;
  readonly shutter: { readonly source: Source; readonly channel: Channel } | null;
  readonly emitters: readonly { readonly source: Source; readonly colour: LinearRgb }[];
  /** Filters that take away red, green or blue. */
  readonly filters: readonly { readonly source: Source; readonly part: 0 | 1 | 2 }[];
  readonly wheel: { readonly source: Source; readonly channel: Channel } | null;
}

export interface UnitReader {
  readonly cells: readonly CellReader[];
  readonly pan: Source | null;
  readonly tilt: Source | null;
  /** Channels that make something other than light (haze, a motor), for units that have no light. */
  readonly activity: readonly { readonly source: Source; readonly channel: Channel }[];
  readonly gel: LinearRgb | null;
}

/** Slots by universe as they are sent: 512 bytes each. */
export type Frames = ReadonlyMap<number, Uint8Array>;

/** What emitters that are driven on their own shine, as linear light. */
export const EMITTER_COLOURS: Readonly<Record<string, LinearRgb>> = {
  ColorAdd_R: { r: 1, g: 0, b: 0 },
  ColorAdd_G: { r: 0, g: 1, b: 0 },
  ColorAdd_B: { r: 0, g: 0, b: 1 },
  ColorAdd_C: { r: 0, g: 1, b: 1 },
  ColorAdd_M: { r: 1, g: 0, b: 1 },
  ColorAdd_Y: { r: 1, g: 0.9, b: 0 },
  ColorAdd_W: { r: 1, g: 1, b: 1 },
  ColorAdd_WW: { r: 1, g: 0.68, b: 0.35 },
  ColorAdd_CW: { r: 0.82, g: 0.91, b: 1 },
  ColorAdd_RY: { r: 1, g: 0.42, b: 0 },
  ColorAdd_GY: { r: 0.5, g: 1, b: 0.1 },
  ColorAdd_UV: { r: 0.16, g: 0, b: 0.6 },
};
const FILTERS: Readonly<Record<string, 0 | 1 | 2>> = { ColorSub_C: 0, ColorSub_M: 1, ColorSub_Y: 2 };

/** A channel of a unit with where its bytes are. */
export interface LocatedChannel {
  readonly laid: LaidChannel;
  readonly source: Source;
}

/** The channels of a unit that have a place in a universe; none without an address. */
export function locatedChannels(document: Document, unit: UnitRecord): LocatedChannel[] {
  const { spans } = patchedUnit(document, unit);
  return layoutOfUnit(document, unit).channels.flatMap((laid) => {
    const source = locate(laid, spans);
    return source ? [{ laid, source }] : [];
  });
}

const SWAPPED: Readonly<Record<string, string>> = { Pan: 'Tilt', Tilt: 'Pan' };
/** The attribute whose channel moves an axis of a unit: its own, or the other where they are swapped. */
export const wiredTo = ({ movement }: Pick<UnitRecord, 'movement'>, attribute: string): string =>
  movement?.swap ? (SWAPPED[attribute] ?? attribute) : attribute;

/** Prepares reading of one unit. A unit without an address reads as dark. */
export function makeReader(document: Document, unit: UnitRecord): UnitReader {
  const layout = layoutOfUnit(document, unit);
  const located = locatedChannels(document, unit);
  const byCell: LocatedChannel[][] = Array.from({ length: layout.cells + 1 }, () => []);
  for (const one of located) byCell[one.laid.cell]?.push(one);
  const whole = byCell[0]!;
  const readCell = (parts: typeof located): CellReader => {
    const find = (attribute: string) => parts.find(({ laid }) => laid.channel.attribute === attribute);
    const shutter = parts.find(
      ({ laid }) => laid.channel.attribute === 'Shutter1' && laid.channel.ranges.some((r) => r.light),
    );
    const wheel = parts.find(
      ({ laid }) => laid.channel.attribute.startsWith('Color') && laid.channel.ranges.some((r) => r.colour),
    );
    return {
      level: find('Dimmer')?.source ?? null,
      shutter: shutter ? { source: shutter.source, channel: shutter.laid.channel } : null,
      emitters: parts.flatMap(({ laid, source }) => {
        const colour = EMITTER_COLOURS[laid.channel.attribute];
        return colour ? [{ source, colour }] : [];
      }),
      filters: parts.flatMap(({ laid, source }) => {
        const part = FILTERS[laid.channel.attribute];
        return part === undefined ? [] : [{ source, part }];
      }),
      wheel: wheel ? { source: wheel.source, channel: wheel.laid.channel } : null,
    };
  };
  const base = readCell(whole);
  const cells: CellReader[] = [];
  if (layout.cells === 0 || base.emitters.length > 0 || base.wheel) cells.push(base);
  for (let cell = 1; cell <= layout.cells; cell++) {
    const part = readCell(byCell[cell]!);
    cells.push({ ...part, level: part.level ?? base.level, shutter: part.shutter ?? base.shutter });
  }
  return {
    cells,
    pan: whole.find(({ laid }) => laid.channel.attribute === wiredTo(unit, 'Pan'))?.source ?? null,
    tilt: whole.find(({ laid }) => laid.channel.attribute === wiredTo(unit, 'Tilt'))?.source ?? null,
    activity: located
      .filter(({ laid }) => /^(Haze|Fog|Fan|Control)\d|^Effects\d+PosRotate$/.test(laid.channel.attribute))
      .map(({ laid, source }) => ({ source, channel: laid.channel })),
    gel: unit.gel ? fromHex(unit.gel) : null,
  };
}

function locate(laid: LaidChannel, spans: readonly Span[]): Source | null {
  const indices: number[] = [];
  let universe = -1;
  for (const offset of laid.offsets) {
    let left = offset;
    for (const span of spans) {
      const length = span.to - span.from + 1;
      if (left < length) {
        if (span.from + left > 512) return null;
        universe = span.universe;
        indices.push(span.from + left - 1);
        break;
      }
      left -= length;
    }
  }
  return indices.length > 0
    ? { universe, indices, full: fullScale(laid.channel.bits === 8 ? 8 : 8 * indices.length) }
    : null;
}

/**
 * What is sent now for an attribute of a unit, 0-1 of its channel as it was programmed (an inverted pan is turned
 * back); of cells the first. Null for what has no channel of its own (a made-up level, a mixed colour) and for units
 * without an address.
 */
export function sentFraction(document: Document, unit: UnitRecord, attribute: string, frames: Frames): number | null {
  const layout = layoutOfUnit(document, unit);
  const wired = wiredTo(unit, attribute);
  const laid = layout.channels.find((c) => c.channel.attribute === wired);
  const source = laid && locate(laid, patchedUnit(document, unit).spans);
  if (!source || !frames.has(source.universe)) return null;
  const fraction = readSource(source, frames);
  const inverted = (attribute === 'Pan' && unit.invertPan) || (attribute === 'Tilt' && unit.invertTilt);
  return inverted ? 1 - fraction : fraction;
}

/** Fraction 0-1 that stands in the frames; 0 where the universe is not sent. */
export function readSource(source: Source, frames: Frames): number {
  const slots = frames.get(source.universe);
  if (!slots) return 0;
  let raw = 0;
  for (const index of source.indices) raw = raw * 256 + slots[index]!;
  return raw / source.full;
}

/**
 * Where a head's beam stands on an axis by what is sent, as a fraction of a range of `rangeDeg`: 0.5 in its middle. An axis
 * that runs the other way is sent the other way, and one with an offset stands off its middle. In the middle where it has
 * no such axis.
 */
export function readAxis(
  { invertPan, invertTilt, movement }: Pick<UnitRecord, 'invertPan' | 'invertTilt' | 'movement'>,
  reader: UnitReader,
  axis: 'pan' | 'tilt',
  frames: Frames,
  rangeDeg: number,
): number {
  const source = reader[axis];
  if (!source) return 0.5;
  const sent = readSource(source, frames);
  const fraction = (axis === 'pan' ? invertPan : invertTilt) ? 1 - sent : sent;
  return movement ? fraction - movement[axis === 'pan' ? 'panOffsetDeg' : 'tiltOffsetDeg'] / rangeDeg : fraction;
}

const coarseOf = (source: Source, frames: Frames): number => frames.get(source.universe)?.[source.indices[0]!] ?? 0;

/** The range of a channel that stands in the frames now. */
export const rangeNow = (
  { source, channel }: { readonly source: Source; readonly channel: Channel },
  frames: Frames,
): Range | undefined => rangeAt(channel, coarseOf(source, frames));

/** Light of one cell: linear colour times level, each 0-1, and whether it strobes. */
export interface CellLight {
  r: number;
  g: number;
  b: number;
  strobing: boolean;
}

export function readCell(reader: UnitReader, index: number, frames: Frames, into: CellLight): CellLight {
  const cell = reader.cells[index]!;
  if (cell.emitters.length > 0) mixEmitters(cell, frames, into);
  else if (cell.level || cell.shutter || cell.wheel) {
    const colour = wheelColour(cell, frames) ?? reader.gel;
    into.r = colour?.r ?? 1;
    into.g = colour?.g ?? 1;
    into.b = colour?.b ?? 1;
  } else into.r = into.g = into.b = 0;
  return letThrough(cell, frames, into);
}

/** What level, shutter and filters of a cell leave of the light in `into`, and whether it strobes. */
export function letThrough(cell: CellReader, frames: Frames, into: CellLight): CellLight {
  let level = cell.level ? readSource(cell.level, frames) : 1;
  into.strobing = false;
  if (cell.shutter) {
    const light = rangeNow(cell.shutter, frames)?.light ?? 'open';
    if (light === 'closed') level = 0;
    into.strobing = light === 'strobe' && level > 0;
  }
  for (const { source, part } of cell.filters) {
    const pass = 1 - readSource(source, frames);
    if (part === 0) into.r *= pass;
    else if (part === 1) into.g *= pass;
    else into.b *= pass;
  }
  into.r *= level;
  into.g *= level;
  into.b *= level;
  return into;
}

/**
 * Light of the cells from `from` up to `to` on average, and whether any of them strobes; of very many every so many are
 * looked at, about `most`.
 */
export function readMean(
  reader: UnitReader,
  from: number,
  to: number,
  frames: Frames,
  into: CellLight,
  most = Infinity,
): CellLight {
  const step = Math.max(1, Math.floor((to - from) / most));
  let [r, g, b, count] = [0, 0, 0, 0];
  let strobing = false;
  for (let cell = from; cell < to; cell += step, count++) {
    readCell(reader, cell, frames, into);
    r += into.r;
    g += into.g;
    b += into.b;
    strobing ||= into.strobing;
  }
  into.r = r / count;
  into.g = g / count;
  into.b = b / count;
  into.strobing = strobing;
  return into;
}

function mixEmitters(cell: CellReader, frames: Frames, into: CellLight): void {
  let r = 0;
  let g = 0;
  let b = 0;
  for (const { source, colour } of cell.emitters) {
    const amount = readSource(source, frames);
    r += amount * colour.r;
    g += amount * colour.g;
    b += amount * colour.b;
  }
  into.r = Math.min(1, r);
  into.g = Math.min(1, g);
  into.b = Math.min(1, b);
}

function wheelColour(cell: CellReader, frames: Frames): LinearRgb | null {
  if (!cell.wheel) return null;
  const hex = rangeNow(cell.wheel, frames)?.colour;
  return hex ? fromHex(hex) : null;
}

/** How busy a unit without light is, 0-1: haze output, a motor turning. */
export function readActivity(reader: UnitReader, frames: Frames): number {
  let most = 0;
  for (const { source, channel } of reader.activity) {
    const range = rangeAt(channel, coarseOf(source, frames));
    const physical = range?.physical;
    if (physical && physical.from === 0 && physical.to === 0) continue;
    const within = range
      ? (coarseOf(source, frames) - range.from) / Math.max(1, range.to - range.from)
      : readSource(source, frames);
    if (channel.attribute.startsWith('Fan')) continue;
    most = Math.max(most, range?.name === 'Off' ? 0 : Math.max(0.15, within));
  }
  return most;
}
