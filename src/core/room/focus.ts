import { recordsOf, type Document } from '../document/change.ts';
import { frontDirection } from '../plot/beam.ts';
import { tidyTurn, type Place3 } from '../plot/paper.ts';
import { roomOf } from '../plot/room-of.ts';
import { product, rotationOf, turnsOf, type Rotation } from '../plot/rotation.ts';
import { cross, lengthOf, minus, times } from '../plot/vector.ts';
import type { UnitRecord } from '../records/index.ts';
import type { FixtureKind } from '../records/profile.ts';
import { along, hitOf, type Face } from './box.ts';

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
  if (cos < -1 + 1e-9) return turnedBy(across(from), -1, 2, 0);
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

/** A direction at right angles to another. */
function across(way: Place3): Place3 {
  const side = cross(way, Math.abs(way.z) < 0.9 ? { x: 0, y: 0, z: 1 } : { x: 1, y: 0, z: 0 });
  return times(side, 1 / lengthOf(side));
}

/** A line of the focusing sheet: where a fixed lamp points, for the person on the ladder. */
export interface FocusLine {
  readonly unit: UnitRecord;
  /** Where its axis meets the room, and on which face; null where it meets nothing. */
  readonly target: Place3 | null;
  readonly on: Face | null;
  readonly distanceM: number | null;
  /** Degrees across, counter-clockwise from up-stage, and down from the level. */
  readonly panDeg: number;
  readonly tiltDeg: number;
  readonly beamDeg: number | null;
  readonly gel: string | null;
}

const round = (value: number, step: number): number => Math.round(value / step) * step + 0;

/** The focusing sheet of a show: every fixed lamp, by number. */
export function focusSheet(document: Document): FocusLine[] {
  const profiles = new Map(recordsOf(document, 'profile').map((p) => [p.id, p]));
  const room = roomOf(document);
  const lamps = recordsOf(document, 'unit').filter((unit) =>
    POINTED.has(profiles.get(unit.profileId)?.fixtureKind ?? 'other'),
  );
  return lamps
    .sort((a, b) => a.number - b.number)
    .map((unit) => {
      const way = frontDirection(unit);
      const hit = hitOf(room, unit.position, way);
      const met = hit.face !== null;
      const to = along(unit.position, way, hit.distanceM);
      return {
        unit,
        target: met ? { x: round(to.x, 0.01), y: round(to.y, 0.01), z: round(to.z, 0.01) } : null,
        on: hit.face,
        distanceM: met ? round(hit.distanceM, 0.01) : null,
        panDeg: round(Math.atan2(-way.x, way.y) * DEG, 0.1),
        tiltDeg: round(-Math.asin(Math.min(1, Math.max(-1, way.z))) * DEG, 0.1),
        beamDeg: profiles.get(unit.profileId)?.physical.beamDeg ?? null,
        gel: unit.gel,
      };
    });
}
