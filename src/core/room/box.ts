import type { Place3 } from '../plot/paper.ts';
import { plus, times } from '../plot/vector.ts';

/** A room as light meets it, metres: floor at z 0, walls about the middle of the floor, a ceiling. */
export interface RoomBox {
  readonly widthM: number;
  readonly depthM: number;
  readonly heightM: number;
}

/** The six faces of a room, each seen from inside. */
export const FACES = ['floor', 'ceiling', 'left', 'right', 'front', 'back'] as const;
export type Face = (typeof FACES)[number];

/** Nothing is farther away than this, metres. */
export const FAR_M = 200;

interface Plane {
  readonly face: Face;
  readonly axis: 'x' | 'y' | 'z';
  readonly at: number;
  /** Which way it looks along its axis. */
  readonly looks: 1 | -1;
}

/** `left` is at the smallest x, `front` at the smallest y, where the audience looks from. */
export function planesOf({ widthM, depthM, heightM }: RoomBox): Plane[] {
  return [
    { face: 'floor', axis: 'z', at: 0, looks: 1 },
    { face: 'ceiling', axis: 'z', at: heightM, looks: -1 },
    { face: 'left', axis: 'x', at: -widthM / 2, looks: 1 },
    { face: 'right', axis: 'x', at: widthM / 2, looks: -1 },
    { face: 'front', axis: 'y', at: -depthM / 2, looks: 1 },
    { face: 'back', axis: 'y', at: depthM / 2, looks: -1 },
  ];
}

/** Where a ray meets something: how far along it (metres, for a direction of length 1) and on which face. */
export interface Hit {
  readonly distanceM: number;
  readonly face: Face | null;
}

/**
 * The first face of the room that a ray goes through from inside; from outside it goes on to the floor or nowhere, and
 * then `face` is null and the distance `FAR_M`.
 */
export function hitOf(room: RoomBox, from: Place3, direction: Place3): Hit {
  let best: Hit = { distanceM: FAR_M, face: null };
  for (const { face, axis, at, looks } of planesOf(room)) {
    const speed = direction[axis] * -looks;
    const apart = (from[axis] - at) * looks;
    if (speed <= 1e-9 || apart < 0) continue;
    const distanceM = apart / speed;
    if (distanceM < best.distanceM) best = { distanceM, face };
  }
  return best;
}

/** Where a ray is after so many metres. */
export const along = (from: Place3, direction: Place3, metres: number): Place3 => plus(from, times(direction, metres));
