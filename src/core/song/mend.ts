import {
  MOST_MARKS,
  type BarsFrom,
  type Mark,
  type MendedSong,
  type SongSection,
  type Stretch,
} from '../records/song.ts';
import { modulo } from '../units.ts';
import { barsFromOf, beatsOf, gridOf, kept, nearest, sectionAt, sectionsOf, type Timed } from './grid.ts';

/**
 * What people set right in a song. Each of these gives what is set right from now on; the record's schema holds it to
 * its limits. Moments are seconds; `end` is where the song ends.
 */

/** Two beats are never nearer than this, seconds: 600 a minute. */
export const LEAST_BEAT_S = 0.1;
/** A tap so near to a beat that was heard means that beat. */
const TAP_REACH_S = 0.06;
/** Taps are smoothed over so many neighbours on both sides. */
const TAP_SMOOTH = 2;

/** Without those that are too near to the one before. */
const apart = (beats: readonly number[]): number[] => {
  const apart: number[] = [];
  for (const at of beats) if (apart.length === 0 || at - apart.at(-1)! >= LEAST_BEAT_S) apart.push(kept(at));
  return apart;
};

/** The beats from a moment up to (without) another are these from now on. */
export function withBeats(song: Timed, from: number, to: number, beats: readonly number[]): MendedSong {
  const [a, b] = [Math.max(0, kept(from)), kept(to)];
  const own: Stretch = {
    from: a,
    to: b,
    beats: apart([...beats].sort((x, y) => x - y).filter((at) => at >= a && kept(at) < b)),
  };
  const others = cutOut(song.mended.stretches, a, b);
  return { ...song.mended, stretches: joined([...others, own].sort((x, y) => x.from - y.from)) };
}

/** Stretches without what lies between two moments: what lies across them keeps what is outside. */
const cutOut = (stretches: readonly Stretch[], from: number, to: number): Stretch[] =>
  stretches.flatMap((s) => {
    if (s.to <= from || s.from >= to) return [s];
    const before = s.from < from ? [{ ...s, to: from, beats: s.beats.filter((at) => at < from) }] : [];
    const after = s.to > to ? [{ ...s, from: to, beats: s.beats.filter((at) => at >= to) }] : [];
    return [...before, ...after];
  });

/** Stretches that touch are one. */
function joined(list: readonly Stretch[]): Stretch[] {
  const all: Stretch[] = [];
  for (const s of list) {
    const before = all.at(-1);
    if (before && before.to === s.from)
      all[all.length - 1] = { from: before.from, to: s.to, beats: [...before.beats, ...s.beats] };
    else all.push(s);
  }
  return all;
}

/** Twice as fast: a beat more between every two. */
export function doubled(song: Timed, end: number): MendedSong {
  const beats = beatsOf(song);
  const twice = beats.flatMap((at, i) => {
    const next = beats[i + 1];
    return next !== undefined && next - at >= 2 * LEAST_BEAT_S ? [at, (at + next) / 2] : [at];
  });
  return keepingBars(song, withBeats(song, 0, end + 1, twice));
}

/** Half as fast: every other beat, those that begin bars among them. */
export function halved(song: Timed, end: number): MendedSong {
  const { beats, places } = gridOf(song);
  const one = places.indexOf(0);
  const keep = Math.max(0, one) % 2;
  return keepingBars(
    song,
    withBeats(
      song,
      0,
      end + 1,
      beats.filter((_, i) => i % 2 === keep),
    ),
  );
}

/** Bars are counted from where they were counted from. */
const keepingBars = (song: Timed, mended: MendedSong): MendedSong => ({ ...mended, bars: [...barsFromOf(song)] });

/** The beat with this number is at another moment, between its neighbours. */
export function beatMoved(song: Timed, index: number, to: number, end: number): MendedSong {
  const beats = beatsOf(song);
  const [from, until] = around(beats, index, end);
  const at = Math.min(Math.max(to, from + LEAST_BEAT_S), until - LEAST_BEAT_S);
  return withBeats(song, edgeAfter(from), until, [at]);
}

/** One more beat at a moment; the same where there is one already. */
export function beatAdded(song: Timed, at: number, end: number): MendedSong {
  const beats = beatsOf(song);
  if (beats.length > 0 && Math.abs(beats[nearest(beats, at)]! - at) < LEAST_BEAT_S) return song.mended;
  const before = beats.findLast((b) => b < at);
  const after = beats.find((b) => b > at);
  return withBeats(song, before === undefined ? 0 : edgeAfter(before), after ?? end, [at]);
}

export function beatRemoved(song: Timed, index: number, end: number): MendedSong {
  const beats = beatsOf(song);
  const [from, until] = around(beats, index, end);
  return withBeats(song, edgeAfter(from), until, []);
}

/** The beats (or the ends of the song) on both sides of one. */
const around = (beats: readonly number[], index: number, end: number): [number, number] => [
  beats[index - 1] ?? 0,
  beats[index + 1] ?? end,
];
/** Just after a beat, so that it stays outside. */
const edgeAfter = (at: number): number => (at === 0 ? 0 : at + 0.001);

/**
 * Taps along a stretch: they are its beats. A hand is not as even as a drummer, so each is laid on the line of its
 * neighbours, and on a beat that was heard there where one is that near.
 */
export function tapped(song: Timed, taps: readonly number[], end: number): MendedSong {
  const rising = apart([...taps].sort((a, b) => a - b));
  if (rising.length < 2) return song.mended;
  const heard = song.heard?.beats ?? [];
  const even = rising
    .map((_, i) => onLine(rising, i))
    .map((at) => {
      const there = heard[nearest(heard, at)];
      return there !== undefined && Math.abs(there - at) <= TAP_REACH_S ? there : at;
    });
  const lead = (even[1]! - even[0]!) / 2;
  const tail = (even.at(-1)! - even.at(-2)!) / 2;
  return withBeats(song, Math.max(0, even[0]! - lead), Math.min(end + 1, even.at(-1)! + tail), even);
}

/** Where a tap would be if it and its neighbours were even: least squares. */
function onLine(taps: readonly number[], i: number): number {
  const reach = Math.min(TAP_SMOOTH, i, taps.length - 1 - i);
  if (reach === 0) return taps[i]!;
  let sum = 0;
  for (let k = -reach; k <= reach; k++) sum += taps[i + k]!;
  return sum / (2 * reach + 1);
}

/** The stretch is as it was heard again. */
export const asHeard = ({ mended }: Timed, from: number, to: number): MendedSong => ({
  ...mended,
  stretches: cutOut(mended.stretches, Math.max(0, kept(from)), kept(to)),
});

/** The beat nearest to a moment begins a bar; so does what is counted together with it. */
export function oneAt(song: Timed, at: number): MendedSong {
  const { beats } = gridOf(song);
  if (beats.length === 0) return song.mended;
  const bars = barsOnBeats(song);
  const there = beats[nearest(beats, at)]!;
  const which = Math.max(
    0,
    bars.findLastIndex((entry) => entry.at <= there + 1e-6),
  );
  const before = bars[which];
  if (!before) return { ...song.mended, bars: [{ at: there, beats: 4 }] };
  // The first beat of what is counted together that begins a bar then.
  const [from, one] = [nearest(beats, before.at), nearest(beats, there)];
  // What lies before the first entry is counted from that too: then the entry comes here.
  const first = one < from ? one : from + modulo(one - from, before.beats);
  return { ...song.mended, bars: bars.map((entry, i) => (i === which ? { ...entry, at: beats[first]! } : entry)) };
}

/** Bars begin so many beats later (below 0: earlier), throughout. */
export function barsShifted(song: Timed, by: number): MendedSong {
  const { beats } = gridOf(song);
  if (beats.length === 0) return song.mended;
  const given = barsOnBeats(song);
  const bars = given.length > 0 ? given : [{ at: beats[0]!, beats: 4 }];
  const moved = bars.map((entry, i) => {
    const to = nearest(beats, entry.at) + by;
    // The first counts backwards too, so that a bar later is the same.
    return { ...entry, at: beats[Math.min(Math.max(i === 0 && to < 0 ? to + entry.beats : to, 0), beats.length - 1)]! };
  });
  return { ...song.mended, bars: rising(moved) };
}

/** From the beat nearest to a moment on bars have so many beats, and one begins there. */
export function metreFrom(song: Timed, at: number, metre: number): MendedSong {
  const { beats } = gridOf(song);
  if (beats.length === 0) return song.mended;
  const there = beats[nearest(beats, at)]!;
  const others = barsOnBeats(song).filter((entry) => Math.abs(entry.at - there) > 1e-6);
  const first = others[0];
  // What the first counted backwards stays as it was counted.
  const early = first && first.at > there ? beats[nearest(beats, first.at) % first.beats]! : there;
  const before = early < there ? [{ at: early, beats: first!.beats }] : [];
  return {
    ...song.mended,
    bars: rising([...before, ...others, { at: there, beats: metre }].sort((a, b) => a.at - b.at)),
  };
}

/** Of what comes to lie on what follows, or behind it, nothing is left. */
function rising(bars: readonly BarsFrom[]): BarsFrom[] {
  const left: BarsFrom[] = [];
  for (const entry of bars.toReversed()) if (left.length === 0 || entry.at < left[0]!.at) left.unshift(entry);
  return left;
}

/** Where bars begin to be counted, each on its beat, which may have been moved since. */
function barsOnBeats(song: Timed): BarsFrom[] {
  const { beats } = gridOf(song);
  return rising(barsFromOf(song).map((entry) => ({ ...entry, at: beats[nearest(beats, entry.at)] ?? entry.at })));
}

/** The whole song has bars of so many beats; where they begin stays. */
export function metreThroughout(song: Timed, metre: number): MendedSong {
  const { beats } = gridOf(song);
  const first = barsFromOf(song)[0] ?? { at: beats[0] ?? 0, beats: metre };
  return { ...song.mended, bars: [{ at: first.at, beats: metre }] };
}

const withSections = (song: Timed, sections: SongSection[]): MendedSong => ({ ...song.mended, sections });

/** Where a section begins; neighbours stay. Shorter than a second none gets. */
export function sectionMoved(song: Timed, index: number, to: number, end: number): MendedSong {
  const all = [...sectionsOf(song)];
  const own = all[index];
  if (!own) return song.mended;
  const low = index === 0 ? 0 : all[index - 1]!.at + 1;
  const high = (all[index + 1]?.at ?? end) - 1;
  all[index] = { ...own, at: kept(Math.min(Math.max(to, low), Math.max(low, high))) };
  return withSections(song, all);
}

/** A section begins at a moment; it has a name of its own. */
export function sectionSplit(song: Timed, at: number, end: number): MendedSong {
  const all = sectionsOf(song);
  const before = sectionAt(all, at);
  const from = all[before]?.at ?? 0;
  const to = all[before + 1]?.at ?? end;
  if (at - from < 1 || to - at < 1) return song.mended;
  const own: SongSection = { at: kept(at), name: freeName(all), mood: all[before]?.mood ?? 'easy', turn: null };
  return withSections(song, [...all.slice(0, before + 1), own, ...all.slice(before + 1)]);
}

function freeName(all: readonly SongSection[]): string {
  const taken = new Set(all.map(({ name }) => name));
  for (let k = 0; ; k++) {
    const name = String.fromCharCode(65 + (k % 26)) + (k < 26 ? '' : String(Math.floor(k / 26) + 1));
    if (!taken.has(name)) return name;
  }
}

/** A section is one with that before it; the first with the one after. */
export function sectionJoined(song: Timed, index: number): MendedSong {
  const all = [...sectionsOf(song)];
  if (all.length < 2 || !all[index]) return song.mended;
  if (index === 0) all.splice(1, 1);
  else all.splice(index, 1);
  return withSections(song, all);
}

export function sectionChanged(song: Timed, index: number, change: Partial<Omit<SongSection, 'at'>>): MendedSong {
  const all = sectionsOf(song).map((s, i) => (i === index ? { ...s, ...change } : s));
  return withSections(song, all);
}

/** Marks with others put among them, in order; the same one twice is one. */
export function withMarks(marks: readonly Mark[], more: readonly Mark[]): Mark[] {
  const same = (a: Mark, b: Mark): boolean => a.at === b.at && a.to === b.to && a.label === b.label;
  const fresh = more.filter((one) => !marks.some((other) => same(one, other)));
  return [...marks, ...fresh].sort((a, b) => a.at - b.at || a.to - b.to).slice(0, MOST_MARKS);
}
