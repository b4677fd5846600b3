import { createHash } from 'node:crypto';
import { SongShow } from '../core/auto/song-show.ts';
import { NOTHING_ASKED } from '../core/auto/plan.ts';
import { guessRoles } from '../core/auto/roles.ts';
import { applyChange, getRecord, recordsOf } from '../core/document/change.ts';
import { hearSong } from '../core/music/song.ts';
import { LARGEST_SOUND, hashOf } from '../core/records/blob.ts';
import { make } from '../core/records/index.ts';
import { ROLES } from '../core/records/variant.ts';
import { compilePlay, compileRig, FlashGuard, makeFrame, prepareLive, render } from '../core/show/index.ts';
import { decodeSound } from '../sound/decode.ts';
import { numberOption, oneWord, unusable, type Command, type CommandTable } from './command.ts';
import { readLimited, readShowFile } from './files.ts';

/** Light that runs by itself: which unit does what, and the show a song gets. */

const round = (seconds: number): number => Math.round(seconds * 1000) / 1000;

const roles: Command = {
  usage: 'auto roles ARCHIVE',
  summary: 'Which role each unit has in light that runs by itself, and why.',
  run: async (args) => {
    const document = await readShowFile(oneWord(args, 'ARCHIVE', roles.usage));
    const units = guessRoles(document).map(({ id, role, why }) => {
      const { number, name } = getRecord(document, 'unit', id)!;
      return { number, name, role, why };
    });
    const counts = Object.fromEntries(ROLES.map((role) => [role, units.filter((unit) => unit.role === role).length]));
    return { output: { roles: counts, units } };
  },
};

/** Frames a second that are looked at. */
const FPS = 40;
const LONGEST_S = 3600;

const show: Command = {
  usage: 'music show ARCHIVE FILE [--seed N] [--from S --to S] [--hash]',
  summary:
    'The show that a song gets by itself: phrases, colours, what plays of each role and why; --hash of its frames.',
  run: async (args) => {
    const [archive, file, ...more] = args.words;
    if (!archive || !file || more.length > 0)
      throw unusable(
        'ARGUMENT_MISSING',
        'FILE',
        'an archive and a song are needed',
        args.words.join(' '),
        `Usage: ${show.usage}`,
      );
    const seed = numberOption(args, 'seed', 0, 2 ** 31, 1);
    const opened = await readShowFile(archive);
    const bytes = await readLimited(file, LARGEST_SOUND);
    const { heard, lengthS } = hearSong(await decodeSound(bytes, file));
    const fields = {
      id: 'song:show',
      number: 1,
      name: 'Song',
      blob: hashOf(bytes),
      type: 'audio/wav',
      bytes: bytes.length,
    } as const;
    const song = make('song', { ...fields, lengthS, heard });
    const document = applyChange(opened, { put: [song], remove: [] });
    const own = new SongShow(document, song, { ...NOTHING_ASKED, seed });
    const from = numberOption(args, 'from', 0, LONGEST_S, 0);
    const to = numberOption(args, 'to', 0, LONGEST_S, lengthS);
    if (to < from)
      throw unusable('OPTION_RANGE', '--to', `--to ${to} lies before --from ${from}`, to, 'Give a later moment.');
    const phrases = own.plan
      .filter((phrase) => phrase.to > from && phrase.from <= to)
      .map(({ from: begins, to: ends, mood, moment, colours, cast, why }) => ({
        from: round(begins),
        to: round(ends),
        mood,
        section: moment.section.name,
        colours,
        cast,
        why,
      }));
    return {
      output: { seed, phrases, ...(args.options['hash'] ? { sha256: framesOf(document, own, from, to) } : {}) },
    };
  },
};

/** SHA-256 of all frames of a stretch, so many a second, with flashes held back. */
function framesOf(document: Parameters<typeof compileRig>[0], own: SongShow, from: number, to: number): string {
  const rig = compileRig(document);
  const frame = makeFrame(rig.arrays);
  const guard = new FlashGuard(rig.arrays, recordsOf(document, 'show')[0]!.safety);
  const hash = createHash('sha256');
  let [phrase, live] = [NaN, null as ReturnType<typeof prepareLive> | null];
  for (let i = 0; from + i / FPS <= to; i++) {
    const at = from + i / FPS;
    if (own.phraseAt(at) !== phrase || !live) {
      phrase = own.phraseAt(at);
      live = prepareLive(rig, own.at(at), (play) => compilePlay(rig, document, play), document);
    }
    hash.update(render(rig.arrays, live, at * 1000, frame, guard));
  }
  return hash.digest('hex');
}

export const AUTO: CommandTable = { 'auto roles': { command: roles, options: [] } };
export const MUSIC_SHOW: CommandTable = { 'music show': { command: show, options: ['seed', 'from', 'to', 'hash!'] } };
