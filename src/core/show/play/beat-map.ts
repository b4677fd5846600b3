import { lastBy } from '../../search.ts';

/** Most points of a beat map: a beat each of a song of half an hour. */
export const MOST_POINTS = 4096;

/**
 * When which beat is: a line through points (`ms` since 1970, `beat` counted from wherever the map begins), straight
 * between them. It goes on with the slope of its first stretch before the first point, and at `bpm` after the last. Time
 * and beats rise from point to point, so that each beat has one moment. A steady tempo is one point.
 */
export interface BeatMap {
  readonly points: readonly { readonly ms: number; readonly beat: number }[];
  readonly bpm: number;
}

/** A steady tempo that is at `beat` at a moment. */
export const steady = (bpm: number, ms: number, beat: number): BeatMap => ({ points: [{ ms, beat }], bpm });

type Point = BeatMap['points'][number];
const AXES = { ms: ({ ms }: Point): number => ms, beat: ({ beat }: Point): number => beat } as const;
/** The point whose stretch a moment (or a beat) lies in: the last that is not after it, the first before all. */
const stretchAt = ({ points }: BeatMap, axis: keyof typeof AXES, at: number): number =>
  Math.max(0, lastBy(points, at, AXES[axis]));

/** Beats a millisecond on a stretch. */
function slopeOf({ points, bpm }: BeatMap, stretch: number): number {
  const from = points[stretch]!;
  const to = points[stretch + 1];
  return to ? (to.beat - from.beat) / (to.ms - from.ms) : bpm / 60_000;
}

/** The beat at a moment, as a fraction. O(log points). */
export function beatAt(map: BeatMap, ms: number): number {
  const stretch = stretchAt(map, 'ms', ms);
  const from = map.points[stretch]!;
  return from.beat + (ms - from.ms) * slopeOf(map, stretch);
}

/** The moment of a beat: the inverse of `beatAt`. O(log points). */
export function msAt(map: BeatMap, beat: number): number {
  const stretch = stretchAt(map, 'beat', beat);
  const from = map.points[stretch]!;
  return from.ms + (beat - from.beat) / slopeOf(map, stretch);
}

/** Beats a minute at a moment. */
export const bpmAt = (map: BeatMap, ms: number): number => slopeOf(map, stretchAt(map, 'ms', ms)) * 60_000;

/** The same as people read it: over some beats around, so that the small unevenness of a drummer is not shown. */
export function bpmAround(map: BeatMap, ms: number, beats = 4): number {
  const beat = beatAt(map, ms);
  return ((2 * beats) / (msAt(map, beat + beats) - msAt(map, beat - beats))) * 60_000;
}

/** The same beats, so many earlier (below 0: later). */
export const shifted = (map: BeatMap, beats: number): BeatMap => ({
  ...map,
  points: map.points.map(({ ms, beat }) => ({ ms, beat: beat + beats })),
});
