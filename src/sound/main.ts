/** The process that hears songs, at the lowest priority, one after the other: a show that runs beside it comes first. */
import type { SongFault } from '../core/records/song.ts';
import { readFile } from 'node:fs/promises';
import { constants, setPriority } from 'node:os';
import { hearSong } from '../core/music/song.ts';
import { decodeSound } from './decode.ts';
import type { EarAnswer, HearOrder } from './messages.ts';
import { tagsOf } from './tags.ts';
import { troubleOf } from './trouble.ts';

try {
  setPriority(constants.priority.PRIORITY_LOW);
} catch {
  // Then it hears at the priority it has.
}

const say = (answer: EarAnswer): void => void process.send?.(answer);

async function hear({ hear: id, path, name }: HearOrder): Promise<void> {
  try {
    const bytes = new Uint8Array(await readFile(path));
    say({ hear: id, share: 0.02 });
    const tags = await tagsOf(bytes);
    const sound = await decodeSound(bytes, name);
    say({ hear: id, share: 0.1 });
    const whole = hearSong(sound, (share) => say({ hear: id, share: 0.1 + share * 0.9 }));
    say({ hear: id, whole, tags });
  } catch (error) {
    say({ hear: id, trouble: troubleOf(error, notHeard) });
  }
}

const notHeard = (why: string): SongFault => ({
  code: 'SOUND_NOT_HEARD',
  message: `it could not be heard (${why})`,
  remedy: 'Try again; where that does not help, save it in another format.',
});

let queue = Promise.resolve();
process.on('message', (order: HearOrder) => {
  queue = queue.then(() => hear(order));
});
// Nobody is left to hear for.
process.on('disconnect', () => process.exit(0));
