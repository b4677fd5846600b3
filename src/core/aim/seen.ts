import type { Id } from '../ids.ts';
import type { Rotation } from '../plot/rotation.ts';
import { clamp, clamp01, ease } from '../units.ts';

/** What beams keep out of as it is looked at in every frame: plain numbers, nothing is made. */

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

const angleOf = (cosine: number): number => Math.acos(clamp(cosine, -1, 1));

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

const smooth = (t: number): number => ease(clamp01(t));

/**
 * What a volume leaves of the level of a beam, 0-1: along a direction of the head's own frame (length 1), of so much half an
 * angle (radians). Without a step anywhere: it goes down over the edge, and up again where a beam is steep enough.
 */
export function leftBy(seen: Seen, x: number, y: number, z: number, half: number): number {
  const gap = gapTo(seen, x, y, z, half + seen.soft);
  const left = seen.level + (1 - seen.level) * smooth((gap - half) / seen.soft);
  if (left >= 1 || seen.steep > 2 || seen.inside) return left;
  const { turn: r } = seen;
  const down = Math.asin(clamp(-(r[6]! * x + r[7]! * y + r[8]! * z), -1, 1));
  return Math.max(left, smooth((down - half - seen.steep) / seen.soft));
}
