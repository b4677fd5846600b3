import { angleAt, axesOf, fractionAt, type Axes, type AxisRange } from '../../aim/axes.ts';
import { seenOf, volumesOf, type Volume } from '../../aim/keep-out.ts';
import type { Seen } from '../../aim/seen.ts';
import { getRecord, type Document } from '../../document/change.ts';
import type { UnitId } from '../../ids.ts';
import { USUAL_BEAM_DEG, type Joint } from '../../plot/beam.ts';
import { valueToFraction } from '../../profile/layout.ts';
import type { UnitRecord } from '../../records/index.ts';
import type { Channel } from '../../records/profile.ts';
import { byteAt, type AttributeSlot } from './piece.ts';
import type { Placed } from './rig.ts';

/** One axis of a mover: its attribute slot (-1 for none), and where it is written. */
export interface MovingAxis {
  readonly slot: number;
  /** Degrees of the beam at the fraction f: f x range + zero. */
  readonly rangeDeg: number;
  readonly zeroDeg: number;
  /** Fractions it stays within. */
  readonly low: number;
  readonly high: number;
  /** Bytes it is written to, coarse first; -1 for none. */
  readonly coarse: number;
  readonly fine: number;
  readonly flip: boolean;
}

/** Half the angle of a beam (radians) as a straight line of its zoom: `half + step x fraction`. */
export interface BeamWidth {
  readonly slot: number;
  readonly half: number;
  readonly step: number;
}

/** A unit whose movement is held within limits, or whose beam must keep out of something. */
export interface Mover {
  readonly unitId: UnitId;
  readonly joint: Joint;
  readonly pan: MovingAxis;
  readonly tilt: MovingAxis;
  /** Degrees a second; 0 for as fast as it likes. */
  readonly fastestDegS: number;
  readonly width: BeamWidth;
  readonly seen: readonly Seen[];
  /** Slots of its levels; and where it has none, shutters with the fractions they are closed at. */
  readonly levels: readonly number[];
  readonly shutters: readonly number[];
  readonly shutAt: readonly number[];
  /** Bytes that carry its level: a raw one is capped. */
  readonly levelBytes: readonly number[];
}

/**
 * All units whose movement is held; none where nothing is limited. A twin gets what its original gets, but hangs elsewhere:
 * it holds the same slots by what its own beam meets.
 */
export function moversOf(
  document: Document,
  placed: readonly Placed[],
  twins: readonly (readonly [twin: UnitRecord, original: UnitId])[],
): Mover[] {
  const volumes = volumesOf(document);
  const byId = new Map(placed.map((item) => [item.id, item]));
  const all: (readonly [unit: UnitRecord, item: Placed])[] = [
    ...placed.map((item) => [getRecord(document, 'unit', item.id)!, item] as const),
    ...twins.flatMap(([twin, original]) => {
      const item = byId.get(original);
      return item ? [[twin, item] as const] : [];
    }),
  ];
  return all.flatMap(([unit, item]) => {
    const { movement } = unit;
    const limited = movement !== null && (movement.pan ?? movement.tilt ?? movement.fastestDegS) !== null;
    if (!limited && volumes.length === 0) return [];
    const axes = axesOf(document, unit);
    return axes ? [moverOf(document, item, unit, axes, volumes)] : [];
  });
}

function moverOf(
  document: Document,
  { piece, base, bytes }: Placed,
  unit: UnitRecord,
  axes: Axes,
  volumes: readonly Volume[],
): Mover {
  const { shape } = piece;
  const axis = (name: 'Pan' | 'Tilt', range: AxisRange | null, travel: readonly [number, number]): MovingAxis => {
    const own = shape.slots.get(name);
    if (!own || !range) return NO_AXIS;
    const written = writtenAt(piece, own.slot, bytes);
    return {
      slot: base + own.slot,
      rangeDeg: range.rangeDeg,
      zeroDeg: angleAt(0, range),
      low: fractionAt(travel[0], range),
      high: fractionAt(travel[1], range),
      ...written,
      flip: name === 'Pan' ? unit.invertPan : unit.invertTilt,
    };
  };
  const levelBytes: number[] = [];
  for (let i = 0; i < piece.ceilingAt.length; i++)
    if (piece.ceiling[i]! >= 0) levelBytes.push(byteAt(piece.ceilingAt[i]!, bytes));
  return {
    unitId: unit.id,
    joint: axes.joint,
    pan: axis('Pan', axes.panRange, axes.pan),
    tilt: axis('Tilt', axes.tiltRange, axes.tilt),
    fastestDegS: unit.movement?.fastestDegS ?? 0,
    width: widthOf(document, unit, base, shape.slots.get('Zoom')),
    seen: seenOf(unit, axes, volumes),
    levels: Array.from(shape.mastered, (slot) => base + slot),
    shutters: Array.from(shape.shutters, (slot) => base + slot),
    shutAt: [...shape.shutAt],
    levelBytes,
  };
}

const NO_AXIS: MovingAxis = {
  slot: -1,
  rangeDeg: 0,
  zeroDeg: 0,
  low: 0,
  high: 1,
  coarse: -1,
  fine: -1,
  flip: false,
};

function writtenAt(
  { narrow, wide }: Placed['piece'],
  slot: number,
  bytes: readonly number[],
): { readonly coarse: number; readonly fine: number } {
  const inWide = wide.slot.indexOf(slot);
  if (inWide >= 0) return { coarse: byteAt(wide.offset[inWide]!, bytes), fine: byteAt(wide.offset1[inWide]!, bytes) };
  const inNarrow = narrow.slot.indexOf(slot);
  return { coarse: inNarrow < 0 ? -1 : byteAt(narrow.offset[inNarrow]!, bytes), fine: -1 };
}

const halfOf = (deg: number): number => (deg * Math.PI) / 360;

/** How wide its beam is: by its zoom where that says degrees, else as its profile says, zoomed as wide as can be. */
function widthOf(document: Document, unit: UnitRecord, base: number, zoom: AttributeSlot | undefined): BeamWidth {
  const { beamDeg = USUAL_BEAM_DEG, beamToDeg = 0 } = getRecord(document, 'profile', unit.profileId)?.physical ?? {};
  const widest = { slot: -1, half: halfOf(Math.max(beamDeg, beamToDeg)), step: 0 };
  const line = zoom?.channel && zoomLine(zoom.channel);
  return line ? { slot: base + zoom.slot, half: halfOf(line[0]), step: halfOf(line[1] - line[0]) } : widest;
}

/** The angles at both ends of a zoom that goes straight from one to the other; null where it is more than that. */
function zoomLine(channel: Channel): readonly [number, number] | null {
  const [only, ...more] = channel.ranges.filter((r) => r.physical?.unit === 'deg');
  if (!only?.physical || more.length > 0 || channel.ranges.length !== 1) return null;
  const whole = valueToFraction(channel, { range: only.name, at: 0 }) === 0;
  return whole ? [only.physical.from, only.physical.to] : null;
}
