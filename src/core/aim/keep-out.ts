import { recordsOf, type Document } from '../document/change.ts';
import type { Id } from '../ids.ts';
import type { Place3 } from '../plot/paper.ts';
import { inOwn, product, rotationOf, transposed, type Rotation, type Standing } from '../plot/rotation.ts';
import { contains, type Corner } from '../polygon.ts';
import type { AreaRecord, ThingRecord } from '../records/index.ts';

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

/** A volume as a head sees it. Numbers for the frame: no objects are made while it is looked at. */
export interface Seen {
  readonly id: Id;
  readonly name: string;
  readonly level: number;
  readonly soft: number;
  /** Beams that come down steeper than this pass, radians; more than a right angle for none. */
  readonly steep: number;
  /** From the head's own frame to that of the volume, nine numbers by rows. */
  readonly turn: Rotation;
  /** The head in the frame of the volume. */
  readonly at: Float64Array;
  readonly low: number;
  readonly high: number;
  /** Corners of the outline, x and y. */
  readonly corners: Float64Array;
  /** The direction of its middle, and the cosine and the angle of the cone that holds all of it (radians). */
  readonly middle: Float64Array;
  readonly radius: number;
  /** Edges as arcs of the sphere: two ends and the normal, nine numbers each. */
  readonly arcs: Float64Array;
  /** The head stands in it. */
  readonly inside: boolean;
}

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
    const c = outline[((i % outline.length) + outline.length) % outline.length]!;
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
  const far = Math.max(...all.map((v) => Math.acos(Math.max(-1, Math.min(1, dot3(v, middle))))));
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

const dot3 = (a: ArrayLike<number>, b: ArrayLike<number>): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
const angleOf = (cosine: number): number => Math.acos(cosine > 1 ? 1 : cosine < -1 ? -1 : cosine);

/**
 * How far a direction of the head's own frame (length 1) is from a volume, radians: 0 where the ray meets it. Looks no
 * closer than `reach`: what is farther is said to be somewhere beyond it.
 */
export function gapTo(seen: Seen, x: number, y: number, z: number, reach: number): number {
  if (seen.inside) return 0;
  const { turn: r, middle } = seen;
  const dx = r[0]! * x + r[1]! * y + r[2]! * z;
  const dy = r[3]! * x + r[4]! * y + r[5]! * z;
  const dz = r[6]! * x + r[7]! * y + r[8]! * z;
  const off = angleOf(dx * middle[0]! + dy * middle[1]! + dz * middle[2]!) - seen.radius;
  if (off > reach) return off;
  if (meets(seen, dx, dy, dz)) return 0;
  let least = Math.PI;
  const { arcs } = seen;
  for (let i = 0; i < arcs.length; i += 9) {
    const away = toArc(arcs, i, dx, dy, dz);
    if (away < least) least = away;
  }
  return least;
}

/** The angle between a direction and an arc. */
function toArc(arcs: Float64Array, i: number, dx: number, dy: number, dz: number): number {
  const [ax, ay, az] = [arcs[i]!, arcs[i + 1]!, arcs[i + 2]!];
  const [bx, by, bz] = [arcs[i + 3]!, arcs[i + 4]!, arcs[i + 5]!];
  const [nx, ny, nz] = [arcs[i + 6]!, arcs[i + 7]!, arcs[i + 8]!];
  if (nx !== 0 || ny !== 0 || nz !== 0) {
    // Between its ends the nearest point lies straight across.
    const fromA = dx * (ny * az - nz * ay) + dy * (nz * ax - nx * az) + dz * (nx * ay - ny * ax);
    const fromB = dx * (by * nz - bz * ny) + dy * (bz * nx - bx * nz) + dz * (bx * ny - by * nx);
    if (fromA >= 0 && fromB >= 0) return Math.asin(Math.min(1, Math.abs(dx * nx + dy * ny + dz * nz)));
  }
  return Math.min(angleOf(dx * ax + dy * ay + dz * az), angleOf(dx * bx + dy * by + dz * bz));
}

/** True where a ray from the head meets the prism: while it is between its heights it is over the outline somewhere. */
function meets({ at, low, high, corners }: Seen, dx: number, dy: number, dz: number): boolean {
  let [from, to] = [0, 1e4];
  if (Math.abs(dz) < 1e-12) {
    if (at[2]! < low || at[2]! > high) return false;
  } else {
    const [a, b] = [(low - at[2]!) / dz, (high - at[2]!) / dz];
    from = Math.max(from, Math.min(a, b));
    to = Math.min(to, Math.max(a, b));
    if (from > to) return false;
  }
  const [x0, y0] = [at[0]! + dx * from, at[1]! + dy * from];
  const [x1, y1] = [at[0]! + dx * to, at[1]! + dy * to];
  return within(corners, x0, y0) || within(corners, x1, y1) || crosses(corners, x0, y0, x1, y1);
}

function within(corners: Float64Array, x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = corners.length - 2; i < corners.length; j = i, i += 2) {
    const [ax, ay, bx, by] = [corners[i]!, corners[i + 1]!, corners[j]!, corners[j + 1]!];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}

function crosses(corners: Float64Array, x0: number, y0: number, x1: number, y1: number): boolean {
  for (let i = 0, j = corners.length - 2; i < corners.length; j = i, i += 2) {
    const [ax, ay, bx, by] = [corners[j]!, corners[j + 1]!, corners[i]!, corners[i + 1]!];
    const side = (px: number, py: number, qx: number, qy: number, x: number, y: number): number =>
      (qx - px) * (y - py) - (qy - py) * (x - px);
    if (
      side(ax, ay, bx, by, x0, y0) * side(ax, ay, bx, by, x1, y1) <= 0 &&
      side(x0, y0, x1, y1, ax, ay) * side(x0, y0, x1, y1, bx, by) <= 0
    )
      return true;
  }
  return false;
}

const smooth = (t: number): number => (t <= 0 ? 0 : t >= 1 ? 1 : t * t * (3 - 2 * t));

/**
 * What a volume leaves of the level of a beam, 0-1: along a direction of the head's own frame (length 1), of so much half an
 * angle (radians). Without a step anywhere: it goes down over the edge, and up again where a beam is steep enough.
 */
export function leftBy(seen: Seen, x: number, y: number, z: number, half: number): number {
  const gap = gapTo(seen, x, y, z, half + seen.soft);
  const left = seen.level + (1 - seen.level) * smooth((gap - half) / seen.soft);
  if (left >= 1 || seen.steep > 2 || seen.inside) return left;
  const { turn: r } = seen;
  const down = Math.asin(Math.max(-1, Math.min(1, -(r[6]! * x + r[7]! * y + r[8]! * z))));
  return Math.max(left, smooth((down - half - seen.steep) / seen.soft));
}
