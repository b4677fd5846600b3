import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { HeardWhole } from '../../core/music/song.ts';
import { EAR } from '../../core/music/version.ts';
import { hashOf, type BlobFile } from '../../core/records/blob.ts';
import { make, type AnyRecord } from '../../core/records/index.ts';
import { DEMO_ARTIST, demoSongs, type DemoSong } from '../../sound/demo/songs.ts';

/** The songs of the demo show, and their files. */
export interface SeedSongs {
  readonly records: readonly AnyRecord[];
  readonly files: readonly BlobFile[];
}

/**
 * Songs that the start command played and heard into a folder; none where there is no such folder. What pages draw of
 * them is put into the data folder.
 */
export function seedSongs(
  folder: string | undefined,
  dataDir: string,
  played: readonly DemoSong[] = demoSongs(),
  name = 'Evening',
): SeedSongs {
  if (!folder || !existsSync(folder)) return { records: [], files: [] };
  const files: BlobFile[] = [];
  const songs = played.flatMap(({ key, name }, i) => {
    const file = join(folder, `${key}.wav`);
    if (!existsSync(file)) return [];
    const bytes = new Uint8Array(readFileSync(file));
    const { heard, lengthS, picture } = JSON.parse(readFileSync(join(folder, `${key}.json`), 'utf8')) as HeardWhole;
    const hash = hashOf(bytes);
    files.push({ hash, bytes });
    mkdirSync(join(dataDir, 'heard'), { recursive: true });
    writeFileSync(join(dataDir, 'heard', `${hash}.${EAR}.json`), JSON.stringify(picture));
    const own = { number: i + 1, name, artist: DEMO_ARTIST, file: `${key}.wav` };
    return [
      make('song', { id: `song:${key}`, ...own, blob: hash, type: 'audio/wav', bytes: bytes.length, lengthS, heard }),
    ];
  });
  const list = make('setlist', { id: 'setlist:evening', number: 1, name, songs: songs.map(({ id }) => id) });
  return { records: songs.length > 0 ? [...songs, list] : [], files };
}
