import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import { layoutOfUnit } from '../patch/of-document.ts';
import { jointOf, USUAL_PAN_DEG, USUAL_TILT_DEG } from '../plot/beam.ts';
import { unitSize } from '../plot/dots.ts';
import { inRoom, rotationOf, type Standing } from '../plot/rotation.ts';
import type { ProfileRecord, UnitRecord } from '../records/index.ts';
import { AS_WIRED, type Movement } from '../records/movement.ts';
import { clamp } from '../units.ts';
import type { Movable, Solved, Travel } from './solve.ts';
import type { Steering } from './steer.ts';

/** The largest value of an axis as 16 bit. */
export const FULL_16 = 65_535;

/** One axis as it is programmed: its whole range in degrees, and where it stands for the beam to be in the middle. */
export interface AxisRange {
  readonly rangeDeg: number;
  readonly offsetDeg: number;
}

/** What a unit's axes can do: `pan` and `tilt` are where its beam can go, within its limits. */
export interface Axes extends Movable {
  /** null for an axis that it has not. */
  readonly panRange: AxisRange | null;
  readonly tiltRange: AxisRange | null;
  /** Where its beam begins, and how it is turned. */
  readonly standing: Standing;
}

const kept = new WeakMap<UnitRecord, { readonly profile: ProfileRecord | undefined; readonly axes: Axes | null }>();

/** What the axes of a unit can do, by its profile and its limits; null for what has neither pan nor tilt in its mode. */
export function axesOf(document: Document, unit: UnitRecord): Axes | null {
  const profile = getRecord(document, 'profile', unit.profileId);
  const known = kept.get(unit);
  if (known && known.profile === profile) return known.axes;
  const axes = makeAxes(document, unit, profile);
  kept.set(unit, { profile, axes });
  return axes;
}

function makeAxes(document: Document, unit: UnitRecord, profile: ProfileRecord | undefined): Axes | null {
  const attributes = new Set(layoutOfUnit(document, unit).channels.map(({ channel }) => channel.attribute));
  const [pans, tilts] = [attributes.has('Pan'), attributes.has('Tilt')];
  if (!pans && !tilts) return null;
  const { panDeg = USUAL_PAN_DEG, tiltDeg = USUAL_TILT_DEG } = profile?.physical ?? {};
  const movement = unit.movement ?? AS_WIRED;
  const joint = jointOf(profile);
  const depthM = joint === 'mirror' && profile ? unitSize(profile).depthM : 0;
  return {
    joint,
    pan: pans ? travelOf(panDeg, movement.panOffsetDeg, movement.pan) : [0, 0],
    tilt: tilts ? travelOf(tiltDeg, movement.tiltOffsetDeg, movement.tilt) : [0, 0],
    panRange: pans ? { rangeDeg: panDeg, offsetDeg: movement.panOffsetDeg } : null,
    tiltRange: tilts ? { rangeDeg: tiltDeg, offsetDeg: movement.tiltOffsetDeg } : null,
    // A mirror stands in front of the case.
    standing: { position: inRoom(unit, { x: 0, y: depthM / 2, z: 0 }), rotation: unit.rotation },
  };
}

/** Where the beam can go on an axis. A limit that lies outside of the range leaves the nearest end of it. */
function travelOf(rangeDeg: number, offsetDeg: number, limit: Movement['pan']): Travel {
  const half = rangeDeg / 2;
  const from = clamp(limit?.fromDeg ?? -half, -half, half);
  const to = clamp(limit?.toDeg ?? half, -half, half);
  return [from - offsetDeg, to - offsetDeg];
}

/** Fraction 0-1 of the range at which the beam stands at an angle. */
export const fractionAt = (deg: number, { rangeDeg, offsetDeg }: AxisRange): number =>
  clamp((deg + offsetDeg) / rangeDeg + 0.5, 0, 1);
/** The angle of the beam at a fraction of the range. */
export const angleAt = (fraction: number, { rangeDeg, offsetDeg }: AxisRange): number =>
  (fraction - 0.5) * rangeDeg - offsetDeg;

/** The same as plain numbers, for aiming while a frame is drawn. */
export const steeringOf = ({ joint, pan, tilt, panRange, tiltRange, standing }: Axes): Steering => ({
  joint,
  rotation: rotationOf(standing.rotation),
  ...standing.position,
  panFrom: pan[0],
  panTo: pan[1],
  tiltFrom: tilt[0],
  tiltTo: tilt[1],
  panRange: panRange?.rangeDeg ?? 0,
  panZero: panRange ? angleAt(0, panRange) : 0,
  tiltRange: tiltRange?.rangeDeg ?? 0,
  tiltZero: tiltRange ? angleAt(0, tiltRange) : 0,
});

/** What is programmed for it: pan and tilt 0-1 of their ranges, of the axes that it has. */
export function aimValues({ panRange, tiltRange }: Axes, solved: Pick<Solved, 'pan' | 'tilt'>): Record<string, number> {
  const at = (deg: number, range: AxisRange): number => Math.round(fractionAt(deg, range) * 1e6) / 1e6;
  return {
    ...(panRange ? { Pan: at(solved.pan, panRange) } : {}),
    ...(tiltRange ? { Tilt: at(solved.tilt, tiltRange) } : {}),
  };
}

/** What is sent for it on each channel, 16 bit (0-65535); null for a channel that it has not. */
export function sentFor(
  { panRange, tiltRange }: Axes,
  { invertPan, invertTilt, movement }: Pick<UnitRecord, 'invertPan' | 'invertTilt' | 'movement'>,
  solved: Pick<Solved, 'pan' | 'tilt'>,
): { readonly panDmx: number | null; readonly tiltDmx: number | null } {
  const sent = (deg: number, range: AxisRange | null, inverted: boolean): number | null => {
    if (!range) return null;
    const fraction = fractionAt(deg, range);
    return Math.round((inverted ? 1 - fraction : fraction) * FULL_16);
  };
  const [pan, tilt] = [sent(solved.pan, panRange, invertPan), sent(solved.tilt, tiltRange, invertTilt)];
  return movement?.swap ? { panDmx: tilt, tiltDmx: pan } : { panDmx: pan, tiltDmx: tilt };
}

const heads = new WeakMap<Document, readonly UnitRecord[]>();
/** Units that can move their beams, in the order of the document; worked out once for a document. */
export function headsOf(document: Document): readonly UnitRecord[] {
  let found = heads.get(document);
  if (!found) heads.set(document, (found = recordsOf(document, 'unit').filter((u) => axesOf(document, u) !== null)));
  return found;
}

/** Of these, those that can move their beams. */
export const areHeads = (document: Document, ids: readonly string[]): UnitRecord[] =>
  ids.flatMap((id) => {
    const unit = getRecord(document, 'unit', id as UnitId);
    return unit && axesOf(document, unit) ? [unit] : [];
  });
