import { z } from 'zod';
import { idSchema, litIdSchema, type AreaId, type GroupId, type LitId, type VariantId } from '../../ids.ts';
import { steady } from '../play/beat-map.ts';
import { DARK_MS } from '../play/clock.ts';
import {
  addressSchema,
  durationMsSchema,
  hexColourSchema,
  levelSchema,
  paceSchema,
  universeSchema,
} from '../../records/common.ts';
import type { Curves } from '../../records/curve.ts';
import { effectSpecSchema } from '../../records/effect.ts';
import { recordSchema } from '../../records/index.ts';
import { FIXTURE_KINDS, MOODS } from '../../records/profile.ts';
import { earSchema } from './ear.ts';
import { codeOnSchema } from './code.ts';
import { songOnSchema, soundPlayerSchema } from './songs.ts';
import { beatMapSchema } from './tempo.ts';
import { LEAN_LIMIT } from '../../records/action.ts';
import { targetSchema, type TargetId } from '../../records/target.ts';
import { unitValuesSchema } from '../../records/scene.ts';
import { SECTION_TURNS } from '../../records/song.ts';
import { ideaKeySchema, PLAYED_ROLES } from '../../records/variant.ts';
import { runningTestSchema } from '../../signal/signal.ts';

/** How often faster than it is written something may play. */
export const FASTEST_SPEED = 64;
export const speedSchema = z
  .number()
  .min(0, `must be 0-${FASTEST_SPEED}`)
  .max(FASTEST_SPEED, `must be 0-${FASTEST_SPEED}`);

const litIds = z.array(litIdSchema).max(20_000, 'at most 20000 units');
export const areaIdSchema = idSchema('area') as unknown as z.ZodType<AreaId, AreaId>;
export const groupIdSchema = idSchema('group') as unknown as z.ZodType<GroupId, GroupId>;

/** Something that plays. `startedBeat` is the show's beat at its start. */
export const playSchema = z.strictObject({
  id: z.string().min(1).max(64),
  /** null: an effect by hand, which is in no record. */
  target: targetSchema.nullable(),
  startedAt: z.number(),
  startedBeat: z.number(),
  /** When it was let go and started to fade out; null while it plays. */
  releasedAt: z.number().nullable(),
  /** Where a chase or effect stood (seconds, beats or turns, as it counts) at a moment; it goes on from there. */
  clock: z.strictObject({ at: z.number(), ms: z.number(), beat: z.number() }).nullable().default(null),
  /** How fast it goes; 0 holds it. */
  speed: speedSchema.default(1),
  /** The effect as it was changed while it plays, or one that is by hand; null as its record says. */
  spec: effectSpecSchema.nullable().default(null),
  /** Reaches only these. */
  on: litIds.nullable().default(null),
  /** Reaches only this area, over whatever plays in the room around it. */
  areaId: areaIdSchema.nullable().default(null),
  /** Own fades in place of those of its record. */
  fadeInMs: durationMsSchema.nullable().default(null),
  fadeOutMs: durationMsSchema.nullable().default(null),
  /** Over everything, at once, while it is held. */
  flash: z.boolean().default(false),
  /** Nothing else that plays is seen meanwhile. */
  solo: z.boolean().default(false),
});
/** How a block of a song plays: in the time of the song alone. */
export interface Exact {
  /** Seconds of the song in one of the show: below 1 it is played slowly. */
  readonly pace: number;
  /** Curves that steer it; moments of each are counted from a moment of the show (ms) on. */
  readonly curves: readonly { readonly ms: number; readonly curves: Curves }[];
}
/** `exact`: only of what a song plays, which is kept nowhere. */
export type Play = z.infer<typeof playSchema> & { readonly exact?: Exact };

/** Most plays of light that runs by itself: those of two phrases, in every place that has a mood of its own. */
export const AUTO_LIMIT = 400;
/** Most places with something of their own. */
const MOST_PLACES = 24;
/** Most sections for which another idea was asked for; the oldest is forgotten first. */
export const MOST_OTHERS = 100;
export const autoPlaceSchema = z.custom<AreaId | GroupId>(
  (value) => typeof value === 'string' && /^(area|group):[a-z0-9][a-z0-9-]{0,39}$/.test(value),
  { message: 'must be the id of an area or a group' },
);
export const autoColoursSchema = z.array(hexColourSchema).min(1, 'at least one colour').max(6, 'at most 6 colours');
/** A mood of its own, or no part in it. */
export const ownMoodSchema = z.enum([...MOODS, 'none']);
/** What plays in a phrase: which role, and which idea by its key and name. */
const castSchema = z.strictObject({ role: z.enum(PLAYED_ROLES), idea: ideaKeySchema, name: z.string().max(210) });
const momentSchema = z.strictObject({
  section: z.strictObject({
    name: z.string().max(200),
    mood: z.enum(MOODS),
    turn: z.enum(SECTION_TURNS).nullable(),
  }),
  k: z.int().min(0),
  stage: levelSchema.nullable(),
  metre: z.int().min(1).max(32),
  snares: z.array(z.int().min(0).max(31)).max(32),
  beatS: z.number(),
});
/** Light that runs by itself, under everything that people play. */
export const autoSchema = z.strictObject({
  on: z.boolean(),
  /** The same seed gives the same light; another take has another. */
  seed: z.int().min(0).max(0xffffffff),
  /** The mood that is held; null: as the music has it. */
  mood: z.enum(MOODS).nullable().default(null),
  /** So many steps of mood more (or less) than the music has. */
  lean: z.int().min(-LEAN_LIMIT).max(LEAN_LIMIT).default(0),
  /** Colours that are held or were chosen; null: its own. */
  colours: autoColoursSchema.nullable().default(null),
  /** What goes on stays until this is let go. */
  hold: z.boolean().default(false),
  /** The only roles that play; null for all. */
  roles: z.array(z.enum(PLAYED_ROLES)).max(PLAYED_ROLES.length).nullable().default(null),
  /** Areas and groups with a mood of their own, or without a part in it. */
  places: z
    .record(autoPlaceSchema, ownMoodSchema)
    .refine((places) => Object.keys(places).length <= MOST_PLACES, `at most ${MOST_PLACES} places`)
    .default({}),
  /** What may play; null: as it comes. */
  variantId: (idSchema('variant') as unknown as z.ZodType<VariantId, VariantId>).nullable().default(null),
  /** By section: how often another idea was asked for. */
  others: z
    .record(z.string().max(200), z.int().min(0))
    .refine((others) => Object.keys(others).length <= MOST_OTHERS, `at most ${MOST_OTHERS} sections`)
    .default({}),
  /** What was asked for counts from this moment on, ms: the next bar. */
  fromMs: z.number().nullable().default(null),
  plays: z.array(playSchema).max(AUTO_LIMIT).default([]),
  /** What goes on now, since and until when (ms; null: until something changes), and why; null before its first phrase. */
  now: z
    .strictObject({
      key: z.string().max(300),
      mood: z.enum(MOODS),
      section: z.string().max(200).default(''),
      /** The music of it: held, it stays that. */
      moment: momentSchema.nullable().default(null),
      why: z.string().max(300),
      ms: z.number(),
      untilMs: z.number().nullable(),
      then: z.string().max(300).nullable(),
      colours: z.array(hexColourSchema).max(6).default([]),
      cast: z.array(castSchema).max(PLAYED_ROLES.length).default([]),
    })
    .nullable()
    .default(null),
});
export type Auto = z.infer<typeof autoSchema>;

/** Raw bytes laid over a universe while somebody tries a profile: `values[0]` goes to `address`. */
export const probeSchema = z.strictObject({
  universe: universeSchema,
  address: addressSchema,
  values: z.array(z.int().min(0, 'must be 0-255').max(255, 'must be 0-255')).min(1).max(512),
});
export type Probe = z.infer<typeof probeSchema>;

/** A slot as `universe.address`. */
export const slotKeySchema = z.string().regex(/^[1-9]\d{0,4}\.[1-9]\d{0,2}$/, 'must be a slot such as "3.145"');
export const slotKey = (universe: number, address: number): string => `${universe}.${address}`;
/** Most raw slots in one command, and most that are held: trial faders, not a second show. */
export const RAW_LIMIT = 4096;
export const byteSchema = z.int().min(0, 'must be 0-255').max(255, 'must be 0-255');

/** Going dark and coming back: since when, and from which level. */
const darkSchema = z.strictObject({ on: z.boolean(), at: z.number(), from: levelSchema });
export type Dark = z.infer<typeof darkSchema>;

/** Most things that play at once, and most effects by hand: more is a fault of whoever asks. */
export const PLAYING_LIMIT = 500;

/** What played and was by hand when something else went live at a moment: it fades out in so many ms. */
const fadingSchema = z.strictObject({
  at: z.number(),
  ms: durationMsSchema,
  playing: z.array(playSchema).max(PLAYING_LIMIT),
  hand: z.record(litIdSchema as unknown as z.ZodType<LitId, LitId>, unitValuesSchema),
  handEffects: z.array(playSchema).max(PLAYING_LIMIT),
  held: z.array(recordSchema),
});
export type Fading = z.infer<typeof fadingSchema>;

/** Everything that decides what is sent besides the show itself. It is kept in the database and survives restarts. */
export const liveStateSchema = z.strictObject({
  playing: z.array(playSchema).max(PLAYING_LIMIT),
  /** By hand: what the operator changed and has not stored or let go. */
  hand: z.record(litIdSchema as unknown as z.ZodType<LitId, LitId>, unitValuesSchema),
  /** Effects by hand, over the values by hand: their level is scaled by that, and they move round that aim. */
  handEffects: z.array(playSchema).max(PLAYING_LIMIT).default([]),
  /** Raw bytes by slot (`3.145`), by hand: trial faders. They lie over everything the hand says of units. */
  raw: z.record(slotKeySchema, byteSchema).default({}),
  /** Units lit at highlight while somebody holds "identify". Not kept over a restart. */
  identify: z.array(litIdSchema),
  /** Not kept over a restart either. */
  probe: probeSchema.nullable().default(null),
  /** A test signal; ends by itself when its page is gone. Not kept over a restart either. */
  test: runningTestSchema.nullable().default(null),
  grand: levelSchema,
  /** Levels of areas, groups and kinds of fixture that are not at full, 0-1. */
  areas: z.record(areaIdSchema, levelSchema).default({}),
  groups: z.record(groupIdSchema, levelSchema).default({}),
  kinds: z.partialRecord(z.enum(FIXTURE_KINDS), levelSchema).default({}),
  dark: darkSchema,
  /** Whether Dark takes haze and fog with it. */
  darkHaze: z.boolean().default(false),
  /** Areas that are dark alone, or come back from it. */
  areasDark: z.record(areaIdSchema, darkSchema).default({}),
  /** While only these are to be seen: everything else has no level. */
  solo: litIds.default([]),
  /** What plays stands still as it was then; null while it goes on. */
  frozen: z.strictObject({ at: z.number(), beat: z.number() }).nullable().default(null),
  /** Records as they were before they were edited blind: what plays still plays these. */
  held: z.array(recordSchema).default([]),
  /** What fades out under what went live; null mostly. */
  fading: fadingSchema.nullable().default(null),
  /** Heads on their way from where they pointed before an edit: how far they are off, in fractions; null mostly. */
  settling: z
    .strictObject({
      at: z.number(),
      ms: durationMsSchema,
      off: z.record(
        litIdSchema as unknown as z.ZodType<LitId, LitId>,
        z.strictObject({ Pan: z.number().min(-1).max(1).optional(), Tilt: z.number().min(-1).max(1).optional() }),
      ),
    })
    .nullable()
    .default(null),
  /** The pace of everything that moves together; what begins later begins at it. Tempo and fades are none of it. */
  pace: paceSchema.default(1),
  tempo: beatMapSchema,
  /** The song that is on; the tempo follows it while it plays. */
  song: songOnSchema.nullable().default(null),
  /** The page that plays its sound. */
  soundPlayer: soundPlayerSchema.nullable().default(null),
  /** The ear that the tempo follows. */
  ear: earSchema.nullable().default(null),
  auto: autoSchema.nullable().default(null),
  /** The time code that songs follow. */
  code: codeOnSchema.nullable().default(null),
});
export type LiveState = z.infer<typeof liveStateSchema>;

export const initialLive = (nowMs: number, bpm = 120): LiveState => ({
  playing: [],
  hand: {},
  handEffects: [],
  raw: {},
  identify: [],
  probe: null,
  test: null,
  grand: 1,
  areas: {},
  groups: {},
  kinds: {},
  dark: { on: false, at: nowMs - DARK_MS, from: 1 },
  darkHaze: false,
  areasDark: {},
  solo: [],
  frozen: null,
  held: [],
  pace: 1,
  fading: null,
  settling: null,
  tempo: steady(bpm, nowMs, 0),
  song: null,
  soundPlayer: null,
  ear: null,
  auto: null,
  code: null,
});

/** A play that begins; what is not given is as it mostly is. */
export const newPlay = (fields: Pick<Play, 'id' | 'target' | 'startedAt'> & Partial<Play>): Play => ({
  startedBeat: 0,
  releasedAt: null,
  clock: null,
  speed: 1,
  spec: null,
  on: null,
  areaId: null,
  fadeInMs: null,
  fadeOutMs: null,
  flash: false,
  solo: false,
  ...fields,
});

export const isPlaying = (state: LiveState, target: TargetId): boolean =>
  state.playing.some((p) => p.target === target && p.releasedAt === null && !p.flash);
