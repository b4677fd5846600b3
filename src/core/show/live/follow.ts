import { getRecord, sameJson, type Document } from '../../document/change.ts';
import type { Id } from '../../ids.ts';
import { specOf } from '../../records/effect.ts';
import { onwards, paceOf, type Now } from './apply-live.ts';
import { beatAt } from '../play/beat-map.ts';
import { withSong } from './songs.ts';
import { recordIdOf } from '../../records/target.ts';
import type { LiveState, Play } from './state.ts';

type Tried = Pick<LiveState, 'playing' | 'handEffects' | 'hand'>;

/** The parts of a live state that refer to things a show no longer has are dropped. */
export function pruneLive(state: LiveState, has: (id: Id) => boolean): LiveState {
  const out = state.fading;
  // What fades out still has the records it was played with.
  const fading = out && { ...out, ...prunedTried(out, (id) => has(id) || out.held.some((r) => r.id === id)) };
  const next = prunedState(state, has);
  const same = out === null || (['playing', 'handEffects', 'hand'] as const).every((key) => fading![key] === out[key]);
  return same ? next : { ...next, fading };
}

const prunedTried = ({ playing, handEffects, hand }: Tried, has: (id: Id) => boolean): Tried => ({
  playing: prunedPlays(playing, has),
  handEffects: prunedPlays(handEffects, has),
  hand: prunedKeys(hand, has),
});

function prunedState(state: LiveState, has: (id: Id) => boolean): LiveState {
  const solo = state.solo.filter(has);
  const next = {
    ...state,
    ...prunedTried(state, has),
    solo: solo.length === state.solo.length ? state.solo : solo,
    areas: prunedKeys(state.areas, has),
    areasDark: prunedKeys(state.areasDark, has),
    groups: prunedKeys(state.groups, has),
    song: prunedSong(state.song, has),
    auto: prunedAuto(state.auto, has),
  };
  return Object.entries(next).every(([key, value]) => state[key as keyof LiveState] === value) ? state : next;
}

/** A song that is gone plays no more; one whose list is gone plays on alone. */
const prunedSong = (song: LiveState['song'], has: (id: Id) => boolean): LiveState['song'] => {
  if (!song || !has(song.songId)) return null;
  return song.list && !has(song.list.id) ? { ...song, list: null } : song;
};

/** Light that runs by itself, without places and a way of playing that are gone. */
function prunedAuto(auto: LiveState['auto'], has: (id: Id) => boolean): LiveState['auto'] {
  if (!auto) return null;
  const plays = prunedPlays(auto.plays, has);
  const places = prunedKeys(auto.places, has);
  const variantId = auto.variantId && !has(auto.variantId) ? null : auto.variantId;
  const same = plays === auto.plays && places === auto.places && variantId === auto.variantId;
  return same ? auto : { ...auto, plays, places, variantId };
}

/** Plays without what is gone; the same list where all of it is there. */
function prunedPlays(list: Play[], has: (id: Id) => boolean): Play[] {
  const known = (id: Id | null): boolean => id === null || has(id);
  const kept = list.flatMap((p) => {
    if (!known(recordIdOf(p.target)) || !known(p.areaId)) return [];
    const on = p.on?.filter(has) ?? null;
    if (on && on.length === 0) return [];
    return on && on.length !== p.on!.length ? [{ ...p, on }] : [p];
  });
  return kept.length === list.length && kept.every((p, i) => p === list[i]) ? list : kept;
}

function prunedKeys<T extends object>(of: T, has: (id: Id) => boolean): T {
  if (Object.keys(of).every((id) => has(id as Id))) return of;
  return Object.fromEntries(Object.entries(of).filter(([id]) => has(id as Id))) as T;
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
  const same = playing.every((p, i) => p === state.playing[i]) ? state : { ...state, playing };
  return withEditedSong(same, before, after, nowMs);
}

/** Beats that are set right count at once, in the song that plays. */
function withEditedSong(state: LiveState, before: Document, after: Document, nowMs: number): LiveState {
  const { song } = state;
  if (!song?.playing) return state;
  const [old, now] = [getRecord(before, 'song', song.songId), getRecord(after, 'song', song.songId)];
  return !now || (old?.heard === now.heard && old?.mended === now.mended) ? state : withSong(state, song, after, nowMs);
}
