import type { Document } from '../document/change.ts';
import { tidy, tidyPlace, type Place3 } from '../plot/paper.ts';
import { inOwn, inRoom } from '../plot/rotation.ts';
import { minus } from '../plot/vector.ts';
import type { AimRecord } from '../records/index.ts';
import { anchorStanding, mirrored, ringAt, spreadAt } from './target.ts';

/** What an aim is dragged by: places of it in the room. Directions and home have none. */
export interface AimHandle {
  readonly key: 'at' | 'other' | 'from' | 'to' | 'rim' | 'bow';
  readonly place: Place3;
}

/** Handles that say how an aim is shaped, and are no places of it. */
export const isShaping = ({ key }: AimHandle): boolean => key === 'rim' || key === 'bow';

export function aimHandles(document: Document, { where, anchor }: AimRecord): AimHandle[] {
  const standing = anchorStanding(document, anchor);
  const at = (key: AimHandle['key'], own: Place3): AimHandle => ({ key, place: inRoom(standing, own) });
  switch (where.is) {
    case 'home':
    case 'direction':
      return [];
    case 'point':
      return [at('at', where.at)];
    case 'pair':
      return [at('at', where.at), at('other', mirrored(where))];
    case 'spread':
      return [at('from', where.from), at('to', where.to), at('bow', spreadAt(where, 0.5))];
    case 'ring':
      return [at('at', where.at), at('rim', ringAt(where, where.fromDeg))];
  }
}

/** The aim with one of its handles at a place of the room. */
export function withHandle(document: Document, aim: AimRecord, key: AimHandle['key'], place: Place3): AimRecord {
  const standing = anchorStanding(document, aim.anchor);
  const own = tidyPlace(inOwn(standing, place));
  const { where } = aim;
  switch (where.is) {
    case 'home':
    case 'direction':
      return aim;
    case 'point':
      return { ...aim, where: { ...where, at: own } };
    case 'pair': {
      const at = key === 'other' ? tidyPlace(mirrored({ ...where, at: own })) : own;
      return { ...aim, where: { ...where, at } };
    }
    case 'spread': {
      if (key === 'bow') {
        const bowM = Math.max(-200, Math.min(200, own.y - (where.from.y + where.to.y) / 2));
        return { ...aim, where: { ...where, bowM: tidy(bowM) } };
      }
      return { ...aim, where: { ...where, [key === 'to' ? 'to' : 'from']: own } };
    }
    case 'ring': {
      if (key === 'at') return { ...aim, where: { ...where, at: own } };
      const out = minus(own, where.at);
      const radiusM = Math.min(200, tidy(Math.hypot(out.x, out.y)));
      const fromDeg = radiusM > 0 ? Math.round((Math.atan2(out.y, out.x) * 1800) / Math.PI) / 10 : where.fromDeg;
      return { ...aim, where: { ...where, radiusM, fromDeg } };
    }
  }
}

/** Straight pieces that an arc and a ring are drawn as. */
const [ARC_PIECES, RING_PIECES] = [24, 48];

/** The line that an aim is drawn as, places of the room one after the other; none for a single point. */
export function aimLine(document: Document, { where, anchor }: AimRecord): Place3[] {
  const standing = anchorStanding(document, anchor);
  const pieces = (count: number, at: (part: number) => Place3): Place3[] =>
    Array.from({ length: count + 1 }, (_, i) => inRoom(standing, at(i / count)));
  switch (where.is) {
    case 'pair':
      return pieces(1, (part) => (part === 0 ? where.at : mirrored(where)));
    case 'spread':
      return pieces(ARC_PIECES, (part) => spreadAt(where, part));
    case 'ring':
      return pieces(RING_PIECES, (part) => ringAt(where, part * 360));
    default:
      return [];
  }
}
