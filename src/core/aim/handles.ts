import type { Document } from '../document/change.ts';
import { tidy, tidyPlace, type Place3 } from '../plot/paper.ts';
import { inOwn, inRoom } from '../plot/rotation.ts';
import { minus, plus } from '../plot/vector.ts';
import type { AimRecord } from '../records/index.ts';
import { anchorStanding } from './target.ts';

/** What an aim is dragged by: places of it in the room. Directions and home have none. */
export interface AimHandle {
  readonly key: 'at' | 'other' | 'from' | 'to' | 'rim' | 'bow';
  readonly place: Place3;
}

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
      return [at('at', where.at), at('other', { ...where.at, x: 2 * where.middleX - where.at.x })];
    case 'spread': {
      const middle = { x: (where.from.x + where.to.x) / 2, y: (where.from.y + where.to.y) / 2 + where.bowM, z: 0 };
      return [at('from', where.from), at('to', where.to), at('bow', { ...middle, z: (where.from.z + where.to.z) / 2 })];
    }
    case 'ring': {
      const turn = (where.fromDeg * Math.PI) / 180;
      const rim = { x: Math.cos(turn) * where.radiusM, y: Math.sin(turn) * where.radiusM, z: 0 };
      return [at('at', where.at), at('rim', plus(where.at, rim))];
    }
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
      const at = key === 'other' ? { ...own, x: tidy(2 * where.middleX - own.x) } : own;
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

/** Lines that an aim is drawn as, places of the room one after the other; none of a single point. */
export function aimLines(document: Document, { where, anchor }: AimRecord): Place3[][] {
  const standing = anchorStanding(document, anchor);
  const lay = (own: readonly Place3[]): Place3[] => own.map((place) => inRoom(standing, place));
  if (where.is === 'pair') return [lay([where.at, { ...where.at, x: 2 * where.middleX - where.at.x }])];
  if (where.is === 'spread')
    return [
      lay(
        Array.from({ length: 25 }, (_, i) => {
          const t = i / 24;
          const on = plus(where.from, {
            x: (where.to.x - where.from.x) * t,
            y: (where.to.y - where.from.y) * t,
            z: (where.to.z - where.from.z) * t,
          });
          return { ...on, y: on.y + where.bowM * 4 * t * (1 - t) };
        }),
      ),
    ];
  if (where.is === 'ring')
    return [
      lay(
        Array.from({ length: 49 }, (_, i) => {
          const turn = (i / 48) * 2 * Math.PI;
          return plus(where.at, { x: Math.cos(turn) * where.radiusM, y: Math.sin(turn) * where.radiusM, z: 0 });
        }),
      ),
    ];
  return [];
}
