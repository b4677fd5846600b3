import { anchorStanding } from '../aim/target.ts';
import { applyChange, getRecord, recordsOf, sameJson, type ChangeSet, type Document } from '../document/change.ts';
import { FaultError } from '../faults.ts';
import type { AimId, AreaId, Id, RoomId, ThingId, UnitId } from '../ids.ts';
import { nextNumber } from '../naming.ts';
import { bounds, tidy, tidyPlace, type Place3 } from '../plot/paper.ts';
import { isSame } from '../plot/vector.ts';
import {
  make,
  type AimRecord,
  type AnyRecord,
  type AreaRecord,
  type RoomRecord,
  type ShowRecord,
  type ThingRecord,
  type UnitRecord,
} from '../records/index.ts';
import type { AnchorId, Where } from '../records/aim.ts';
import type { KeptRoom, Measures } from '../records/room.ts';
import { carried } from '../room/hang.ts';

/**
 * Rooms of a show. What belongs to a room (measures, things, places of units, outlines and keep-outs of areas, aims and their
 * corrections) stands in the show itself while one is there, and is kept in its record while one is elsewhere. The
 * programming is the same everywhere: it says where beams point, not how heads are turned.
 */

const bodyOf = (id: Id): string => id.slice(id.indexOf(':') + 1);
const thingId = (body: string): ThingId => `thing:${body}`;

const entries = <K extends string, V>(list: readonly (readonly [K, V])[]): Record<K, V> =>
  Object.fromEntries(list) as Record<K, V>;

const keptAnchor = (anchor: AnchorId | null): KeptRoom['aims'][AimId]['anchor'] =>
  anchor && { kind: anchor.startsWith('thing:') ? 'thing' : 'area', body: bodyOf(anchor) };

const keptThings = (things: Iterable<ThingRecord>): KeptRoom['things'] =>
  entries([...things].map(({ kind: _, id, ...thing }) => [bodyOf(id), thing] as const));
const keptAreas = (areas: readonly AreaRecord[]): KeptRoom['areas'] =>
  entries(areas.map(({ id, outline, keepOut }) => [id, { outline, keepOut }] as const));

/** All that belongs to the room one is in. */
export function keptRoom(document: Document): KeptRoom {
  const show = recordsOf(document, 'show')[0]!;
  return {
    measures: show.room,
    guides: show.guides,
    things: keptThings(recordsOf(document, 'thing')),
    units: entries(
      recordsOf(document, 'unit').map(
        ({ id, position, rotation, hungOn, invertPan, invertTilt, movement }) =>
          [id, { position, rotation, hungOn: hungOn && bodyOf(hungOn), invertPan, invertTilt, movement }] as const,
      ),
    ),
    areas: keptAreas(recordsOf(document, 'area')),
    aims: entries(
      recordsOf(document, 'aim').map(({ id, where, anchor, corrections }) => {
        const kept = Object.entries(corrections).map(([unit, value]) => [bodyOf(unit as UnitId), value] as const);
        return [id, { where, anchor: keptAnchor(anchor), corrections: Object.fromEntries(kept) }] as const;
      }),
    ),
  };
}

/** What an edit that goes to another room comes to. */
export interface RoomSwitch {
  readonly change: ChangeSet;
  /** What could not be as it was there, in words. */
  readonly notes: readonly string[];
}

const MOST_NOTES = 20;

/**
 * The edit that goes to another room: what belongs to the one that is left is kept in its record (made with `newId` where
 * it has none). Units and aims that were made since stay where they are. Throws FaultError (NO_SUCH_ROOM).
 */
export function switchRoom(document: Document, roomId: RoomId, newId: () => RoomId): RoomSwitch {
  const show = recordsOf(document, 'show')[0]!;
  const room = getRecord(document, 'room', roomId);
  if (!room)
    throw new FaultError({
      code: 'NO_SUCH_ROOM',
      path: 'room',
      message: `there is no room ${roomId}`,
      received: roomId,
      remedy: 'Choose a room of this show.',
    });
  if (show.roomId === roomId || !room.kept) return { change: { put: [], remove: [] }, notes: [] };
  const left = leaving(document, show, newId);
  return entering(document, show, left, room, room.kept);
}

/** The record of the room that is left, with all that belongs to it. */
function leaving(document: Document, show: ShowRecord, newId: () => RoomId): RoomRecord {
  const known = show.roomId && getRecord(document, 'room', show.roomId);
  const kept = keptRoom(document);
  if (known) return { ...known, kept };
  const number = nextNumber(recordsOf(document, 'room'));
  return make('room', { id: newId(), number, name: show.room.name, kept });
}

function entering(
  document: Document,
  show: ShowRecord,
  left: RoomRecord,
  room: RoomRecord,
  kept: KeptRoom,
): RoomSwitch {
  const notes: string[] = [];
  const put: AnyRecord[] = [
    { ...show, room: kept.measures, guides: kept.guides, roomId: room.id },
    left,
    { ...room, kept: null },
  ];
  const things = new Set(Object.keys(kept.things).map(thingId));
  for (const [body, thing] of Object.entries(kept.things)) put.push({ kind: 'thing', id: thingId(body), ...thing });
  const remove = recordsOf(document, 'thing').flatMap(({ id }) => (things.has(id) ? [] : [id]));
  for (const area of recordsOf(document, 'area')) {
    const own = kept.areas[area.id];
    if (own) put.push({ ...area, ...own });
  }
  for (const unit of recordsOf(document, 'unit')) put.push(unitIn(unit, kept, things, notes));
  for (const aim of recordsOf(document, 'aim')) put.push(aimIn(document, aim, kept, things, notes));
  return {
    change: { put: put.filter((record) => !sameJson(document.get(record.id), record)), remove },
    notes: notes.slice(0, MOST_NOTES),
  };
}

function unitIn(unit: UnitRecord, kept: KeptRoom, things: ReadonlySet<ThingId>, notes: string[]): UnitRecord {
  const own = kept.units[unit.id];
  if (!own) {
    notes.push(`${unit.number} ${unit.name} has never been in ${kept.measures.name}: it stays where it is.`);
    return unit.hungOn && !things.has(unit.hungOn) ? { ...unit, hungOn: null } : unit;
  }
  const hungOn = own.hungOn !== null && things.has(thingId(own.hungOn)) ? thingId(own.hungOn) : null;
  return { ...unit, ...own, hungOn };
}

function aimIn(
  document: Document,
  aim: AimRecord,
  kept: KeptRoom,
  things: ReadonlySet<ThingId>,
  notes: string[],
): AimRecord {
  const own = kept.aims[aim.id];
  const stands = (anchor: AnchorId | null): boolean =>
    anchor === null || (anchor.startsWith('area:') ? document.has(anchor) : things.has(anchor as ThingId));
  if (!own) {
    if (stands(aim.anchor)) return aim;
    notes.push(`${aim.name} stood on something that is not in ${kept.measures.name}: it stands free there.`);
    return { ...aim, anchor: null };
  }
  const wanted = own.anchor && (`${own.anchor.kind}:${own.anchor.body}` as AnchorId);
  if (wanted && !stands(wanted))
    notes.push(`${aim.name} stood on something that is gone: set its place in ${kept.measures.name} anew.`);
  const corrections = Object.fromEntries(
    Object.entries(own.corrections).flatMap(([body, value]) =>
      document.has(`unit:${body}`) ? [[`unit:${body}`, value]] : [],
    ),
  ) as AimRecord['corrections'];
  return { ...aim, where: own.where, anchor: wanted && stands(wanted) ? wanted : null, corrections };
}

/** What is known of a new room besides its size, metres on its plan. */
export interface SetIn {
  readonly measures: Measures;
  /** Where things stand there that have been carried along: booth, stands. */
  readonly things: ReadonlyMap<ThingId, { readonly x: number; readonly y: number }>;
  /** The floor: its area, and from where to where it reaches. */
  readonly floor: {
    readonly id: AreaId;
    readonly min: { readonly x: number; readonly y: number };
    readonly max: { readonly x: number; readonly y: number };
  } | null;
}

/** Lower than this from the ceiling nothing is lifted or lowered with it, as part of the height. */
const UPPER_HALF = 0.5;
const LOWEST_M = 0.1;

/** From one room into another: places in proportion, what hangs as far under the ceiling as it was. */
class Scaling {
  readonly #from: Measures;
  readonly #to: Measures;
  readonly x: number;
  readonly y: number;
  constructor(from: Measures, to: Measures) {
    this.#from = from;
    this.#to = to;
    this.x = to.widthM / from.widthM;
    this.y = to.depthM / from.depthM;
  }
  height(z: number): number {
    if (z < this.#from.heightM * UPPER_HALF) return Math.min(z, this.#to.heightM - LOWEST_M);
    return Math.max(LOWEST_M, this.#to.heightM - Math.max(0, this.#from.heightM - z));
  }
  place({ x, y, z }: Place3): Place3 {
    return tidyPlace({ x: x * this.x, y: y * this.y, z: this.height(z) });
  }
}

/** The rig of this show set into another room: what would be kept of it there. Corrections are none of that room yet. */
export function setIn(document: Document, { measures, things, floor }: SetIn): KeptRoom {
  const show = recordsOf(document, 'show')[0]!;
  const scale = new Scaling(show.room, measures);
  const before = keptRoom(document);
  const moved = new Map<ThingId, ThingRecord>();
  for (const thing of recordsOf(document, 'thing')) {
    const to = scale.place(thing.position);
    const at = things.get(thing.id);
    moved.set(thing.id, {
      ...thing,
      position: at ? tidyPlace({ ...to, ...at }) : to,
      ...sizeIn(thing, scale, show.room),
    });
  }
  const unitsIn = (unit: UnitRecord): UnitRecord => {
    const [was, is] = [unit.hungOn && getRecord(document, 'thing', unit.hungOn), unit.hungOn && moved.get(unit.hungOn)];
    if (!was || !is) return { ...unit, position: scale.place(unit.position) };
    const along = carried(unit, was, is);
    // On something that spans the room they keep their share of it.
    const spread = isSame(was.rotation, is.rotation) && spans(was, show.room);
    return spread ? { ...along, position: spreadAlong(unit, was, is, scale) } : along;
  };
  const outlineIn = (area: AreaRecord): AreaRecord['outline'] => {
    if (floor && area.id === floor.id) {
      const { min, max } = floor;
      return [min, { x: max.x, y: min.y }, max, { x: min.x, y: max.y }].map(({ x, y }) => ({ x: tidy(x), y: tidy(y) }));
    }
    return area.outline?.map(({ x, y }) => ({ x: tidy(x * scale.x), y: tidy(y * scale.y) })) ?? null;
  };
  const areas = recordsOf(document, 'area').map((area) => ({ ...area, outline: outlineIn(area) }));
  const after = applyChange(document, { put: [...moved.values(), ...areas], remove: [] });
  return {
    ...before,
    measures,
    guides: [],
    things: keptThings(moved.values()),
    units: entries(
      recordsOf(document, 'unit').map((unit) => {
        const { position, rotation } = unitsIn(unit);
        return [unit.id, { ...before.units[unit.id]!, position, rotation }] as const;
      }),
    ),
    areas: keptAreas(areas),
    aims: entries(
      recordsOf(document, 'aim').map((aim) => {
        const where = whereIn(document, after, aim, scale);
        return [aim.id, { where, anchor: keptAnchor(aim.anchor), corrections: {} }] as const;
      }),
    ),
  };
}

const spans = ({ size }: ThingRecord, { widthM }: Measures): boolean => size.widthM > widthM * 0.6;

/** Walls, and trusses that span a room, span the other too; what is carried along is as large as it is. */
function sizeIn(thing: ThingRecord, scale: Scaling, room: Measures): { size: ThingRecord['size'] } {
  const built = thing.shape === 'wall' || (thing.shape === 'truss' && spans(thing, room));
  if (!built) return { size: thing.size };
  const across = Math.abs(Math.sin((thing.rotation.z * Math.PI) / 180)) > 0.7 ? scale.y : scale.x;
  return { size: { ...thing.size, widthM: tidy(Math.max(0.1, thing.size.widthM * across)) } };
}

function spreadAlong(unit: UnitRecord, was: ThingRecord, is: ThingRecord, scale: Scaling): Place3 {
  return tidyPlace({
    x: is.position.x + (unit.position.x - was.position.x) * scale.x,
    y: is.position.y + (unit.position.y - was.position.y),
    z: is.position.z + (unit.position.z - was.position.z),
  });
}

/** So far an area reaches from its middle. */
function halves(document: Document, id: AnchorId): { x: number; y: number } | null {
  const box = bounds(getRecord(document, 'area', id)?.outline ?? []);
  return box && { x: (box.max.x - box.min.x) / 2, y: (box.max.y - box.min.y) / 2 };
}

/** Aims on an area stretch with it, those on things stay as they are, free ones go with the room. */
function whereIn(before: Document, after: Document, aim: AimRecord, scale: Scaling): Where {
  const { where, anchor } = aim;
  let by = { x: scale.x, y: scale.y };
  if (anchor?.startsWith('thing:')) by = { x: 1, y: 1 };
  else if (anchor) {
    const [was, is] = [halves(before, anchor), halves(after, anchor)];
    if (was && is) by = { x: is.x / (was.x || 1), y: is.y / (was.y || 1) };
  }
  const lowest = anchorStanding(after, anchor).position.z;
  const place = ({ x, y, z }: Place3): Place3 => {
    const high = anchor ? scale.height(z + lowest) - lowest : scale.height(z);
    return tidyPlace({ x: x * by.x, y: y * by.y, z: z === 0 ? 0 : high });
  };
  switch (where.is) {
    case 'home':
    case 'direction':
      return where;
    case 'point':
      return { ...where, at: place(where.at) };
    case 'pair':
      return { ...where, at: place(where.at), middleX: tidy(where.middleX * by.x) };
    case 'ring':
      return { ...where, at: place(where.at), radiusM: Math.min(200, tidy(where.radiusM * Math.min(by.x, by.y))) };
    case 'spread':
      return { ...where, from: place(where.from), to: place(where.to), bowM: tidy(where.bowM * by.y) };
  }
}

/** A new room that the rig is set into, and the edit that goes there. */
export function roomSetIn(
  document: Document,
  given: SetIn,
  ids: { readonly room: RoomId; readonly left: () => RoomId },
): RoomSwitch & { readonly room: RoomRecord } {
  const show = recordsOf(document, 'show')[0]!;
  const left = leaving(document, show, ids.left);
  const number = Math.max(nextNumber(recordsOf(document, 'room')), left.number + 1);
  const kept = setIn(document, given);
  const room = make('room', { id: ids.room, number, name: given.measures.name, kept });
  return { room, ...entering(document, show, left, room, kept) };
}
