import { AUTO_PLAY, newPlay, type Play } from '../show/live/state.ts';
import { IDEAS } from './ideas.ts';
import type { Cast, Phrase } from './plan.ts';
import type { Role, Roles } from './roles.ts';

/** What was going on goes out in so long when another phrase begins, ms. */
const FADE_OUT_MS = 600;

/**
 * What plays in a phrase that begins at a moment (ms) and beat of the show, as plays of a live state: one effect for each role, and
 * the mood of what moves and of effect fixtures besides.
 */
export function playsOf(phrase: Phrase, roles: Roles, startedAt: number, startedBeat: number): Play[] {
  const base = { startedAt, startedBeat, fadeInMs: Math.round(phrase.fade * 1000), fadeOutMs: FADE_OUT_MS };
  const found: Play[] = [];
  for (const [role, cast] of Object.entries(phrase.cast) as [Exclude<Role, 'house'>, Cast][]) {
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

/** What was going on when a phrase began (ms): it goes out, at once where that is dark. */
export function leaving(plays: readonly Play[], phrase: Phrase, ms: number): Play[] {
  const fadeOutMs = Object.keys(phrase.cast).length === 0 ? 0 : FADE_OUT_MS;
  return plays.map((play) => (play.releasedAt === null ? { ...play, releasedAt: ms, fadeOutMs } : play));
}
