import { getRecord, recordsOf, type Document } from '../document/change.ts';
import { remembered } from '../document/remembered.ts';
import type { AreaId, GroupId, LitId } from '../ids.ts';
import { membersOf, reached } from '../patch/groups.ts';
import { litOf, type Lit } from '../patch/lit.ts';
import { isEmitter } from '../profile/layout.ts';
import { takesColour } from '../ready/ready.ts';
import type { FixtureKind, Mood, ProfileRecord } from '../records/profile.ts';
import { PLAYED_ROLES, ROLES, type PlayedRole, type Role } from '../records/variant.ts';

/** A guess, and what it was made by. */
export interface RoleGuess {
  readonly id: LitId;
  readonly role: Role;
  readonly why: string;
}

/** Cells from which a unit is a picture rather than a lamp. */
const PIXELS = 8;
/** Kinds that give no light to play with. */
const DARK: readonly FixtureKind[] = ['hazer', 'fan', 'motor', 'relay'];

const BY_KIND: Readonly<Partial<Record<FixtureKind, readonly [Role, string]>>> = {
  head: ['beams', 'it moves'],
  scanner: ['beams', 'it moves'],
  derby: ['effects', 'an effect fixture'],
  laser: ['effects', 'an effect fixture'],
  uv: ['effects', 'ultraviolet'],
  strobe: ['whites', 'a strobe'],
  blinder: ['whites', 'a blinder'],
  strip: ['pixels', 'pixels'],
  matrix: ['pixels', 'pixels'],
};

/**
 * Which role each unit has: as a group says that it is in (the first by number), or guessed from its profile and its cells.
 * Units that give no light have none.
 */
export const guessRoles = remembered(['unit', 'profile', 'group', 'area', 'part'], guessAll);

function guessAll(document: Document): readonly RoleGuess[] {
  const guesses = recordsOf(document, 'unit')
    .slice()
    .sort((a, b) => a.number - b.number)
    .flatMap((unit): RoleGuess[] => {
      const profile = getRecord(document, 'profile', unit.profileId);
      const lit = litOf(document, unit.id);
      const guess = profile && lit ? guessOne(profile, lit) : null;
      return guess ? [{ id: unit.id, role: guess[0], why: guess[1] }] : [];
    });
  return byHand(document, secondWash(document, lampsAlone(guesses)));
}

function byHand(document: Document, guesses: readonly RoleGuess[]): readonly RoleGuess[] {
  const said = new Map<LitId, RoleGuess>();
  const groups = recordsOf(document, 'group').toSorted((a, b) => a.number - b.number);
  for (const group of groups)
    for (const id of group.role ? membersOf(document, group) : [])
      if (!said.has(id)) said.set(id, { id, role: group.role!, why: `${group.name} is` });
  return said.size === 0 ? guesses : guesses.map((guess) => said.get(guess.id) ?? guess);
}

function guessOne({ fixtureKind }: ProfileRecord, { layout }: Lit): readonly [Role, string] | null {
  if (DARK.includes(fixtureKind)) return null;
  const items = layout.programmable;
  const has = (attribute: string): boolean => items.some((item) => item.attribute === attribute);
  const light = has('Dimmer') || takesColour(items) || items.some(({ attribute }) => isEmitter(attribute));
  const known = BY_KIND[fixtureKind];
  if (known && known[0] === 'effects') return known;
  if (!light) return null;
  if (known) return known;
  if (Math.max(0, ...items.map(({ cells }) => cells)) >= PIXELS) return ['pixels', `${layout.cells} cells`];
  if (has('Pan') || has('Tilt')) return ['beams', 'it moves'];
  if (takesColour(items)) return ['wash', 'it takes colours'];
  return ['house', 'a plain lamp'];
}

/** Where plain lamps are all there is, they are what plays. */
const lampsAlone = (guesses: readonly RoleGuess[]): readonly RoleGuess[] =>
  guesses.every(({ role }) => role === 'house')
    ? guesses.map(({ id }) => ({ id, role: 'wash' as const, why: 'there is nothing but plain lamps' }))
    : guesses;

/** Of washes of several types, those that are fewer stand against the others; of one type nobody can tell. */
function secondWash(document: Document, guesses: readonly RoleGuess[]): readonly RoleGuess[] {
  const typeOf = (id: LitId): string => getRecord(document, 'unit', id)?.profileId ?? '';
  const counts = new Map<string, number>();
  for (const { id, role } of guesses) if (role === 'wash') counts.set(typeOf(id), (counts.get(typeOf(id)) ?? 0) + 1);
  if (counts.size < 2) return guesses;
  const most = [...counts].reduce((a, b) => (b[1] > a[1] ? b : a))[0];
  return guesses.map((guess) =>
    guess.role === 'wash' && typeOf(guess.id) !== most
      ? { ...guess, role: 'wash2', why: 'it takes colours, and most washes are of another type' }
      : guess,
  );
}

/** Units of each role, in their order. */
export type Roles = Readonly<Record<Role, readonly LitId[]>>;
export function rolesOf(guesses: readonly RoleGuess[]): Roles {
  const of = (role: Role): LitId[] => guesses.filter((guess) => guess.role === role).map(({ id }) => id);
  return Object.fromEntries(ROLES.map((role) => [role, of(role)])) as unknown as Roles;
}

/** What an area or a group has of its own while light runs by itself: a mood, or nothing at all. */
export type PlaceId = AreaId | GroupId;
export type OwnMoods = Readonly<Partial<Record<PlaceId, Mood | 'none'>>>;
/** Units that go together: those of a place with a mood of its own, or (`id` null) all the rest. */
export interface Place {
  readonly id: PlaceId | null;
  readonly mood: Mood | null;
  readonly roles: Roles;
}

/** The rig in places. A unit that is in several belongs to the first by name of its id; the rest are one place. */
export function placesOf(document: Document, own: OwnMoods): readonly Place[] {
  const guesses = guessRoles(document);
  const taken = new Map<LitId, PlaceId>();
  const ids = (Object.keys(own) as PlaceId[]).sort();
  // A group says it closer than the area its units hang in.
  for (const id of [...ids.filter((i) => i.startsWith('group:')), ...ids.filter((i) => i.startsWith('area:'))])
    for (const unit of reached(document, [id])) if (!taken.has(unit)) taken.set(unit, id);
  const of = (id: PlaceId | null): Roles => rolesOf(guesses.filter((guess) => (taken.get(guess.id) ?? null) === id));
  const places = ids.flatMap((id): Place[] => {
    const mood = own[id]!;
    return mood === 'none' ? [] : [{ id, mood, roles: of(id) }];
  });
  return [{ id: null, mood: null, roles: of(null) }, ...places];
}

/** Roles of all places together, without those that nothing plays on. */
export const playedIn = (places: readonly Place[]): readonly PlayedRole[] =>
  PLAYED_ROLES.filter((role) => places.some(({ roles }) => roles[role].length > 0));
