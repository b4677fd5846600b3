import { sameJson } from '../document/change.ts';
import type { Place3 } from '../plot/paper.ts';
import { applied, rotationOf, transposed, turnsOf, type Rotation } from '../plot/rotation.ts';
import { lengthOf, minus, times } from '../plot/vector.ts';
import { ownDirection, type Joint } from '../plot/beam.ts';
import type { UnitRecord } from '../records/index.ts';
import { AS_WIRED } from '../records/movement.ts';

/**
 * True-up: how a head really hangs, from where it had to stand to meet spots that are known. For each way its axes may be
 * wired (pan and tilt the other way round or not, swapped or not) the rotation that fits best is found by least squares
 * of directions (the greatest eigenvector of Davenport's 4 x 4 matrix), and with three spots and more an offset of tilt.
 */

/** Where a head stood when its beam met a spot: degrees of its pan and tilt channels from their middles. */
export interface Reading {
  readonly spot: Place3;
  readonly pan: number;
  readonly tilt: number;
  /**
   * Where its axes stood if the channels are swapped: a channel moves whichever axis it is wired to through the whole range
   * of that. Absent: the same degrees the other way round.
   */
  readonly swapped?: { readonly pan: number; readonly tilt: number };
}

export interface Wiring {
  readonly swap: boolean;
  readonly invertPan: boolean;
  readonly invertTilt: boolean;
}

export interface TrueUp extends Wiring {
  /** Turns of the unit about x, y and z, degrees, as records keep them. */
  readonly hanging: Place3;
  /** Degrees that pan and tilt stand off their middles when the beam is where the middle should be. */
  readonly panOffset: number;
  readonly tiltOffset: number;
  /** The largest angle that is left between the beam and a spot, and that of each spot. */
  readonly residualDeg: number;
  readonly residuals: readonly number[];
}

/** What came of it: the best case, the next one where it is nearly as good, and a spot that contradicts the others. */
export interface TrueUpFound {
  readonly best: TrueUp;
  readonly second: TrueUp | null;
  /** Which reading (from 0) spoils it: without it all others fit. */
  readonly contradicts: number | null;
}

const DEG = 180 / Math.PI;
const CASES: readonly Wiring[] = [false, true].flatMap((swap) =>
  [false, true].flatMap((invertPan) => [false, true].map((invertTilt) => ({ swap, invertPan, invertTilt }))),
);
/** Directions that are nearer to one another than this tell nothing together, degrees. */
export const APART_DEG = 3;
/** How far a tilt may stand off its middle, degrees. */
const MOST_OFFSET = 20;
/** A second case that leaves so much more (in all, degrees) is nearly as good. */
const NEARLY_DEG = 0.5;
/** A reading contradicts where the others, without it, leave less than this part of what is left with it. */
const SPOILS = 0.25;
/** A hanging that is nearer than this to the one that was noted is that one, and the rest is an offset of pan. */
const AS_NOTED_DEG = 4;

/** The axes' own angles for what stands on the channels: swapped first, then each the other way round. */
function axesOf({ swap, invertPan, invertTilt }: Wiring, reading: Reading): readonly [number, number] {
  const { pan, tilt, swapped } = reading;
  const [p, t] = swap ? [swapped?.pan ?? tilt, swapped?.tilt ?? pan] : [pan, tilt];
  return [invertPan ? -p : p, invertTilt ? -t : t];
}

const angleBetween = (a: Place3, b: Place3): number => 2 * Math.asin(Math.min(1, lengthOf(minus(a, b)) / 2)) * DEG;

/** The rotation that takes one list of directions to another as well as can be. */
export function bestRotation(own: readonly Place3[], room: readonly Place3[]): Rotation {
  const b = new Float64Array(9);
  own.forEach((o, i) => {
    const [p, q] = [
      [room[i]!.x, room[i]!.y, room[i]!.z],
      [o.x, o.y, o.z],
    ];
    for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) b[r * 3 + c] = b[r * 3 + c]! + p[r]! * q[c]!;
  });
  const trace = b[0]! + b[4]! + b[8]!;
  const z = [b[7]! - b[5]!, b[2]! - b[6]!, b[3]! - b[1]!];
  const k = [
    [trace, z[0]!, z[1]!, z[2]!],
    [z[0]!, 2 * b[0]! - trace, b[1]! + b[3]!, b[2]! + b[6]!],
    [z[1]!, b[1]! + b[3]!, 2 * b[4]! - trace, b[5]! + b[7]!],
    [z[2]!, b[2]! + b[6]!, b[5]! + b[7]!, 2 * b[8]! - trace],
  ];
  const [w, x, y, v] = greatestVector(k) as [number, number, number, number];
  return Float64Array.of(
    1 - 2 * (y * y + v * v),
    2 * (x * y - v * w),
    2 * (x * v + y * w),
    2 * (x * y + v * w),
    1 - 2 * (x * x + v * v),
    2 * (y * v - x * w),
    2 * (x * v - y * w),
    2 * (y * v + x * w),
    1 - 2 * (x * x + y * y),
  );
}

/** The eigenvector of a symmetric matrix that belongs to its greatest eigenvalue, by Jacobi's rotations. Length 1. */
function greatestVector(matrix: readonly (readonly number[])[]): number[] {
  const n = matrix.length;
  const a = matrix.map((row) => [...row]);
  const vectors: number[][] = a.map((_, i) => a.map((__, k) => (i === k ? 1 : 0)));
  for (let sweep = 0; sweep < 60; sweep++) {
    let off = 0;
    for (let p = 0; p < n; p++)
      for (let q = p + 1; q < n; q++) {
        const apq = a[p]![q]!;
        off += apq * apq;
        if (Math.abs(apq) < 1e-300) continue;
        const theta = (a[q]![q]! - a[p]![p]!) / (2 * apq);
        const t = (theta >= 0 ? 1 : -1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
        const c = 1 / Math.sqrt(t * t + 1);
        const s = t * c;
        for (let i = 0; i < n; i++) {
          const [ip, iq] = [a[i]![p]!, a[i]![q]!];
          a[i]![p] = c * ip - s * iq;
          a[i]![q] = s * ip + c * iq;
        }
        for (let i = 0; i < n; i++) {
          const [pi, qi] = [a[p]![i]!, a[q]![i]!];
          a[p]![i] = c * pi - s * qi;
          a[q]![i] = s * pi + c * qi;
          const [vp, vq] = [vectors[i]![p]!, vectors[i]![q]!];
          vectors[i]![p] = c * vp - s * vq;
          vectors[i]![q] = s * vp + c * vq;
        }
      }
    if (off < 1e-24) break;
  }
  let best = 0;
  for (let i = 1; i < n; i++) if (a[i]![i]! > a[best]![best]!) best = i;
  return vectors.map((row) => row[best]!);
}

interface Fit {
  readonly rotation: Rotation;
  readonly residuals: readonly number[];
  readonly sum: number;
}

function fitted(
  joint: Joint,
  wiring: Wiring,
  readings: readonly Reading[],
  room: readonly Place3[],
  tiltOffset: number,
): Fit {
  const own = readings.map((reading) => {
    const [pan, tilt] = axesOf(wiring, reading);
    return ownDirection(joint, pan, tilt - tiltOffset);
  });
  const rotation = bestRotation(own, room);
  const residuals = own.map((o, i) => angleBetween(applied(rotation, o), room[i]!));
  return { rotation, residuals, sum: residuals.reduce((sum, r) => sum + r * r, 0) };
}

/** The offset of tilt that leaves least: by a coarse look over all of them, then closer and closer. */
function bestOffset(joint: Joint, wiring: Wiring, readings: readonly Reading[], room: readonly Place3[]): number {
  const left = (offset: number): number => fitted(joint, wiring, readings, room, offset).sum;
  let [middle, step] = [0, 2];
  for (let at = -MOST_OFFSET; at <= MOST_OFFSET; at += step) if (left(at) < left(middle) - 1e-12) middle = at;
  for (; step > 1e-4; step /= 2)
    for (const at of [middle - step, middle + step]) if (left(at) < left(middle)) middle = at;
  return middle;
}

interface Noted {
  readonly position: Place3;
  /** As it was thought to hang: of cases that fit alike the one that is nearest to this. */
  readonly rotation: Place3;
}

function caseOf(
  joint: Joint,
  wiring: Wiring,
  readings: readonly Reading[],
  room: readonly Place3[],
  noted: Noted,
): TrueUp {
  const plain = fitted(joint, wiring, readings, room, 0);
  // Two spots say no more than how it hangs; a third tells whether tilt stands off.
  const offset = readings.length >= 3 ? bestOffset(joint, wiring, readings, room) : 0;
  const moved = offset === 0 ? plain : fitted(joint, wiring, readings, room, offset);
  const better = moved.sum < plain.sum * 0.5 && plain.sum > 1e-6;
  const { rotation, residuals } = better ? moved : plain;
  const { hanging, panOffset } = asNoted(rotation, noted.rotation);
  return {
    ...wiring,
    hanging,
    panOffset: wiring.invertPan ? -panOffset : panOffset,
    tiltOffset: (better ? offset : 0) * (wiring.invertTilt ? -1 : 1),
    residualDeg: Math.max(...residuals),
    residuals,
  };
}

/** A rotation as hanging; where it is the one that was noted but for a turn about its own axis, that is an offset of pan. */
function asNoted(rotation: Rotation, noted: Place3): { hanging: Place3; panOffset: number } {
  const back = transposed(rotationOf(noted));
  const axis = applied(back, applied(rotation, { x: 0, y: 0, z: 1 }));
  const lean = angleBetween(axis, { x: 0, y: 0, z: 1 });
  const front = applied(back, applied(rotation, { x: 0, y: 1, z: 0 }));
  const turn = Math.atan2(-front.x, front.y) * DEG;
  if (lean > AS_NOTED_DEG || Math.abs(turn) > MOST_OFFSET || (Math.abs(turn) < 0.05 && lean < 0.05))
    return { hanging: turnsOf(rotation, noted), panOffset: 0 };
  // What is left of the lean stays in the hanging.
  return lean < 0.5 ? { hanging: noted, panOffset: -turn } : { hanging: turnsOf(rotation, noted), panOffset: 0 };
}

/** How far a case is from what was noted: few changes of wiring, then a hanging that is near. */
function strange({ swap, invertPan, invertTilt, hanging }: TrueUp, noted: Place3): number {
  const [a, b] = [rotationOf(hanging), rotationOf(noted)];
  const trace = [0, 3, 6].reduce((sum, i) => sum + a[i]! * b[i]! + a[i + 1]! * b[i + 1]! + a[i + 2]! * b[i + 2]!, 0);
  const turned = Math.acos(Math.max(-1, Math.min(1, (trace - 1) / 2))) * DEG;
  return turned + 20 * (Number(swap) + Number(invertPan) + Number(invertTilt));
}

/** A reading from what was sent on the channels of pan and tilt, 0-1 each. */
export const readingAt = (
  spot: Place3,
  pan: number,
  tilt: number,
  { panDeg, tiltDeg }: { readonly panDeg: number; readonly tiltDeg: number },
): Reading => ({
  spot,
  pan: (pan - 0.5) * panDeg,
  tilt: (tilt - 0.5) * tiltDeg,
  swapped: { pan: (tilt - 0.5) * panDeg, tilt: (pan - 0.5) * tiltDeg },
});

/** A unit as it was found to hang and to be wired. Its limits stay. */
export function withTrueUp(unit: UnitRecord, found: TrueUp): UnitRecord {
  const { hanging, swap, invertPan, invertTilt, panOffset, tiltOffset } = found;
  const tidy = (deg: number): number => Math.round(deg * 1000) / 1000 + 0;
  const movement = {
    ...(unit.movement ?? AS_WIRED),
    swap,
    panOffsetDeg: tidy(invertPan ? -panOffset : panOffset),
    tiltOffsetDeg: tidy(invertTilt ? -tiltOffset : tiltOffset),
  };
  return {
    ...unit,
    rotation: { x: tidy(hanging.x), y: tidy(hanging.y), z: tidy(hanging.z) },
    invertPan,
    invertTilt,
    movement: sameJson(movement, AS_WIRED) ? null : movement,
  };
}

/** Why readings cannot be used: too few, spots at the head, or all of them in one direction. Null where they can. */
export function unusableReadings(position: Place3, readings: readonly Reading[]): string | null {
  if (readings.length < 2) return 'two spots are needed at least';
  const ways = readings.map(({ spot }) => minus(spot, position));
  const at = ways.findIndex((way) => !(lengthOf(way) > 0.01));
  if (at >= 0) return `spot ${at + 1} is at the head itself`;
  const [first, ...others] = ways.map((way) => times(way, 1 / lengthOf(way)));
  const spread = others.some((way) => {
    const deg = angleBetween(first!, way);
    return deg > APART_DEG && deg < 180 - APART_DEG;
  });
  return spread ? null : 'all spots lie in one line from the head';
}

/** Finds how a head hangs. The readings must be usable (`unusableReadings`). */
export function trueUp(joint: Joint, noted: Noted, readings: readonly Reading[]): TrueUpFound {
  const cases = ranked(joint, noted, readings);
  const [best, ...others] = cases as [TrueUp, ...TrueUp[]];
  // Tilt the other way round is the same as half a turn: a case counts as another only where its hanging or its
  // chirality is another.
  const second = others.find((other) => differs(best, other)) ?? null;
  const close = second !== null && second.residualDeg < best.residualDeg + NEARLY_DEG ? second : null;
  return { best, second: close, contradicts: contradicting(joint, noted, readings, best) };
}

function ranked(joint: Joint, noted: Noted, readings: readonly Reading[]): TrueUp[] {
  const room = readings.map(({ spot }) => {
    const way = minus(spot, noted.position);
    return times(way, 1 / lengthOf(way));
  });
  const found = CASES.map((wiring) => caseOf(joint, wiring, readings, room, noted));
  const least = Math.min(...found.map((one) => one.residualDeg));
  // Those that fit alike are told apart by what was noted.
  const key = (one: TrueUp): number =>
    (one.residualDeg < least + 0.05 ? 0 : one.residualDeg * 1000) + strange(one, noted.rotation) / 1000;
  return found.sort((a, b) => key(a) - key(b));
}

/** Two cases that would send the head elsewhere: for the same spot one of them needs other values. */
function differs(a: TrueUp, b: TrueUp): boolean {
  if (a.swap !== b.swap) return true;
  // Both axes the other way round, or none: the same handedness.
  return a.invertPan !== b.invertPan;
}

function contradicting(joint: Joint, noted: Noted, readings: readonly Reading[], best: TrueUp): number | null {
  if (readings.length < 4 || best.residualDeg < 0.5) return null;
  let found: { at: number; left: number } | null = null;
  for (let at = 0; at < readings.length; at++) {
    const rest = readings.filter((_, i) => i !== at);
    if (unusableReadings(noted.position, rest)) continue;
    const left = ranked(joint, noted, rest)[0]!.residualDeg;
    if (!found || left < found.left) found = { at, left };
  }
  return found && found.left < best.residualDeg * SPOILS ? found.at : null;
}
