import { recordsOf, type Document } from '../core/document/change.ts';
import type { SongRecord } from '../core/records/song.ts';
import {
  compilePlay,
  compileRig,
  initialLive,
  prepareLive,
  type LiveState,
  type PreparedLive,
} from '../core/show/index.ts';
import { songOn, withSong } from '../core/show/live/songs.ts';
import { gridOf } from '../core/song/grid.ts';
import { lanesOf, LIGHT_AGAIN_MS, songPlays } from '../core/timeline/light.ts';
import { momentsOf, printedFrames } from './play.ts';
import { oneWord, unusable, type Arguments, type Command, type CommandTable } from './command.ts';
import { readShowFile } from './files.ts';

/** Commands for the light of a song. */

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
    const rig = compileRig(document);
    const state = songState(document, song);
    let [told, live] = [-Infinity, null as PreparedLive | null];
    const output = printedFrames(args, document, rig, moments, (ms) => {
      if (live && ms - told < LIGHT_AGAIN_MS) return live;
      told = ms;
      const light = songPlays(document, state, ms);
      return (live = prepareLive(rig, state, (play) => compilePlay(rig, document, play), document, { light }));
    });
    return { output };
  },
};

/** The song plays, and began at the moment 0. */
const songState = (document: Document, song: SongRecord): LiveState =>
  withSong(initialLive(0, recordsOf(document, 'show')[0]?.tempoBpm), songOn(song.id, 0, 0), document, 0);

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
