import type { BarsFrom, HeardSong, MendedSong, SongRecord, SongSection } from '../records/song.ts';
import { lastBy } from '../search.ts';
import { modulo } from '../units.ts';

/** Beats and bars of a song: what was heard, and over it what was set right. */
export interface Grid {
  /** Moments of the beats, seconds, rising. */
  readonly beats: readonly number[];
  /** Which of its bar each beat is, 0 the first; and how many beats that bar has. */
  readonly places: readonly number[];
  readonly metres: readonly number[];
  /** The number of the bar each beat is in, 1 the first that is whole; bars before are 0. */
  readonly bars: readonly number[];
}
/** What of a song its grid is made of. */
export type Timed = Pick<SongRecord, 'heard' | 'mended'>;

/** Beats that were heard so near to one that was set are the same, seconds. */
const SAME_BEAT_S = 0.09;
const USUAL_METRE = 4;

/** Beats of a song, seconds. */
export function beatsOf({ heard, mended: { stretches } }: Timed): readonly number[] {
  if (stretches.length === 0) return heard?.beats ?? [];
  const set = stretches.flatMap(({ beats }) => beats);
  const near = (at: number): boolean => set.length > 0 && Math.abs(set[nearest(set, at)]! - at) < SAME_BEAT_S;
  const left = (heard?.beats ?? []).filter(
    (at) => !stretches.some(({ from, to }) => at >= from && at < to) && !near(at),
  );
  return [...left, ...set].sort((a, b) => a - b);
}

/** Where bars begin to be counted, and how many beats they have. */
export const barsFromOf = ({ heard, mended }: Timed): readonly BarsFrom[] => mended.bars ?? heard?.bars ?? [];
export const sectionsOf = ({ heard, mended }: Timed): readonly SongSection[] =>
  mended.sections ?? heard?.sections ?? [];

const grids = new WeakMap<MendedSong, { readonly heard: HeardSong | null; readonly grid: Grid }>();

/** The grid of a song; kept as long as nothing of it changes. */
export function gridOf(song: Timed): Grid {
  const known = grids.get(song.mended);
  if (known && known.heard === song.heard) return known.grid;
  const beats = beatsOf(song);
  const grid = { beats, ...counted(beats, barsFromOf(song)) };
  grids.set(song.mended, { heard: song.heard, grid });
  return grid;
}

/** Counts beats in bars. The first entry counts backwards too. */
function counted(beats: readonly number[], from: readonly BarsFrom[]): Omit<Grid, 'beats'> {
  const entries = (from.length > 0 ? from : [{ at: beats[0] ?? 0, beats: USUAL_METRE }]).map((entry) => ({
    first: nearest(beats, entry.at),
    metre: entry.beats,
  }));
  const [places, metres, bars]: [number[], number[], number[]] = [[], [], []];
  const { first, metre } = entries[0]!;
  const lead = first % metre;
  let bar = lead === 0 ? 0 : -1;
  let [which, since] = [0, lead === 0 ? 0 : lead - metre];
  for (let i = 0; i < beats.length; i++) {
    while (which + 1 < entries.length && i >= entries[which + 1]!.first) {
      which++;
      if (entries[which]!.first > 0) since = i;
    }
    const m = entries[which]!.metre;
    const place = modulo(i - since, m);
    if (place === 0 || i === 0) bar++;
    places.push(place);
    metres.push(m);
    bars.push(bar);
  }
  return { places, metres, bars };
}

/** The index of the last that is not after a moment in a rising list; -1 before the first. O(log n). */
export const lastAt = (list: ArrayLike<number>, at: number): number => lastBy(list, at, itself);
const itself = (at: number): number => at;

/** The index of what is nearest in a rising list, of two the earlier; 0 for an empty one. O(log n). */
export function nearest(list: readonly number[], at: number): number {
  const i = Math.max(0, lastAt(list, at));
  return i + 1 < list.length && list[i + 1]! - at < at - list[i]! ? i + 1 : i;
}

/** Moments are kept to a tenth of a millisecond. */
export const kept = (seconds: number): number => Math.round(seconds * 10_000) / 10_000;

/** Beats a minute about a moment of a song: the mean of so many beats on both sides. */
export function bpmNear({ beats }: Pick<Grid, 'beats'>, at: number, reach = 4): number | null {
  if (beats.length < 2) return null;
  const i = nearest(beats, at);
  const [a, b] = [Math.max(0, i - reach), Math.min(beats.length - 1, i + reach)];
  return a === b ? null : ((b - a) * 60) / (beats[b]! - beats[a]!);
}

/** A song whose beats are nowhere farther than this from an even row, in beats, has one tempo. */
const EVEN = 0.25;

/** The length of a beat of an even row through all beats, seconds; null where they do not follow one. `middle`: about how long. */
function evenLength(beats: readonly number[], middle: number): number | null {
  const counts = [0];
  for (let i = 1; i < beats.length; i++)
    counts.push(counts[i - 1]! + Math.max(1, Math.round((beats[i]! - beats[i - 1]!) / middle)));
  const mean = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0) / list.length;
  const [x, y] = [mean(counts), mean(beats)];
  let [xy, xx] = [0, 0];
  counts.forEach((count, i) => {
    xy += (count - x) * (beats[i]! - y);
    xx += (count - x) ** 2;
  });
  const length = xy / xx;
  const even = counts.every((count, i) => Math.abs(beats[i]! - y - (count - x) * length) < EVEN * length);
  return even ? length : null;
}

/** The tempo of a song as a whole: of an even row through its beats, or else of the middle one of them. */
export function bpmOf({ beats }: Pick<Grid, 'beats'>): number | null {
  const lengths = beats.slice(1).map((at, i) => at - beats[i]!);
  lengths.sort((a, b) => a - b);
  const middle = lengths[lengths.length >> 1];
  if (middle === undefined) return null;
  const even = evenLength(beats, middle);
  if (even !== null) return 60 / even;
  // The mean of those that are about as long says it finer than the middle one alone.
  const like = lengths.filter((s) => Math.abs(s / middle - 1) < 0.12);
  return 60 / (like.reduce((a, b) => a + b, 0) / like.length);
}

/** The section a moment lies in; -1 before the first. */
export const sectionAt = (sections: readonly SongSection[], at: number): number =>
  sections.findLastIndex((section) => section.at <= at);

/** The usual beats of a bar in it: of most beats. */
export function metreOf({ metres }: Pick<Grid, 'metres'>): number | null {
  const count = new Map<number, number>();
  for (const metre of metres) count.set(metre, (count.get(metre) ?? 0) + 1);
  return [...count].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
}
