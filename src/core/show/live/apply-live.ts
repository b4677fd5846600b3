import { getRecord, type Document } from '../../document/change.ts';
import type { AreaId, Id, LitId } from '../../ids.ts';
import { TEST_LEASE_MS } from '../../signal/signal.ts';
import { BPM_LIMITS, clamp } from '../../units.ts';
import { handEffect, leaving, mergeHand, mergeRaw, spelled, without, withoutColoured } from './by-hand.ts';
import { bringLight } from './bring-light.ts';
import { stepStarts } from '../play/chase.ts';
import { beatAt, shifted, steady } from '../play/beat-map.ts';
import { darkLevel, positionOf, type Pace } from '../play/clock.ts';
import type { LiveCommand } from './command.ts';
import { handOver } from './hand-over.ts';
import { AUTO_APPLIED } from './auto.ts';
import { EAR_APPLIED, heardByHand } from './ear.ts';
import { CODE_APPLIED } from './code.ts';
import { SONGS_APPLIED } from './songs.ts';
import { FASTEST_SPEED, newPlay, PLAYING_LIMIT, type Dark, type Fading, type LiveState, type Play } from './state.ts';

/** How a play counts: chases in their own unit, effects in turns. */
export function paceOf(document: Document, play: Play): Pace {
  const record = play.target && document.get(play.target as Id);
  const spec = play.spec ?? (record && record.kind === 'effect' ? record : null);
  if (spec) return { beats: spec.beats, rate: spec.rate };
  return { beats: record !== null && record?.kind === 'chase' && record.timeUnit === 'beats', rate: 1 };
}

/** A moment, in time and in beats. */
export interface Now {
  readonly ms: number;
  readonly beat: number;
}

/** The same play, set to go on from where it stands now with what changes. */
export function onwards(document: Document, play: Play, now: Now, change: Partial<Play>): Play {
  const at = positionOf(play, paceOf(document, play), now.ms, now.beat);
  return { ...play, clock: { at, ms: now.ms, beat: now.beat }, ...change };
}

/** Where a command comes in: the moment, a name for a new play, and the show. */
interface At {
  readonly now: Now;
  readonly newId: string;
  readonly document: Document;
}
type Apply<D extends LiveCommand['do']> = (
  state: LiveState,
  command: Extract<LiveCommand, { do: D }>,
  at: At,
) => LiveState;

/** What each command makes of the live state: whoever adds one says it here. */
const APPLIED: { readonly [D in LiveCommand['do']]: Apply<D> } = {
  play: (state, command, { now, newId }) => play(state, command, now, newId),
  release: (state, { target, fadeOutMs = null }, { now }) =>
    releasing(state, now, fadeOutMs, (p) => p.target === target && !p.flash),
  releasePlay: (state, { playId, fadeOutMs = null }, { now }) =>
    releasing(state, now, fadeOutMs, (p) => p.id === playId),
  releaseAll: (state, { areaId, fadeOutMs = null }, { now }) =>
    releasing(state, now, fadeOutMs, (p) => (areaId ?? p.areaId) === p.areaId),
  flash(state, { target, on }, { now, newId }) {
    const held = (p: Play): boolean => p.target === target && p.flash && p.releasedAt === null;
    if (!on) return { ...state, playing: state.playing.filter((p) => !held(p)) };
    return state.playing.some(held) ? state : begin(state, now, newId, { target, flash: true });
  },
  soloPlay: (state, { playId, on }) => changing(state, playId, (p) => ({ ...p, solo: on })),
  solo: (state, { units }) => ({ ...state, solo: units }),
  speed: (state, { playId, speed }, { document, now }) =>
    changing(state, playId, (p) => onwards(document, p, now, { speed })),
  pace: (state, { pace }, { document, now }) => paced(document, state, pace, now),
  step: (state, { playId, by }, { document, now }) => changing(state, playId, (p) => stepped(document, p, now, by)),
  now: (state, { playId }, { now }) =>
    changing(state, playId, (p) => ({ ...p, clock: { at: 0, ms: now.ms, beat: now.beat } })),
  tweak: (state, { playId, spec }, { document, now }) =>
    changing(state, playId, (p) => (p.target === null && spec === null ? p : onwards(document, p, now, { spec }))),
  freeze: (state, { on }, { now }) => freeze(state, on, now),
  mood: moodSet,
  grand: (state, { level }) => ({ ...state, grand: level }),
  area: (state, { areaId, level }) => ({ ...state, areas: belowFull(state.areas, areaId, level) }),
  group: (state, { groupId, level }) => ({ ...state, groups: belowFull(state.groups, groupId, level) }),
  kind: (state, { kind, level }) => ({ ...state, kinds: belowFull(state.kinds, kind, level) }),
  areaDark: (state, { areaId, on }, { now }) => ({
    ...state,
    areasDark: areaDark(state.areasDark, areaId, on, now.ms),
  }),
  dark: (state, { on, haze = false }, { now }) =>
    on === state.dark.on && haze === state.darkHaze
      ? state
      : { ...state, dark: darkened(state.dark, on, now.ms), darkHaze: haze },
  tempo: (state, command, { now }) =>
    heardByHand({ ...state, tempo: tempo(command, now) }, command.bpm, {
      tap: command.beatNow === true,
      one: command.barNow !== undefined,
    }),
  nudge: (state, { beats }) => ({ ...state, tempo: shifted(state.tempo, -beats) }),
  hand(state, { set, alike = [], light }, { document }) {
    if (!light && state.handEffects.length === 0) return { ...state, hand: mergeHand(state.hand, set, alike) };
    const whole = spelled(set, alike);
    const lit = light ? bringLight(document, state, whole) : whole;
    return { ...state, hand: mergeHand(state.hand, lit), handEffects: withoutColoured(state.handEffects, whole) };
  },
  handOver: (state, command, { document, now, newId }) => handOver(state, command, document, now, newId),
  handEffect: (state, command, { now, newId }) => handEffect(state, command, now, newId),
  letGoEffect: (state, { playId }) => ({ ...state, handEffects: state.handEffects.filter((p) => p.id !== playId) }),
  raw: (state, { set }) => ({ ...state, raw: mergeRaw(state.raw, set) }),
  letGo: lettingGo,
  goLive: (state, { playing, hand, handEffects, fadeMs }, { now }) => ({
    ...state,
    playing,
    hand,
    handEffects,
    held: [],
    fading: fadeMs > 0 ? fadingOut(state, now.ms, fadeMs) : null,
  }),
  test: (state, { test }, { now: { ms } }) => ({
    ...state,
    test: test && { ...test, startedAt: ms, until: ms + TEST_LEASE_MS },
  }),
  testAlive: (state, _, { now: { ms } }) =>
    state.test && ms < state.test.until ? { ...state, test: { ...state.test, until: ms + TEST_LEASE_MS } } : state,
  probe: (state, { probe }) => ({ ...state, probe }),
  identify: (state, { units }) => ({ ...state, identify: units }),
  ...SONGS_APPLIED,
  ...CODE_APPLIED,
  ...EAR_APPLIED,
  ...AUTO_APPLIED,
};

/**
 * The live state after a command at `nowMs`. Pure; `newId` names a new play and must be unique. `document` tells how
 * chases and effects count.
 */
export function applyLive(
  state: LiveState,
  command: LiveCommand,
  nowMs: number,
  newId: string,
  document: Document = new Map(),
): LiveState {
  const now: Now = { ms: nowMs, beat: beatAt(state.tempo, nowMs) };
  const apply = APPLIED[command.do] as (state: LiveState, command: LiveCommand, at: At) => LiveState;
  return apply(state, command, { now, newId, document });
}

function moodSet(state: LiveState, command: Extract<LiveCommand, { do: 'mood' }>, { now, newId }: At): LiveState {
  const same = (p: Play): boolean => p.target?.startsWith('mood:') === true && samePlace(p, command);
  const target = command.mood && (`mood:${command.mood}` as const);
  if (state.playing.some((p) => same(p) && p.target === target && p.releasedAt === null)) return state;
  const left = releasing(state, now, null, same);
  return target ? begin(left, now, newId, { target, ...reachGiven(command) }) : left;
}

function lettingGo(state: LiveState, { units, slots }: Extract<LiveCommand, { do: 'letGo' }>): LiveState {
  if (!units && !slots) return { ...state, hand: {}, handEffects: [], raw: {} };
  const gone = Object.fromEntries((slots ?? []).map((slot) => [slot, null]));
  return {
    ...state,
    hand: without(state.hand, units ?? []),
    handEffects: leaving(state.handEffects, new Set(units)),
    raw: mergeRaw(state.raw, gone),
  };
}

/** What plays and is by hand now, on its way out. What was on its way out already is gone at once. */
const fadingOut = ({ playing, hand, handEffects, held }: LiveState, at: number, ms: number): Fading => ({
  at,
  ms,
  playing,
  hand,
  handEffects,
  held,
});

function begin(state: LiveState, now: Now, id: string, fields: Partial<Play> & Pick<Play, 'target'>): LiveState {
  const started = newPlay({ id, startedAt: now.ms, startedBeat: now.beat, speed: state.pace, ...fields });
  if (state.playing.length < PLAYING_LIMIT) return { ...state, playing: [...state.playing, started] };
  // The oldest that fades out makes room, else the oldest.
  const goes = Math.max(
    0,
    state.playing.findIndex((p) => p.releasedAt !== null),
  );
  return { ...state, playing: [...state.playing.filter((_, i) => i !== goes), started] };
}

type PlayCommand = Extract<LiveCommand, { do: 'play' }>;

const reachGiven = ({ areaId, on }: Pick<PlayCommand, 'areaId' | 'on'>): Pick<Play, 'areaId' | 'on'> => ({
  areaId: areaId ?? null,
  on: on ?? null,
});

const samePlace = (p: Play, command: Pick<PlayCommand, 'areaId' | 'on'>): boolean => {
  const { areaId, on } = reachGiven(command);
  return p.areaId === areaId && sameUnits(p.on, on);
};

const sameUnits = (a: readonly LitId[] | null, b: readonly LitId[] | null): boolean =>
  a === b || (a !== null && b !== null && a.length === b.length && a.every((id, i) => id === b[i]));

function play(state: LiveState, command: PlayCommand, now: Now, id: string): LiveState {
  const { target, fadeInMs = null, fadeOutMs = null } = command;
  const runs = (p: Play): boolean => p.target === target && p.releasedAt === null && !p.flash && samePlace(p, command);
  const left = command.instead
    ? releasing(
        state,
        now,
        fadeInMs,
        (p) => samePlace(p, command) && !runs(p) && p.target?.startsWith('mood:') !== true,
      )
    : state;
  if (left.playing.some(runs)) return left;
  return begin(left, now, id, { target, ...reachGiven(command), fadeInMs, fadeOutMs });
}

function releasing(state: LiveState, now: Now, fadeOutMs: number | null, which: (play: Play) => boolean): LiveState {
  if (!state.playing.some((p) => p.releasedAt === null && which(p))) return state;
  const playing = state.playing.map((p) =>
    p.releasedAt === null && which(p)
      ? { ...p, releasedAt: now.ms, solo: false, fadeOutMs: fadeOutMs ?? p.fadeOutMs }
      : p,
  );
  return { ...state, playing };
}

/** Changes one play, or one effect by hand; the same state where there is none of that id. */
function changing(state: LiveState, id: string, change: (play: Play) => Play): LiveState {
  const inList = (list: readonly Play[]): Play[] => list.map((p) => (p.id === id ? change(p) : p));
  if (state.playing.some((p) => p.id === id)) return { ...state, playing: inList(state.playing) };
  if (state.handEffects.some((p) => p.id === id)) return { ...state, handEffects: inList(state.handEffects) };
  return state;
}

/** Everything goes on from where it stands, so much faster or slower than before; what is held stays held. */
function paced(document: Document, state: LiveState, pace: number, now: Now): LiveState {
  if (pace === state.pace) return state;
  const faster = (p: Play): Play =>
    p.speed === 0 ? p : onwards(document, p, now, { speed: clamp((p.speed * pace) / state.pace, 0, FASTEST_SPEED) });
  return { ...state, pace, playing: state.playing.map(faster), handEffects: state.handEffects.map(faster) };
}

function stepped(document: Document, play: Play, now: Now, by: 1 | -1): Play {
  const chase = play.target && getRecord(document, 'chase', play.target);
  if (!chase) return play;
  const { starts, total } = stepStarts(chase);
  if (starts.length === 0) return play;
  const at = positionOf(play, paceOf(document, play), now.ms, now.beat);
  const round = total > 0 ? Math.floor(at / total) : 0;
  const within = at - round * total;
  let step = starts.findLastIndex((start) => start <= within + 1e-9);
  step = Math.max(0, step) + by;
  const turns = Math.floor(step / starts.length);
  const next = starts[step - turns * starts.length]! + Math.max(0, round + turns) * total;
  return { ...play, clock: { at: next, ms: now.ms, beat: now.beat }, speed: 0 };
}

/** Time stands still for what plays; when it goes on, it goes on from where it stood. */
function freeze(state: LiveState, on: boolean, now: Now): LiveState {
  if (on === (state.frozen !== null)) return state;
  if (on) return { ...state, frozen: { at: now.ms, beat: now.beat } };
  const { at, beat } = state.frozen!;
  const [ms, beats] = [now.ms - at, now.beat - beat];
  const later = (p: Play): Play => ({
    ...p,
    startedAt: Math.min(p.startedAt + ms, now.ms),
    startedBeat: Math.min(p.startedBeat + beats, now.beat),
    releasedAt: p.releasedAt === null ? null : Math.min(p.releasedAt + ms, now.ms),
    clock: p.clock && {
      ...p.clock,
      ms: Math.min(p.clock.ms + ms, now.ms),
      beat: Math.min(p.clock.beat + beats, now.beat),
    },
  });
  return { ...state, frozen: null, playing: state.playing.map(later), handEffects: state.handEffects.map(later) };
}

function belowFull<T extends Readonly<Partial<Record<string, number>>>>(levels: T, key: string, level: number): T {
  const { [key]: _, ...others } = levels as Record<string, number>;
  return (level >= 1 ? others : { ...others, [key]: level }) as unknown as T;
}

const darkened = (dark: Dark, on: boolean, nowMs: number): Dark =>
  dark.on === on ? dark : { on, at: nowMs, from: darkLevel(dark, nowMs) };

function areaDark(all: LiveState['areasDark'], id: AreaId, on: boolean, nowMs: number): LiveState['areasDark'] {
  const before = all[id] ?? { on: false, at: 0, from: 1 };
  if (before.on === on) return all;
  // Areas that have come back long ago are forgotten.
  const kept = Object.fromEntries(Object.entries(all).filter(([, dark]) => dark.on || darkLevel(dark, nowMs) < 1));
  return { ...kept, [id]: darkened(before, on, nowMs) };
}

function tempo(command: Extract<LiveCommand, { do: 'tempo' }>, now: Now): LiveState['tempo'] {
  const { bpm, beatNow, barNow = null } = command;
  const beat = barNow !== null ? Math.round(now.beat / barNow) * barNow : beatNow ? Math.round(now.beat) : now.beat;
  return steady(clamp(bpm, ...BPM_LIMITS), now.ms, beat);
}
