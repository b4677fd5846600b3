import { randomInt } from 'node:crypto';
import { makeId, type ShowId } from '../../core/ids.ts';

/** Cryptographic numbers in [0, 1) for `makeId`. */
const random = (): number => randomInt(2 ** 32) / 2 ** 32;

export const makeSpareIds = (): { showId: ShowId } => ({ showId: makeId('show', random) });
