import { z } from 'zod';
import { idsIn, manySchema } from './many.ts';
import { keysOf } from '../../keys.ts';
import { idSchema, litIdSchema, type Id, type LitId } from '../../ids.ts';
import { bpmSchema, durationMsSchema, levelSchema, nudgeSchema, paceSchema } from '../../records/common.ts';
import { recordIdOf, targetSchema } from '../../records/target.ts';
import { effectSpecSchema } from '../../records/effect.ts';
import { FIXTURE_KINDS, MOODS } from '../../records/profile.ts';
import { attributeKeySchema, axesAlone, unitValuesSchema, valueSchema } from '../../records/scene.ts';
import { followedBy } from '../../records/value.ts';
import { testRequestSchema } from '../../signal/signal.ts';
import { AUTO_COMMANDS } from './auto.ts';
import { EAR_COMMANDS } from './ear.ts';
import { CODE_COMMANDS } from './code.ts';
import { SONG_COMMANDS } from './songs.ts';
import type { HandSet } from './by-hand.ts';
import {
  areaIdSchema,
  byteSchema,
  playSchema,
  PLAYING_LIMIT,
  probeSchema,
  RAW_LIMIT,
  slotKeySchema,
  speedSchema,
  type Play,
} from './state.ts';

const playId = z.string().min(1).max(64);
const litIds = z.array(litIdSchema).max(20_000, 'at most 20000 units');
const handSchema = z.record(litIdSchema as unknown as z.ZodType<LitId, LitId>, unitValuesSchema);
/** Where something plays: an area, or some units; everywhere where neither is given. */
const reachFields = { areaId: areaIdSchema.optional(), on: litIds.optional() };
const fades = {
  fadeInMs: durationMsSchema.optional(),
  fadeOutMs: durationMsSchema.optional(),
};

/** What people do to a running show. */
const handValuesSchema = z.record(attributeKeySchema, valueSchema.nullable()).superRefine(axesAlone);

export const liveCommandSchema = z.discriminatedUnion('do', [
  z.strictObject({
    do: z.literal('play'),
    target: targetSchema,
    ...reachFields,
    ...fades,
    /** Everything else that plays in the same place is let go, in the same time. */
    instead: z.boolean().optional(),
  }),
  /** Lets go what plays of a target, or one play alone. */
  z.strictObject({
    do: z.literal('release'),
    target: targetSchema,
    fadeOutMs: durationMsSchema.optional(),
  }),
  z.strictObject({ do: z.literal('releasePlay'), playId, fadeOutMs: durationMsSchema.optional() }),
  /** With an area: only what it plays of its own; it follows the room again. */
  z.strictObject({
    do: z.literal('releaseAll'),
    areaId: areaIdSchema.optional(),
    fadeOutMs: durationMsSchema.optional(),
  }),
  /** Over everything while it is held. */
  z.strictObject({ do: z.literal('flash'), target: targetSchema, on: z.boolean() }),
  z.strictObject({ do: z.literal('soloPlay'), playId, on: z.boolean() }),
  /** Only these have a level; none ends it. */
  z.strictObject({ do: z.literal('solo'), units: litIds }),
  /** How fast something goes; 0 holds it. */
  z.strictObject({ do: z.literal('speed'), playId, speed: speedSchema }),
  /** One pace for everything that plays; what goes at a speed of its own keeps it in proportion. */
  z.strictObject({ do: z.literal('pace'), pace: paceSchema }),
  /** Steps of a chase by hand; it is held from then on. */
  z.strictObject({ do: z.literal('step'), playId, by: z.union([z.literal(1), z.literal(-1)]) }),
  /** It begins its turn or its first step at this moment. */
  z.strictObject({ do: z.literal('now'), playId }),
  /** The effect as changed while it plays; null as its record says. */
  z.strictObject({ do: z.literal('tweak'), playId, spec: effectSpecSchema.nullable() }),
  z.strictObject({ do: z.literal('freeze'), on: z.boolean() }),
  /** A mood in place of the one that plays in the same place; null lets it go. */
  z.strictObject({ do: z.literal('mood'), mood: z.enum(MOODS).nullable(), ...reachFields }),
  z.strictObject({ do: z.literal('grand'), level: levelSchema }),
  /** The level of an area: what hangs in it (and in areas that lie in it) is scaled by it. */
  z.strictObject({ do: z.literal('area'), areaId: idSchema('area'), level: levelSchema }),
  z.strictObject({ do: z.literal('areaDark'), areaId: idSchema('area'), on: z.boolean() }),
  z.strictObject({ do: z.literal('group'), groupId: idSchema('group'), level: levelSchema }),
  z.strictObject({ do: z.literal('kind'), kind: z.enum(FIXTURE_KINDS), level: levelSchema }),
  /** `haze`: haze and fog go too; where it is not given they stay as they are. */
  z.strictObject({ do: z.literal('dark'), on: z.boolean(), haze: z.boolean().optional() }),
  z.strictObject({
    do: z.literal('tempo'),
    bpm: bpmSchema,
    /** True: a beat falls on this moment (a tap). */
    beatNow: z.boolean().optional(),
    /** With these: a bar of so many beats begins at this moment. */
    barNow: z.int().min(1).max(32).optional(),
  }),
  /** Moves the beats earlier (below 0) or later, by parts of a beat. */
  z.strictObject({ do: z.literal('nudge'), beats: nudgeSchema }),
  z.strictObject({
    do: z.literal('hand'),
    /** null lets a single attribute go. */
    set: z.record(litIdSchema as unknown as z.ZodType<LitId, LitId>, handValuesSchema),
    /** The same for many, over `set`: a fader of thousands of units is read and laid as one (`many.ts`). */
    alike: z
      .array(z.strictObject({ on: manySchema, set: handValuesSchema }))
      .max(1000)
      .optional(),
    /** What gets a colour, an aim or a picture, and nothing lights it, gets light with it. */
    light: z.boolean().optional(),
  }),
  /** An effect by hand on these, over what is by hand already. */
  z.strictObject({ do: z.literal('handEffect'), spec: effectSpecSchema, on: litIds.min(1, 'choose units first') }),
  z.strictObject({ do: z.literal('letGoEffect'), playId }),
  /** What was stored of the hand plays from its records and leaves the hand: `hand` as it was stored. */
  z.strictObject({
    do: z.literal('handOver'),
    scene: idSchema('scene').nullable(),
    hand: handSchema,
    effects: z.array(z.strictObject({ playId, target: idSchema('effect') })).max(PLAYING_LIMIT),
  }),
  /** Raw slots by hand; null lets one go. */
  z.strictObject({
    do: z.literal('raw'),
    set: z
      .record(slotKeySchema, byteSchema.nullable())
      .refine((set) => Object.keys(set).length <= RAW_LIMIT, `at most ${RAW_LIMIT} slots at a time`),
  }),
  /** Lets the units and raw slots go that are named; everything where none is. */
  z.strictObject({
    do: z.literal('letGo'),
    units: litIds.optional(),
    slots: z.array(slotKeySchema).max(32_768).optional(),
  }),
  /** What was tried blind takes the place of what plays and of the hand, in so much time. */
  z.strictObject({
    do: z.literal('goLive'),
    playing: z.array(playSchema).max(PLAYING_LIMIT),
    hand: handSchema,
    handEffects: z.array(playSchema).max(PLAYING_LIMIT),
    fadeMs: durationMsSchema,
  }),
  z.strictObject({ do: z.literal('test'), test: testRequestSchema.nullable() }),
  /** The page of the running test is still there. */
  z.strictObject({ do: z.literal('testAlive') }),
  z.strictObject({ do: z.literal('probe'), probe: probeSchema.nullable() }),
  z.strictObject({ do: z.literal('identify'), units: litIds }),
  ...SONG_COMMANDS,
  ...CODE_COMMANDS,
  ...EAR_COMMANDS,
  ...AUTO_COMMANDS,
]);
export type LiveCommand = z.infer<typeof liveCommandSchema>;

const present = (ids: readonly (Id | null | undefined)[]): Id[] => ids.filter((id) => id !== null && id !== undefined);
const namedByPlays = (plays: readonly Play[]): Id[] =>
  plays.flatMap((play) => present([recordIdOf(play.target), play.areaId, ...(play.on ?? [])]));

const nobody = (): readonly Id[] => [];
const targetAlone = ({ target }: { target: Parameters<typeof recordIdOf>[0] }): Id[] => present([recordIdOf(target)]);
const unitsGiven = ({ units }: { units?: readonly Id[] }): readonly Id[] => units ?? [];

/** Palettes and aims that values by hand follow. */
function followed(sets: readonly HandSet[string][]): Id[] {
  const found = new Set<Id>();
  for (const values of sets)
    for (const value of Object.values(values)) {
      const id = value !== null && followedBy(value);
      if (id) found.add(id);
    }
  return [...found];
}

/** Records of the show that each command names: whoever adds one says it here. */
const NAMED: {
  readonly [D in LiveCommand['do']]: (command: Extract<LiveCommand, { do: D }>) => readonly Id[];
} = {
  play: ({ target, areaId, on }) => present([recordIdOf(target), areaId, ...(on ?? [])]),
  release: targetAlone,
  releasePlay: nobody,
  releaseAll: ({ areaId }) => present([areaId]),
  flash: targetAlone,
  soloPlay: nobody,
  solo: unitsGiven,
  speed: nobody,
  pace: nobody,
  step: nobody,
  now: nobody,
  tweak: nobody,
  freeze: nobody,
  mood: ({ areaId, on }) => present([areaId, ...(on ?? [])]),
  grand: nobody,
  area: ({ areaId }) => [areaId],
  areaDark: ({ areaId }) => [areaId],
  group: ({ groupId }) => [groupId],
  kind: nobody,
  dark: nobody,
  tempo: nobody,
  nudge: nobody,
  hand: ({ set, alike = [] }) => [
    ...(keysOf(set) as LitId[]),
    ...followed(Object.values(set)),
    ...alike.flatMap((many) => idsIn(many.on)),
    ...followed(alike.map((many) => many.set)),
  ],
  handEffect: ({ on, spec }) => [...on, ...spec.parts.flatMap((p) => (p.does === 'aim' && p.round ? [p.round] : []))],
  letGoEffect: nobody,
  handOver: ({ scene, effects }) => present([scene, ...effects.map((e) => e.target)]),
  raw: nobody,
  letGo: unitsGiven,
  goLive: ({ hand, playing, handEffects }) => [
    ...(Object.keys(hand) as LitId[]),
    ...namedByPlays([...playing, ...handEffects]),
  ],
  test: nobody,
  testAlive: nobody,
  probe: nobody,
  identify: unitsGiven,
  song: ({ songId, list }) => present([songId, list]),
  songPlay: nobody,
  songAt: nobody,
  songRate: nobody,
  songLoop: nobody,
  songBy: nobody,
  songOff: nobody,
  soundPlayer: nobody,
  codeFrom: nobody,
  code: nobody,
  ear: nobody,
  earHold: nobody,
  earRatio: nobody,
  heardBeat: nobody,
  earSays: nobody,
  auto: nobody,
  autoMood: nobody,
  autoLean: nobody,
  autoColours: nobody,
  autoHold: nobody,
  autoNext: nobody,
  autoTake: nobody,
  autoRoles: nobody,
  autoPlace: ({ place }) => [place],
  autoVariant: ({ variantId }) => present([variantId]),
};

export const idsNamedBy = (command: LiveCommand): readonly Id[] =>
  (NAMED[command.do] as (command: LiveCommand) => readonly Id[])(command);
