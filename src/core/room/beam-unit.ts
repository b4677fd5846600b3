import { fromHex, type LinearRgb } from '../colour/convert.ts';
import type { Document } from '../document/change.ts';
import { locatedChannels, type LocatedChannel, type UnitReader } from '../patch/readout.ts';
import { USUAL_BEAM_DEG, USUAL_PAN_DEG, USUAL_TILT_DEG } from '../plot/beam.ts';
import { unitSize } from '../plot/dots.ts';
import { rotationOf, type Rotation } from '../plot/rotation.ts';
import type { ProfileRecord, UnitRecord } from '../records/index.ts';
import type { FixtureKind, Range } from '../records/profile.ts';
import { AS_IT_COMES, type UnitFocus } from '../records/unit.ts';

/**
 * How light leaves a kind of unit: along its front, where its head looks, off a mirror, off a drum of mirrors, as a fan of
 * thin beams.
 */
export type Way = 'front' | 'head' | 'mirror' | 'drum' | 'fan';
const WAYS: Partial<Record<FixtureKind, Way>> = {
  par: 'front',
  bar: 'front',
  strobe: 'front',
  blinder: 'front',
  uv: 'front',
  head: 'head',
  scanner: 'mirror',
  derby: 'fan',
  laser: 'fan',
};

/** Beams of a fan. */
export const FAN = 12;
const USUAL_DEG: Readonly<Record<Way, number>> = { front: 30, head: USUAL_BEAM_DEG, mirror: 14, drum: 14, fan: 80 };
/** The field is so much wider than the beam where a profile says nothing of it. */
export const FIELD_BY_BEAM = 1.3;
/** Most beams of one unit with cells: neighbours are taken together. */
const MOST_CELLS = 4;
/** Luminous flux of a usual lamp, and of each watt of one whose profile says only those. */
export const USUAL_LM = 3000;
const LM_A_WATT = 35;
/** Facets of a prism whose name tells no number, and the most that are drawn. */
const [USUAL_FACETS, MOST_FACETS] = [3, 8];

/** A wheel of pictures in the beam. */
export interface GoboWheel {
  readonly channel: LocatedChannel;
  /** How the picture is turned, or how fast it turns. */
  readonly turn: LocatedChannel | null;
  /** Of each range with a picture, which of the set's pictures it is. */
  readonly pictures: ReadonlyMap<Range, number>;
  /** The pictures in the order of the wheel, for when that turns. */
  readonly inOrder: readonly number[];
}

/** What splits the beam. */
export interface PrismOf {
  readonly channel: LocatedChannel;
  readonly turn: LocatedChannel | null;
  readonly facets: number;
}

/** One unit that sends beams, with what stands in them. Angles are full angles in degrees. */
export interface BeamUnit {
  readonly unit: UnitRecord;
  readonly reader: UnitReader;
  readonly way: Way;
  readonly thin: boolean;
  /** Where its beams begin among all. */
  readonly first: number;
  readonly count: number;
  readonly rotation: Rotation;
  readonly beamDeg: number;
  readonly fieldDeg: number;
  readonly panDeg: number;
  readonly tiltDeg: number;
  readonly widthM: number;
  readonly depthM: number;
  readonly fluxLm: number;
  readonly zoom: LocatedChannel | null;
  readonly iris: LocatedChannel | null;
  readonly lens: LocatedChannel | null;
  readonly frost: LocatedChannel | null;
  readonly drum: LocatedChannel | null;
  /** Motors that turn its beams: of two, each turns every other beam. */
  readonly motors: readonly LocatedChannel[];
  readonly gobos: readonly GoboWheel[];
  readonly prism: PrismOf | null;
  /** Colours of its wheel in order, for when that turns. */
  readonly colours: readonly LinearRgb[];
  /** How large a figure is drawn, and how far it stands off the middle, across and up. */
  readonly figure: {
    readonly size: LocatedChannel | null;
    readonly across: LocatedChannel | null;
    readonly up: LocatedChannel | null;
  };
  /** How it was set on the ladder. */
  readonly focus: UnitFocus;
}

/** Pictures that stand in beams, each once: of which profile, and what it is called there. */
export interface BeamPicture {
  readonly profile: ProfileRecord;
  readonly picture: string;
}

/** Where in the list a picture is; those that let everything through are none. */
export type PictureIndex = (profile: ProfileRecord, picture: string) => number;

const find = (located: readonly LocatedChannel[], pattern: RegExp): LocatedChannel | null =>
  located.find(({ laid }) => pattern.test(laid.channel.attribute)) ?? null;

const FACET_WORDS = ['two', 'three', 'four', 'five', 'six', 'seven', 'eight'];
function facetsOf(range: Range): number | null {
  const number = /(\d+)\s*(?:-\s*)?facet/i.exec(range.name)?.[1];
  const word = FACET_WORDS.findIndex((w) => new RegExp(`\\b${w}\\b`, 'i').test(range.name));
  const facets = number ? Number(number) : word >= 0 ? word + 2 : null;
  return facets && facets >= 2 ? Math.min(MOST_FACETS, facets) : null;
}
/** Facets of a prism by the words of its ranges; null where they do not say. */
const facetsSaid = ({ laid }: LocatedChannel): number | null =>
  laid.channel.ranges.map(facetsOf).find((n) => n !== null) ?? null;

export const wayOf = (profile: ProfileRecord | undefined): Way | null => {
  const way = WAYS[profile?.fixtureKind ?? 'other'] ?? null;
  const turns = profile?.channels.some((c) => c.attribute === 'PanRotate');
  return way === 'mirror' && turns ? 'drum' : way;
};

/** A circuit is a lamp with a beam where somebody has set how wide that is. */
const isLamp = (profile: ProfileRecord | undefined, { focus }: UnitRecord): boolean =>
  (profile?.fixtureKind === 'dimmer' || profile?.fixtureKind === 'lamp') && (focus?.beamDeg ?? null) !== null;

function beamsIn(way: Way, reader: UnitReader, prism: PrismOf | null): number {
  if (way === 'fan') return FAN;
  return way === 'front' ? Math.min(MOST_CELLS, reader.cells.length) : (prism?.facets ?? 1);
}

/** A unit as its beams are made; null for one that sends none. */
export function beamUnit(
  document: Document,
  { unit, profile, reader }: { unit: UnitRecord; profile: ProfileRecord | undefined; reader: UnitReader | undefined },
  first: number,
  index: PictureIndex,
): BeamUnit | null {
  const way = wayOf(profile) ?? (isLamp(profile, unit) ? 'front' : null);
  if (!way || !profile || !reader || reader.cells.length === 0) return null;
  const located = locatedChannels(document, unit);
  const { beamDeg, fieldDeg, panDeg = USUAL_PAN_DEG, tiltDeg = USUAL_TILT_DEG } = profile.physical;
  const focus = unit.focus ?? AS_IT_COMES;
  const own = beamDeg ?? USUAL_DEG[way];
  const beam = focus.beamDeg ?? own;
  const prism = find(located, /^Prism1$/);
  const prismOf = prism && {
    channel: prism,
    turn: find(located, /^Prism1Pos(Rotate)?$/),
    facets: facetsSaid(prism) ?? USUAL_FACETS,
  };
  const wheel = reader.cells[0]!.wheel;
  return {
    unit,
    reader,
    way,
    thin: profile.fixtureKind === 'laser',
    first,
    count: beamsIn(way, reader, prismOf),
    rotation: rotationOf(unit.rotation),
    beamDeg: beam,
    fieldDeg: Math.max(beam, ((fieldDeg ?? own * FIELD_BY_BEAM) * beam) / own),
    panDeg,
    tiltDeg,
    ...unitSize(profile),
    fluxLm: fluxOf(profile),
    zoom: find(located, /^Zoom$/),
    iris: find(located, /^Iris$/),
    lens: find(located, /^Focus\d+$/),
    frost: find(located, /^Frost\d+$/),
    drum: find(located, /^PanRotate$/),
    motors: located.filter(({ laid }) => /^Effects\d+PosRotate$/.test(laid.channel.attribute)),
    gobos: gobosOf(located, profile, index),
    prism: prismOf,
    colours: (wheel?.channel.ranges ?? []).flatMap((r) => (r.colour && !r.colour2 ? [fromHex(r.colour)!] : [])),
    figure: {
      size: find(located, /^Effects1Adjust1$/),
      across: find(located, /^Effects1Adjust2$/),
      up: find(located, /^Effects1Adjust3$/),
    },
    focus,
  };
}

function gobosOf(located: readonly LocatedChannel[], profile: ProfileRecord, index: PictureIndex): GoboWheel[] {
  return located.flatMap((channel) => {
    const n = /^Gobo(\d+)$/.exec(channel.laid.channel.attribute)?.[1];
    if (n === undefined) return [];
    const pictures = new Map<Range, number>();
    const inOrder: number[] = [];
    for (const range of channel.laid.channel.ranges) {
      if (range.picture === undefined) continue;
      const at = index(profile, range.picture);
      pictures.set(range, at);
      if (!inOrder.includes(at)) inOrder.push(at);
    }
    return [{ channel, turn: find(located, new RegExp(`^Gobo${n}Pos(Rotate)?$`)), pictures, inOrder }];
  });
}

function fluxOf(profile: ProfileRecord): number {
  const { fluxLm, powerW } = profile.physical;
  return fluxLm ?? (powerW === undefined ? USUAL_LM : powerW * LM_A_WATT);
}

/** What is drawn plainly because the profile does not say it, in words; nothing of what sends no beams. */
export function drawnPlainly(profile: ProfileRecord | undefined, reader: UnitReader | undefined): string[] {
  const way = wayOf(profile);
  if (!way || !profile) return [];
  const { beamDeg, panDeg, tiltDeg, fluxLm, powerW } = profile.physical;
  const moves = way === 'head' || way === 'mirror';
  const having = (pattern: RegExp) => profile.channels.filter((c) => pattern.test(c.attribute));
  const strobes = having(/^Shutter\d+$/).flatMap((c) => c.ranges.filter((r) => r.light === 'strobe'));
  return [
    ...(beamDeg === undefined ? [`beam angle (${USUAL_DEG[way]}° is drawn)`] : []),
    ...(moves && panDeg === undefined && reader?.pan ? [`range of pan (${USUAL_PAN_DEG}°)`] : []),
    ...(moves && tiltDeg === undefined && reader?.tilt ? [`range of tilt (${USUAL_TILT_DEG}°)`] : []),
    ...(fluxLm === undefined && powerW === undefined ? [`luminous flux (${USUAL_LM} lm)`] : []),
    ...(way === 'fan' ? [`how its beams lie (a fan of ${FAN})`] : []),
    ...(way === 'drum' ? ['how far its drum sweeps (90°, eight mirrors)'] : []),
    ...(having(/^Gobo\d+$/).some((c) => !c.ranges.some((r) => r.picture)) ? ['pictures of its gobos (left out)'] : []),
    ...(having(/^Focus\d+$/).length > 0 ? ['where its focus is sharp (the middle of its range)'] : []),
    ...(having(/^Prism1$/).some((c) => !c.ranges.some(facetsOf)) ? [`facets of its prism (${USUAL_FACETS})`] : []),
    ...(strobes.some((r) => r.physical?.unit !== 'hz') ? ['how fast it strobes (a steady dim light)'] : []),
  ];
}
