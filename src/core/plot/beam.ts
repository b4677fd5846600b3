import { type Place3 } from './paper.ts';
import { inRoom } from './rotation.ts';
import type { ProfileRecord, UnitRecord } from '../records/index.ts';

/** How far a beam is drawn that meets no floor, and at the most, metres. */
const FREE_M = 5;
const MOST_M = 14;

/** How a unit that aims moves its beam: by its head, or by a mirror in front of its case. */
export type Joint = 'head' | 'mirror';
export const jointOf = (profile: ProfileRecord | undefined): Joint =>
  profile?.fixtureKind === 'scanner' ? 'mirror' : 'head';
/** Ranges of one whose profile says none, degrees. */
export const [USUAL_PAN_DEG, USUAL_TILT_DEG] = [540, 270] as const;
/** Full beam angle of a head whose profile says none. */
export const USUAL_BEAM_DEG = 15;

/** The direction of the beam in the unit's own frame, length 1. Pan and tilt in degrees from the middle. */
export function ownDirection(joint: Joint, panDeg: number, tiltDeg: number): Place3 {
  const [p, t] = [(panDeg * Math.PI) / 180, (tiltDeg * Math.PI) / 180];
  return joint === 'head'
    ? { x: -Math.sin(p) * Math.sin(t), y: Math.cos(p) * Math.sin(t), z: Math.cos(t) }
    : { x: Math.sin(p) * Math.cos(t), y: Math.sin(t), z: Math.cos(p) * Math.cos(t) };
}

/**
 * Direction of the beam of a moving head as a unit vector in the room. Pan and tilt are fractions 0-1 of their ranges
 * in degrees; in the middle of both it goes along the unit's own axis (up for one that stands). Tilted up from there it
 * leans to the unit's front, panned up it turns counter-clockwise about the axis.
 */
export function headDirection(
  unit: Pick<UnitRecord, 'rotation'>,
  pan: number,
  tilt: number,
  panDeg: number,
  tiltDeg: number,
): Place3 {
  return directed('head', unit, pan, tilt, panDeg, tiltDeg);
}

/**
 * Direction of the beam of a mirror scanner. Its light leaves the case along the front and meets a mirror, which in the
 * middle of both ranges sends it along the unit's own axis. Pan turns the mirror about the front, and the beam as far;
 * tilt leans it, and the beam twice as far: both ranges are those of the beam, as profiles give them. Panned up it turns
 * right-handed about the front, tilted up it leans to the front.
 */
export function mirrorDirection(
  unit: Pick<UnitRecord, 'rotation'>,
  pan: number,
  tilt: number,
  panDeg: number,
  tiltDeg: number,
): Place3 {
  return directed('mirror', unit, pan, tilt, panDeg, tiltDeg);
}

/** The same for either. */
export const directed = (
  joint: Joint,
  { rotation }: Pick<UnitRecord, 'rotation'>,
  pan: number,
  tilt: number,
  panDeg: number,
  tiltDeg: number,
): Place3 => inRoom({ position: ORIGIN, rotation }, ownDirection(joint, (pan - 0.5) * panDeg, (tilt - 0.5) * tiltDeg));

/** Direction in which a fixture without pan and tilt shines: to its front. */
export const frontDirection = (unit: Pick<UnitRecord, 'rotation'>): Place3 =>
  inRoom({ position: ORIGIN, rotation: unit.rotation }, { x: 0, y: 1, z: 0 });

const ORIGIN: Place3 = { x: 0, y: 0, z: 0 };

/** Where a beam from a place ends: on the floor (z 0) where it meets it, else after a few metres. */
export function beamEnd(from: Place3, direction: Place3): Place3 {
  const toFloor = direction.z < -1e-6 ? -from.z / direction.z : Infinity;
  const length = toFloor > 0 && toFloor < Infinity ? Math.min(MOST_M, toFloor) : FREE_M;
  return {
    x: from.x + direction.x * length,
    y: from.y + direction.y * length,
    z: from.z + direction.z * length,
  };
}
