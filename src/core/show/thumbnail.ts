import { recordsOf, getRecord, type Document } from '../document/change.ts';
import { layoutOfUnit, patchedUnit, type PatchedUnit } from '../patch/of-document.ts';
import { ownDots, roomDots } from '../plot/dots.ts';
import { makeReader, readCell, type CellLight, type Frames, type UnitReader } from '../patch/readout.ts';

/** Most dots of one look: a thumbnail shows no more. */
const MOST_DOTS = 700;
/** Numbers of a dot: x and y of the side that is looked at (0-1, y up), red, green, blue (linear, 0-1). */
export const DOT_NUMBERS = 5;
/** What is looked at has so much of its length on every side of what is touched, */
const MARGIN = 0.18;
/** and is at least this part of the whole rig wide. */
const LEAST_SHARE = 0.2;
/** A unit that moves or works without giving light shows this glimmer. */
const GLIMMER = { r: 0.1, g: 0.13, b: 0.2 };

/** A small picture of the rig: how wide it is for its height, and its dots, `DOT_NUMBERS` each. */
export interface Thumbnail {
  readonly shape: number;
  readonly dots: Float32Array;
}

/** One unit as it stands in the room: a place (three numbers, metres) for each of `cells`, counted from 0. */
interface Standing {
  readonly reader: UnitReader;
  readonly spans: PatchedUnit['spans'];
  readonly xyz: ArrayLike<number>;
  readonly cells: ArrayLike<number>;
}

/** Everything that stands in a show, and the box around it. */
interface Scenery {
  readonly standing: readonly Standing[];
  readonly whole: Box;
}

const kept = new WeakMap<Document, Scenery>();

/**
 * What a frame looks like on the plot, as few dots: the part of the rig that it touches (where it differs from `rest`),
 * from the side on which that is largest. Of very many dots every Nth is taken. Linear in the cells.
 */
export function thumbnailOf(document: Document, frames: Frames, rest: Frames): Thumbnail {
  let scenery = kept.get(document);
  if (!scenery) kept.set(document, (scenery = sceneryOf(document)));
  const { standing, whole } = scenery;
  const touched = standing.map((one) => differs(one, frames, rest));
  const box = touched.includes(true) ? boxOf(standing.filter((_, i) => touched[i])) : whole;
  return draw(standing, touched, frames, sideOf(box, whole));
}

function sceneryOf(document: Document): Scenery {
  const standing = recordsOf(document, 'unit').map((unit) => {
    const profile = getRecord(document, 'profile', unit.profileId);
    const dots = roomDots(unit, ownDots(unit, profile, Math.max(1, layoutOfUnit(document, unit).cells)));
    const { x, y, z } = unit.position;
    const single = dots.cells.length === 0;
    return {
      reader: makeReader(document, unit),
      spans: patchedUnit(document, unit).spans,
      xyz: single ? [x, y, z] : dots.xyz,
      cells: single ? [0] : dots.cells,
    };
  });
  return { standing, whole: boxOf(standing) };
}

const differs = ({ spans }: Standing, frames: Frames, rest: Frames): boolean =>
  spans.some(({ universe, from, to }) => {
    const [now, before] = [frames.get(universe), rest.get(universe)];
    if (!now || !before) return false;
    for (let i = from - 1; i < to; i++) if (now[i] !== before[i]) return true;
    return false;
  });

interface Span {
  readonly low: number;
  readonly size: number;
}
type Box = readonly [x: Span, y: Span, z: Span];

function boxOf(standing: readonly Standing[]): Box {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (const { xyz } of standing)
    for (let i = 0; i < xyz.length; i++) {
      const axis = i % 3;
      low[axis] = Math.min(low[axis]!, xyz[i]!);
      high[axis] = Math.max(high[axis]!, xyz[i]!);
    }
  return low.map((from, axis) => ({ low: from, size: Math.max(0, high[axis]! - from) })) as unknown as Box;
}

/** Which two axes are looked at, and the part of them that is shown. */
interface Side {
  readonly across: 0 | 1;
  readonly up: 1 | 2;
  readonly x: Span;
  readonly y: Span;
}

const SIDES = [
  [0, 1],
  [0, 2],
  [1, 2],
] as const;

/** From above, the front or the side: where the box shows the largest face. */
function sideOf(box: Box, whole: Box): Side {
  const face = ([across, up]: (typeof SIDES)[number]): number => (box[across].size + 0.01) * (box[up].size + 0.01);
  const [across, up] = SIDES.reduce((best, side) => (face(side) > face(best) ? side : best));
  const least = LEAST_SHARE * Math.max(whole[across].size, whole[up].size);
  return { across, up, x: widened(box[across], least), y: widened(box[up], least / 2) };
}

function widened({ low, size }: Span, least: number): Span {
  const wanted = Math.max(size * (1 + 2 * MARGIN), least, 0.1);
  return { low: low - (wanted - size) / 2, size: wanted };
}

function draw(standing: readonly Standing[], touched: readonly boolean[], frames: Frames, side: Side): Thumbnail {
  const found: number[] = [];
  const light: CellLight = { r: 0, g: 0, b: 0, strobing: false };
  const { x, y } = side;
  standing.forEach(({ reader, xyz, cells }, i) => {
    const glimmers = touched[i]! && isDark(reader, frames);
    for (let dot = 0; dot < cells.length; dot++) {
      const at = (xyz[dot * 3 + side.across]! - x.low) / x.size;
      const height = (xyz[dot * 3 + side.up]! - y.low) / y.size;
      if (!(at >= 0 && at <= 1 && height >= 0 && height <= 1)) continue;
      if (reader.cells[cells[dot]!]) readCell(reader, cells[dot]!, frames, light);
      else light.r = light.g = light.b = 0;
      const { r, g, b } = glimmers ? GLIMMER : light;
      found.push(at, height, r, g, b);
    }
  });
  return { shape: x.size / y.size, dots: thinned(found) };
}

/** Whether nothing of a unit gives light: then it is touched in another way, as a head that turns or a hazer. */
function isDark(reader: UnitReader, frames: Frames): boolean {
  const light: CellLight = { r: 0, g: 0, b: 0, strobing: false };
  return reader.cells.every((_, cell) => {
    const { r, g, b } = readCell(reader, cell, frames, light);
    return r + g + b < 0.004;
  });
}

function thinned(found: readonly number[]): Float32Array {
  const count = found.length / DOT_NUMBERS;
  const step = Math.max(1, Math.ceil(count / MOST_DOTS));
  const dots = new Float32Array(Math.ceil(count / step) * DOT_NUMBERS);
  for (let i = 0, at = 0; i < count; i += step)
    for (let n = 0; n < DOT_NUMBERS; n++) dots[at++] = found[i * DOT_NUMBERS + n]!;
  return dots;
}
