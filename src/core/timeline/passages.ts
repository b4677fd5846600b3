import type { Document } from '../document/change.ts';
import type { LaneId, SongId } from '../ids.ts';
import type { CurvePoint, Curves } from '../records/curve.ts';
import { SHORTEST_BLOCK_S, type Block, type LaneRecord } from '../records/lane.ts';
import type { PassageLane, PassageRecord } from '../records/passage.ts';
import { eachCurve } from '../song/curves.ts';
import { kept } from '../song/grid.ts';
import { blockWithout, cutBlock, keysFor, type SlipBy } from './blocks.ts';
import { courseOf, songBeat, songTime } from './light.ts';
import { OpenLanes } from './open-lanes.ts';

/** Stretches of light with all their lanes: copied, moved, repeated, kept by name, and laid anywhere in the time of that place. */

/** A stretch of a song, seconds. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}
/** What a stretch holds, counted in beats from its beginning. */
export type Clip = Pick<PassageRecord, 'beats' | 'lanes'>;

/** How far what a block plays has come at a moment, with the curves of its lane. */
const slipIn =
  (document: Document, beats: readonly number[], lane: Curves): SlipBy =>
  (block, at) =>
    courseOf(document, block, beats, at, lane);

/** A block cut to a stretch; null where nothing of it is left. What it plays goes on as it was there. */
export const cutTo = (
  document: Document,
  block: Block,
  beats: readonly number[],
  { from, to }: Stretch,
  lane: Curves = {},
): Block | null => cutBlock(block, from, to, slipIn(document, beats, lane));

/** What a stretch holds of these lanes. `nameOf` what a lane is called. */
export function clipOf(
  document: Document,
  lanes: readonly LaneRecord[],
  beats: readonly number[],
  stretch: Stretch,
  nameOf: (lane: LaneRecord) => string,
): Clip {
  const first = songBeat(beats, stretch.from);
  const long = songBeat(beats, stretch.to) - first;
  return {
    beats: Math.min(3600, Math.max(0.25, kept(long))),
    lanes: lanes.flatMap((lane): PassageLane[] => {
      const blocks = lane.blocks.flatMap((block) => {
        const cut = cutTo(document, block, beats, stretch, lane.curves);
        return cut ? [timed(cut, (s) => songBeat(beats, s) - first)] : [];
      });
      return blocks.length > 0 ? [{ on: lane.on, name: nameOf(lane), lost: lane.lost, blocks }] : [];
    }),
  };
}

/** A block in another count of time: its moments, length, fades and curves. */
function timed(block: Block, to: (at: number) => number): Block {
  const [begin, end] = [to(block.at), to(block.at + block.length)];
  const length = kept(Math.max(SHORTEST_BLOCK_S, end - begin));
  const fadeIn = Math.min(length, kept(to(block.at + block.fadeIn) - begin));
  const fadeOut = Math.min(length - fadeIn, kept(end - to(block.at + block.length - block.fadeOut)));
  return {
    ...block,
    at: kept(Math.max(0, begin)),
    length,
    fadeIn,
    fadeOut: Math.max(0, kept(fadeOut)),
    curves: eachCurve(block.curves, (points) =>
      points.map((p): CurvePoint => ({ ...p, at: Math.max(0, kept(to(block.at + p.at) - begin)) })),
    ),
  };
}

/** Lanes without what they hold in a stretch: what reaches over its edges is cut there. The same ones where they hold nothing. */
export function cleared(
  document: Document,
  lane: LaneRecord,
  beats: readonly number[],
  { from, to }: Stretch,
): LaneRecord {
  const [key, slip] = [keysFor(lane.blocks), slipIn(document, beats, lane.curves)];
  const blocks = lane.blocks.flatMap((block) =>
    block.at + block.length <= from || block.at >= to ? [block] : blockWithout(block, from, to, slip, key),
  );
  return blocks.length === lane.blocks.length && blocks.every((block, i) => block === lane.blocks[i])
    ? lane
    : { ...lane, blocks };
}

export interface Laying {
  readonly songId: SongId;
  readonly lanes: readonly LaneRecord[];
  readonly beats: readonly number[];
  /** Where it begins, seconds; and the stretch it is to fill, where that is not as long as it is. */
  readonly at: number;
  readonly fill?: Stretch;
  /** How long the song is, seconds: nothing is laid beyond. */
  readonly end: number;
  readonly newId: () => LaneId;
}

/**
 * A clip laid into a song, in the time of that place: on lanes that play on the same, which are made where there are none.
 * What lay there stays, in other layers as far as there are. Locked lanes stay as they are. Gives the lanes that changed.
 */
export function laidClip(clip: Clip, { songId, lanes, beats, at, fill, end, newId }: Laying): LaneRecord[] {
  const first = songBeat(beats, at);
  const scale = fill ? (songBeat(beats, fill.to) - songBeat(beats, fill.from)) / clip.beats : 1;
  const timeOf = (beat: number): number => songTime(beats, first + beat * scale);
  const open = new OpenLanes(songId, lanes, newId);
  for (const own of clip.lanes) {
    const lane = open.on(own.on, own.lost);
    const blocks = [...lane.blocks];
    const key = keysFor(blocks);
    for (const block of own.blocks) {
      const put = timed(block, timeOf);
      const length = kept(Math.min(put.length, end - put.at));
      if (length < SHORTEST_BLOCK_S) continue;
      const cut = length < put.length ? { fadeOut: 0, fadeIn: Math.min(put.fadeIn, length) } : {};
      blocks.push({ ...put, ...cut, length, key: key() });
    }
    if (blocks.length > lane.blocks.length) open.put({ ...lane, blocks });
  }
  return open.changed;
}
