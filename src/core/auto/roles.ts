import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { LitId } from '../ids.ts';
import { litOf, type Lit } from '../patch/lit.ts';
import { isEmitter } from '../profile/layout.ts';
import { takesColour } from '../ready/ready.ts';
import type { FixtureKind, ProfileRecord } from '../records/profile.ts';

/** What units do in light that runs by itself. `house` is never touched. */
export const ROLES = ['wash', 'wash2', 'beams', 'effects', 'pixels', 'whites', 'house'] as const;
export type Role = (typeof ROLES)[number];

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

/** Which role each unit has, guessed from its profile and its cells; units that give no light have none. */
export function guessRoles(document: Document): readonly RoleGuess[] {
  const guesses = recordsOf(document, 'unit')
    .slice()
    .sort((a, b) => a.number - b.number)
    .flatMap((unit): RoleGuess[] => {
      const profile = getRecord(document, 'profile', unit.profileId);
      const lit = litOf(document, unit.id);
      const guess = profile && lit ? guessOne(profile, lit) : null;
      return guess ? [{ id: unit.id, role: guess[0], why: guess[1] }] : [];
    });
  return secondWash(document, lampsAlone(guesses));
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
