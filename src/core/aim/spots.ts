import { recordsOf, type Document } from '../document/change.ts';
import { roomOf } from '../plot/room-of.ts';
import type { Place3 } from '../plot/paper.ts';
import { inRoom } from '../plot/rotation.ts';
import { anchorStanding } from './target.ts';

/** A place that people find in the room without a measure: a corner, the foot of a thing, an aim that is a point. */
export interface KnownSpot {
  readonly key: string;
  readonly name: string;
  readonly place: Place3;
}

/** Spots to point heads at, those that are marked before the others. */
export function knownSpots(document: Document): KnownSpot[] {
  const { widthM, depthM } = roomOf(document);
  const [w, d] = [widthM / 2, depthM / 2];
  const things = recordsOf(document, 'thing').filter(({ shape }) => shape !== 'truss' && shape !== 'person');
  const marked = things.filter(({ shape }) => shape === 'marker');
  const spots = [...marked, ...things.filter(({ shape }) => shape !== 'marker')].map(
    ({ id, name, shape, position, size }): KnownSpot => ({
      key: id,
      name: shape === 'marker' ? name : `${name}, middle of its top`,
      place: { ...position, z: shape === 'marker' ? position.z : position.z + size.heightM },
    }),
  );
  const aims = recordsOf(document, 'aim').flatMap(({ id, name, where, anchor }): KnownSpot[] =>
    where.is === 'point' ? [{ key: id, name, place: inRoom(anchorStanding(document, anchor), where.at) }] : [],
  );
  const corners = (
    [
      ['left, down-stage', -w, -d],
      ['right, down-stage', w, -d],
      ['left, up-stage', -w, d],
      ['right, up-stage', w, d],
    ] as const
  ).map(([name, x, y]): KnownSpot => ({ key: `corner ${name}`, name: `Corner ${name}`, place: { x, y, z: 0 } }));
  const middle = { key: 'middle', name: 'Middle of the floor', place: { x: 0, y: 0, z: 0 } };
  return [...spots.slice(0, marked.length), middle, ...corners, ...aims, ...spots.slice(marked.length)];
}
