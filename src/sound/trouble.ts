import { FaultError } from '../core/faults.ts';
import type { SongFault } from '../core/records/song.ts';

/** What went wrong with a song, in words; `otherwise` where it is nothing that was foreseen. */
export function troubleOf(error: unknown, otherwise: (why: string) => SongFault): SongFault {
  if (!(error instanceof FaultError)) return otherwise((error as Error).message.slice(0, 200));
  const { code, message, remedy } = error.faults[0]!;
  return { code, message, remedy };
}
