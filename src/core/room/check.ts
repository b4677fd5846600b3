import { recordsOf, type Document } from '../document/change.ts';
import type { Fault } from '../faults.ts';
import { lengthText } from '../plot/lengths.ts';
import { roomOf } from '../plot/room-of.ts';
import { inOwn } from '../plot/rotation.ts';
import type { Place3 } from '../plot/paper.ts';
import type { ThingRecord, UnitRecord } from '../records/index.ts';
import type { ThingShape } from '../records/thing.ts';
import { beamRange } from './focus.ts';
import { HANGS } from './thing-parts.ts';

/** What is solid all through: a unit in it is a mistake. Trusses, stands, booths and the like have room in them. */
const SOLID: ReadonlySet<ThingShape> = new Set(['box', 'cylinder', 'wall', 'screen', 'loudspeaker', 'person']);
/** Deeper than this a place is inside of something, metres: what stands against it is not. */
const INSIDE_M = 0.05;
/** What hangs on a thing is at it: farther away than this it is not, metres. */
const AT_M = 1.5;

const metres = (value: number): string => lengthText(value, 'metres');

/** What cannot be in the room as it is told, each with its place, value and remedy. Linear in units times solid things. */
export function roomFaults(document: Document): Fault[] {
  const things = recordsOf(document, 'thing');
  const profiles = new Map(recordsOf(document, 'profile').map((p) => [p.id, p]));
  const room = roomOf(document);
  const found: Fault[] = [];
  const byId = new Map(things.map((thing) => [thing.id, thing]));
  for (const unit of recordsOf(document, 'unit').toSorted((a, b) => a.number - b.number)) {
    const { position, hungOn } = unit;
    const say = (code: string, field: string, message: string, received: unknown, remedy: string): void =>
      void found.push({
        code,
        path: `${unit.id}.${field}`,
        message: `unit ${unit.number} ${unit.name} ${message}`,
        received,
        remedy,
      });
    const range = beamRange(profiles.get(unit.profileId) ?? { physical: {} });
    const beam = unit.focus?.beamDeg ?? null;
    if (beam !== null && range && (beam < range[0] || beam > range[1]))
      say(
        'BEAM_ANGLE',
        'focus.beamDeg',
        `is set to ${beam}°, but goes from ${range[0]}° to ${range[1]}°`,
        beam,
        'Set it within its range.',
      );
    if (position.z < 0)
      say('UNDER_FLOOR', 'position.z', 'is under the floor', position.z, 'Give how high it hangs above the floor.');
    if (room.walls && outside(position, room))
      say(
        'OUTSIDE_ROOM',
        'position',
        `is outside of the room, which is ${metres(room.widthM)} x ${metres(room.depthM)} x ${metres(room.heightM)}`,
        position,
        'Move it, or give the true size of the room in Settings.',
      );
    for (const thing of things)
      if (SOLID.has(thing.shape) && isWithin(thing, position, -INSIDE_M))
        say('INSIDE_THING', 'position', `is inside of ${thing.name}`, position, 'Move one of the two.');
    const bearer = hungOn ? byId.get(hungOn) : undefined;
    if (bearer && !HANGS.has(bearer.shape))
      say('HANGS_ON_NOTHING', 'hungOn', `hangs on ${bearer.name}, which bears nothing`, hungOn, 'Take it down.');
    else if (bearer && !isWithin(bearer, position, AT_M))
      say(
        'FAR_FROM_BEARER',
        'hungOn',
        `hangs on ${bearer.name} but is more than ${metres(AT_M)} away from it`,
        position,
        'Move it there, or take it down.',
      );
  }
  for (const thing of things)
    if (thing.position.z + thing.size.heightM < 0)
      found.push({
        code: 'UNDER_FLOOR',
        path: `${thing.id}.position.z`,
        message: `${thing.name} is under the floor`,
        received: thing.position.z,
        remedy: 'Give how high it stands above the floor.',
      });
  return found;
}

function outside(
  { x, y, z }: Place3,
  { widthM, depthM, heightM }: { readonly widthM: number; readonly depthM: number; readonly heightM: number },
): boolean {
  return Math.abs(x) > widthM / 2 || Math.abs(y) > depthM / 2 || z > heightM;
}

/** True where a place is within the box of a thing, `margin` metres larger. */
function isWithin(thing: ThingRecord, place: Place3, margin: number): boolean {
  const { x, y, z } = inOwn(thing, place);
  const { widthM, depthM, heightM } = thing.size;
  return (
    Math.abs(x) <= widthM / 2 + margin && Math.abs(y) <= depthM / 2 + margin && z >= -margin && z <= heightM + margin
  );
}

/** How many stand and hang in the room, and how high. */
export function roomSummary(document: Document): {
  readonly units: number;
  readonly hanging: number;
  readonly lowestM: number | null;
  readonly highestM: number | null;
  readonly things: Readonly<Record<string, number>>;
} {
  const units = recordsOf(document, 'unit');
  const heights = units.map((unit: UnitRecord) => unit.position.z);
  const things: Record<string, number> = {};
  for (const { shape } of recordsOf(document, 'thing')) things[shape] = (things[shape] ?? 0) + 1;
  return {
    units: units.length,
    hanging: units.filter((unit) => unit.hungOn !== null).length,
    lowestM: heights.length > 0 ? heights.reduce((a, b) => Math.min(a, b)) : null,
    highestM: heights.length > 0 ? heights.reduce((a, b) => Math.max(a, b)) : null,
    things,
  };
}
