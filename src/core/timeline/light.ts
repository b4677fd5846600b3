import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { LitId, SongId } from '../ids.ts';
import { reached } from '../patch/groups.ts';
import type { Curve, Curves } from '../records/curve.ts';
import { effectSpecSchema, type EffectSpec } from '../records/effect.ts';
import type { Block, LaneRecord } from '../records/lane.ts';
import { beatAt, type BeatMap } from '../show/play/beat-map.ts';
import { songPlayId } from '../show/play/own-plays.ts';
import { songAt, songOn, type SongOn } from '../show/live/songs.ts';
import { newPlay, type Exact, type Play } from '../show/live/state.ts';
import { meanSpeed } from '../show/play/exact.ts';
import { hasCurves, point, valueAt } from '../song/curves.ts';
import { gridOf, lastAt } from '../song/grid.ts';
import { narrowness } from './tree.ts';

/** The light of a song that is exact: its blocks as plays that begin and end at their moments. */

/** So much of a song is told beforehand, ms: whoever draws it asks again in time. */
export const LIGHT_AHEAD_MS = 6000;
export const LIGHT_AGAIN_MS = 2500;

const lanes = new WeakMap<Document, ReadonlyMap<SongId, readonly LaneRecord[]>>();
/** The lanes of a song: those on more before those on less, which lie over them, and else by number. */
export function lanesOf(document: Document, songId: SongId): readonly LaneRecord[] {
  let known = lanes.get(document);
  if (!known) {
    const found = new Map<SongId, LaneRecord[]>();
    for (const lane of recordsOf(document, 'lane')) found.set(lane.songId, [...(found.get(lane.songId) ?? []), lane]);
    const width = new Map(recordsOf(document, 'lane').map((lane) => [lane, narrowness(document, lane)]));
    for (const list of found.values())
      list.sort((a, b) => width.get(a)! - width.get(b)! || a.number - b.number || (a.id < b.id ? -1 : 1));
    lanes.set(document, (known = found));
  }
  return known.get(songId) ?? [];
}

/** Lanes that play: not muted, with what they play on; where some are soloed, those alone. */
export function soundingLanes(list: readonly LaneRecord[]): readonly LaneRecord[] {
  const solo = list.some((lane) => lane.solo);
  return list.filter((lane) => !lane.muted && lane.lost === null && (!solo || lane.solo));
}

/** How many beats a moment of a song lies after its first beat, between beats in proportion; at two a second where it has none. */
export function songBeat(beats: readonly number[], at: number): number {
  if (beats.length < 2) return at * 2;
  const i = Math.min(beats.length - 2, Math.max(0, lastAt(beats, at)));
  return i + (at - beats[i]!) / (beats[i + 1]! - beats[i]!);
}

/** The moment (s) at which a song is so many beats after its first: the inverse of `songBeat`. */
export function songTime(beats: readonly number[], beat: number): number {
  if (beats.length < 2) return beat / 2;
  const i = Math.min(beats.length - 2, Math.max(0, Math.floor(beat)));
  return beats[i]! + (beat - i) * (beats[i + 1]! - beats[i]!);
}

/** A stretch of a song that is played through: when its beginning (0 s) would be, ms, and what of it is heard, seconds. */
interface Pass {
  readonly baseMs: number;
  readonly from: number;
  readonly to: number;
}
/** Most rounds of a very short loop that are told beforehand. */
const MOST_ROUNDS = 100;
/** This round of a song and, in a loop, those that come within the time that is told. */
function passesOf(song: SongOn, nowMs: number): readonly Pass[] {
  const at = songAt(song, nowMs);
  const begun = nowMs < song.ms ? song.ms : nowMs;
  const baseMs = begun - (at * 1000) / song.rate;
  const { loop } = song;
  if (!loop || song.at >= loop.to) return [{ baseMs, from: 0, to: Infinity }];
  const lengthMs = ((loop.to - loop.from) * 1000) / song.rate;
  const rounds = Math.min(MOST_ROUNDS, 1 + Math.ceil(LIGHT_AHEAD_MS / lengthMs));
  return Array.from({ length: rounds + 1 }, (_, round) => ({
    baseMs: baseMs + round * lengthMs,
    from: round === 0 ? 0 : loop.from,
    to: loop.to,
  }));
}

/** The song that is on, and the one before it for as long as both are heard. */
function heardNow(song: SongOn, nowMs: number): readonly Heard[] {
  const { over } = song;
  if (!over || !song.playing || nowMs >= over.untilMs) return [{ song, curve: null, under: false }];
  const fade = (rises: boolean): Exact['curves'][number] => ({
    ms: song.ms,
    curves: { level: [point(0, rises ? 0 : 1), point(((over.untilMs - song.ms) / 1000) * song.rate, rises ? 1 : 0)] },
  });
  const before = songOn(over.songId, over.at, over.ms, { rate: over.rate });
  return [
    { song: before, curve: fade(false), under: true },
    { song, curve: fade(true), under: false },
  ];
}
interface Heard {
  readonly song: SongOn;
  /** How it comes or goes while two are heard. */
  readonly curve: Exact['curves'][number] | null;
  /** It lies under the other. */
  readonly under: boolean;
}

/** What songs that are on play about a moment (ms): blocks that begin soon, go on or fade out. A function of song and moment alone. */
export function songPlays(
  document: Document,
  { song, tempo }: { readonly song: SongOn | null; readonly tempo: BeatMap },
  nowMs: number,
): Play[] {
  return song ? heardNow(song, nowMs).flatMap((heard) => playsOf(document, heard, tempo, nowMs)) : [];
}

function playsOf(document: Document, { song, curve, under }: Heard, tempo: BeatMap, nowMs: number): Play[] {
  const record = getRecord(document, 'song', song.songId);
  const all = lanesOf(document, song.songId);
  if (!record || all.length === 0) return [];
  const { beats } = gridOf(record);
  const nowAt = songAt(song, nowMs);
  const nowBeat = beatAt(tempo, nowMs);
  const here = songBeat(beats, nowAt);
  const pace = song.rate;
  const found: Play[] = [];
  const sounding = new Set(soundingLanes(all));
  for (const [n, lane] of all.entries()) {
    if (!sounding.has(lane)) continue;
    const on = reachOf(document, lane);
    const make = (block: Block, key: string, fields: Partial<Play> & Pick<Play, 'startedAt'>): void => {
      const played = playedBy(block);
      // Two songs never have one name for what they play.
      const id = songPlayId(n, block.layer, under ? `-${key}` : key, lane.live);
      if (played) found.push(newPlay({ ...played, id, on: lane.on || played.spec ? on : null, ...fields }));
    };
    const steering = (block: Block, baseMs: number): Exact => ({
      pace,
      curves: [
        ...(curve ? [curve] : []),
        ...(hasCurves(lane.curves) ? [{ ms: baseMs, curves: lane.curves }] : []),
        ...(hasCurves(block.curves) ? [{ ms: baseMs + (block.at * 1000) / pace, curves: block.curves }] : []),
      ],
    });
    if (!song.playing) {
      // It stands at its moment.
      for (const block of lane.blocks)
        if (nowAt >= block.at && nowAt < block.at + block.length)
          make(block, block.key, {
            startedAt: nowMs - 1,
            fadeInMs: 0,
            fadeOutMs: 0,
            speed: 0,
            clock: { at: block.slip + courseOf(document, block, beats, nowAt, lane.curves), ms: nowMs, beat: nowBeat },
            exact: standing(lane.curves, block, nowAt),
          });
      continue;
    }
    for (const [round, { baseMs, from, to }] of passesOf(song, nowMs).entries())
      for (const block of lane.blocks) {
        const [begin, end] = [Math.max(block.at, from), Math.min(block.at + block.length, to)];
        const [beginMs, endMs] = [baseMs + (begin * 1000) / pace, baseMs + (end * 1000) / pace];
        if (end <= begin || endMs < nowMs - 50 || beginMs > nowMs + LIGHT_AHEAD_MS) continue;
        // What is cut off by a loop does not fade there.
        const fadeIn = begin > block.at ? 0 : Math.min(block.fadeIn, block.length);
        const fadeOut = end < block.at + block.length ? 0 : Math.min(block.fadeOut, block.length - fadeIn);
        const blockBeat = nowBeat - here + songBeat(beats, block.at);
        make(block, round === 0 ? block.key : `${block.key}+${round}`, {
          startedAt: beginMs,
          startedBeat: blockBeat,
          releasedAt: endMs - (fadeOut * 1000) / pace,
          fadeInMs: (fadeIn * 1000) / pace,
          fadeOutMs: (fadeOut * 1000) / pace,
          clock: {
            at: block.slip,
            ms: baseMs + (block.at * 1000) / pace,
            beat: blockBeat + round * loopBeats(beats, song),
          },
          exact: steering(block, baseMs),
        });
      }
  }
  return found;
}

/** Curves as they are at one moment; how far it has come is in its clock. */
function standing(lane: Curves, block: Block, at: number): Exact {
  const still = (curves: Curves, from: number): Curves => {
    const { level, size, phase, width, base, hue } = curves;
    const now = (points: Curve | undefined) => points && [point(0, valueAt(points, at - from))];
    return { level: now(level), size: now(size), phase: now(phase), width: now(width), base: now(base), hue: now(hue) };
  };
  return {
    pace: 1,
    curves: [
      ...(hasCurves(lane) ? [{ ms: 0, curves: still(lane, 0) }] : []),
      ...(hasCurves(block.curves) ? [{ ms: 0, curves: still(block.curves, block.at) }] : []),
    ],
  };
}

const loopBeats = (beats: readonly number[], { loop }: SongOn): number =>
  loop ? songBeat(beats, loop.to) - songBeat(beats, loop.from) : 0;

/** What moves by itself has come so far in its own course at a moment of the song, as fast as its curves and those of its lane say; their phase is not in it. */
export function courseOf(
  document: Document,
  block: Block,
  beats: readonly number[],
  now: number,
  lane: Curves = {},
): number {
  const { at, plays } = block;
  const spec = plays.is === 'effect' ? plays.spec : plays.is === 'play' ? specIn(document, plays.target) : null;
  const moved = spec ? spec.rate * (spec.beats ? songBeat(beats, now) - songBeat(beats, at) : now - at) : now - at;
  const curves = [
    { ms: 0, curves: lane },
    { ms: at * 1000, curves: block.curves },
  ];
  return moved * meanSpeed({ pace: 1, curves }, at * 1000, now * 1000);
}
function specIn(document: Document, target: string): Pick<EffectSpec, 'rate' | 'beats'> | null {
  const chase = getRecord(document, 'chase', target);
  if (chase) return { rate: 1, beats: chase.timeUnit === 'beats' };
  return getRecord(document, 'effect', target) ?? null;
}

const reaches = new WeakMap<LaneRecord, LitId[]>();
/** What a lane plays on: the same list for as long as that is the same, so that its blocks are not compiled anew. */
function reachOf(document: Document, lane: LaneRecord): LitId[] {
  const now = lane.on ? reached(document, [lane.on]) : recordsOf(document, 'unit').map(({ id }) => id);
  const before = reaches.get(lane);
  if (before?.length === now.length && before.every((id, i) => id === now[i])) return before;
  reaches.set(lane, now);
  return now;
}

/** What a block comes to: something of the show, or an effect. Null for what is gone. */
export function playedBy({ plays }: Pick<Block, 'plays'>): Pick<Play, 'target' | 'spec'> | null {
  if (plays.is === 'play') return { target: plays.target, spec: null };
  if (plays.is === 'effect') return { target: null, spec: plays.spec };
  if (plays.is === 'aim') return { target: null, spec: pointing(plays) };
  return null;
}
const pointings = new WeakMap<object, EffectSpec>();
function pointing(plays: Extract<Block['plays'], { is: 'aim' }>): EffectSpec {
  const kept = pointings.get(plays);
  if (kept) return kept;
  const spec = effectSpecSchema.parse({
    rate: 0.01,
    light: 1,
    parts: [{ does: 'aim', panDeg: 0, tiltDeg: 0, round: plays.aimId }],
  });
  pointings.set(plays, spec);
  return spec;
}
