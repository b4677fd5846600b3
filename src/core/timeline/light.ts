import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { LitId, SongId } from '../ids.ts';
import { reached } from '../patch/groups.ts';
import { effectSpecSchema, type EffectSpec } from '../records/effect.ts';
import type { Block, LaneRecord } from '../records/lane.ts';
import { beatAt, type BeatMap } from '../show/play/beat-map.ts';
import { songPlayId } from '../show/play/own-plays.ts';
import { songAt, type SongOn } from '../show/live/songs.ts';
import { newPlay, type Play } from '../show/live/state.ts';
import { gridOf, lastAt } from '../song/grid.ts';

/** The light of a song that is exact: its blocks as plays that begin and end at their moments. */

/** So much of a song is told beforehand, ms: whoever draws it asks again in time. */
export const LIGHT_AHEAD_MS = 6000;
export const LIGHT_AGAIN_MS = 2500;

const lanes = new WeakMap<Document, ReadonlyMap<SongId, readonly LaneRecord[]>>();
/** The lanes of a song, by number. */
export function lanesOf(document: Document, songId: SongId): readonly LaneRecord[] {
  let known = lanes.get(document);
  if (!known) {
    const found = new Map<SongId, LaneRecord[]>();
    for (const lane of recordsOf(document, 'lane')) found.set(lane.songId, [...(found.get(lane.songId) ?? []), lane]);
    for (const list of found.values()) list.sort((a, b) => a.number - b.number || (a.id < b.id ? -1 : 1));
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
  const baseMs = begun - at * 1000;
  const { loop } = song;
  if (!loop || song.at >= loop.to) return [{ baseMs, from: 0, to: Infinity }];
  const lengthMs = (loop.to - loop.from) * 1000;
  const rounds = Math.min(MOST_ROUNDS, 1 + Math.ceil(LIGHT_AHEAD_MS / lengthMs));
  return Array.from({ length: rounds + 1 }, (_, round) => ({
    baseMs: baseMs + round * lengthMs,
    from: round === 0 ? 0 : loop.from,
    to: loop.to,
  }));
}

/** What a song that is on plays about a moment (ms): blocks that begin soon, go on or fade out. A function of song and moment alone. */
export function songPlays(
  document: Document,
  { song, tempo }: { readonly song: SongOn | null; readonly tempo: BeatMap },
  nowMs: number,
): Play[] {
  const record = song && getRecord(document, 'song', song.songId);
  const all = song ? lanesOf(document, song.songId) : [];
  if (!song || !record || all.length === 0) return [];
  const { beats } = gridOf(record);
  const nowAt = songAt(song, nowMs);
  const nowBeat = beatAt(tempo, nowMs);
  const here = songBeat(beats, nowAt);
  const found: Play[] = [];
  const sounding = new Set(soundingLanes(all));
  for (const [n, lane] of all.entries()) {
    if (!sounding.has(lane)) continue;
    const on = reachOf(document, lane);
    const make = (block: Block, key: string, fields: Partial<Play> & Pick<Play, 'startedAt'>): void => {
      const played = playedBy(block);
      if (played) found.push(newPlay({ ...played, id: songPlayId(n, block.layer, key), on, ...fields }));
    };
    if (!song.playing) {
      // It stands at its moment.
      for (const block of lane.blocks)
        if (nowAt >= block.at && nowAt < block.at + block.length)
          make(block, block.key, {
            startedAt: nowMs - 1,
            fadeInMs: 0,
            fadeOutMs: 0,
            speed: 0,
            clock: { at: block.slip + courseOf(document, block, beats, nowAt), ms: nowMs, beat: nowBeat },
          });
      continue;
    }
    for (const [round, { baseMs, from, to }] of passesOf(song, nowMs).entries())
      for (const block of lane.blocks) {
        const [begin, end] = [Math.max(block.at, from), Math.min(block.at + block.length, to)];
        const [beginMs, endMs] = [baseMs + begin * 1000, baseMs + end * 1000];
        if (end <= begin || endMs < nowMs - 50 || beginMs > nowMs + LIGHT_AHEAD_MS) continue;
        // What is cut off by a loop does not fade there.
        const fadeIn = begin > block.at ? 0 : Math.min(block.fadeIn, block.length);
        const fadeOut = end < block.at + block.length ? 0 : Math.min(block.fadeOut, block.length - fadeIn);
        const blockBeat = nowBeat - here + songBeat(beats, block.at);
        make(block, round === 0 ? block.key : `${block.key}+${round}`, {
          startedAt: beginMs,
          startedBeat: blockBeat,
          releasedAt: endMs - fadeOut * 1000,
          fadeInMs: fadeIn * 1000,
          fadeOutMs: fadeOut * 1000,
          clock: {
            at: block.slip,
            ms: baseMs + block.at * 1000,
            beat: blockBeat + round * loopBeats(beats, song),
          },
        });
      }
  }
  return found;
}

const loopBeats = (beats: readonly number[], { loop }: SongOn): number =>
  loop ? songBeat(beats, loop.to) - songBeat(beats, loop.from) : 0;

/** What moves by itself has come so far in its own course at a moment of the song. */
export function courseOf(document: Document, { at, plays }: Block, beats: readonly number[], now: number): number {
  const spec = plays.is === 'effect' ? plays.spec : plays.is === 'play' ? specIn(document, plays.target) : null;
  if (!spec) return now - at;
  return spec.rate * (spec.beats ? songBeat(beats, now) - songBeat(beats, at) : now - at);
}
function specIn(document: Document, target: string): Pick<EffectSpec, 'rate' | 'beats'> | null {
  const chase = getRecord(document, 'chase', target);
  if (chase) return { rate: 1, beats: chase.timeUnit === 'beats' };
  return getRecord(document, 'effect', target) ?? null;
}

const reaches = new WeakMap<LaneRecord, LitId[]>();
/** What a lane plays on: the same list for as long as that is the same, so that its blocks are not compiled anew. */
function reachOf(document: Document, lane: LaneRecord): LitId[] | null {
  if (!lane.on) return null;
  const now = reached(document, [lane.on]);
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
