import { getRecord, sameJson, type Document } from '../../document/change.ts';
import type { EffectId, LitId } from '../../ids.ts';
import { splitAttributeKey } from '../../attributes.ts';
import { specOf, type EffectSpec } from '../../records/effect.ts';
import type { SceneRecord } from '../../records/index.ts';
import type { UnitValues } from '../../records/scene.ts';
import type { Now } from './apply-live.ts';
import { hasLevel } from './bring-light.ts';
import type { LiveCommand } from './command.ts';
import { newPlay, PLAYING_LIMIT, type LiveState, type Play } from './state.ts';

/**
 * An effect by hand as it is stored: where its units have a level by hand it scales that, and goes on scaling the level
 * of the scene that is stored with it.
 */
export function storedSpec(hand: LiveState['hand'], { spec, on }: Play): EffectSpec | null {
  if (!spec) return null;
  const scaled = on !== null && on.length > 0 && on.every((id) => hasLevel(hand[id]));
  return specOf(scaled ? { ...spec, levels: 'scale' } : spec);
}

/**
 * What was stored plays from its record from now on, without a fade and where it stood, and leaves the hand; scenes that
 * it covers whole end. What was changed by hand in the meantime stays there.
 */
export function handOver(
  state: LiveState,
  command: Extract<LiveCommand, { do: 'handOver' }>,
  document: Document,
  now: Now,
  newId: string,
): LiveState {
  const begun: Play[] = [];
  const begin = (fields: Partial<Play> & Pick<Play, 'target'>): void => {
    const id = begun.length === 0 ? newId : `${newId}-${begun.length}`;
    begun.push(newPlay({ id, startedAt: now.ms, startedBeat: now.beat, fadeInMs: 0, ...fields }));
  };
  const { scene } = command;
  const plays = (target: Play['target']): boolean =>
    state.playing.some((p) => p.target === target && p.releasedAt === null && !p.flash);
  if (scene && !plays(scene)) begin({ target: scene });
  const effects = new Map<string, EffectId>(command.effects.map((e) => [e.playId, e.target]));
  for (const play of state.handEffects) {
    const target = effects.get(play.id);
    // The clock goes on as it was; only where it lies in the order is new.
    if (target) begin({ target, clock: clockOf(play), speed: play.speed });
  }
  const stays = (p: Play): boolean => {
    const record = p.target && getRecord(document, 'scene', p.target);
    return !scene || !record || record.id === scene || p.flash || p.areaId !== null || !covers(command.hand, record);
  };
  return {
    ...state,
    hand: withoutStored(state.hand, command.hand),
    handEffects: state.handEffects.filter((p) => !effects.has(p.id)),
    playing: [...state.playing.filter(stays), ...begun].slice(-PLAYING_LIMIT),
  };
}

/** True where the hand says something of everything that a scene says something of: nothing of it is to be seen. */
function covers(hand: LiveState['hand'], { values, mood }: SceneRecord): boolean {
  // A mood is about channels that nobody named.
  if (mood !== null) return false;
  return Object.entries(values).every(([id, own]) => {
    const over = hand[id as LitId] ?? {};
    return Object.keys(own).every((key) => key in over || splitAttributeKey(key).attribute in over);
  });
}

const clockOf = ({ clock, startedAt, startedBeat }: Play): NonNullable<Play['clock']> =>
  clock ?? { at: 0, ms: startedAt, beat: startedBeat };

/** The hand without the values that are stored now; those that differ meanwhile stay. */
function withoutStored(hand: LiveState['hand'], stored: LiveState['hand']): LiveState['hand'] {
  const next: Record<string, UnitValues> = {};
  for (const [id, own] of Object.entries(hand)) {
    const gone = stored[id as LitId] ?? {};
    const left = Object.entries(own).filter(([key, value]) => !(key in gone) || !sameJson(value, gone[key]));
    if (left.length > 0) next[id] = Object.fromEntries(left);
  }
  return next as LiveState['hand'];
}
