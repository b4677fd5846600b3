import { statfs } from 'node:fs/promises';
import { FaultError, internalFault, type Fault } from '../../core/faults.ts';
import { databaseTrouble, type DatabaseTrouble } from '../../db/trouble.ts';

/** Faults that pass by themselves: whoever asked keeps what they have and asks again. */
export const LATER: Readonly<Record<DatabaseTrouble, Fault>> = {
  away: {
    code: 'DATABASE_AWAY',
    path: 'database',
    message: 'the database does not answer, so nothing can be saved now',
    remedy: 'It is started again by itself, and what waits is saved then. The lights go on.',
  },
  full: {
    code: 'DISK_FULL',
    path: 'disk',
    message: 'the disk is full, so nothing can be saved now',
    remedy: 'Make room on the disk that holds the data folder; what waits is saved then. The lights go on.',
  },
};

/** An error in words for people; what is a bug of ours is reported. */
export function faultsOf(error: unknown, report: (error: unknown) => void): readonly Fault[] {
  if (error instanceof FaultError) return error.faults;
  const trouble = databaseTrouble(error);
  if (trouble) return [LATER[trouble]];
  report(error);
  return [internalFault()];
}

/** Less room than this is none: the database needs some for itself. */
const FULL_BYTES = 24 * 1024 * 1024;
const LOW_BYTES = 500 * 1024 * 1024;

/** Room on the disk of a folder: none left, little left, or enough; null where the system does not say. */
export async function diskState(folder: string): Promise<'full' | 'low' | 'fine' | null> {
  try {
    const { bavail, bsize } = await statfs(folder);
    const free = bavail * bsize;
    return free < FULL_BYTES ? 'full' : free < LOW_BYTES ? 'low' : 'fine';
  } catch {
    return null;
  }
}
