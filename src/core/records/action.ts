import { z } from 'zod';
import { idSchema, type Id } from '../ids.ts';
import { bpmSchema, durationMsSchema, levelSchema, nudgeSchema, paceSchema } from './common.ts';
import { FIXTURE_KINDS, MOODS } from './profile.ts';
import { recordIdOf, targetSchema } from './target.ts';

/** Whose level. That of a unit is by hand: at nothing it is let go. */
const levelOfSchema = z.discriminatedUnion('what', [
  z.strictObject({ what: z.literal('grand') }),
  z.strictObject({ what: z.literal('area'), id: idSchema('area') }),
  z.strictObject({ what: z.literal('group'), id: idSchema('group') }),
  z.strictObject({ what: z.literal('kind'), kind: z.enum(FIXTURE_KINDS) }),
  z.strictObject({ what: z.literal('unit'), id: idSchema('unit') }),
]);
export type LevelOf = z.infer<typeof levelOfSchema>;

/** How many steps more or less than the music has light that runs by itself may be asked for. */
export const LEAN_LIMIT = 2;
const areaId = idSchema('area').optional();

/**
 * What can be done to a running show from outside: by slots of other desks, keys, scripts, and whatever else is worked by
 * hand or by the clock. It is one meaning, whoever asks; `show/live/act.ts` says what it comes to, given how it was
 * asked: pressed, held, or moved to a value.
 */
export const actionSchema = z.discriminatedUnion('do', [
  /** `held`: let go again when the key is let go or the value falls under half. `instead`: of all else in its place. */
  z.strictObject({
    do: z.literal('play'),
    target: targetSchema,
    areaId,
    fadeInMs: durationMsSchema.optional(),
    instead: z.boolean().optional(),
    held: z.boolean().optional(),
  }),
  z.strictObject({ do: z.literal('release'), target: targetSchema, fadeOutMs: durationMsSchema.optional() }),
  /** Plays what does not play, and lets go what does. */
  z.strictObject({ do: z.literal('toggle'), target: targetSchema }),
  /** Over everything, while it is held. */
  z.strictObject({ do: z.literal('flash'), target: targetSchema }),
  /** The next step of a chase that plays (or the one before); one that does not play begins. */
  z.strictObject({ do: z.literal('go'), target: targetSchema, back: z.boolean().optional() }),
  z.strictObject({ do: z.literal('releaseAll'), areaId, fadeOutMs: durationMsSchema.optional() }),
  /** To the value that comes, or to `to`. */
  z.strictObject({ do: z.literal('level'), of: levelOfSchema, to: levelSchema.optional() }),
  /** Dark while it is held or over half; a press changes it over. */
  z.strictObject({ do: z.literal('dark'), areaId }),
  /** Beats a minute; without, a value of 0-1 is 20-275. */
  z.strictObject({
    do: z.literal('tempo'),
    bpm: bpmSchema.optional(),
  }),
  /** Taps the tempo. */
  z.strictObject({ do: z.literal('tap') }),
  z.strictObject({ do: z.literal('nudge'), beats: nudgeSchema }),
  /** How fast everything goes; without `to`, a value of 0-1 is nothing to twice. */
  z.strictObject({ do: z.literal('pace'), to: paceSchema.optional() }),
  /** null lets the mood go. */
  z.strictObject({ do: z.literal('mood'), mood: z.enum(MOODS).nullable(), areaId }),
  /** What plays stands still while it is held or over half; a press changes it over. */
  z.strictObject({ do: z.literal('freeze') }),
  /** Light runs by itself while it is held or over half; a press changes it over. */
  z.strictObject({ do: z.literal('auto') }),
  /** Plays a song with its light from its beginning, and ends it where it is on. */
  z.strictObject({ do: z.literal('song'), songId: idSchema('song') }),
  /** Plays a list of songs from its first, and ends it where one of it is on. */
  z.strictObject({ do: z.literal('songList'), listId: idSchema('setlist') }),
  /** The song that is on stands, or goes on. */
  z.strictObject({ do: z.literal('songPlay') }),
  /** The next song of its list. */
  z.strictObject({ do: z.literal('songNext') }),
  /** Other ideas and colours of that, from the next bar on. */
  z.strictObject({ do: z.literal('autoNext') }),
  /** So many steps more or less than the music has; without, a value of 0-1 is much less to much more. */
  z.strictObject({ do: z.literal('autoLean'), lean: z.int().min(-LEAN_LIMIT).max(LEAN_LIMIT).optional() }),
]);
export type Action = z.infer<typeof actionSchema>;

/** Records that an action names, each with the key path it stands at. */
export function* idsOfAction(action: Action): Iterable<readonly [path: string, id: Id]> {
  if ('target' in action) {
    const id = recordIdOf(action.target);
    if (id) yield ['target', id];
  }
  if ('areaId' in action && action.areaId) yield ['areaId', action.areaId];
  if (action.do === 'song') yield ['songId', action.songId];
  if (action.do === 'songList') yield ['listId', action.listId];
  if (action.do === 'level' && 'id' in action.of) yield ['of.id', action.of.id];
}
