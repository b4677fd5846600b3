import { getRecord, type Document } from '../../document/change.ts';
import type { AreaId, Id, LitId } from '../../ids.ts';
import { TEST_LEASE_MS } from '../../signal/signal.ts';
import { clamp } from '../../units.ts';
import { handEffect, leaving, mergeHand, mergeRaw, without, withoutColoured } from './by-hand.ts';
import { bringLight } from './bring-light.ts';
import { stepStarts } from '../play/chase.ts';
import { beatAt, BPM_LIMITS, shifted, steady } from '../play/beat-map.ts';
import { darkLevel, positionOf, type Pace } from '../play/clock.ts';
import type { LiveCommand } from './command.ts';
import { handOver } from './hand-over.ts';
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
  switch (command.do) {
    case 'play':
      return play(state, command, now, newId);
    case 'release':
      return releasing(state, now, command.fadeOutMs ?? null, (p) => p.target === command.target && !p.flash);
    case 'releasePlay':
      return releasing(state, now, command.fadeOutMs ?? null, (p) => p.id === command.playId);
    case 'releaseAll':
      return releasing(state, now, command.fadeOutMs ?? null, (p) => (command.areaId ?? p.areaId) === p.areaId);
    case 'flash': {
      const held = (p: Play): boolean => p.target === command.target && p.flash && p.releasedAt === null;
      if (!command.on) return { ...state, playing: state.playing.filter((p) => !held(p)) };
      return state.playing.some(held) ? state : begin(state, now, newId, { target: command.target, flash: true });
    }
    case 'soloPlay':
      return changing(state, command.playId, (p) => ({ ...p, solo: command.on }));
    case 'solo':
      return { ...state, solo: command.units };
    case 'speed':
      return changing(state, command.playId, (p) => onwards(document, p, now, { speed: command.speed }));
    case 'pace':
      return paced(document, state, command.pace, now);
    case 'step':
      return changing(state, command.playId, (p) => stepped(document, p, now, command.by));
    case 'now':
      return changing(state, command.playId, (p) => ({ ...p, clock: { at: 0, ms: now.ms, beat: now.beat } }));
    case 'tweak':
      return changing(state, command.playId, (p) =>
        p.target === null && command.spec === null ? p : onwards(document, p, now, { spec: command.spec }),
      );
    case 'freeze':
      return freeze(state, command.on, now);
    case 'mood': {
      const same = (p: Play): boolean => p.target?.startsWith('mood:') === true && samePlace(p, command);
      const target = command.mood && (`mood:${command.mood}` as const);
      if (state.playing.some((p) => same(p) && p.target === target && p.releasedAt === null)) return state;
      const left = releasing(state, now, null, same);
      return target ? begin(left, now, newId, { target, ...placeOf(command) }) : left;
    }
    case 'grand':
      return { ...state, grand: command.level };
    case 'area':
      return { ...state, areas: belowFull(state.areas, command.areaId, command.level) };
    case 'group':
      return { ...state, groups: belowFull(state.groups, command.groupId, command.level) };
    case 'kind':
      return { ...state, kinds: belowFull(state.kinds, command.kind, command.level) };
    case 'areaDark':
      return { ...state, areasDark: areaDark(state.areasDark, command.areaId, command.on, nowMs) };
    case 'dark':
      return command.on === state.dark.on && (command.haze ?? false) === state.darkHaze
        ? state
        : { ...state, dark: darkened(state.dark, command.on, nowMs), darkHaze: command.haze ?? false };
    case 'tempo':
      return { ...state, tempo: tempo(command, now) };
    case 'nudge':
      return { ...state, tempo: shifted(state.tempo, -command.beats) };
    case 'hand': {
      const set = command.light ? bringLight(document, state, command.set) : command.set;
      return {
        ...state,
        hand: mergeHand(state.hand, set),
        handEffects: withoutColoured(state.handEffects, command.set),
      };
    }
    case 'handOver':
      return handOver(state, command, document, now, newId);
    case 'handEffect':
      return handEffect(state, command, now, newId);
    case 'letGoEffect':
      return { ...state, handEffects: state.handEffects.filter((p) => p.id !== command.playId) };
    case 'raw':
      return { ...state, raw: mergeRaw(state.raw, command.set) };
    case 'letGo': {
      if (!command.units && !command.slots) return { ...state, hand: {}, handEffects: [], raw: {} };
      const gone = Object.fromEntries((command.slots ?? []).map((slot) => [slot, null]));
      return {
        ...state,
        hand: without(state.hand, command.units ?? []),
        handEffects: leaving(state.handEffects, new Set(command.units)),
        raw: mergeRaw(state.raw, gone),
      };
    }
    case 'goLive':
      return {
        ...state,
        playing: command.playing,
        hand: command.hand,
        handEffects: command.handEffects,
        held: [],
        fading: command.fadeMs > 0 ? fadingOut(state, nowMs, command.fadeMs) : null,
      };
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

const placeOf = ({ areaId, on }: Pick<PlayCommand, 'areaId' | 'on'>): Pick<Play, 'areaId' | 'on'> => ({
  areaId: areaId ?? null,
  on: on ?? null,
});

const samePlace = (p: Play, command: Pick<PlayCommand, 'areaId' | 'on'>): boolean => {
  const { areaId, on } = placeOf(command);
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
  return begin(left, now, id, { target, ...placeOf(command), fadeInMs, fadeOutMs });
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
