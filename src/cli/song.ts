import { songFlashes, songTroubles } from '../core/check/song.ts';
import { applyChange, recordsOf, type Document } from '../core/document/change.ts';
import { writeArchive } from '../core/format/archive.ts';
import { readMarks, writeMarks } from '../core/format/marks.ts';
import type { LaneRecord } from '../core/records/lane.ts';
import type { SongRecord } from '../core/records/song.ts';
import { withMarks } from '../core/song/mend.ts';
import { SongFrames } from '../core/timeline/frames.ts';
import { lanesOf } from '../core/timeline/light.ts';
import { momentsOf, printedFrames } from './play.ts';
import { oneWord, unusable, type Arguments, type Command, type CommandTable } from './command.ts';
import { readLimited, readShowAndFiles, readShowFile, writeOut } from './files.ts';

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
    const frames = new SongFrames(document, song.id);
    const output = printedFrames(args, document, frames.rig, moments, (ms) => frames.at(ms));
    return { output };
  },
};

const checkSongs: Command = {
  usage: 'song check ARCHIVE [--song NAME]',
  summary:
    'What of the light of songs will not be as it was meant: lanes and blocks without what they play, blocks outside or over one another, flashes that are too fast, strings that are too slow.',
  run: async (args) => {
    const document = await readShowFile(oneWord(args, 'ARCHIVE', checkSongs.usage));
    const all = args.options['song'] === undefined ? recordsOf(document, 'song') : [songOf(args, document)];
    const nameOf = (lane: LaneRecord): string => nameOfLane(document, lane);
    const songs = all.map((song) => {
      const lanes = lanesOf(document, song.id);
      const faults = [...songTroubles(document, song, nameOf), ...songFlashes(document, song)];
      const blocks = lanes.reduce((sum, lane) => sum + lane.blocks.length, 0);
      return { song: song.name, lanes: lanes.length, blocks, faults };
    });
    return { output: { ok: songs.every(({ faults }) => faults.length === 0), songs } };
  },
};

function nameOfLane(document: Document, { on, lost }: LaneRecord): string {
  if (lost !== null) return lost;
  const record = on && document.get(on);
  return record && 'name' in record ? record.name : 'the whole rig';
}

const songMarks: Command = {
  usage: 'song marks ARCHIVE --song NAME [--import FILE [--replace] [--out ARCHIVE]]',
  summary:
    'Marks of a song as text (from, to, label, with tabs between); --import reads such a file (or words with their moments), --out writes an archive with them.',
  run: async (args) => {
    const archive = oneWord(args, 'ARCHIVE', songMarks.usage);
    const { import: file, out } = args.options;
    if (file === undefined) {
      const document = await readShowFile(archive);
      const { marks } = songOf(args, document);
      return { output: { marks, text: writeMarks(marks) } };
    }
    const { document, blobs } = await readShowAndFiles(archive);
    const song = songOf(args, document);
    const { marks: read, faults } = readMarks(await readLimited(file, MARKS_BYTES));
    const marks = withMarks('replace' in args.options ? [] : song.marks, read);
    if (out !== undefined) {
      const change = { put: [{ ...song, marks }], remove: [] };
      await writeOut(out, writeArchive([...applyChange(document, change).values()], blobs));
    }
    return { output: { ok: faults.length === 0, read: read.length, marks, written: out ?? null }, faults };
  },
};
/** Marks are plain text: a file of more is none. */
const MARKS_BYTES = 4 * 1024 * 1024;

export const SONG: CommandTable = {
  'song render': { command: renderSong, options: ['song', 'at', 'from', 'to', 'fps', 'hash!'] },
  'song check': { command: checkSongs, options: ['song'] },
  'song marks': { command: songMarks, options: ['song', 'import', 'replace!', 'out'] },
};
