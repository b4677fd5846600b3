import { getRecord, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import { reached } from '../patch/groups.ts';
import { orderUnits } from '../patch/order.ts';
import { bounds, tidyPlace, tidyTurn, type Place3 } from '../plot/paper.ts';
import { applied, inOwn, inRoom, rotationOf, type Standing } from '../plot/rotation.ts';
import { dot, lengthOf, minus, plus, times } from '../plot/vector.ts';
import type { AimRecord, UnitRecord } from '../records/index.ts';
import type { AnchorId, Where } from '../records/aim.ts';
import { areHeads, headsOf } from './axes.ts';

const RAD = Math.PI / 180;
const ORIGIN: Place3 = { x: 0, y: 0, z: 0 };
/** Nearer than this to the middle a head is on neither side, metres. */
const MIDDLE_M = 0.01;

/** Where one head points for an aim: a place in the room, a direction in it (length 1), or the middle of its ranges. */
export type Target =
  | { readonly is: 'place'; readonly place: Place3 }
  | { readonly is: 'way'; readonly way: Place3 }
  | { readonly is: 'home' };

/** Where an anchor stands. An area stands with the middle of its outline on the floor; what is gone, in the room's middle. */
export function anchorStanding(document: Document, anchor: AnchorId | null): Standing {
  const thing = anchor && getRecord(document, 'thing', anchor);
  if (thing) return thing;
  const box = anchor && bounds(getRecord(document, 'area', anchor)?.outline ?? []);
  if (!box) return { position: ORIGIN, rotation: ORIGIN };
  const { min, max } = box;
  return { position: { x: (min.x + max.x) / 2, y: (min.y + max.y) / 2, z: 0 }, rotation: ORIGIN };
}

const orders = new WeakMap<Document, Map<AimRecord, readonly UnitRecord[]>>();

/** The heads that take part in an aim, in their order; worked out once for a document. */
export function headsIn(document: Document, aim: AimRecord): readonly UnitRecord[] {
  let ofAims = orders.get(document);
  if (!ofAims) orders.set(document, (ofAims = new Map()));
  let found = ofAims.get(aim);
  if (!found) {
    const taking = aim.heads === null ? headsOf(document) : areHeads(document, reached(document, aim.heads));
    found = aim.order === 'given' ? taking : orderUnits(document, taking, aim.order);
    ofAims.set(aim, found);
  }
  return found;
}

/** Its place among those that take part and how many these are; one that does not take part stands in their middle. */
export function rankIn(document: Document, aim: AimRecord, unitId: UnitId): readonly [index: number, count: number] {
  let ranks = places.get(headsIn(document, aim));
  if (!ranks) {
    const list = headsIn(document, aim);
    places.set(list, (ranks = new Map(list.map(({ id }, i) => [id, i]))));
  }
  const index = ranks.get(unitId);
  return index === undefined ? [0, 1] : [index, ranks.size];
}
const places = new WeakMap<readonly UnitRecord[], Map<UnitId, number>>();

/** How far along the order, 0-1; the middle where there is one alone. */
const alongOf = (index: number, count: number): number => (count > 1 ? index / (count - 1) : 0.5);

/** The direction of a `direction` aim for a head so far along the order; length 1. */
export function directionAt({ turnDeg, riseDeg, fanDeg }: WhereOf<'direction'>, along: number): Place3 {
  const [t, r] = [turnDeg * RAD, riseDeg * RAD];
  const way = { x: Math.sin(t) * Math.cos(r), y: -Math.cos(t) * Math.cos(r), z: Math.sin(r) };
  if (fanDeg === 0) return way;
  // Opened sideways: across the way, as level as can be.
  const sideways = sidewaysOf(way);
  const fan = fanDeg * (along - 0.5) * RAD;
  return plus(times(way, Math.cos(fan)), times(sideways, Math.sin(fan)));
}

function sidewaysOf(way: Place3): Place3 {
  for (const axis of [
    { x: 1, y: 0, z: 0 },
    { x: 0, y: 1, z: 0 },
  ]) {
    const across = minus(axis, times(way, dot(axis, way)));
    const length = lengthOf(across);
    if (length > 0.3) return times(across, 1 / length);
  }
  return { x: 1, y: 0, z: 0 };
}

type WhereOf<Is extends Where['is']> = Extract<Where, { is: Is }>;
/** The other place of a pair. */
export const mirrored = ({ at, middleX }: WhereOf<'pair'>): Place3 => ({ ...at, x: 2 * middleX - at.x });
/** A place of a line or arc, so far along it, 0-1. */
export function spreadAt({ from, to, bowM }: WhereOf<'spread'>, along: number): Place3 {
  const on = plus(from, times(minus(to, from), along));
  return { ...on, y: on.y + bowM * 4 * along * (1 - along) };
}
/** A place of a ring, so many degrees round from stage left. */
export function ringAt({ at, radiusM }: WhereOf<'ring'>, turnDeg: number): Place3 {
  const turn = turnDeg * RAD;
  return plus(at, { x: Math.cos(turn) * radiusM, y: Math.sin(turn) * radiusM, z: 0 });
}

/** Where a head at a place points, given what the aim stands on and the head's place in the order. */
function targetAt(where: Where, standing: Standing, position: Place3, index: number, count: number): Target {
  const place = (own: Place3): Target => ({ is: 'place', place: inRoom(standing, own) });
  switch (where.is) {
    case 'home':
      return { is: 'home' };
    case 'direction': {
      const way = directionAt(where, alongOf(index, count));
      return { is: 'way', way: applied(rotationOf(standing.rotation), way) };
    }
    case 'point':
      return place(where.at);
    case 'pair': {
      const own = inOwn(standing, position).x - where.middleX;
      const left = Math.abs(own) < MIDDLE_M ? index % 2 === 0 : own > 0;
      const side = left === where.crossing ? -1 : 1;
      return place({ ...where.at, x: where.middleX + Math.abs(where.at.x - where.middleX) * side });
    }
    case 'spread':
      return place(spreadAt(where, alongOf(index, count)));
    case 'ring':
      return place(ringAt(where, where.fromDeg + (360 * index) / count));
  }
}

/** The same aim standing free in the room, as when what it stood on goes. */
export function freed(document: Document, aim: AimRecord): AimRecord {
  const standing = anchorStanding(document, aim.anchor);
  return { ...aim, anchor: null, where: seenFrom(aim.where, (own) => tidyPlace(inRoom(standing, own)), standing) };
}

/** The same aim standing on something else: it points where it pointed. */
export function anchored(document: Document, aim: AimRecord, anchor: AnchorId | null): AimRecord {
  const free = freed(document, aim);
  if (anchor === null) return free;
  const standing = anchorStanding(document, anchor);
  const back = { rotation: { x: 0, y: 0, z: -standing.rotation.z } };
  return { ...free, anchor, where: seenFrom(free.where, (place) => tidyPlace(inOwn(standing, place)), back) };
}

function seenFrom(where: Where, moved: (place: Place3) => Place3, { rotation }: Pick<Standing, 'rotation'>): Where {
  switch (where.is) {
    case 'home':
      return where;
    case 'direction':
      return { ...where, turnDeg: tidyTurn(where.turnDeg + rotation.z) };
    case 'spread':
      return { ...where, from: moved(where.from), to: moved(where.to) };
    case 'pair': {
      const middleX = moved({ x: where.middleX, y: 0, z: 0 }).x;
      return { ...where, at: moved(where.at), middleX };
    }
    case 'point':
    case 'ring':
      return { ...where, at: moved(where.at) };
  }
}

/** Where a head whose beam begins at a place points for an aim. */
export function targetOf(document: Document, aim: AimRecord, unitId: UnitId, position: Place3): Target {
  const [index, count] = rankIn(document, aim, unitId);
  return targetAt(aim.where, anchorStanding(document, aim.anchor), position, index, count);
}
