import { recordsOf, type Document } from '../document/change.ts';
import type { LitId } from '../ids.ts';
import { ownIdIn, type PlayedRole } from '../records/variant.ts';
import { newPlay, type Auto, type Play } from '../show/live/state.ts';
import { AUTO_PLAY } from '../show/play/own-plays.ts';
import { ideasFor } from './own.ts';
import { isDark, type Cast, type Phrase, type PlaceCast, type Troupe } from './plan.ts';
import type { Roles } from './roles.ts';

/** What was going on goes out in so long when another phrase begins, ms. */
const FADE_OUT_MS = 600;
/** Roles whose special channels go by the mood. */
const SPECIAL: readonly PlayedRole[] = ['beams', 'effects'];

/**
 * What plays in a phrase that begins at a moment (ms) and beat of the show, as plays of a live state: for each role in each
 * place one thing, and the mood of what moves and of effect fixtures besides.
 */
export function playsOf(phrase: Phrase, troupe: Troupe, startedAt: number, startedBeat: number): Play[] {
  const { document, places, aims } = troupe;
  const base = { startedAt, startedBeat, fadeInMs: Math.round(phrase.fade * 1000), fadeOutMs: FADE_OUT_MS };
  if (phrase.scene)
    return [newPlay({ ...base, id: `${AUTO_PLAY}0 all scene ${Math.round(startedAt)}`, target: phrase.scene })];
  const { metre, snares, section } = phrase.moment;
  const setting = { colours: phrase.colours, metre, snares, aims };
  const found: Play[] = [];
  const rest: PlaceCast = { id: null, mood: phrase.mood, cast: phrase.cast };
  for (const [n, { id: placeId, mood, cast }] of [rest, ...phrase.places].entries()) {
    const place = places.find(({ id }) => id === placeId);
    if (!place) continue;
    for (const [role, { idea: key, turn }] of Object.entries(cast) as [PlayedRole, Cast][]) {
      const idea = ideasFor(document, role, place.roles).find((known) => known.key === key);
      if (!idea || place.roles[role].length === 0) continue;
      const on = ownIdIn(key) ? withParts(document, place.roles[role]) : [...place.roles[role]];
      const id = (what: string): string => `${AUTO_PLAY}${n} ${role} ${what} ${Math.round(startedAt)}`;
      found.push(newPlay({ ...base, id: id('idea'), ...idea.play({ ...setting, turn }), on }));
      if (!SPECIAL.includes(role)) continue;
      const own = section.turn === 'break' ? 'calm' : mood;
      found.push(newPlay({ ...base, id: id('mood'), target: `mood:${own}`, on: [...place.roles[role]] }));
    }
  }
  return found;
}

/** What is the show's own may say something of parts of props alone. */
function withParts(document: Document, ids: readonly LitId[]): LitId[] {
  const units = new Set<string>(ids);
  return [...ids, ...recordsOf(document, 'part').flatMap(({ id, unitId }) => (units.has(unitId) ? [id] : []))];
}

/** What of the rest of the rig plays, with names, for people. */
export function castWords({ cast }: Phrase, document: Document, roles: Roles): NonNullable<Auto['now']>['cast'] {
  return (Object.entries(cast) as [PlayedRole, Cast][]).map(([role, { idea }]) => ({
    role,
    idea,
    name: ideasFor(document, role, roles).find(({ key }) => key === idea)?.name ?? idea,
  }));
}

/** What tells a play from another of the same role and place: the same goes on where a phrase follows another. */
const lookOf = ({ id, target, spec, on }: Play): string =>
  JSON.stringify([id.slice(0, id.lastIndexOf(' ')), target, spec, on]);

/**
 * What plays when a phrase begins at a moment (ms): what of it went on already goes on, the rest begins, and what does not
 * belong to it goes out, at once where that is dark.
 */
export function turnedTo(before: readonly Play[], phrase: Phrase, begun: readonly Play[], ms: number): Play[] {
  const wanted = new Map(begun.map((play) => [lookOf(play), play]));
  const fadeOutMs = isDark(phrase) ? 0 : FADE_OUT_MS;
  const old = before.map((play) => {
    if (play.releasedAt !== null) return play;
    return wanted.delete(lookOf(play)) ? play : { ...play, releasedAt: ms, fadeOutMs };
  });
  return [...old, ...wanted.values()];
}
