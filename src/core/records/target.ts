import { z } from 'zod';
import type { AreaId, ChaseId, EffectId, Id, SceneId } from '../ids.ts';
import { MOODS, type Mood } from './profile.ts';

/** What can play: a scene, a chase, an effect, a mood, or an area that rests (plays nothing of the room's). */
export type TargetId = SceneId | ChaseId | EffectId | AreaId | MoodId;
export type MoodId = `mood:${Mood}`;
const TARGET = new RegExp(`^(?:(?:scene|chase|effect|area):[a-z0-9][a-z0-9-]{0,39}|mood:(?:${MOODS.join('|')}))$`);
export const targetSchema = z.custom<TargetId>((value) => typeof value === 'string' && TARGET.test(value), {
  message: 'must be a scene, chase, effect, area or mood such as "scene:ab12cd34" or "mood:calm"',
});
export const moodOf = (target: TargetId): Mood | null =>
  target.startsWith('mood:') ? (target.slice('mood:'.length) as Mood) : null;
/** The record behind a target; null for a mood, which is none. */
export const recordIdOf = (target: TargetId | null): Id | null =>
  target === null || target.startsWith('mood:') ? null : (target as Id);
