import { z } from 'zod';

/** The kinds of record a show is made of, in the order in which they may refer to one another. */
export const RECORD_KINDS = [
  'show',
  'profile',
  'area',
  'thing',
  'unit',
  'part',
  'group',
  'output',
  'line',
  'route',
  'picture',
  'aim',
  'room',
  'palette',
  'scene',
  'effect',
  'chase',
  'input',
  'backdrop',
  'song',
  'setlist',
  'variant',
  'lane',
  'passage',
] as const;
export type RecordKind = (typeof RECORD_KINDS)[number];

/** A typed id: the kind, a colon and 1-40 characters of a-z, 0-9 and `-`. Example: `unit:7f3k09qa`. */
export type Id<K extends RecordKind = RecordKind> = `${K}:${string}`;
export type ShowId = Id<'show'>;
export type ProfileId = Id<'profile'>;
export type UnitId = Id<'unit'>;
export type PartId = Id<'part'>;
/** What can be lit and programmed: a unit, or a part of a prop. */
export type LitId = UnitId | PartId;
export type PictureId = Id<'picture'>;
export type BackdropId = Id<'backdrop'>;
export type AreaId = Id<'area'>;
export type ThingId = Id<'thing'>;
export type AimId = Id<'aim'>;
export type RoomId = Id<'room'>;
export type GroupId = Id<'group'>;
export type LineId = Id<'line'>;
export type OutputId = Id<'output'>;
export type RouteId = Id<'route'>;
export type InputId = Id<'input'>;
export type SceneId = Id<'scene'>;
export type ChaseId = Id<'chase'>;
export type EffectId = Id<'effect'>;
export type PaletteId = Id<'palette'>;
export type SongId = Id<'song'>;
export type SetlistId = Id<'setlist'>;
export type VariantId = Id<'variant'>;
export type LaneId = Id<'lane'>;
export type PassageId = Id<'passage'>;

const BODY = '[a-z0-9][a-z0-9-]{0,39}';

/** Schema of an id of one kind. */
export const idSchema = <K extends RecordKind>(kind: K) => {
  const form = new RegExp(`^${kind}:${BODY}$`);
  return z.custom<Id<K>>((value) => typeof value === 'string' && form.test(value), {
    message: `must be a ${kind} id such as "${kind}:ab12cd34"`,
  });
};

const LIT = new RegExp(`^(unit|part):${BODY}$`);
/** Schema of the id of a unit or of a part of one. */
export const litIdSchema = z.custom<LitId>((value) => typeof value === 'string' && LIT.test(value), {
  message: 'must be a unit or part id such as "unit:ab12cd34"',
});

export const anyIdSchema = z.custom<Id>((value) => typeof value === 'string' && kindOf(value) !== null, {
  message: 'must be a record id such as "unit:ab12cd34"',
});

const ANY = new RegExp(`^(${RECORD_KINDS.join('|')}):${BODY}$`);

/** The kind an id belongs to, or null when it is not an id. */
export function kindOf(id: string): RecordKind | null {
  const found = ANY.exec(id);
  return found ? (found[1] as RecordKind) : null;
}

const ALPHABET = 'abcdefghijklmnopqrstuvwxyz0123456789';

/**
 * Makes a new id of 12 random characters (62 bits). `random` gives numbers in [0, 1) and is a parameter so that
 * core stays deterministic: the browser and the server pass a cryptographic source, tests a seeded one.
 */
export function makeId<K extends RecordKind>(kind: K, random: () => number): Id<K> {
  let body = '';
  for (let i = 0; i < 12; i++) body += ALPHABET[Math.floor(random() * ALPHABET.length)];
  return `${kind}:${body}`;
}
