import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { blobHashSchema, type BlobHash, SOUND_TYPES } from './blob.ts';
import { levelSchema, nameSchema, notesSchema } from './common.ts';
import { listedFields } from './playable.ts';
import { MOODS } from './profile.ts';

/** Longest song, seconds, and most beats of one. */
export const LONGEST_SONG_S = 3600;
export const MOST_BEATS = 60_000;
/** Beats of a bar. */
export const METRES = [2, 3, 4, 5, 6, 7] as const;

/** A moment of a song. */
export const songSecondsSchema = z
  .number()
  .min(0, 'must not be negative')
  .max(LONGEST_SONG_S, 'at most one hour (3600)');
const rising = (list: readonly number[]): boolean => list.every((at, i) => i === 0 || at > list[i - 1]!);
const beatsSchema = z
  .array(songSecondsSchema)
  .max(MOST_BEATS, `at most ${MOST_BEATS} beats`)
  .refine(rising, 'must rise from beat to beat');
const metreSchema = z.int().min(1, 'must be 1-16 beats').max(16, 'must be 1-16 beats');

/** From this moment on (of the beat that is nearest) bars have so many beats, and one begins here. */
const barsSchema = z.strictObject({ at: songSecondsSchema, beats: metreSchema });
export type BarsFrom = z.infer<typeof barsSchema>;
const barsListSchema = z
  .array(barsSchema)
  .max(2000, 'at most 2000 changes of metre')
  .refine((list) => rising(list.map(({ at }) => at)), 'must rise in time');

/** What a section does to those around it. */
export const SECTION_TURNS = ['build', 'drop', 'break'] as const;
const sectionSchema = z.strictObject({
  at: songSecondsSchema,
  /** Sections that sound alike have the same name. */
  name: nameSchema,
  mood: z.enum(MOODS),
  turn: z.enum(SECTION_TURNS).nullable().default(null),
});
export type SongSection = z.infer<typeof sectionSchema>;
const sectionsSchema = z
  .array(sectionSchema)
  .max(500, 'at most 500 sections')
  .refine((list) => rising(list.map(({ at }) => at)), 'must rise in time');

/** What the ear heard: times in seconds from the beginning of the sound. */
export const heardSchema = z.strictObject({
  /** Which ear it was: a newer one may hear it anew. */
  ear: z.int().min(1),
  bpm: z.number().min(0).max(1000),
  /** How sure it is of the beats, of the first of the bar and of the sections, 0-1. */
  confidence: z.strictObject({ beats: levelSchema, bars: levelSchema, sections: levelSchema }),
  beats: beatsSchema,
  bars: barsListSchema,
  sections: sectionsSchema,
  /** On which beats of its bars (0 the first) a snare or a clap falls, mostly. */
  snares: z.array(z.int().min(0).max(15)).max(16).default([]),
  /** Loudness as a whole, LUFS (ITU-R BS.1770). */
  loudness: z.number().min(-200).max(50),
});
export type HeardSong = z.infer<typeof heardSchema>;

/** A stretch of a song (from, and up to but without to) whose beats somebody set. */
const stretchSchema = z
  .strictObject({ from: songSecondsSchema, to: songSecondsSchema, beats: beatsSchema })
  .refine(({ from, to, beats }) => from < to && beats.every((at) => at >= from && at < to), 'beats must lie within it');
export type Stretch = z.infer<typeof stretchSchema>;

/**
 * What people set right. It stays when the song is heard anew: stretches take the place of beats that were heard there,
 * bars and sections, where they are given, of all that were heard.
 */
export const mendedSchema = z.strictObject({
  stretches: z
    .array(stretchSchema)
    .max(2000, 'at most 2000 stretches')
    .refine((list) => list.every(({ from }, i) => i === 0 || from >= list[i - 1]!.to), 'must not overlap')
    .default([]),
  bars: barsListSchema.nullable().default(null),
  sections: sectionsSchema.nullable().default(null),
});
export type MendedSong = z.infer<typeof mendedSchema>;

/** Most marks of a song. */
export const MOST_MARKS = 5000;
/** A moment or a stretch of a song that somebody noted: a cue, a word that is sung. */
const markSchema = z
  .strictObject({
    at: songSecondsSchema,
    /** The same as `at` for a moment. */
    to: songSecondsSchema,
    label: z.string().max(200, 'at most 200 characters').default(''),
    /** A line of words that are sung. */
    words: z.boolean().default(false),
  })
  .refine(({ at, to }) => at <= to, 'must not end before it begins');
export type Mark = z.infer<typeof markSchema>;
const marksSchema = z
  .array(markSchema)
  .max(MOST_MARKS, `at most ${MOST_MARKS} marks`)
  .refine((list) => list.every(({ at }, i) => i === 0 || at >= list[i - 1]!.at), 'must stand in order of time')
  .default([]);

/** Why a song could not be heard. */
const songFaultSchema = z.strictObject({
  code: z.string().max(60),
  message: z.string().max(500),
  remedy: z.string().max(500),
});
export type SongFault = z.infer<typeof songFaultSchema>;

/**
 * A song: a file of sound, what was heard in it and what was set right. Its file may be somewhere else (an archive
 * without songs): it is found again by its content.
 */
export const songSchema = z.strictObject({
  kind: z.literal('song'),
  id: idSchema('song'),
  ...listedFields,
  artist: z.string().max(200, 'at most 200 characters').default(''),
  album: z.string().max(200, 'at most 200 characters').default(''),
  notes: notesSchema.default(''),
  /** What its file was called. */
  file: z.string().max(300, 'at most 300 characters').default(''),
  /** Null for plain time, which has no sound. */
  blob: blobHashSchema.nullable(),
  type: z.enum(SOUND_TYPES).nullable(),
  bytes: z.int().min(0),
  /** Null until it is known. */
  lengthS: songSecondsSchema.nullable().default(null),
  /** False: it is not to be heard by itself. */
  listen: z.boolean().default(true),
  heard: heardSchema.nullable().default(null),
  mended: mendedSchema.default({ stretches: [], bars: null, sections: null }),
  fault: songFaultSchema.nullable().default(null),
  marks: marksSchema,
  /** Where it begins in a time code that comes from outside, seconds; null: it follows none. */
  codeAt: z.number().min(0, 'must be 0-24 h').max(86_400, 'must be 0-24 h').nullable().default(null),
});
export type SongRecord = z.infer<typeof songSchema>;
/** A song that has a sound: no plain time. */
export type SoundingSong = SongRecord & { readonly blob: BlobHash };
export const hasSound = (song: SongRecord): song is SoundingSong => song.blob !== null;

/** A list of songs that play one after the other. */
export const setlistSchema = z.strictObject({
  kind: z.literal('setlist'),
  id: idSchema('setlist'),
  ...listedFields,
  songs: z.array(idSchema('song')).max(2000, 'at most 2000 songs').default([]),
  /** Silence between two, seconds; below 0 they fade into one another for so long. */
  gapS: z.number().min(-30, 'must be -30 to 600').max(600, 'must be -30 to 600').default(2),
  order: z.enum(['listed', 'shuffled']).default('listed'),
  /** After the last one the first comes again. */
  repeat: z.boolean().default(false),
});
export type SetlistRecord = z.infer<typeof setlistSchema>;
