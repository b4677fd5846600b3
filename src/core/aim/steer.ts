import type { Rotation } from '../plot/rotation.ts';
import type { Joint } from '../plot/beam.ts';

/** Aiming while a frame is drawn: plain numbers, nothing is made. `solve.ts` has the same with reasons and reach. */
export interface Steering {
  readonly joint: Joint;
  /** From its own frame to the room, nine numbers by rows; where its beam begins, metres. */
  readonly rotation: Rotation;
  readonly x: number;
  readonly y: number;
  readonly z: number;
  /** Where its beam can go, degrees. */
  readonly panFrom: number;
  readonly panTo: number;
  readonly tiltFrom: number;
  readonly tiltTo: number;
  /** Degrees of the beam at the fraction f: f x range + zero; ranges are 0 for an axis that it has not. */
  readonly panRange: number;
  readonly panZero: number;
  readonly tiltRange: number;
  readonly tiltZero: number;
}

const DEG = 180 / Math.PI;
const RAD = Math.PI / 180;
/** Nearer than this to its axis any pan will do. */
const UPRIGHT = 1e-9;

/** Three numbers: a direction or a place. */
export type Triple = Float64Array;
/** Pan and tilt, degrees. */
export type Angles = Float64Array;

/** The direction of the beam in its own frame (`plot/beam.ts`). */
export function ownWay(joint: Joint, panDeg: number, tiltDeg: number, into: Triple): void {
  const [sp, cp] = [Math.sin(panDeg * RAD), Math.cos(panDeg * RAD)];
  const [st, ct] = [Math.sin(tiltDeg * RAD), Math.cos(tiltDeg * RAD)];
  if (joint === 'head') {
    into[0] = -sp * st;
    into[1] = cp * st;
    into[2] = ct;
  } else {
    into[0] = sp * ct;
    into[1] = st;
    into[2] = cp * ct;
  }
}

/** What is in its own frame, in the room (a direction). */
export function toRoom({ rotation: r }: Steering, own: Triple, into: Triple): void {
  const [x, y, z] = [own[0]!, own[1]!, own[2]!];
  into[0] = r[0]! * x + r[1]! * y + r[2]! * z;
  into[1] = r[3]! * x + r[4]! * y + r[5]! * z;
  into[2] = r[6]! * x + r[7]! * y + r[8]! * z;
}

/** A place of the room as seen from where its beam begins, in its own frame (not of length 1). */
export function fromRoom({ rotation: r, x, y, z }: Steering, place: Triple, into: Triple): void {
  const [a, b, c] = [place[0]! - x, place[1]! - y, place[2]! - z];
  into[0] = r[0]! * a + r[3]! * b + r[6]! * c;
  into[1] = r[1]! * a + r[4]! * b + r[7]! * c;
  into[2] = r[2]! * a + r[5]! * b + r[8]! * c;
}

/** An angle with full turns added so that it is nearest to another, and within a travel where it can be. */
function near(deg: number, to: number, from: number, end: number): number {
  let at = deg + 360 * Math.round((to - deg) / 360);
  if (at > end) at -= 360 * Math.ceil((at - end) / 360);
  else if (at < from) at += 360 * Math.ceil((from - at) / 360);
  return at < from ? from : at > end ? end : at;
}

const wrapped = (deg: number): number => deg - 360 * Math.round(deg / 360);

/**
 * Pan and tilt for a direction of its own frame (of any length), of both ways there the one nearer to where it stands; what
 * is beyond its travel stays at the end of it.
 */
export function steerTo(steering: Steering, way: Triple, nearPan: number, nearTilt: number, into: Angles): void {
  const { joint, panFrom, panTo, tiltFrom, tiltTo } = steering;
  const [x, y, z] = [way[0]!, way[1]!, way[2]!];
  const head = joint === 'head';
  const flat = head ? Math.hypot(x, y) : Math.hypot(x, z);
  const tilt = (head ? Math.atan2(flat, z) : Math.atan2(y, flat)) * DEG;
  const pan = flat < UPRIGHT ? nearPan : (head ? Math.atan2(-x, y) : Math.atan2(x, z)) * DEG;
  let best = Infinity;
  for (let other = 0; other < 2; other++) {
    const p = other === 1 ? pan + 180 : pan;
    const t = wrapped(other === 0 ? tilt : head ? -tilt : 180 - tilt);
    const [atPan, atTilt] = [near(p, nearPan, panFrom, panTo), near(t, nearTilt, tiltFrom, tiltTo)];
    // What an end of the travel takes away counts more than how far it is to turn.
    const missed = Math.abs(wrapped(atPan - p)) + Math.abs(wrapped(atTilt - t));
    const cost = missed * 1000 + Math.abs(atPan - nearPan) + Math.abs(atTilt - nearTilt);
    if (cost >= best) continue;
    best = cost;
    into[0] = atPan;
    into[1] = atTilt;
  }
}

/**
 * Pan and tilt on the straight line between two places of its own frame, `mix` of the way along. `fromPan` and `fromTilt` are
 * where it stands at the first, `toPan` at the second. False where it cannot be had without turning round: then it goes as
 * the head turns.
 */
export function onLine(
  { joint, panFrom, panTo }: Steering,
  from: Triple,
  to: Triple,
  mix: number,
  fromPan: number,
  fromTilt: number,
  toPan: number,
  toTilt: number,
  into: Angles,
): boolean {
  const head = joint === 'head';
  const flipped = head && fromTilt < 0;
  if (head && toTilt < 0 !== flipped) return false;
  const end = panAlong(head, from, to[0]!, to[1]!, to[2]!, fromPan);
  if (Math.abs(end - toPan) > 1) return false;
  const x = from[0]! + (to[0]! - from[0]!) * mix;
  const y = from[1]! + (to[1]! - from[1]!) * mix;
  const z = from[2]! + (to[2]! - from[2]!) * mix;
  const pan = panAlong(head, from, x, y, z, fromPan);
  if (pan < panFrom - 1e-6 || pan > panTo + 1e-6) return false;
  const tilt = (head ? Math.atan2(Math.hypot(x, y), z) : Math.atan2(y, Math.hypot(x, z))) * DEG;
  into[0] = pan;
  into[1] = flipped ? -tilt : tilt;
  return true;
}

/** Pan at a place, counted on from the pan at the first place without a full turn. */
function panAlong(head: boolean, from: Triple, x: number, y: number, z: number, pan: number): number {
  const at = head ? Math.atan2(-x, y) : Math.atan2(x, z);
  const was = head ? Math.atan2(-from[0]!, from[1]!) : Math.atan2(from[0]!, from[2]!);
  return pan + wrapped((at - was) * DEG);
}
