import { recordsOf, type Document } from '../document/change.ts';
import { frontDirection } from '../plot/beam.ts';
import { tidyTurn, type Place3 } from '../plot/paper.ts';
import { product, rotationOf, turnsOf, type Rotation } from '../plot/rotation.ts';
import { acrossOf, cross, lengthOf, minus, times } from '../plot/vector.ts';
import type { ProfileRecord, UnitRecord } from '../records/index.ts';
import type { FixtureKind } from '../records/profile.ts';
import { AS_IT_COMES, type Blade, type UnitFocus } from '../records/unit.ts';
import { spotOf } from './spot.ts';

/** Kinds that are pointed once, on the ladder: their light goes along their front. */
export const POINTED: ReadonlySet<FixtureKind> = new Set(['par', 'bar', 'strobe', 'blinder', 'uv', 'dimmer', 'lamp']);

const DEG = 180 / Math.PI;
/** Nearer than this a place has no direction, metres. */
const NEAREST_M = 0.001;

/**
 * A unit's turns when its front points at a place. One that stands or hangs upright stays so: it is leant and then turned
 * about the upright. Any other is turned the shortest way. The turns it has where the place is its own.
 */
export function pointedAt(unit: Pick<UnitRecord, 'position' | 'rotation'>, target: Place3): Place3 {
  const apart = minus(target, unit.position);
  const far = lengthOf(apart);
  if (far < NEAREST_M) return unit.rotation;
  const way = times(apart, 1 / far);
  const roll = Math.abs(tidyTurn(unit.rotation.y));
  if (roll === 0 || roll === 180) {
    const lean = Math.asin(way.z) * DEG;
    const turn = Math.hypot(way.x, way.y) < 1e-9 ? unit.rotation.z : Math.atan2(-way.x, way.y) * DEG;
    return { x: tidyTurn(roll === 180 ? -lean : lean), y: unit.rotation.y, z: tidyTurn(turn) };
  }
  return turnsOf(product(shortest(frontDirection(unit), way), rotationOf(unit.rotation)), unit.rotation);
}

/** The rotation that takes one direction to another the shortest way (both of length 1). */
function shortest(from: Place3, to: Place3): Rotation {
  const cos = from.x * to.x + from.y * to.y + from.z * to.z;
  // Half a turn has no shortest way: about any axis across the direction.
  if (cos < -1 + 1e-9) return turnedBy(acrossOf(from), -1, 2, 0);
  return turnedBy(cross(from, to), cos, 1 / (1 + cos), 1);
}

/** The rotation `cos I + k aa' + s [a]x` about an axis `a`. */
const turnedBy = ({ x, y, z }: Place3, cos: number, k: number, s: number): Rotation =>
  Float64Array.of(
    cos + k * x * x,
    k * x * y - s * z,
    k * x * z + s * y,
    k * x * y + s * z,
    cos + k * y * y,
    k * y * z - s * x,
    k * x * z - s * y,
    k * y * z + s * x,
    cos + k * z * z,
  );

/** Least and most a lamp's beam angle can be set to, degrees; null where it cannot be set. */
export function beamRange({ physical }: Pick<ProfileRecord, 'physical'>): readonly [number, number] | null {
  const { beamFromDeg, beamToDeg } = physical;
  return beamFromDeg !== undefined && beamToDeg !== undefined && beamFromDeg < beamToDeg
    ? [beamFromDeg, beamToDeg]
    : null;
}

/** A lamp with other settings of its focus; none are kept where all of them are as it comes. */
export function withFocus(unit: UnitRecord, part: Partial<UnitFocus>): UnitRecord {
  const focus = { ...(unit.focus ?? AS_IT_COMES), ...part };
  const out = focus.shutters?.every((blade) => blade.in === 0 && blade.deg === 0) ?? true;
  const plain = focus.beamDeg === null && focus.edge === null && out && focus.gelName === '';
  return { ...unit, focus: plain ? null : { ...focus, shutters: out ? null : focus.shutters } };
}

/** A line of the focusing sheet: where a fixed lamp points and how it is set, for the person on the ladder. */
export interface FocusLine {
  readonly unit: UnitRecord;
  /** Where its axis meets something, and what that is (a face of the room, or the name of a thing); null for nothing. */
  readonly target: Place3 | null;
  readonly on: string | null;
  readonly distanceM: number | null;
  /** Degrees across, counter-clockwise from up-stage, and down from the level. */
  readonly panDeg: number;
  readonly tiltDeg: number;
  readonly beamDeg: number | null;
  /** How wide its light is there, across its axis, metres. */
  readonly poolM: number | null;
  /** Where in its range its lens stands, 0-1: sharp in the middle. */
  readonly edge: number | null;
  readonly shutters: readonly Blade[] | null;
  readonly gel: string | null;
  readonly gelName: string;
}

const round = (value: number, step: number): number => Number((Math.round(value / step) * step + 0).toFixed(3));

/** The focusing sheet of a show: every fixed lamp, by number. */
export function focusSheet(document: Document): FocusLine[] {
  const profiles = new Map(recordsOf(document, 'profile').map((p) => [p.id, p]));
  const lamps = recordsOf(document, 'unit').filter((unit) =>
    POINTED.has(profiles.get(unit.profileId)?.fixtureKind ?? 'other'),
  );
  return lamps
    .sort((a, b) => a.number - b.number)
    .map((unit) => {
      const way = frontDirection(unit);
      const spot = spotOf(document, unit.position, way);
      const focus = unit.focus ?? AS_IT_COMES;
      const beamDeg = focus.beamDeg ?? profiles.get(unit.profileId)?.physical.beamDeg ?? null;
      const { x, y, z } = spot?.place ?? unit.position;
      return {
        unit,
        target: spot ? { x: round(x, 0.01), y: round(y, 0.01), z: round(z, 0.01) } : null,
        on: spot ? (typeof spot.on === 'string' ? spot.on : spot.on.name) : null,
        distanceM: spot ? round(spot.distanceM, 0.01) : null,
        panDeg: round(Math.atan2(-way.x, way.y) * DEG, 0.1),
        tiltDeg: round(-Math.asin(Math.min(1, Math.max(-1, way.z))) * DEG, 0.1),
        beamDeg,
        poolM: spot && beamDeg !== null ? round(2 * spot.distanceM * Math.tan(beamDeg / 2 / DEG), 0.01) : null,
        edge: focus.edge,
        shutters: focus.shutters,
        gel: unit.gel,
        gelName: focus.gelName,
      };
    });
}
