import { leftBy } from '../../aim/seen.ts';
import { ownWay } from '../../aim/steer.ts';
import type { UnitId } from '../../ids.ts';
import type { Mover, MovingAxis } from '../rig/movers.ts';

/**
 * The limits of movement, and what beams keep out of: they hold for everything that is sent, whoever says it. Limits of
 * angle and keep-outs are functions of what is sent; how fast a head may turn remembers where it was (`Motion`), as the
 * flash guard remembers what it saw: it belongs to whoever draws frames in a row.
 */

/** Where each mover was sent last, fractions of pan and tilt, NaN for nowhere yet; and when. */
export interface Motion {
  readonly pan: Float64Array;
  readonly tilt: Float64Array;
  /** Where it is sent in the frame that is being made. */
  readonly panNow: Float64Array;
  readonly tiltNow: Float64Array;
  /** What is left of the level of each mover by what it keeps out of, in the last frame. */
  readonly left: Float64Array;
  at: number;
}

export const makeMotion = (movers: readonly Mover[]): Motion => ({
  pan: new Float64Array(movers.length).fill(NaN),
  tilt: new Float64Array(movers.length).fill(NaN),
  panNow: new Float64Array(movers.length).fill(NaN),
  tiltNow: new Float64Array(movers.length).fill(NaN),
  left: new Float64Array(movers.length).fill(1),
  at: NaN,
});

/** What was known of heads of another rig, for those that are in this one too. */
export function carryMotion(
  before: { readonly movers: readonly Mover[]; readonly motion: Motion },
  movers: readonly Mover[],
): Motion {
  const motion = makeMotion(movers);
  const known = new Map<UnitId, number>(before.movers.map(({ unitId }, i) => [unitId, i]));
  movers.forEach(({ unitId }, i) => {
    const was = known.get(unitId);
    if (was === undefined) return;
    motion.pan[i] = before.motion.pan[was]!;
    motion.tilt[i] = before.motion.tilt[was]!;
  });
  motion.at = before.motion.at;
  return motion;
}

/** A frame so much after the last is none in a row: whoever draws single moments is not held. */
const ROW_MS = 1000;

/** How far a mover may turn since the last frame, degrees; 0 for as far as it likes. */
function reachOf({ fastestDegS }: Mover, motion: Motion, nowMs: number): number {
  const passed = nowMs - motion.at;
  return fastestDegS > 0 && passed >= 0 && passed <= ROW_MS ? (fastestDegS * passed) / 1000 : 0;
}

/** Holds pan and tilt within their limits and levels out of what beams keep out of. Allocates nothing. */
export function holdMovement(movers: readonly Mover[], current: Float32Array, motion: Motion, nowMs: number): void {
  for (let i = 0; i < movers.length; i++) {
    const mover = movers[i]!;
    const { pan, tilt } = mover;
    const most = reachOf(mover, motion, nowMs);
    const p = held(pan, pan.slot < 0 ? 0.5 : current[pan.slot]!, motion.pan[i]!, most);
    const t = held(tilt, tilt.slot < 0 ? 0.5 : current[tilt.slot]!, motion.tilt[i]!, most);
    motion.panNow[i] = p;
    motion.tiltNow[i] = t;
    if (pan.slot >= 0) current[pan.slot] = p;
    if (tilt.slot >= 0) current[tilt.slot] = t;
    if (mover.seen.length === 0) continue;
    const left = leftFor(mover, p, t, halfAngle(mover, current));
    motion.left[i] = left;
    if (left < 1) lower(mover, current, left);
  }
}

/** The frame is made: where its heads were sent is remembered. */
export function endMotion(motion: Motion, nowMs: number): void {
  motion.pan.set(motion.panNow);
  motion.tilt.set(motion.tiltNow);
  motion.at = nowMs;
}

function held(axis: MovingAxis, wanted: number, was: number, mostDeg: number): number {
  const within = wanted < axis.low ? axis.low : wanted > axis.high ? axis.high : wanted;
  if (mostDeg <= 0 || !(was >= 0)) return within;
  const most = mostDeg / axis.rangeDeg;
  return within > was + most ? was + most : within < was - most ? was - most : within;
}

const halfAngle = ({ width }: Mover, current: Float32Array): number =>
  width.slot < 0 ? width.half : width.half + width.step * current[width.slot]!;

const way = new Float64Array(3);

/** What all that it keeps out of leaves of the level of a mover that stands at these fractions. */
export function leftFor({ joint, pan, tilt, seen }: Mover, panAt: number, tiltAt: number, half: number): number {
  const panDeg = pan.slot < 0 ? 0 : panAt * pan.rangeDeg + pan.zeroDeg;
  const tiltDeg = tilt.slot < 0 ? 0 : tiltAt * tilt.rangeDeg + tilt.zeroDeg;
  ownWay(joint, panDeg, tiltDeg, way);
  let left = 1;
  for (let i = 0; i < seen.length && left > 0; i++) left *= leftBy(seen[i]!, way[0]!, way[1]!, way[2]!, half);
  return left;
}

/** What holds a mover back where it stands now, each with what it leaves of the level. Not for frames: it makes lists. */
export const heldBy = (
  mover: Mover,
  panAt: number,
  tiltAt: number,
  current: Float32Array,
): { readonly name: string; readonly left: number }[] =>
  mover.seen.flatMap((seen) => {
    const left = leftFor({ ...mover, seen: [seen] }, panAt, tiltAt, halfAngle(mover, current));
    return left < 0.999 ? [{ name: seen.name, left }] : [];
  });

function lower({ levels, shutters, shutAt }: Mover, current: Float32Array, left: number): void {
  for (let i = 0; i < levels.length; i++) current[levels[i]!] = current[levels[i]!]! * left;
  // Without a level there is only open and shut.
  if (left < 0.5) for (let i = 0; i < shutters.length; i++) current[shutters[i]!] = shutAt[i]!;
}

/**
 * The same for what was laid raw over a frame: bytes of pan and tilt that are not those that were written are held within
 * the limits, and a level is capped by where the head really goes. Only where something raw is laid.
 */
export function holdRaw(
  movers: readonly Mover[],
  current: Float32Array,
  motion: Motion,
  bytes: Uint8Array,
  nowMs: number,
): void {
  for (let i = 0; i < movers.length; i++) {
    const mover = movers[i]!;
    const most = reachOf(mover, motion, nowMs);
    const p = axisHeld(mover.pan, motion.pan[i]!, motion.panNow[i]!, most, bytes);
    const t = axisHeld(mover.tilt, motion.tilt[i]!, motion.tiltNow[i]!, most, bytes);
    motion.panNow[i] = p;
    motion.tiltNow[i] = t;
    if (mover.seen.length === 0) continue;
    const left = leftFor(mover, p, t, halfAngle(mover, current));
    motion.left[i] = left;
    if (left >= 1) continue;
    const cap = (left * 255) | 0;
    for (let k = 0; k < mover.levelBytes.length; k++) {
      const at = mover.levelBytes[k]!;
      if (bytes[at]! > cap) bytes[at] = cap;
    }
  }
}

/** Where an axis stands by its bytes; they are put right where they are beyond its limits or too far from where it was. */
function axisHeld(axis: MovingAxis, was: number, now: number, most: number, bytes: Uint8Array): number {
  const { coarse, fine, flip } = axis;
  if (coarse < 0) return now;
  const wide = fine >= 0;
  const raw = wide ? (bytes[coarse]! << 8) | bytes[fine]! : bytes[coarse]!;
  const full = wide ? 0xffff : 0xff;
  const at = flip ? 1 - raw / full : raw / full;
  const within = held(axis, at, was, most);
  // One step of a byte is rounding.
  if (Math.abs(within - at) <= 1 / full) return at;
  const put = ((flip ? 1 - within : within) * full + 0.5) | 0;
  bytes[coarse] = wide ? put >> 8 : put;
  if (wide) bytes[fine] = put & 0xff;
  return within;
}
