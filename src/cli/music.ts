import { analyse } from '../core/music/analyse.ts';
import { decodeSound, LARGEST_FILE } from '../sound/decode.ts';
import { unusable, type Command, type CommandTable } from './command.ts';
import { readLimited } from './files.ts';

const round = (seconds: number): number => Math.round(seconds * 1000) / 1000;

const analyseOne: Command = {
  usage: 'music analyse FILE',
  summary: 'What is heard in a song: tempo, metre, beats, bars, sections.',
  run: async ({ words }) => {
    const [file, ...more] = words;
    if (!file || more.length > 0)
      throw unusable('ARGUMENT_MISSING', 'FILE', 'one file is needed', words.join(' '), `Usage: ${analyseOne.usage}`);
    const begun = performance.now();
    const sound = await decodeSound(await readLimited(file, LARGEST_FILE), file);
    const heard = analyse(sound);
    return {
      output: {
        bpm: heard.bpm,
        metre: heard.metre,
        beats: heard.beats.map(round),
        downbeats: heard.downbeats.map(round),
        tempo: heard.tempo.map(({ at, bpm }) => ({ at: round(at), bpm })),
        sections: heard.sections.map(({ from, to, label, mood }) => ({
          from: round(from),
          to: round(to),
          label,
          mood,
        })),
        confidence: round(heard.confidence),
        seconds: round(sound.samples.length / sound.rate),
        elapsed: round((performance.now() - begun) / 1000),
      },
    };
  },
};

export const MUSIC: CommandTable = {
  'music analyse': { command: analyseOne, options: [] },
};
