import type { ProfileRecord, UnitRecord } from '../records/index.ts';
import { unpackPlaces } from './places.ts';

/** Plan coordinates in metres: x stage left, y up-stage (right-handed with z up). */
export interface Point {
  readonly x: number;
  readonly y: number;
}

export interface Size {
  readonly widthM: number;
  readonly depthM: number;
}

const DEFAULT_M = 0.3;
const LEAST_M = 0.08;

/** Size of a unit on the plan from its profile's measures. */
export function planSize(profile: ProfileRecord | undefined): Size {
  const { widthMm, depthMm } = profile?.physical ?? {};
  return {
    widthM: Math.max(LEAST_M, (widthMm ?? DEFAULT_M * 1000) / 1000),
    depthM: Math.max(LEAST_M, (depthMm ?? DEFAULT_M * 1000) / 1000),
  };
}

/** A point turned about the origin by degrees, counter-clockwise seen from above. */
export function turned(point: Point, deg: number): Point {
  const a = (deg * Math.PI) / 180;
  return { x: point.x * Math.cos(a) - point.y * Math.sin(a), y: point.x * Math.sin(a) + point.y * Math.cos(a) };
}

const unpacked = new WeakMap<UnitRecord, Float32Array>();

/** Own places of a unit's cells, kept for as long as the record; null where they stand in a row. */
function ownPlaces(unit: UnitRecord): Float32Array | null {
  if (unit.cellPlaces === null) return null;
  let places = unpacked.get(unit);
  if (!places) unpacked.set(unit, (places = unpackPlaces(unit.cellPlaces)));
  return places;
}

/**
 * Middles of `count` cells in metres on the plan: at their own places where the unit has them, else in a row along its
 * width.
 */
export function cellPoints(unit: UnitRecord, size: Size, count: number): Point[] {
  const places = ownPlaces(unit);
  if (places && places.length >= count * 3)
    return Array.from({ length: count }, (_, i) => {
      const offset = turned({ x: places[i * 3]!, y: places[i * 3 + 1]! }, unit.rotation.z);
      return { x: unit.position.x + offset.x, y: unit.position.y + offset.y };
    });
  return Array.from({ length: count }, (_, i) => {
    const along = ((i + 0.5) / count - 0.5) * size.widthM;
    const offset = turned({ x: along, y: 0 }, unit.rotation.z);
    return { x: unit.position.x + offset.x, y: unit.position.y + offset.y };
  });
}

/** True when a plan point lies on a unit, with `marginM` around it. */
export function hits(unit: UnitRecord, size: Size, point: Point, marginM: number): boolean {
  const local = turned({ x: point.x - unit.position.x, y: point.y - unit.position.y }, -unit.rotation.z);
  return Math.abs(local.x) <= size.widthM / 2 + marginM && Math.abs(local.y) <= size.depthM / 2 + marginM;
}

/** Smallest and largest coordinates of points; null for none. */
export function bounds(points: readonly Point[]): { readonly min: Point; readonly max: Point } | null {
  if (points.length === 0) return null;
  let [x1, y1, x2, y2] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { x, y } of points) {
    x1 = Math.min(x1, x);
    y1 = Math.min(y1, y);
    x2 = Math.max(x2, x);
    y2 = Math.max(y2, y);
  }
  return { min: { x: x1, y: y1 }, max: { x: x2, y: y2 } };
}

/**
 * Where a moving head's beam goes on the plan: direction in degrees from x, and how flat it lies (0 straight along
 * the unit's axis, 1 level with the floor). Pan and tilt are fractions 0-1 of the ranges given in degrees.
 */
export function beamOnPlan(
  pan: number,
  tilt: number,
  panDeg: number,
  tiltDeg: number,
  turnDeg: number,
): { directionDeg: number; flatness: number } {
  const tiltAngle = (tilt - 0.5) * tiltDeg;
  const panAngle = (pan - 0.5) * panDeg;
  const direction = 90 + turnDeg + panAngle + (tiltAngle < 0 ? 180 : 0);
  return { directionDeg: direction, flatness: Math.abs(Math.sin((tiltAngle * Math.PI) / 180)) };
}
