import { AUTO_PLAY, newPlay, type Play } from '../show/live/state.ts';
import { IDEAS } from './ideas.ts';
import type { Phrase } from './plan.ts';
import type { Role, Roles } from './roles.ts';

/** What was going on goes out in so long when another phrase begins, ms. */
export const FADE_OUT_MS = 600;

/**
 * What plays in a phrase, as plays of a live state: one effect for each role, and the mood of what effect fixtures have besides.
 * `beginMs`: when the song began; `beats`: which beat of the show its first is.
 */
export function playsOf(phrase: Phrase, roles: Roles, beginMs: number, firstBeat: number): Play[] {
  const startedAt = beginMs + phrase.from * 1000;
  const startedBeat = firstBeat + phrase.fromBeat;
  const base = { startedAt, startedBeat, fadeInMs: Math.round(phrase.fade * 1000), fadeOutMs: FADE_OUT_MS };
  const found: Play[] = [];
  for (const [role, cast] of Object.entries(phrase.cast) as [
    Exclude<Role, 'house'>,
    { idea: string; turn: number },
  ][]) {
    const on = [...roles[role]];
    const idea = IDEAS[role].find(({ key }) => key === cast.idea);
    if (!idea || on.length === 0) continue;
    const id = `${AUTO_PLAY}${role} ${Math.round(startedAt)}`;
    found.push(newPlay({ ...base, id, target: null, spec: idea.spec(phrase.colours, cast.turn), on }));
    if (role !== 'beams' && role !== 'effects') continue;
    found.push(newPlay({ ...base, id: `${id} mood`, target: `mood:${phrase.mood}`, on }));
  }
  return found;
}

/** What plays at a moment of a plan: its phrase, and what fades out of the one before. */
export function playsAt(
  plan: readonly Phrase[],
  roles: Roles,
  beginMs: number,
  firstBeat: number,
  seconds: number,
): Play[] {
  const now = plan.findLastIndex(({ from }) => from <= seconds);
  const [before, own] = [plan[now - 1], plan[now]];
  if (!own) return [];
  const leaving = before
    ? playsOf(before, roles, beginMs, firstBeat).map((play) => ({
        ...play,
        fadeOutMs: Object.keys(own.cast).length === 0 ? 0 : FADE_OUT_MS,
        releasedAt: beginMs + own.from * 1000,
      }))
    : [];
  return [...leaving, ...playsOf(own, roles, beginMs, firstBeat)];
}
