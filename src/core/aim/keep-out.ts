import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { Id } from '../ids.ts';
import type { Place3 } from '../plot/paper.ts';
import { inOwn, product, rotationOf, transposed, type Standing } from '../plot/rotation.ts';
import { ownDirection, USUAL_BEAM_DEG } from '../plot/beam.ts';
import { contains, type Corner } from '../polygon.ts';
import type { AreaRecord, ThingRecord, UnitRecord } from '../records/index.ts';
import { clamp, modulo } from '../units.ts';
import type { Axes } from './axes.ts';
import { leftBy, type Seen } from './seen.ts';

/**
 * Volumes that no beam is to meet: upright prisms in a frame of their own, over an area between two heights or the box of a
 * thing. Seen from a head each of them is a patch of the sphere around it: a beam meets it where its axis is nearer to that
 * patch than half its angle.
 */
export interface Volume {
  readonly id: Id<'area' | 'thing'>;
  readonly name: string;
  readonly standing: Standing;
  readonly outline: readonly Corner[];
  readonly low: number;
  readonly high: number;
  /** What is left of the level inside. */
  readonly level: number;
  /** The level goes down over so many degrees. */
  readonly softDeg: number;
  /** Beams that come down steeper than this pass; null for none. */
  readonly steepDeg: number | null;
}

const ORIGIN: Place3 = { x: 0, y: 0, z: 0 };
const made = new WeakMap<AreaRecord | ThingRecord, Volume | null>();

function volumeOf(record: AreaRecord | ThingRecord): Volume | null {
  const { keepOut, id, name } = record;
  if (!keepOut?.on) return null;
  const common = { id, name, level: keepOut.level, softDeg: keepOut.softDeg };
  if (record.kind === 'area') {
    if (!record.outline) return null;
    const [low, high] = [Math.min(keepOut.fromM, keepOut.toM), Math.max(keepOut.fromM, keepOut.toM)];
    const standing = { position: ORIGIN, rotation: ORIGIN };
    return { ...common, standing, outline: record.outline, low, high, steepDeg: keepOut.steepDeg };
  }
  const [w, d] = [record.size.widthM / 2, record.size.depthM / 2];
  const outline = [
    { x: -w, y: -d },
    { x: w, y: -d },
    { x: w, y: d },
    { x: -w, y: d },
  ];
  return { ...common, standing: record, outline, low: 0, high: record.size.heightM, steepDeg: null };
}

/** The keep-outs of a show that are on. Those of records that stay the same stay the same. */
export function volumesOf(document: Document): Volume[] {
  const found: Volume[] = [];
  for (const kind of ['area', 'thing'] as const)
    for (const record of recordsOf(document, kind)) {
      let volume = made.get(record);
      if (volume === undefined) made.set(record, (volume = volumeOf(record)));
      if (volume) found.push(volume);
    }
  return found;
}

const dot3 = (a: ArrayLike<number>, b: ArrayLike<number>): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
const norm = (v: readonly number[]): number[] => {
  const length = Math.hypot(...v) || 1;
  return v.map((x) => x / length);
};

/** A volume as something that stands somewhere sees it. */
export function seenFrom(volume: Volume, head: Standing): Seen {
  const frame = transposed(rotationOf(volume.standing.rotation));
  const at = inOwn(volume.standing, head.position);
  const { outline, low, high } = volume;
  const corner = (i: number, z: number): number[] => {
    const c = outline[modulo(i, outline.length)]!;
    return norm([c.x - at.x, c.y - at.y, z - at.z]);
  };
  const arcs: number[] = [];
  const add = (a: number[], b: number[]): void => {
    const n = [a[1]! * b[2]! - a[2]! * b[1]!, a[2]! * b[0]! - a[0]! * b[2]!, a[0]! * b[1]! - a[1]! * b[0]!];
    // An edge that is seen end on is a point.
    arcs.push(...a, ...b, ...(Math.hypot(...n) < 1e-9 ? [0, 0, 0] : norm(n)));
  };
  outline.forEach((_, i) => {
    add(corner(i, low), corner(i + 1, low));
    add(corner(i, high), corner(i + 1, high));
    add(corner(i, low), corner(i, high));
  });
  const all = outline.flatMap((_, i) => [corner(i, low), corner(i, high)]);
  const middle = norm([0, 1, 2].map((k) => all.reduce((sum, v) => sum + v[k]!, 0)));
  const far = Math.max(...all.map((v) => Math.acos(clamp(dot3(v, middle), -1, 1))));
  const inside = at.z >= low && at.z <= high && contains(outline, at);
  return {
    id: volume.id,
    name: volume.name,
    level: volume.level,
    soft: (volume.softDeg * Math.PI) / 180,
    steep: volume.steepDeg === null ? 9 : (volume.steepDeg * Math.PI) / 180,
    turn: product(frame, rotationOf(head.rotation)),
    at: Float64Array.of(at.x, at.y, at.z),
    low,
    high,
    corners: Float64Array.from(outline.flatMap(({ x, y }) => [x, y])),
    middle: Float64Array.from(middle),
    // The cone that holds all corners holds all of it only while it is less than half of what there is to see.
    radius: far < 1.5 ? far : Math.PI,
    arcs: Float64Array.from(arcs),
    inside,
  };
}

const seenBy = new WeakMap<
  UnitRecord,
  { readonly axes: Axes; readonly of: readonly Volume[]; readonly seen: readonly Seen[] }
>();

/** Volumes as a head sees them, in their order; kept as long as head and volumes stay the same. */
export function seenOf(unit: UnitRecord, axes: Axes, volumes: readonly Volume[]): readonly Seen[] {
  const known = seenBy.get(unit);
  if (known && known.axes === axes && known.of.length === volumes.length && known.of.every((v, i) => v === volumes[i]))
    return known.seen;
  const seen = volumes.map((volume) => seenFrom(volume, axes.standing));
  seenBy.set(unit, { axes, of: volumes, seen });
  return seen;
}

/**
 * What each volume leaves of the level of a head that stands at these angles of its beam (degrees), 0-1. The beam is as wide
 * as its profile says, whatever its zoom does.
 */
export function leftOf(
  document: Document,
  unit: UnitRecord,
  axes: Axes,
  volumes: readonly Volume[],
  { pan, tilt }: { readonly pan: number; readonly tilt: number },
): { readonly name: string; readonly left: number }[] {
  const { beamDeg = USUAL_BEAM_DEG } = getRecord(document, 'profile', unit.profileId)?.physical ?? {};
  const { x, y, z } = ownDirection(axes.joint, pan, tilt);
  return seenOf(unit, axes, volumes).map((seen) => ({
    name: seen.name,
    left: leftBy(seen, x, y, z, (beamDeg * Math.PI) / 360),
  }));
}
