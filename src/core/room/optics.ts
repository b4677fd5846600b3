import { fromHex, type LinearRgb } from '../colour/convert.ts';
import {
  letThrough,
  rangeNow,
  readMean,
  readSource,
  type CellLight,
  type Frames,
  type LocatedChannel,
} from '../patch/readout.ts';
import { physicalOf } from '../profile/layout.ts';
import type { BeamUnit, GoboWheel } from './beam-unit.ts';
import type { BeamSet } from './beams.ts';

/** What stands in a beam and what it makes of it, as it is sent: colours, pictures, prisms, edges, flashes. */

/** What turns or flashes by itself keeps where it is: so many numbers a unit, each counted in turns (or flashes). */
export const PHASES = 12;
const [GOBO, WHEEL, PRISM, COLOUR, FLASH, DRUM, SHAKE] = [4, 5, 6, 7, 8, 9, 10] as const;
/** The part of a strobe's time for which it is lit. */
const LIT_PART = 0.3;
const SHAKE_RAD = 0.22;
const RAD = Math.PI / 180;

/** What a channel comes to in the world, by its profile; null where that says nothing. */
export const physical = (channel: LocatedChannel | null, frames: Frames): { value: number; unit: string } | null =>
  channel && physicalOf(channel.laid.channel, readSource(channel.source, frames));
/** The same in one unit alone. */
export function inUnit(channel: LocatedChannel | null, frames: Frames, unit: string): number | null {
  const found = physical(channel, frames);
  return found?.unit === unit ? found.value : null;
}

/** Moves a phase on and gives it, 0-1. */
function onward(set: BeamSet, place: number, phase: number, perSecond: number, passedS: number): number {
  const at = place * PHASES + phase;
  const next = set.phases[at]! + perSecond * passedS;
  return (set.phases[at] = next - Math.floor(next));
}

/** Turns that a motor of a fan has made. */
export const motorTurn = (
  set: BeamSet,
  { motors }: BeamUnit,
  place: number,
  n: number,
  frames: Frames,
  passedS: number,
): number =>
  n < motors.length && n < GOBO ? onward(set, place, n, (inUnit(motors[n]!, frames, 'rpm') ?? 0) / 60, passedS) : 0;

export const drumTurn = (set: BeamSet, { drum }: BeamUnit, place: number, frames: Frames, passedS: number): number =>
  onward(set, place, DRUM, (inUnit(drum, frames, 'rpm') ?? 0) / 60, passedS);

/**
 * How much of its light a strobing unit shows at this moment, 0-1. `calm`: nothing flashes, the light is dimmed instead,
 * as it is where a profile does not say how fast it strobes.
 */
export function flash(
  set: BeamSet,
  { reader }: BeamUnit,
  place: number,
  frames: Frames,
  passedS: number,
  calm: boolean,
): number {
  const shutter = reader.cells[0]!.shutter;
  if (!shutter) return 1;
  if (rangeNow(shutter, frames)?.light !== 'strobe') return 1;
  const found = physicalOf(shutter.channel, readSource(shutter.source, frames));
  if (calm || found?.unit !== 'hz') return LIT_PART;
  return onward(set, place, FLASH, found.value, passedS) < LIT_PART ? 1 : 0;
}

/** The light of a single beam: one colour, or two with an edge between them. */
export interface BeamLight extends CellLight {
  second: LinearRgb | null;
  /** Where the second colour begins: -1 (all of it) to 1 (nothing of it) across the beam. */
  split: number;
}

/** Light of a unit with one beam. A wheel between two colours splits it; one that turns lets them pass by. */
export function readLight(
  set: BeamSet,
  unit: BeamUnit,
  place: number,
  frames: Frames,
  passedS: number,
  into: BeamLight,
): void {
  const { reader, colours } = unit;
  into.second = null;
  into.split = 2;
  const cell = reader.cells[0]!;
  const wheel = reader.cells.length === 1 && cell.emitters.length === 0 ? cell.wheel : null;
  const range = wheel && rangeNow(wheel, frames);
  const turns = wheel && !range?.colour ? physicalOf(wheel.channel, readSource(wheel.source, frames)) : null;
  if (range?.colour2) {
    into.second = fromHex(range.colour2)!;
    into.split = 0;
  } else if (turns && colours.length > 1 && (turns.unit === 'rpm' || turns.unit === 'deg')) {
    const turned =
      turns.unit === 'deg' ? (turns.value / 360 + 1) % 1 : onward(set, place, COLOUR, turns.value / 60, passedS);
    const at = turned * colours.length;
    const slot = Math.floor(at) % colours.length;
    into.second = colours[(slot + 1) % colours.length]!;
    into.split = 1 - 2 * (at - Math.floor(at));
    const { r, g, b } = colours[slot]!;
    into.r = r;
    into.g = g;
    into.b = b;
    letThrough(cell, frames, into);
    into.second = scaled(into.second, cell, frames);
    return;
  }
  readMean(reader, 0, reader.cells.length, frames, into);
  if (into.second) into.second = scaled(into.second, cell, frames);
}

const through: CellLight = { r: 0, g: 0, b: 0, strobing: false };
function scaled({ r, g, b }: LinearRgb, cell: BeamUnit['reader']['cells'][number], frames: Frames): LinearRgb {
  through.r = r;
  through.g = g;
  through.b = b;
  letThrough(cell, frames, through);
  return { r: through.r, g: through.g, b: through.b };
}

/** The picture that stands in the beam and how it is turned, radians; -1 for none. Of several wheels the first with one. */
export function readGobo(
  set: BeamSet,
  { gobos }: BeamUnit,
  place: number,
  frames: Frames,
  passedS: number,
  into: { picture: number; turn: number },
): void {
  into.picture = -1;
  into.turn = 0;
  for (const gobo of gobos) {
    const picture = pictureOf(set, gobo, place, frames, passedS, into);
    if (picture < 0) continue;
    into.picture = picture;
    const turn = physical(gobo.turn, frames);
    if (turn?.unit === 'deg') into.turn += turn.value * RAD;
    else if (turn?.unit === 'rpm') into.turn += onward(set, place, GOBO, turn.value / 60, passedS) * 2 * Math.PI;
    return;
  }
}

function pictureOf(
  set: BeamSet,
  { channel, pictures, inOrder }: GoboWheel,
  place: number,
  frames: Frames,
  passedS: number,
  into: { turn: number },
): number {
  const range = rangeNow({ source: channel.source, channel: channel.laid.channel }, frames);
  if (!range) return -1;
  const does = physical(channel, frames);
  const own = pictures.get(range);
  if (own !== undefined) {
    if (does?.unit === 'hz')
      into.turn += Math.sin(onward(set, place, SHAKE, does.value, passedS) * 2 * Math.PI) * SHAKE_RAD;
    return own;
  }
  if (does?.unit !== 'rpm' || inOrder.length === 0) return -1;
  return inOrder[Math.floor(onward(set, place, WHEEL, does.value / 60, passedS) * inOrder.length) % inOrder.length]!;
}

/** How many facets split the beam now (1: none), and how they are turned, radians. */
export function readPrism(
  set: BeamSet,
  { prism }: BeamUnit,
  place: number,
  frames: Frames,
  passedS: number,
): { facets: number; turn: number } {
  if (!prism) return { facets: 1, turn: 0 };
  const { source, laid } = prism.channel;
  const range = rangeNow({ source, channel: laid.channel }, frames);
  if (!range ? readSource(source, frames) < 0.5 : /^(out|open|no prism|none|off)\b/i.test(range.name.trim()))
    return { facets: 1, turn: 0 };
  const turn = physical(prism.turn, frames);
  const spin = inUnit(prism.channel, frames, 'rpm') ?? (turn?.unit === 'rpm' ? turn.value : 0);
  const stands = turn?.unit === 'deg' ? turn.value * RAD : 0;
  return { facets: prism.facets, turn: stands + onward(set, place, PRISM, spin / 60, passedS) * 2 * Math.PI };
}

/**
 * How soft the edge of its beams is: -1 as sharp as can be, 0 as its beam and field angles say, 1 wholly blurred. A lens
 * is sharp in the middle of its range.
 */
export function readSoftness({ lens, frost, focus }: BeamUnit, frames: Frames): number {
  const at = focus.edge ?? (lens ? readSource(lens.source, frames) : null);
  const soft = at === null ? 0 : -1 + Math.abs(at - 0.5) * (focus.edge === null ? 2.4 : 4);
  if (!frost) return soft;
  const percent = inUnit(frost, frames, 'percent');
  const plain = frost.laid.channel.ranges.length === 0 ? readSource(frost.source, frames) : 0;
  const frosted = percent === null ? plain : percent / 100;
  return frosted > 0 ? Math.max(soft, -0.4 + 1.4 * frosted) : soft;
}
