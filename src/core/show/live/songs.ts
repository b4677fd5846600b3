import { z } from 'zod';
import { getRecord, type Document } from '../../document/change.ts';
import { idSchema, type SetlistId, type SongId } from '../../ids.ts';
import { shuffledOrder } from '../../random.ts';
import { songSecondsSchema } from '../../records/song.ts';
import { gridOf, lastAt } from '../../song/grid.ts';
import { BPM_LIMITS, clamp, modulo } from '../../units.ts';
import { beatAt, MOST_POINTS, type BeatMap } from '../play/beat-map.ts';

/** Songs that play: where one is, what comes after it, and the beats of the show that follow from it. */

const loopSchema = z
  .strictObject({ from: songSecondsSchema, to: songSecondsSchema })
  .refine(({ from, to }) => to - from >= 0.1, 'must be 0.1 s and more');

/** A song that is on: at the moment `ms` it is (or will be) at `at` seconds. */
export const songOnSchema = z.strictObject({
  songId: idSchema('song'),
  at: songSecondsSchema,
  ms: z.number(),
  playing: z.boolean(),
  loop: loopSchema.nullable().default(null),
  /** The list it comes from, and what that is shuffled by. */
  list: z
    .strictObject({ id: idSchema('setlist'), seed: z.int().min(0) })
    .nullable()
    .default(null),
  /** Seconds of it in one of the show: 0.5 is half speed. */
  rate: z.number().min(0.25, 'must be 0.25-1').max(1, 'must be 0.25-1').default(1),
  /** The song before, for as long as both are heard: they fade over. */
  over: z
    .strictObject({
      songId: idSchema('song'),
      at: songSecondsSchema,
      ms: z.number(),
      rate: z.number().min(0.25).max(1),
      untilMs: z.number(),
    })
    .nullable()
    .default(null),
});
export type SongOn = z.infer<typeof songOnSchema>;
/** A song that plays from a moment on; what is not given is as it mostly is. */
export const songOn = (songId: SongId, at: number, ms: number, fields: Partial<SongOn> = {}): SongOn => ({
  songId,
  at,
  ms,
  playing: true,
  loop: null,
  list: null,
  rate: 1,
  over: null,
  ...fields,
});
type Loop = z.infer<typeof loopSchema>;

/**
 * Who plays the sound: a page of a browser by a name it made up, or a sound card of the machine (`card:DEVICE`), and how that is
 * trimmed.
 */
export const soundPlayerSchema = z
  .strictObject({
    key: z.string().min(1).max(130),
    name: z.string().max(60),
    card: z
      .strictObject({
        /** The sound takes so much longer to the ear than is known. */
        delayMs: z.number().min(-500).max(500),
        level: z.number().min(0).max(1),
        /** It clicks at every whole second, to be trimmed by. */
        clicks: z.boolean(),
      })
      .nullable()
      .default(null),
  })
  .refine(({ key, card }) => card === null || CARD_KEY.test(key), 'must be "card:DEVICE"');
const CARD_KEY = /^card:[\w:,=.-]{1,120}$/;
export type SoundPlayer = z.infer<typeof soundPlayerSchema>;

/** A song that begins gives its player so long to be ready, ms. */
export const LEAD_MS = 350;
/** A loop is laid out so far ahead, ms; the engine lays it out anew in time. */
const LOOP_AHEAD_MS = 10 * 60_000;
/** Beats are laid out anew when so little is left of them, ms. */
const LAY_OUT_MS = 60_000;
/** Two beats are never nearer than this in a map, ms: where a loop meets itself. */
const LEAST_MS = 50;

/** The loop that a song goes round in; null where it has none, or began after it. */
const roundsOf = ({ at, loop }: SongOn): Loop | null => (loop && at < loop.to ? loop : null);

/** Where a song is, seconds. */
export function songAt(song: SongOn, ms: number): number {
  if (!song.playing) return song.at;
  const at = song.at + (Math.max(0, ms - song.ms) / 1000) * song.rate;
  const loop = roundsOf(song);
  return loop && at >= loop.to ? loop.from + ((at - loop.from) % (loop.to - loop.from)) : at;
}

/** When a song ends, ms; null where it goes round, stands, or nobody knows how long it is. */
function songEndMs(document: Document, song: SongOn): number | null {
  const length = getRecord(document, 'song', song.songId)?.lengthS ?? null;
  if (!song.playing || length === null || roundsOf(song)) return null;
  return song.ms + (Math.max(0, length - song.at) * 1000) / song.rate;
}

/**
 * The moments at which a song passes its beats from now on (and the one before), ms, with their numbers in the song: no
 * more than a map may hold.
 */
function passed(beats: readonly number[], song: SongOn, nowMs: number): { ms: number; index: number }[] {
  const found: { ms: number; index: number }[] = [];
  const take = (ms: number, index: number): void => {
    const before = found.at(-1);
    if (!before || ms - before.ms >= LEAST_MS) found.push({ ms, index });
  };
  const stretch = 1000 / song.rate;
  const loop = roundsOf(song);
  // A loop is laid out from where it was anchored, all else from where it is now.
  const first = Math.max(0, lastAt(beats, loop ? song.at : songAt(song, nowMs)));
  const until = loop?.to ?? Infinity;
  for (let i = first; i < beats.length && beats[i]! < until && found.length < MOST_POINTS; i++)
    take(song.ms + (beats[i]! - song.at) * stretch, i);
  if (!loop) return found;
  const within = beats.flatMap((at, i) => (at >= loop.from && at < loop.to ? [[at, i] as const] : []));
  const length = (loop.to - loop.from) * stretch;
  for (
    let begins = song.ms + (loop.to - song.at) * stretch;
    within.length > 0 && begins < song.ms + LOOP_AHEAD_MS && found.length < MOST_POINTS - within.length;
    begins += length
  )
    for (const [at, i] of within) take(begins + (at - loop.from) * stretch, i);
  return found;
}

/**
 * The beats of the show while a song plays. They go on counting from `tempo`, never back, and bars of the song begin on
 * whole bars of the show where the song has one metre. Null for a song without beats: then the show keeps its own.
 */
export function songTempo(document: Document, song: SongOn, tempo: BeatMap, nowMs: number): BeatMap | null {
  const record = getRecord(document, 'song', song.songId);
  if (!record || !song.playing) return null;
  const grid = gridOf(record);
  const moments = passed(grid.beats, song, nowMs);
  if (moments.length < 2) return null;
  const standing = Math.max(
    0,
    moments.findLastIndex(({ ms }) => ms <= nowMs),
  );
  const own = moments[standing]!;
  const next = moments[standing + 1] ?? moments[standing - 1]!;
  // The least beat of the show it may be, so that nothing is gone back; then the first in the same place of the bar.
  const least = beatAt(tempo, nowMs) - (nowMs - own.ms) / Math.abs(next.ms - own.ms);
  const whole = Math.ceil(least - 1e-6);
  const beat = whole + modulo(grid.places[own.index]! - whole, grid.metres[own.index]!);
  const points = moments.map(({ ms }, i) => ({ ms, beat: beat + i - standing }));
  const [last, before] = [points.at(-1)!, points.at(-2)!];
  return { points, bpm: clamp(60_000 / (last.ms - before.ms), ...BPM_LIMITS) };
}

/** The songs of a list in the order they are played. */
export function orderOf(document: Document, list: NonNullable<SongOn['list']>): readonly SongId[] {
  const record = getRecord(document, 'setlist', list.id);
  if (!record) return [];
  if (record.order === 'listed') return record.songs;
  return shuffledOrder(record.songs.length, list.seed).map((i) => record.songs[i]!);
}

/** The song of a list so many after the one that is on (below 0: before); null where there is none. */
export function songBy(document: Document, song: SongOn, by: number): SongId | null {
  if (!song.list) return null;
  const songs = orderOf(document, song.list);
  const at = songs.indexOf(song.songId);
  const next = at + by;
  if (songs[next]) return songs[next];
  const repeats = getRecord(document, 'setlist', song.list.id)?.repeat ?? false;
  return repeats && songs.length > 0 ? songs[modulo(next, songs.length)]! : null;
}

/** Silence after a song of a list, seconds; below 0 the next begins before it ends. */
export const gapOf = (document: Document, list: SetlistId): number => getRecord(document, 'setlist', list)?.gapS ?? 0;

/** When the beats of a song that plays have to be laid out anew, ms: a loop, and what has more than a map may hold. */
export function layOutMs(document: Document, song: SongOn, tempo: BeatMap): number | null {
  const record = getRecord(document, 'song', song.songId);
  if (!record || !song.playing || tempo.points.length < 2) return null;
  const { beats } = gridOf(record);
  const last = tempo.points.at(-1)!.ms;
  const loop = roundsOf(song);
  const goesOn = loop
    ? beats.some((at) => at >= loop.from && at < loop.to)
    : tempo.points.length === MOST_POINTS && last < song.ms + (((beats.at(-1) ?? 0) - song.at) * 1000) / song.rate;
  return goesOn ? last - LAY_OUT_MS : null;
}

/** When a list goes on to its next song, ms; null where nothing comes. */
export function nextSongMs(document: Document, song: SongOn): number | null {
  const end = songEndMs(document, song);
  if (end === null || !song.list) return end;
  if (songBy(document, song, 1) === null) return end;
  // However long they fade, a song is heard for a second at least.
  return Math.max(song.ms + 1000, end + gapOf(document, song.list.id) * 1000);
}

/** What is on at a moment at which a song has ended: the next of its list, or nothing. */
export function songAfter(document: Document, song: SongOn, nowMs: number): SongOn | null {
  const due = nextSongMs(document, song);
  if (due === null || nowMs < due) return song;
  const next = songBy(document, song, 1);
  if (next === null) return null;
  const endMs = songEndMs(document, song) ?? due;
  const { songId, at, ms, rate } = song;
  const over = endMs > due ? { songId, at, ms, rate, untilMs: endMs } : null;
  return { ...song, songId: next, at: 0, ms: due, loop: null, over };
}

/** What people do to songs that play. */
export const SONG_COMMANDS = [
  /** A song is on, and plays unless it says otherwise; `list`: as one of this list. */
  z.strictObject({
    do: z.literal('song'),
    songId: idSchema('song'),
    at: songSecondsSchema.optional(),
    play: z.boolean().optional(),
    list: idSchema('setlist').optional(),
  }),
  z.strictObject({ do: z.literal('songPlay'), on: z.boolean() }),
  z.strictObject({ do: z.literal('songAt'), at: songSecondsSchema }),
  /** Half speed, and back. */
  z.strictObject({ do: z.literal('songRate'), rate: z.number().min(0.25, 'must be 0.25-1').max(1, 'must be 0.25-1') }),
  z.strictObject({ do: z.literal('songLoop'), loop: loopSchema.nullable() }),
  /** The next of its list, or the one before. */
  z.strictObject({ do: z.literal('songBy'), by: z.union([z.literal(1), z.literal(-1)]) }),
  z.strictObject({ do: z.literal('songOff') }),
  /** This page plays the sound from now on; null: nobody does. */
  z.strictObject({ do: z.literal('soundPlayer'), player: soundPlayerSchema.nullable() }),
] as const;
type SongCommand = z.infer<(typeof SONG_COMMANDS)[number]>;

/** What of a live state songs change. */
interface SongState {
  readonly song: SongOn | null;
  readonly soundPlayer: SoundPlayer | null;
  readonly tempo: BeatMap;
}
type Apply<D extends SongCommand['do']> = <S extends SongState>(
  state: S,
  command: Extract<SongCommand, { do: D }>,
  at: { readonly now: { readonly ms: number }; readonly document: Document },
) => S;

/** The state with another song (or another place in it), and the beats that follow from that. */
export function withSong<S extends Pick<SongState, 'song' | 'tempo'>>(
  state: S,
  song: SongOn | null,
  document: Document,
  nowMs: number,
): S {
  const tempo = song && songTempo(document, song, state.tempo, nowMs);
  return { ...state, song, tempo: tempo ?? state.tempo };
}

const going = <S extends SongState>(
  state: S,
  { now, document }: Parameters<Apply<'songPlay'>>[2],
  change: Partial<SongOn>,
): S =>
  state.song
    ? withSong(
        state,
        { ...state.song, at: songAt(state.song, now.ms), ms: now.ms + LEAD_MS, over: null, ...change },
        document,
        now.ms,
      )
    : state;

/** What each of them makes of the live state. */
export const SONGS_APPLIED: { readonly [D in SongCommand['do']]: Apply<D> } = {
  song: (state, { songId, at = 0, play = true, list }, { now, document }) =>
    withSong(
      state,
      songOn(songId, at, now.ms + LEAD_MS, {
        playing: play,
        list: list ? { id: list, seed: Math.floor(now.ms) % 2 ** 31 } : null,
      }),
      document,
      now.ms,
    ),
  songPlay: (state, { on }, at) => (state.song?.playing === on ? state : going(state, at, { playing: on })),
  songAt: (state, { at: to }, at) => going(state, at, { at: to }),
  songRate: (state, { rate }, at) => (state.song?.rate === rate ? state : going(state, at, { rate })),
  songLoop(state, { loop }, at) {
    const song = state.song;
    if (!song) return state;
    const here = songAt(song, at.now.ms);
    const inside = loop === null || (here >= loop.from && here < loop.to);
    return inside && song.playing
      ? withSong(state, { ...song, at: here, ms: at.now.ms, loop }, at.document, at.now.ms)
      : going(state, at, { loop, at: inside ? here : loop.from });
  },
  songBy(state, { by }, at) {
    const next = state.song && songBy(at.document, state.song, by);
    return next ? going(state, at, { songId: next, at: 0, loop: null }) : state;
  },
  songOff: (state) => (state.song ? { ...state, song: null } : state),
  soundPlayer: (state, { player }) => ({ ...state, soundPlayer: player }),
};
