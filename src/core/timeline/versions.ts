import { sameJson } from '../document/change.ts';
import type { LaneId, SongId } from '../ids.ts';
import type { AnyRecord, LaneRecord, SongRecord } from '../records/index.ts';
import type { Block } from '../records/lane.ts';

/** Versions of the light of one song: another song record with the same sound. */

/** A song with all its lanes again, under another name: what to put. */
export function anotherVersion(
  song: SongRecord,
  lanes: readonly LaneRecord[],
  {
    id,
    number,
    name,
    newLane,
  }: { readonly id: SongId; readonly number: number; readonly name: string; readonly newLane: () => LaneId },
): AnyRecord[] {
  // A code from outside finds one of them.
  return [
    { ...song, id, number, name, codeAt: null },
    ...lanes.map((lane) => ({ ...lane, id: newLane(), songId: id })),
  ];
}

/** Something that is in one version and not, or otherwise, in the other. */
export interface Difference {
  /** What the lane plays on; and what it lost. */
  readonly on: LaneRecord['on'];
  readonly lost: string | null;
  readonly is: 'gone' | 'new' | 'other';
  /** As it is in the first, and in the second. */
  readonly a: Block | null;
  readonly b: Block | null;
  /** Where in the song, seconds. */
  readonly at: number;
}

/** Moments nearer than this (s) are the same. */
const NEAR_S = 0.002;
const same = (a: Block, b: Block): boolean =>
  Math.abs(a.at - b.at) < NEAR_S && Math.abs(a.length - b.length) < NEAR_S && sameJson(restOf(a), restOf(b));
const restOf = ({ key: _, at: _at, length: _length, ...rest }: Block): unknown => rest;

/** What differs between the lanes of two versions, in order of time. Lanes are told by what they play on. */
export function differences(a: readonly LaneRecord[], b: readonly LaneRecord[]): Difference[] {
  const found: Difference[] = [];
  const key = ({ on, lost }: LaneRecord): string => `${on} ${lost}`;
  for (const place of new Set([...a, ...b].map(key))) {
    const [as, bs] = [a, b].map((lanes) => lanes.filter((lane) => key(lane) === place)) as [LaneRecord[], LaneRecord[]];
    const { on, lost } = (as[0] ?? bs[0])!;
    const left = bs.flatMap(({ blocks }) => blocks).sort((x, y) => x.at - y.at);
    const unmatched = as
      .flatMap(({ blocks }) => blocks)
      .sort((x, y) => x.at - y.at)
      .filter((block) => {
        const i = left.findIndex((other) => same(block, other));
        if (i >= 0) left.splice(i, 1);
        return i < 0;
      });
    for (const block of unmatched) {
      // Another length, or something else at the same moment, is the same block changed.
      const i = left.findIndex((other) => other.layer === block.layer && Math.abs(other.at - block.at) < NEAR_S);
      const other = i < 0 ? null : left.splice(i, 1)[0]!;
      found.push({ on, lost, is: other ? 'other' : 'gone', a: block, b: other, at: block.at });
    }
    for (const block of left) found.push({ on, lost, is: 'new', a: null, b: block, at: block.at });
  }
  return found.sort((x, y) => x.at - y.at);
}
