import { z } from 'zod';
import { recordsOf, type Document } from '../../document/change.ts';
import { LONGEST_SONG_S, type SongRecord } from '../../records/song.ts';
import { songAt, songOn, withSong, type SongOn } from './songs.ts';
import type { BeatMap } from '../play/beat-map.ts';

/** Songs that follow a time code from outside: each song says where in it it begins. */

const CODE_DAY_S = 86_400;
/** How long a song goes on by itself when the code is gone, ms. */
export const FREE_LIMITS = [0, 60_000] as const;
const freeSchema = z.number().min(FREE_LIMITS[0], 'must be 0-60000 ms').max(FREE_LIMITS[1], 'must be 0-60000 ms');
const waySchema = z.union([z.literal(1), z.literal(0), z.literal(-1)]);

/** The time code as it was heard last. */
export const codeOnSchema = z.strictObject({
  /** What hears it, for people: "MIDI: Port 1". */
  by: z.string().max(100),
  /** The code was at `at` seconds at the moment `ms`; null while none was heard yet, or none for long. */
  heard: z.strictObject({ at: z.number().min(0).max(CODE_DAY_S), ms: z.number(), way: waySchema }).nullable(),
  freeMs: freeSchema,
  /** How far the song was off when it was heard, in the mean, seconds: a code comes with some jitter. */
  off: z.number().default(0),
});
export type CodeOn = z.infer<typeof codeOnSchema>;

export const CODE_COMMANDS = [
  /** Songs follow what this hears from now on; null: none. */
  z.strictObject({ do: z.literal('codeFrom'), by: z.string().max(100).nullable(), freeMs: freeSchema.optional() }),
  /** The code is at `at` seconds now, or was at the moment `ms` of the show. */
  z.strictObject({
    do: z.literal('code'),
    at: z.number().min(0, 'must be 0-24 h').max(CODE_DAY_S, 'must be 0-24 h'),
    way: waySchema,
    ms: z.number().optional(),
  }),
] as const;

/** What of a live state a code changes. */
interface CodeState {
  readonly code: CodeOn | null;
  readonly song: SongOn | null;
  readonly tempo: BeatMap;
}

/** The song a moment of the code (s) lies in: of several the one that began last. */
export function songForCode(document: Document, at: number): SongRecord | null {
  let found: SongRecord | null = null;
  for (const song of recordsOf(document, 'song')) {
    if (song.codeAt === null || at < song.codeAt || at >= song.codeAt + (song.lengthS ?? LONGEST_SONG_S)) continue;
    if (!found || song.codeAt > found.codeAt!) found = song;
  }
  return found;
}

/** Nearer than this (s) a song that plays is where the code is; up to JUMP_S it is drawn there without a jump in what is heard. */
const NEAR_S = 0.006;
const JUMP_S = 0.1;
/** A new reading counts so much beside what was known of how far they are apart. */
const WEIGHT = 0.25;
/** A message is never told for a moment that is so long past or to come, ms. */
const STALE_MS = 2000;

/** The state after a code was heard. */
export function withCode<S extends CodeState>(
  state: S,
  heard: { readonly at: number; readonly way: 1 | 0 | -1; readonly ms: number },
  document: Document,
  nowMs: number,
): S {
  if (!state.code) return state;
  const record = songForCode(document, heard.at);
  const told: S = { ...state, code: { ...state.code, heard, off: 0 } };
  if (!record)
    // The code is outside all songs: one that followed it has ended.
    return state.song && followed(document, state.song) ? { ...told, song: null } : told;
  const at = heard.at - record.codeAt!;
  const on = state.song?.songId === record.id ? state.song : null;
  if (heard.way !== 1) {
    if (on && !on.playing && Math.abs(on.at - at) < 1e-4) return told;
    return withSong(told, songOn(record.id, at, nowMs, { playing: false }), document, nowMs);
  }
  const target = at + (nowMs - heard.ms) / 1000;
  const exact = songOn(record.id, target, nowMs);
  if (!on?.playing || on.rate !== 1 || on.loop) return withSong(told, exact, document, nowMs);
  const off = songAt(on, nowMs) - target;
  if (Math.abs(off) > JUMP_S) return withSong(told, exact, document, nowMs);
  const mean = state.code.off + (off - state.code.off) * WEIGHT;
  if (Math.abs(mean) < NEAR_S) return { ...told, code: { ...told.code!, off: mean } };
  // By what it is off in the mean: not by the jitter of one reading.
  return withSong(told, songOn(record.id, songAt(on, nowMs) - mean, nowMs), document, nowMs);
}
const followed = (document: Document, song: SongOn): boolean => {
  const record = document.get(song.songId);
  return record?.kind === 'song' && record.codeAt !== null;
};

/** When a song that follows a code has gone on by itself for long enough, ms; null where it does not. */
export const codeEndsMs = ({ code, song }: Pick<CodeState, 'code' | 'song'>): number | null =>
  code?.heard?.way === 1 && song?.playing ? code.heard.ms + code.freeMs : null;

/** The state when the code has been gone for too long: the song stands where it is. */
export function withoutCode<S extends CodeState>(state: S, document: Document, nowMs: number): S {
  const { code, song } = state;
  if (!code || !song) return state;
  const stands = { ...song, at: songAt(song, nowMs), ms: nowMs, playing: false, over: null };
  return followed(document, song)
    ? withSong({ ...state, code: { ...code, heard: null, off: 0 } }, stands, document, nowMs)
    : { ...state, code: { ...code, heard: null, off: 0 } };
}

interface At {
  readonly now: { readonly ms: number };
  readonly document: Document;
}
type CodeCommand = z.infer<(typeof CODE_COMMANDS)[number]>;
export const CODE_APPLIED: {
  readonly [D in CodeCommand['do']]: <S extends CodeState>(
    state: S,
    command: Extract<CodeCommand, { do: D }>,
    at: At,
  ) => S;
} = {
  codeFrom: (state, { by, freeMs }) =>
    by === null
      ? { ...state, code: null }
      : {
          ...state,
          code: {
            by,
            heard: state.code?.by === by ? state.code.heard : null,
            freeMs: freeMs ?? state.code?.freeMs ?? FREE_MS,
            off: 0,
          },
        },
  code: (state, { at, way, ms }, { now, document }) => {
    const moment = ms !== undefined && Math.abs(ms - now.ms) < STALE_MS ? ms : now.ms;
    return withCode(state, { at, way, ms: moment }, document, now.ms);
  },
};
const FREE_MS = 2000;
