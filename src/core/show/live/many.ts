import { z } from 'zod';
import { litIdSchema, type LitId } from '../../ids.ts';

/**
 * Ids of many units and parts as one text, a space between two. A fader says the same thousands with every step: a text that
 * was read a moment ago is not read again, where a list would have to be looked through.
 */
const MOST = 20_000;
const REMEMBERED = 8;
const known = new Map<string, readonly LitId[] | null>();

function read(text: string): readonly LitId[] | null {
  const before = known.get(text);
  known.delete(text);
  const found = before === undefined ? fresh(text) : before;
  known.set(text, found);
  for (const old of known.keys()) if (known.size > REMEMBERED) known.delete(old);
  return found;
}

function fresh(text: string): readonly LitId[] | null {
  const ids = text.split(' ');
  return ids.length <= MOST && ids.every((id) => litIdSchema.safeParse(id).success) ? (ids as LitId[]) : null;
}

export const manySchema = z
  .string()
  .max(MOST * 48)
  .refine((text) => read(text) !== null, `must be ids of units and parts with a space between two, at most ${MOST}`);

/** The ids in a text that `manySchema` takes. */
export const idsIn = (text: string): readonly LitId[] => read(text) ?? [];
export const asMany = (ids: readonly LitId[]): string => ids.join(' ');
