import type { Document } from '../document/change.ts';
import {
  locatedChannels,
  readCell,
  readMean,
  readSource,
  type CellLight,
  type Frames,
  type LocatedChannel,
  type UnitReader,
} from '../patch/readout.ts';
import { headDirection } from '../plot/beam.ts';
import { unitSize } from '../plot/dots.ts';
import type { Place3 } from '../plot/paper.ts';
import { applied, rotationOf, type Rotation } from '../plot/rotation.ts';
import { physicalOf } from '../profile/layout.ts';
import type { ProfileRecord, UnitRecord } from '../records/index.ts';
import type { FixtureKind } from '../records/profile.ts';
import { hitOf, type RoomBox } from './box.ts';

/**
 * The beams of a rig in the room, from what is sent: where each begins, where it goes, how wide and of which colour it
 * is. The room draws these; it knows nothing of channels.
 */

/** How light leaves a kind of unit: along its front, where its head looks, or as a fan of thin beams. */
type Way = 'front' | 'head' | 'fan';
const WAYS: Partial<Record<FixtureKind, Way>> = {
  par: 'front',
  bar: 'front',
  strobe: 'front',
  blinder: 'front',
  uv: 'front',
  head: 'head',
  scanner: 'head',
  derby: 'fan',
  laser: 'fan',
};

/** Beams of a fan, and how wide one of them is, degrees. */
const FAN = 12;
const FAN_BEAM_DEG = 2.5;
const USUAL_DEG: Readonly<Record<Way, number>> = { front: 30, head: 15, fan: 80 };
const [USUAL_PAN_DEG, USUAL_TILT_DEG] = [540, 270];
/** The field is so much wider than the beam where a profile says nothing of it. */
const FIELD_BY_BEAM = 1.3;
const SIDE_BY_SIDE = 0.3;
/** Most beams of one unit with cells: neighbours are taken together. */
const MOST_CELLS = 4;
/** Luminous flux of a usual lamp, and of each watt of one whose profile says only those. */
const USUAL_LM = 3000;
const LM_A_WATT = 35;
const RAD = Math.PI / 180;

/** One unit that sends beams. */
export interface BeamUnit {
  readonly unit: UnitRecord;
  readonly reader: UnitReader;
  readonly way: Way;
  /** Where its beams begin among all. */
  readonly first: number;
  readonly count: number;
  readonly rotation: Rotation;
  /** Full angles, degrees. */
  readonly beamDeg: number;
  readonly fieldDeg: number;
  readonly panDeg: number;
  readonly tiltDeg: number;
  readonly widthM: number;
  readonly fluxLm: number;
  readonly zoom: LocatedChannel | null;
  readonly iris: LocatedChannel | null;
  readonly turning: LocatedChannel | null;
}

/**
 * All beams as structure of arrays: three numbers each of `origin` (metres), `direction` (length 1) and `colour` (linear
 * light, 0-1); half angles in radians and their tangents; how far it goes, metres. `turned` are the turns that a fan has
 * made.
 */
export interface BeamSet {
  readonly units: readonly BeamUnit[];
  readonly count: number;
  readonly origin: Float32Array;
  readonly direction: Float32Array;
  readonly colour: Float32Array;
  readonly halfBeam: Float32Array;
  readonly halfField: Float32Array;
  readonly tanBeam: Float32Array;
  readonly tanField: Float32Array;
  readonly lengthM: Float32Array;
  /** How much of a usual lamp's light each carries: by the luminous flux of its unit, shared by its beams. */
  readonly share: Float32Array;
  /** How much of that is seen in haze: the beams of cells side by side lie in one another. */
  readonly inHaze: Float32Array;
  /** Luminous intensity at full, by that share and how narrow the beam is. */
  readonly intensity: Float32Array;
  readonly turned: Float64Array;
}

/** A unit as beams are made of it. */
export interface Lit {
  readonly unit: UnitRecord;
  readonly profile: ProfileRecord | undefined;
  readonly reader: UnitReader | undefined;
}

/** Makes room for the beams of all units that send any. Linear in the units and their cells. */
export function makeBeams(document: Document, rig: readonly Lit[]): BeamSet {
  const units: BeamUnit[] = [];
  let count = 0;
  for (const { unit, profile, reader } of rig) {
    const way = WAYS[profile?.fixtureKind ?? 'other'];
    if (!way || !reader || reader.cells.length === 0) continue;
    const own = way === 'fan' ? FAN : way === 'head' ? 1 : Math.min(MOST_CELLS, reader.cells.length);
    units.push({ ...beamUnit(document, unit, profile, reader, way), first: count, count: own });
    count += own;
  }
  const share = new Float32Array(count);
  const inHaze = new Float32Array(count).fill(1);
  for (const { first, count: own, fluxLm, way } of units) {
    share.fill(fluxLm / USUAL_LM / own, first, first + own);
    if (way === 'front' && own > 1) inHaze.fill(SIDE_BY_SIDE, first, first + own);
  }
  return {
    units,
    count,
    share,
    inHaze,
    origin: new Float32Array(count * 3),
    direction: new Float32Array(count * 3),
    colour: new Float32Array(count * 3),
    halfBeam: new Float32Array(count),
    halfField: new Float32Array(count),
    lengthM: new Float32Array(count),
    tanBeam: new Float32Array(count),
    tanField: new Float32Array(count),
    intensity: new Float32Array(count),
    turned: new Float64Array(units.length),
  };
}

function beamUnit(
  document: Document,
  unit: UnitRecord,
  profile: ProfileRecord | undefined,
  reader: UnitReader,
  way: Way,
): Omit<BeamUnit, 'first' | 'count'> {
  const located = locatedChannels(document, unit);
  const find = (pattern: RegExp): LocatedChannel | null =>
    located.find(({ laid }) => pattern.test(laid.channel.attribute)) ?? null;
  const { beamDeg, fieldDeg, panDeg = USUAL_PAN_DEG, tiltDeg = USUAL_TILT_DEG } = profile?.physical ?? {};
  const beam = beamDeg ?? USUAL_DEG[way];
  return {
    unit,
    reader,
    way,
    rotation: rotationOf(unit.rotation),
    beamDeg: beam,
    fieldDeg: Math.max(beam, fieldDeg ?? beam * FIELD_BY_BEAM),
    panDeg,
    tiltDeg,
    widthM: unitSize(profile).widthM,
    fluxLm: fluxOf(profile),
    zoom: find(/^Zoom$/),
    iris: find(/^Iris$/),
    turning: find(/^Effects\d+PosRotate$/),
  };
}

/** What is drawn plainly because the profile does not say it, in words; nothing of what sends no beams. */
export function drawnPlainly(profile: ProfileRecord | undefined, reader: UnitReader | undefined): string[] {
  const way = WAYS[profile?.fixtureKind ?? 'other'];
  if (!way || !profile) return [];
  const { beamDeg, panDeg, tiltDeg, fluxLm, powerW } = profile.physical;
  const heads = way === 'head';
  return [
    ...(beamDeg === undefined ? [`beam angle (${USUAL_DEG[way]}° is drawn)`] : []),
    ...(heads && panDeg === undefined && reader?.pan ? [`range of pan (${USUAL_PAN_DEG}°)`] : []),
    ...(heads && tiltDeg === undefined && reader?.tilt ? [`range of tilt (${USUAL_TILT_DEG}°)`] : []),
    ...(fluxLm === undefined && powerW === undefined ? [`luminous flux (${USUAL_LM} lm)`] : []),
    ...(way === 'fan' ? [`how its beams lie (a fan of ${FAN})`] : []),
  ];
}

function fluxOf(profile: ProfileRecord | undefined): number {
  const { fluxLm, powerW } = profile?.physical ?? {};
  return fluxLm ?? (powerW === undefined ? USUAL_LM : powerW * LM_A_WATT);
}

const light: CellLight = { r: 0, g: 0, b: 0, strobing: false };

/** Fills the set from what is sent; `passedS` seconds have passed since the last time, for what turns by itself. */
export function readBeams(set: BeamSet, frames: Frames, room: RoomBox, passedS: number): void {
  set.units.forEach((unit, place) => {
    if (unit.way === 'fan') readFan(set, unit, place, frames, room, passedS);
    else if (unit.way === 'head') readHead(set, unit, frames, room);
    else readFront(set, unit, frames, room);
  });
  for (let i = 0; i < set.count; i++) {
    set.tanBeam[i] = Math.tan(set.halfBeam[i]!);
    set.tanField[i] = Math.tan(set.halfField[i]!);
    // The same light in a cone: by its solid angle.
    set.intensity[i] = set.share[i]! / (1 - Math.cos(set.halfBeam[i]!));
  }
}

/** The brightest of a beam's three colours, 0-1. */
export const brightness = ({ colour }: BeamSet, beam: number): number =>
  Math.max(colour[beam * 3]!, colour[beam * 3 + 1]!, colour[beam * 3 + 2]!);

/** What a channel comes to in the world, where its profile says so in this unit. */
function physical(channel: LocatedChannel | null, frames: Frames, unit: string): number | null {
  if (!channel) return null;
  const found = physicalOf(channel.laid.channel, readSource(channel.source, frames));
  return found?.unit === unit ? found.value : null;
}

/** Half angles of beam and field now, in radians: by zoom, where that says degrees, and made smaller by an iris. */
function readAngles(set: BeamSet, unit: BeamUnit, frames: Frames): void {
  const zoomed = physical(unit.zoom, frames, 'deg');
  const open = (physical(unit.iris, frames, 'percent') ?? 100) / 100;
  const beam = (zoomed ?? unit.beamDeg) * open;
  const field = zoomed === null ? unit.fieldDeg * open : beam * (unit.fieldDeg / unit.beamDeg);
  const half = (deg: number): number => Math.min(85, Math.max(0.2, deg / 2)) * RAD;
  for (let i = unit.first; i < unit.first + unit.count; i++) {
    set.halfBeam[i] = half(beam);
    set.halfField[i] = half(Math.max(beam, field));
  }
}

function readHead(set: BeamSet, unit: BeamUnit, frames: Frames, room: RoomBox): void {
  const { reader, panDeg, tiltDeg, first } = unit;
  readAngles(set, unit, frames);
  const pan = reader.pan ? readSource(reader.pan, frames) : 0.5;
  const tilt = reader.tilt ? readSource(reader.tilt, frames) : 0.5;
  readMean(reader, 0, reader.cells.length, frames, light);
  lay(set, first, unit.unit.position, headDirection(unit.unit, pan, tilt, panDeg, tiltDeg), room);
}

/** Cells of a bar each shine along its front, from their place along its width. */
function readFront(set: BeamSet, unit: BeamUnit, frames: Frames, room: RoomBox): void {
  const { reader, first, count, rotation, widthM } = unit;
  readAngles(set, unit, frames);
  const cells = reader.cells.length;
  const front = applied(rotation, { x: 0, y: 1, z: 0 });
  for (let i = 0; i < count; i++) {
    const [from, to] = [Math.floor((i * cells) / count), Math.floor(((i + 1) * cells) / count)];
    readMean(reader, from, to, frames, light);
    const across = ((i + 0.5) / count - 0.5) * widthM;
    const own = applied(rotation, { x: count > 1 ? across : 0, y: 0, z: 0 });
    const { x, y, z } = unit.unit.position;
    lay(set, first + i, { x: x + own.x, y: y + own.y, z: z + own.z }, front, room);
  }
}

/** Thin beams on two cones about the front, which turn about it as their channel says. */
function readFan(set: BeamSet, unit: BeamUnit, place: number, frames: Frames, room: RoomBox, passedS: number): void {
  const { reader, first, count, rotation, beamDeg } = unit;
  const rpm = physical(unit.turning, frames, 'rpm') ?? 0;
  const turned = (set.turned[place]! + (rpm / 60) * passedS) % 1;
  set.turned[place] = turned;
  for (let i = 0; i < count; i++) {
    // One cell after the other has a beam of its own; with fewer cells than beams they take turns.
    const cell = i % reader.cells.length;
    readCell(reader, cell, frames, light);
    const lean = (beamDeg / 2) * RAD * (i % 2 === 0 ? 1 : 0.55);
    const angle = (i / count + turned) * 2 * Math.PI;
    const [side, up] = [Math.sin(lean) * Math.cos(angle), Math.sin(lean) * Math.sin(angle)];
    set.halfBeam[first + i] = (FAN_BEAM_DEG / 2) * RAD;
    set.halfField[first + i] = (FAN_BEAM_DEG / 2) * RAD * FIELD_BY_BEAM;
    lay(set, first + i, unit.unit.position, applied(rotation, { x: side, y: Math.cos(lean), z: up }), room);
  }
}

function lay(set: BeamSet, i: number, from: Place3, direction: Place3, room: RoomBox): void {
  set.origin[i * 3] = from.x;
  set.origin[i * 3 + 1] = from.y;
  set.origin[i * 3 + 2] = from.z;
  set.direction[i * 3] = direction.x;
  set.direction[i * 3 + 1] = direction.y;
  set.direction[i * 3 + 2] = direction.z;
  set.colour[i * 3] = light.r;
  set.colour[i * 3 + 1] = light.g;
  set.colour[i * 3 + 2] = light.b;
  set.lengthM[i] = hitOf(room, from, direction).distanceM;
}
