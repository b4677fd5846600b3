import type { Document } from '../document/change.ts';
import { readCell, readAxis, readMean, readSource, type Frames, type UnitReader } from '../patch/readout.ts';
import { headDirection, mirrorDirection } from '../plot/beam.ts';
import type { Place3 } from '../plot/paper.ts';
import { applied } from '../plot/rotation.ts';
import { acrossOf, cross, plus, times } from '../plot/vector.ts';
import type { ProfileRecord, UnitRecord } from '../records/index.ts';
import { beamUnit, FIELD_BY_BEAM, USUAL_LM, type BeamPicture, type BeamUnit } from './beam-unit.ts';
import { hitOf, type RoomBox } from './box.ts';
import {
  drumTurn,
  flash,
  inUnit,
  motorTurn,
  PHASES,
  readGobo,
  readLight,
  readPrism,
  readSoftness,
  type BeamLight,
} from './optics.ts';

/**
 * The beams of a rig in the room, from what is sent: where each begins, where it goes, how wide, of which colour it is
 * and what stands in it. The room draws these; it knows nothing of channels.
 */

/** How wide one beam of a fan is, degrees: of a derby, and of a laser. */
const [FAN_BEAM_DEG, LASER_DEG] = [2.5, 0.5];
const SIDE_BY_SIDE = 0.3;
/** Mirrors of a drum, and how far they sweep, degrees. */
const [DRUM_MIRRORS, DRUM_SWEEP_DEG] = [8, 90];
/** How far the beams of a prism stand off its axis, by the half angle of the field. */
const PRISM_OFF = 0.75;
const RAD = Math.PI / 180;
/** An edge that cuts nothing. */
export const NO_BLADE = 1e3;

/**
 * All beams as structure of arrays: three numbers each of `origin` (metres), `direction` and `across` (length 1, at right
 * angles), `colour` and `colour2` (linear light, 0-1); half angles in radians; how far it goes, metres. In the beam's own
 * plane, a metre from where it begins: light is whole within `inner` of its axis and ends at `outer`.
 */
export interface BeamSet {
  readonly units: readonly BeamUnit[];
  readonly count: number;
  readonly pictures: readonly BeamPicture[];
  readonly origin: Float32Array;
  readonly direction: Float32Array;
  readonly across: Float32Array;
  readonly colour: Float32Array;
  readonly colour2: Float32Array;
  /** Where the second colour begins across the beam, -1 to 1; above that there is none. */
  readonly split: Float32Array;
  readonly halfBeam: Float32Array;
  readonly halfField: Float32Array;
  readonly inner: Float32Array;
  readonly outer: Float32Array;
  /** How blurred what stands in it is, 0-1. */
  readonly blur: Float32Array;
  /** The picture that stands in it (-1 for none), and how that is turned, radians. */
  readonly picture: Int16Array;
  readonly turn: Float32Array;
  /** Four blades each: the way it looks (radians from across to up) and where its edge is, metres as of `inner`. */
  readonly blades: Float32Array;
  readonly lengthM: Float32Array;
  /** How much of a usual lamp's light each carries: by the luminous flux of its unit, shared by its beams. */
  readonly share: Float32Array;
  /** How much of that is seen in haze: the beams of cells side by side lie in one another. */
  readonly inHaze: Float32Array;
  /** Luminous intensity at full, by that share and how narrow the beam is. */
  readonly intensity: Float32Array;
  /** Whether something stands in it: a picture, a blade, a second colour. */
  readonly shaped: Uint8Array;
  /** Of each unit: turns and flashes so far (`optics.ts`). */
  readonly phases: Float64Array;
  /** Of each unit: whether it is dark at this moment because it strobes. */
  readonly shut: Uint8Array;
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
  const pictures: BeamPicture[] = [];
  const known = new Map<string, number>();
  const index = (profile: ProfileRecord, picture: string): number => {
    if (picture === 'open') return -1;
    const key = picture.startsWith('own:') ? `${profile.id} ${picture}` : picture;
    const at = known.get(key) ?? pictures.push({ profile, picture }) - 1;
    known.set(key, at);
    return at;
  };
  let count = 0;
  for (const lit of rig) {
    const made = beamUnit(document, lit, count, index);
    if (!made) continue;
    units.push(made);
    count += made.count;
  }
  const share = new Float32Array(count);
  const inHaze = new Float32Array(count).fill(1);
  for (const { first, count: own, fluxLm, way } of units) {
    // A prism shares out the light of one beam as it comes and goes.
    share.fill(fluxLm / USUAL_LM / (way === 'front' || way === 'fan' ? own : 1), first, first + own);
    if (way === 'front' && own > 1) inHaze.fill(SIDE_BY_SIDE, first, first + own);
  }
  const one = () => new Float32Array(count);
  const three = () => new Float32Array(count * 3);
  return {
    units,
    count,
    pictures,
    share,
    inHaze,
    origin: three(),
    direction: three(),
    across: three(),
    colour: three(),
    colour2: three(),
    split: one(),
    halfBeam: one(),
    halfField: one(),
    inner: one(),
    outer: one(),
    blur: one(),
    picture: new Int16Array(count).fill(-1),
    turn: one(),
    blades: new Float32Array(count * 8),
    lengthM: one(),
    intensity: one(),
    shaped: new Uint8Array(count),
    phases: new Float64Array(units.length * PHASES),
    shut: new Uint8Array(units.length),
  };
}

/** What turns by itself goes on from where it was, whatever was edited. */
export function carryOn(from: BeamSet, to: BeamSet): void {
  const before = new Map(from.units.map(({ unit }, place) => [unit.id, place]));
  to.units.forEach(({ unit }, place) => {
    const was = before.get(unit.id);
    if (was !== undefined) to.phases.set(from.phases.subarray(was * PHASES, (was + 1) * PHASES), place * PHASES);
  });
}

const light: BeamLight = { r: 0, g: 0, b: 0, strobing: false, second: null, split: 2 };
const gobo = { picture: -1, turn: 0 };

/** What a look at the beams goes by. */
interface Look {
  readonly set: BeamSet;
  readonly frames: Frames;
  readonly room: RoomBox;
  readonly passedS: number;
}

/**
 * Fills the set from what is sent; `passedS` seconds have passed since the last time, for what turns and flashes by
 * itself. `calm`: strobes do not flash but are dimmed.
 */
export function readBeams(set: BeamSet, frames: Frames, room: RoomBox, passedS: number, calm = false): void {
  const look: Look = { set, frames, room, passedS };
  set.units.forEach((unit, place) => {
    if (unit.way === 'fan') readFan(look, unit, place);
    else if (unit.way === 'front') readFront(look, unit);
    else readTurned(look, unit, place);
    const part = flash(set, unit, place, frames, passedS, calm);
    set.shut[place] = part === 0 ? 1 : 0;
    if (part === 1) return;
    const [from, to] = [unit.first * 3, (unit.first + unit.count) * 3];
    for (let i = from; i < to; i++) {
      set.colour[i] = set.colour[i]! * part;
      set.colour2[i] = set.colour2[i]! * part;
    }
  });
  for (let i = 0; i < set.count; i++) {
    // The same light in a cone: by its solid angle.
    set.intensity[i] = set.share[i]! / (1 - Math.cos(set.halfBeam[i]!));
    set.shaped[i] = Number(isShaped(set, i));
  }
}

const isShaped = ({ picture, split, blades }: BeamSet, i: number): boolean =>
  picture[i]! >= 0 ||
  split[i]! <= 1 ||
  blades[i * 8 + 1]! < NO_BLADE ||
  blades[i * 8 + 3]! < NO_BLADE ||
  blades[i * 8 + 5]! < NO_BLADE ||
  blades[i * 8 + 7]! < NO_BLADE;

/** The brightest of a beam's colours, 0-1. */
export function brightness({ colour, colour2, split }: BeamSet, beam: number): number {
  const at = beam * 3;
  const one = Math.max(colour[at]!, colour[at + 1]!, colour[at + 2]!);
  return split[beam]! > 1 ? one : Math.max(one, colour2[at]!, colour2[at + 1]!, colour2[at + 2]!);
}

const halfOf = (deg: number): number => Math.min(85, Math.max(0.2, deg / 2)) * RAD;

/** Angles now: by zoom, where that says degrees, and made smaller by an iris; edges by lens and frost; blades. */
function readAngles({ set, frames }: Look, unit: BeamUnit): void {
  const zoomed = inUnit(unit.zoom, frames, 'deg');
  const open = (inUnit(unit.iris, frames, 'percent') ?? 100) / 100;
  const beam = (zoomed ?? unit.beamDeg) * open;
  const field = zoomed === null ? unit.fieldDeg * open : beam * (unit.fieldDeg / unit.beamDeg);
  const soft = readSoftness(unit, frames);
  for (let i = unit.first; i < unit.first + unit.count; i++) {
    set.halfBeam[i] = halfOf(beam);
    set.halfField[i] = halfOf(Math.max(beam, field));
    edges(set, i, soft);
    readBlades(set, i, unit);
  }
}

/** Where light is whole and where it ends: sharp at the field, as beam and field say, or blurred. */
function edges(set: BeamSet, i: number, soft: number): void {
  const [beam, field] = [Math.tan(set.halfBeam[i]!), Math.tan(set.halfField[i]!)];
  const [inner, outer] = [beam * 0.82, field * 1.12];
  const sharp = Math.max(0, -soft);
  const blur = Math.max(0, Math.min(1, soft));
  set.blur[i] = blur;
  set.inner[i] = (inner + (field * 0.97 - inner) * sharp) * (1 - 0.75 * blur);
  set.outer[i] = (outer + (field - outer) * sharp) * (1 + 0.35 * blur);
}

function readBlades(set: BeamSet, i: number, { focus }: BeamUnit): void {
  for (let blade = 0; blade < 4; blade++) {
    const { in: pushed, deg } = focus.shutters?.[blade] ?? { in: 0, deg: 0 };
    // Top, right, bottom, left: from up on, clockwise as seen from behind the lamp.
    set.blades[i * 8 + blade * 2] = (90 - blade * 90 + deg) * RAD;
    set.blades[i * 8 + blade * 2 + 1] = pushed > 0 ? Math.tan(set.halfField[i]!) * (1 - 2 * pushed) : NO_BLADE;
  }
}

/** Heads, mirrors and drums: one beam, or as many as its prism makes of it. */
function readTurned(look: Look, unit: BeamUnit, place: number): void {
  const { set, frames, passedS } = look;
  const { first, count } = unit;
  readAngles(look, unit);
  readLight(set, unit, place, frames, passedS, light);
  readGobo(set, unit, place, frames, passedS, gobo);
  const { facets, turn } = readPrism(set, unit, place, frames, passedS);
  const { from, way, across } = aimOf(look, unit, place);
  const up = cross(across, way);
  const split = Math.min(facets, count);
  if (split > 1) dim(1 / split);
  const off = split > 1 ? Math.tan(set.halfField[first]!) * PRISM_OFF : 0;
  for (let i = 0; i < count; i++) {
    if (i === split) dim(0);
    const a = turn + (i / split) * 2 * Math.PI;
    lay(look, first + i, from, off === 0 ? way : aside(way, across, up, Math.cos(a) * off, Math.sin(a) * off), across);
    set.picture[first + i] = gobo.picture;
    set.turn[first + i] = gobo.turn;
  }
}

function dim(part: number): void {
  light.r *= part;
  light.g *= part;
  light.b *= part;
  const { second } = light;
  if (second) light.second = { r: second.r * part, g: second.g * part, b: second.b * part };
}

/** A direction that stands off another by so much across and up, a metre along it. */
function aside(way: Place3, across: Place3, up: Place3, x: number, y: number): Place3 {
  const to = plus(way, plus(times(across, x), times(up, y)));
  return times(to, 1 / Math.hypot(to.x, to.y, to.z));
}

interface Aimed {
  readonly from: Place3;
  readonly way: Place3;
  readonly across: Place3;
}

function aimOf({ set, frames, passedS }: Look, unit: BeamUnit, place: number): Aimed {
  const { reader, panDeg, tiltDeg, rotation, depthM } = unit;
  const { position } = unit.unit;
  const tilt = readAxis(unit.unit, reader, 'tilt', frames, tiltDeg);
  if (unit.way === 'head') {
    const pan = readAxis(unit.unit, reader, 'pan', frames, panDeg);
    const p = (pan - 0.5) * panDeg * RAD;
    const across = applied(rotation, { x: Math.cos(p), y: Math.sin(p), z: 0 });
    return { from: position, way: headDirection(unit.unit, pan, tilt, panDeg, tiltDeg), across };
  }
  const drum = unit.way === 'drum';
  const pan = drum
    ? (drumTurn(set, unit, place, frames, passedS) * DRUM_MIRRORS) % 1
    : readAxis(unit.unit, reader, 'pan', frames, panDeg);
  const range = drum ? DRUM_SWEEP_DEG : panDeg;
  const p = (pan - 0.5) * range * RAD;
  // The mirror stands in front of the case.
  const from = plus(position, applied(rotation, { x: 0, y: depthM / 2, z: 0 }));
  const across = applied(rotation, { x: Math.cos(p), y: 0, z: -Math.sin(p) });
  return { from, way: mirrorDirection(unit.unit, pan, tilt, range, tiltDeg), across };
}

/** Cells of a bar each shine along its front, from their place along its width. */
function readFront(look: Look, unit: BeamUnit): void {
  const { reader, first, count, rotation, widthM } = unit;
  readAngles(look, unit);
  const cells = reader.cells.length;
  const front = applied(rotation, { x: 0, y: 1, z: 0 });
  const across = applied(rotation, { x: 1, y: 0, z: 0 });
  light.second = null;
  light.split = 2;
  for (let i = 0; i < count; i++) {
    const [from, to] = [Math.floor((i * cells) / count), Math.floor(((i + 1) * cells) / count)];
    readMean(reader, from, to, look.frames, light);
    const aside = count > 1 ? ((i + 0.5) / count - 0.5) * widthM : 0;
    lay(look, first + i, plus(unit.unit.position, times(across, aside)), front, across);
  }
}

/** Thin beams on two cones about the front, which turn about it as their channels say. */
function readFan(look: Look, unit: BeamUnit, place: number): void {
  const { set, frames, passedS } = look;
  const { reader, first, count, rotation, beamDeg, widthM, motors, figure, thin } = unit;
  const turns = [0, 1].map((n) => motorTurn(set, unit, place, n, frames, passedS));
  const size = (inUnit(figure.size, frames, 'percent') ?? 100) / 100;
  const shift = (channel: typeof figure.across): number =>
    channel ? (readSource(channel.source, frames) - 0.5) * beamDeg * RAD : 0;
  const [sideways, upwards] = [shift(figure.across), shift(figure.up)];
  const half = ((thin ? LASER_DEG : FAN_BEAM_DEG) / 2) * RAD;
  readLight(set, unit, place, frames, passedS, light);
  const second = light.second;
  light.second = null;
  light.split = 2;
  const two = motors.length > 1;
  for (let i = 0; i < count; i++) {
    // One cell after the other has a beam of its own; with fewer cells than beams they take turns.
    readCell(reader, i % reader.cells.length, frames, light);
    if (second && i % 2 === 1) Object.assign(light, second);
    const lean = (beamDeg / 2) * RAD * size * (i % 2 === 0 ? 1 : 0.55);
    const motor = two ? i % 2 : 0;
    const angle = (i / count + turns[motor]!) * 2 * Math.PI;
    const [side, up] = [Math.sin(lean) * Math.cos(angle) + sideways, Math.sin(lean) * Math.sin(angle) + upwards];
    const at = first + i;
    set.halfBeam[at] = half;
    set.halfField[at] = half * FIELD_BY_BEAM;
    edges(set, at, 0);
    readBlades(set, at, unit);
    const long = Math.hypot(side, Math.cos(lean), up);
    const way = applied(rotation, { x: side / long, y: Math.cos(lean) / long, z: up / long });
    const from = two
      ? plus(unit.unit.position, applied(rotation, { x: (motor - 0.5) * widthM * 0.6, y: 0, z: 0 }))
      : unit.unit.position;
    lay(look, at, from, way, acrossOf(way));
  }
}

const put = (into: Float32Array, at: number, { x, y, z }: Place3): void => {
  into[at] = x;
  into[at + 1] = y;
  into[at + 2] = z;
};

function lay({ set, room }: Look, i: number, from: Place3, direction: Place3, across: Place3): void {
  const at = i * 3;
  put(set.origin, at, from);
  put(set.direction, at, direction);
  put(set.across, at, across);
  set.colour[at] = light.r;
  set.colour[at + 1] = light.g;
  set.colour[at + 2] = light.b;
  set.colour2[at] = light.second?.r ?? 0;
  set.colour2[at + 1] = light.second?.g ?? 0;
  set.colour2[at + 2] = light.second?.b ?? 0;
  set.split[i] = light.split;
  set.lengthM[i] = hitOf(room, from, direction).distanceM;
}
