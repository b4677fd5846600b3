import { getRecord, sameJson, type Document } from '../../document/change.ts';
import type { Id } from '../../ids.ts';
import { specOf } from '../../records/effect.ts';
import { onwards, paceOf, type Now } from './apply-live.ts';
import { beatAt } from '../play/clock.ts';
import { recordIdOf, type LiveState, type Play } from './state.ts';

/** The parts of a live state that refer to things a show no longer has are dropped. */
export function pruneLive(state: LiveState, has: (id: Id) => boolean): LiveState {
  const known = (id: Id | null): boolean => id === null || has(id);
  const plays = (list: readonly Play[]): Play[] =>
    list.flatMap((p) => {
      if (!known(recordIdOf(p.target)) || !known(p.areaId)) return [];
      const on = p.on?.filter(has) ?? null;
      if (on && on.length === 0) return [];
      return on && on.length !== p.on!.length ? [{ ...p, on }] : [p];
    });
  const keep = <T extends object>(of: T): T => {
    const entries = Object.entries(of);
    const kept = entries.filter(([id]) => has(id as Id));
    return kept.length === entries.length ? of : (Object.fromEntries(kept) as T);
  };
  const [playing, handEffects, solo] = [plays(state.playing), plays(state.handEffects), state.solo.filter(has)];
  const next = {
    ...state,
    playing,
    handEffects,
    solo,
    hand: keep(state.hand),
    areas: keep(state.areas),
    areasDark: keep(state.areasDark),
    groups: keep(state.groups),
  };
  const sameList = (a: readonly unknown[], b: readonly unknown[]): boolean =>
    a.length === b.length && a.every((item, i) => item === b[i]);
  const same =
    sameList(playing, state.playing) &&
    sameList(handEffects, state.handEffects) &&
    solo.length === state.solo.length &&
    next.hand === state.hand &&
    next.areas === state.areas &&
    next.areasDark === state.areasDark &&
    next.groups === state.groups;
  return same ? state : next;
}

/**
 * What plays goes on from where it stands when its record is edited: a rate that changes does not make it jump.
 */
export function reanchor(state: LiveState, before: Document, after: Document, nowMs: number): LiveState {
  const now: Now = { ms: nowMs, beat: beatAt(state.tempo, nowMs) };
  const playing = state.playing.map((p) => {
    const record = p.spec && p.target && getRecord(after, 'effect', p.target);
    // A change that was kept is none any more.
    const kept = record !== null && record !== undefined && sameJson(p.spec, specOf(record));
    const changed = kept ? { ...p, spec: null } : p;
    const [old, next] = [paceOf(before, p), paceOf(after, changed)];
    if (old.beats === next.beats && old.rate === next.rate) return changed;
    return onwards(before, p, now, { spec: changed.spec });
  });
  return playing.every((p, i) => p === state.playing[i]) ? state : { ...state, playing };
}
