import { z } from 'zod';
import { idSchema, litIdSchema, type AreaId, type Id, type LitId } from '../ids.ts';
import { addressSchema, universeSchema } from '../records/common.ts';
import { runningTestSchema, TEST_LEASE_MS, testRequestSchema } from '../signal/signal.ts';
import { attributeKeySchema, unitValuesSchema, valueSchema, type UnitValues } from '../records/scene.ts';
import { clamp, clamp01 } from '../units.ts';
import type { Program, TargetId } from './program.ts';

/** Time it takes to go dark and to come back. */
export const DARK_MS = 500;

/** One scene or chase that plays. `startedBeat` is the show's beat at its start. */
export const playSchema = z.strictObject({
  id: z.string().min(1).max(64),
  target: z.union([idSchema('scene'), idSchema('chase')]),
  startedAt: z.number(),
  startedBeat: z.number(),
  /** When it was let go and started to fade out; null while it plays. */
  releasedAt: z.number().nullable(),
});
export type Play = z.infer<typeof playSchema>;

/** Raw bytes laid over a universe while somebody tries a profile: `values[0]` goes to `address`. */
export const probeSchema = z.strictObject({
  universe: universeSchema,
  address: addressSchema,
  values: z.array(z.int().min(0, 'must be 0-255').max(255, 'must be 0-255')).min(1).max(512),
});
export type Probe = z.infer<typeof probeSchema>;

const areaIdSchema = idSchema('area') as unknown as z.ZodType<AreaId, AreaId>;

/** A slot as `universe.address`. */
export const slotKeySchema = z.string().regex(/^[1-9]\d{0,4}\.[1-9]\d{0,2}$/, 'must be a slot such as "3.145"');
export const slotKey = (universe: number, address: number): string => `${universe}.${address}`;
/** Most raw slots in one command, and most that are held: trial faders, not a second show. */
const RAW_LIMIT = 4096;
const byteSchema = z.int().min(0, 'must be 0-255').max(255, 'must be 0-255');

export const tempoSchema = z.strictObject({
  bpm: z.number().min(20).max(300),
  anchorMs: z.number(),
  anchorBeat: z.number(),
});
export type Tempo = z.infer<typeof tempoSchema>;

/** Everything that decides what is sent besides the show itself. It is kept in the database and survives restarts. */
export const liveStateSchema = z.strictObject({
  playing: z.array(playSchema),
  /** By hand: what the operator changed and has not stored or let go. */
  hand: z.record(litIdSchema as unknown as z.ZodType<LitId, LitId>, unitValuesSchema),
  /** Raw bytes by slot (`3.145`), by hand: trial faders. They lie over everything the hand says of units. */
  raw: z.record(slotKeySchema, byteSchema).default({}),
  /** Units lit at highlight while somebody holds "identify". Not kept over a restart. */
  identify: z.array(litIdSchema),
  /** Not kept over a restart either. */
  probe: probeSchema.nullable().default(null),
  /** A test signal; ends by itself when its page is gone. Not kept over a restart either. */
  test: runningTestSchema.nullable().default(null),
  grand: z.number().min(0).max(1),
  /** Levels of areas that are not at full, 0-1. */
  areas: z.record(areaIdSchema, z.number().min(0).max(1)).default({}),
  dark: z.strictObject({ on: z.boolean(), at: z.number(), from: z.number().min(0).max(1) }),
  tempo: tempoSchema,
});
export type LiveState = z.infer<typeof liveStateSchema>;

export const initialLive = (nowMs: number, bpm = 120): LiveState => ({
  playing: [],
  hand: {},
  raw: {},
  identify: [],
  probe: null,
  test: null,
  grand: 1,
  areas: {},
  dark: { on: false, at: nowMs - DARK_MS, from: 1 },
  tempo: { bpm, anchorMs: nowMs, anchorBeat: 0 },
});

/** What people do to a running show. */
export const liveCommandSchema = z.discriminatedUnion('do', [
  z.strictObject({ do: z.literal('play'), target: z.union([idSchema('scene'), idSchema('chase')]) }),
  z.strictObject({ do: z.literal('release'), target: z.union([idSchema('scene'), idSchema('chase')]) }),
  z.strictObject({ do: z.literal('releaseAll') }),
  z.strictObject({ do: z.literal('grand'), level: z.number().min(0, 'must be 0-1').max(1, 'must be 0-1') }),
  /** The level of an area: what hangs in it (and in areas that lie in it) is scaled by it. */
  z.strictObject({
    do: z.literal('area'),
    areaId: idSchema('area'),
    level: z.number().min(0, 'must be 0-1').max(1, 'must be 0-1'),
  }),
  z.strictObject({ do: z.literal('dark'), on: z.boolean() }),
  z.strictObject({
    do: z.literal('tempo'),
    bpm: z.number().min(20, 'must be 20-300').max(300, 'must be 20-300'),
    /** True: a beat falls on this moment (a tap). */
    beatNow: z.boolean().default(false),
  }),
  z.strictObject({
    do: z.literal('hand'),
    /** null lets a single attribute go. */
    set: z.record(
      litIdSchema as unknown as z.ZodType<LitId, LitId>,
      z.record(attributeKeySchema, valueSchema.nullable()),
    ),
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
    units: z.array(litIdSchema).max(20_000).optional(),
    slots: z.array(slotKeySchema).max(32_768).optional(),
  }),
  z.strictObject({ do: z.literal('test'), test: testRequestSchema.nullable() }),
  /** The page of the running test is still there. */
  z.strictObject({ do: z.literal('testAlive') }),
  z.strictObject({ do: z.literal('probe'), probe: probeSchema.nullable() }),
  z.strictObject({ do: z.literal('identify'), units: z.array(litIdSchema).max(20_000) }),
]);
export type LiveCommand = z.infer<typeof liveCommandSchema>;

/** Records of the show that a command names. */
export function idsNamedBy(command: LiveCommand): readonly Id[] {
  switch (command.do) {
    case 'play':
    case 'release':
      return [command.target];
    case 'letGo':
    case 'identify':
      return command.units ?? [];
    case 'hand':
      return Object.keys(command.set) as LitId[];
    case 'area':
      return [command.areaId];
    default:
      return [];
  }
}

/** Beats since the tempo's anchor, as a fraction; rises steadily, also over a change of tempo. */
export const beatAt = (tempo: Tempo, nowMs: number): number =>
  tempo.anchorBeat + ((nowMs - tempo.anchorMs) * tempo.bpm) / 60_000;

/** Level of Dark at a moment: 1 light, 0 dark, a straight line of 0.5 s between. */
export function darkLevel(dark: LiveState['dark'], nowMs: number): number {
  const to = dark.on ? 0 : 1;
  const at = clamp01((nowMs - dark.at) / DARK_MS);
  return dark.from + (to - dark.from) * at;
}

/** Level 0-1 of something that plays: its fade in, then its fade out once it has been let go or has run through. */
export function playLevel(
  play: Pick<Play, 'startedAt' | 'releasedAt'>,
  program: Program,
  nowMs: number,
  endedMsAgo = -1,
): number {
  const released = play.releasedAt ?? (endedMsAgo >= 0 ? nowMs - endedMsAgo : Infinity);
  if (nowMs < released) return rising(play.startedAt, program.fadeInMs, nowMs);
  if (program.fadeOutMs <= 0) return 0;
  return rising(play.startedAt, program.fadeInMs, released) * clamp01(1 - (nowMs - released) / program.fadeOutMs);
}

const rising = (startedAt: number, fadeInMs: number, nowMs: number): number =>
  nowMs < startedAt ? 0 : fadeInMs <= 0 ? 1 : clamp01((nowMs - startedAt) / fadeInMs);

/** How long ago (ms) a chase that runs once came to its end; -1 while it runs and for everything else. */
export function endedMsAgo(
  play: Pick<Play, 'startedAt' | 'startedBeat'>,
  program: Program,
  tempo: Tempo,
  nowMs: number,
): number {
  if (program.type !== 'chase' || !program.once) return -1;
  const over = program.beats
    ? ((beatAt(tempo, nowMs) - play.startedBeat - program.total) * 60_000) / tempo.bpm
    : nowMs - play.startedAt - program.total * 1000;
  return over >= 0 ? over : -1;
}

/** The live state after a command at `nowMs`. Pure; `playId` names a new play and must be unique. */
export function applyLive(state: LiveState, command: LiveCommand, nowMs: number, playId: string): LiveState {
  switch (command.do) {
    case 'play': {
      if (state.playing.some((p) => p.target === command.target && p.releasedAt === null)) return state;
      const play: Play = {
        id: playId,
        target: command.target,
        startedAt: nowMs,
        startedBeat: beatAt(state.tempo, nowMs),
        releasedAt: null,
      };
      return { ...state, playing: [...state.playing, play] };
    }
    case 'release':
      return { ...state, playing: release(state.playing, nowMs, (p) => p.target === command.target) };
    case 'releaseAll':
      return { ...state, playing: release(state.playing, nowMs, () => true) };
    case 'grand':
      return { ...state, grand: command.level };
    case 'area': {
      const { [command.areaId]: _, ...others } = state.areas;
      return { ...state, areas: command.level >= 1 ? others : { ...others, [command.areaId]: command.level } };
    }
    case 'dark':
      return command.on === state.dark.on
        ? state
        : { ...state, dark: { on: command.on, at: nowMs, from: darkLevel(state.dark, nowMs) } };
    case 'tempo': {
      const beat = beatAt(state.tempo, nowMs);
      return {
        ...state,
        tempo: {
          bpm: clamp(command.bpm, 20, 300),
          anchorMs: nowMs,
          anchorBeat: command.beatNow ? Math.round(beat) : beat,
        },
      };
    }
    case 'hand':
      return { ...state, hand: mergeHand(state.hand, command.set) };
    case 'raw':
      return { ...state, raw: mergeRaw(state.raw, command.set) };
    case 'letGo': {
      if (!command.units && !command.slots) return { ...state, hand: {}, raw: {} };
      const gone = Object.fromEntries((command.slots ?? []).map((slot) => [slot, null]));
      return { ...state, hand: without(state.hand, command.units ?? []), raw: mergeRaw(state.raw, gone) };
    }
    case 'test':
      return {
        ...state,
        test: command.test && { ...command.test, startedAt: nowMs, until: nowMs + TEST_LEASE_MS },
      };
    case 'testAlive':
      return state.test && nowMs < state.test.until
        ? { ...state, test: { ...state.test, until: nowMs + TEST_LEASE_MS } }
        : state;
    case 'probe':
      return { ...state, probe: command.probe };
    case 'identify':
      return { ...state, identify: command.units };
  }
}

const release = (playing: readonly Play[], nowMs: number, which: (play: Play) => boolean): Play[] =>
  playing.map((p) => (p.releasedAt === null && which(p) ? { ...p, releasedAt: nowMs } : p));

function mergeHand(
  hand: LiveState['hand'],
  set: Record<string, Record<string, UnitValues[string] | null>>,
): LiveState['hand'] {
  const next: Record<string, UnitValues> = { ...hand };
  for (const [unitId, values] of Object.entries(set)) {
    const merged: UnitValues = { ...next[unitId] };
    for (const [key, value] of Object.entries(values)) {
      if (value === null) delete merged[key];
      else merged[key] = value;
    }
    if (Object.keys(merged).length === 0) delete next[unitId];
    else next[unitId] = merged;
  }
  return next as LiveState['hand'];
}

function mergeRaw(raw: LiveState['raw'], set: Readonly<Record<string, number | null>>): LiveState['raw'] {
  const next = { ...raw };
  let room = RAW_LIMIT - Object.keys(next).length;
  for (const [slot, value] of Object.entries(set)) {
    const held = slot in next;
    if (value === null) {
      if (held) room++;
      delete next[slot];
    } else if (held || room > 0) {
      if (!held) room--;
      next[slot] = value;
    }
  }
  return next;
}

function without(hand: LiveState['hand'], units: readonly LitId[]): LiveState['hand'] {
  const next = { ...hand };
  for (const unit of units) delete next[unit];
  return next;
}

/** The parts of a live state that refer to things a show no longer has are dropped. */
export function pruneLive(state: LiveState, has: (id: Id) => boolean): LiveState {
  const playing = state.playing.filter((p) => has(p.target));
  const hand = Object.fromEntries(Object.entries(state.hand).filter(([id]) => has(id as LitId))) as LiveState['hand'];
  const areas = Object.fromEntries(Object.entries(state.areas).filter(([id]) => has(id as AreaId)));
  const size = (of: object): number => Object.keys(of).length;
  const same =
    playing.length === state.playing.length && size(hand) === size(state.hand) && size(areas) === size(state.areas);
  return same ? state : { ...state, playing, hand, areas };
}

export const isPlaying = (state: LiveState, target: TargetId): boolean =>
  state.playing.some((p) => p.target === target && p.releasedAt === null);
