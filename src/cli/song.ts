import { createHash } from 'node:crypto';
import { recordsOf, type Document } from '../core/document/change.ts';
import type { SongRecord } from '../core/records/song.ts';
import {
  compilePlay,
  compileRig,
  FlashGuard,
  initialLive,
  makeFrame,
  prepareLive,
  render,
  type LiveState,
} from '../core/show/index.ts';
import { withSong } from '../core/show/live/songs.ts';
import { gridOf } from '../core/song/grid.ts';
import { lanesOf, LIGHT_AGAIN_MS, songPlays } from '../core/timeline/light.ts';
import { momentsOf, universesOf } from './play.ts';
import { oneWord, unusable, type Arguments, type Command, type CommandTable } from './command.ts';
import { readShowFile } from './files.ts';

/** Commands for the light of a song. */

const MOST_WHOLE_FRAMES = 2000;

/** The song that --song names. */
function songOf(args: Arguments, document: Document): SongRecord {
  const name = args.options['song'];
  const songs = recordsOf(document, 'song');
  const found = songs.find((song) => song.name === name || song.id === name);
  if (found) return found;
  throw unusable(
    name === undefined ? 'OPTION_MISSING' : 'UNKNOWN_SONG',
    '--song',
    name === undefined ? '--song is missing' : `the show has no song “${name}”`,
    name ?? null,
    songs.length > 0 ? `Songs are: ${songs.map((song) => song.name).join(', ')}.` : 'The show has no songs.',
  );
}

const renderSong: Command = {
  usage: 'song render ARCHIVE --song NAME [--at S | --from S --to S --fps N] [--hash]',
  summary: 'Frames of the light of a song, by its lanes; --hash prints SHA-256 of each frame in place of its bytes.',
  run: async (args) => {
    const document = await readShowFile(oneWord(args, 'ARCHIVE', renderSong.usage));
    const song = songOf(args, document);
    const moments = momentsOf(args);
    const hash = args.options['hash'] !== undefined;
    if (!hash && moments.length > MOST_WHOLE_FRAMES)
      throw unusable(
        'TOO_MANY_FRAMES',
        '--fps',
        `${moments.length} whole frames are too many`,
        moments.length,
        `Ask for at most ${MOST_WHOLE_FRAMES}, or add --hash.`,
      );
    const rig = compileRig(document);
    const frame = makeFrame(rig.arrays);
    const guard = new FlashGuard(rig.arrays, recordsOf(document, 'show')[0]!.safety);
    const state = songState(document, song);
    const whole = createHash('sha256');
    let [told, live] = [-Infinity, null as ReturnType<typeof prepareLive> | null];
    const frames = moments.map((at) => {
      const ms = at * 1000;
      if (!live || ms - told >= LIGHT_AGAIN_MS) {
        told = ms;
        const light = songPlays(document, state, ms);
        live = prepareLive(rig, state, (play) => compilePlay(rig, document, play), document, { light });
      }
      const bytes = render(rig.arrays, live, ms, frame, moments.length > 1 ? guard : null);
      whole.update(bytes);
      return hash
        ? { at, sha256: createHash('sha256').update(bytes).digest('hex') }
        : { at, universes: universesOf(rig.arrays.universes, bytes) };
    });
    const universes = [...rig.arrays.universes];
    return { output: hash ? { universes, frames, sha256: whole.digest('hex') } : { frames } };
  },
};

/** The song plays, and began at the moment 0. */
const songState = (document: Document, song: SongRecord): LiveState =>
  withSong(
    initialLive(0, recordsOf(document, 'show')[0]?.tempoBpm),
    { songId: song.id, at: 0, ms: 0, playing: true, loop: null, list: null },
    document,
    0,
  );

const checkSongs: Command = {
  usage: 'song check ARCHIVE',
  summary:
    'What of the light of songs will not be as it was meant: lanes and blocks without what they play, blocks outside.',
  run: async (args) => {
    const document = await readShowFile(oneWord(args, 'ARCHIVE', checkSongs.usage));
    const songs = recordsOf(document, 'song').map((song) => {
      const lanes = lanesOf(document, song.id);
      const end = song.lengthS ?? gridOf(song).beats.at(-1) ?? Infinity;
      const faults = lanes.flatMap((lane) => {
        const where = `lane ${lane.number}`;
        const found =
          lane.lost === null
            ? []
            : [{ code: 'LANE_UNBOUND', where, message: `${lane.lost} is gone: it plays nothing` }];
        for (const { key, at, length, plays } of lane.blocks) {
          const place = `${where}, ${at} s (${key})`;
          if (plays.is === 'gone') found.push({ code: 'BLOCK_EMPTY', where: place, message: `${plays.name} is gone` });
          if (at >= end)
            found.push({ code: 'BLOCK_OUTSIDE', where: place, message: `begins after the song ends (${end} s)` });
          else if (at + length > end + 0.01)
            found.push({ code: 'BLOCK_OUTSIDE', where: place, message: `goes on after the song ends (${end} s)` });
        }
        return found;
      });
      const blocks = lanes.reduce((sum, lane) => sum + lane.blocks.length, 0);
      return { song: song.name, lanes: lanes.length, blocks, faults };
    });
    return { output: { ok: songs.every(({ faults }) => faults.length === 0), songs } };
  },
};

export const SONG: CommandTable = {
  'song render': { command: renderSong, options: ['song', 'at', 'from', 'to', 'fps', 'hash!'] },
  'song check': { command: checkSongs, options: [] },
};
