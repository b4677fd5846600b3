/** Run by the start command: plays the songs of the demo show into a folder, and hears them. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeWav } from '../../core/format/wav.ts';
import { hearSong } from '../../core/music/song.ts';
import { demoSongs, playDemo } from './songs.ts';
import { walkSong } from './walk.ts';

const folder = process.argv[2];
if (!folder) throw new Error('give the folder that songs are put in');
mkdirSync(folder, { recursive: true });
for (const song of [...demoSongs(), walkSong()]) {
  const sound = playDemo(song);
  writeFileSync(join(folder, `${song.key}.wav`), writeWav([sound.samples], sound.rate, 16));
  writeFileSync(join(folder, `${song.key}.json`), JSON.stringify(hearSong(sound)));
}
