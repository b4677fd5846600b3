import { analyse } from '../core/music/analyse.ts';
import { Follower } from '../core/music/follow.ts';
import { LARGEST_SOUND } from '../core/records/blob.ts';
import { MUSIC_SHOW } from './auto.ts';
import { decodeSound } from '../sound/decode.ts';
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
    const sound = await decodeSound(await readLimited(file, LARGEST_SOUND), file);
    const heard = analyse(sound);
    return {
      output: {
        bpm: heard.bpm,
        metre: heard.metre,
        bars: heard.bars.map(({ at, beats }) => ({ at: round(at), beats })),
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

/** Blocks of a stream as sound cards give them, samples. */
const BLOCK = 512;

const followOne: Command = {
  usage: 'music follow FILE [--realtime]',
  summary: 'The live ear on a file: one line for each beat it announces.',
  run: async ({ words, options }) => {
    const [file, ...more] = words;
    if (!file || more.length > 0)
      throw unusable('ARGUMENT_MISSING', 'FILE', 'one file is needed', words.join(' '), `Usage: ${followOne.usage}`);
    const { samples, rate } = await decodeSound(await readLimited(file, LARGEST_SOUND), file);
    const ear = new Follower(rate);
    const begun = performance.now();
    let [announced, busyMs] = [0, 0];
    for (let from = 0; from < samples.length; from += BLOCK) {
      const due = ((from + BLOCK) / rate) * 1000 - (performance.now() - begun);
      if (options['realtime'] && due > 1) await new Promise((done) => setTimeout(done, due));
      const at = performance.now();
      const said = ear.feed(samples.subarray(from, from + BLOCK));
      busyMs += performance.now() - at;
      for (const { at: beatAt, beat, bar, emittedAt, bpm, confidence, mood } of said) {
        announced++;
        const line = { at: round(beatAt), beat, bar, emittedAt: round(emittedAt), bpm, confidence, mood };
        process.stdout.write(`${JSON.stringify(line)}\n`);
      }
    }
    const seconds = samples.length / rate;
    return { output: { announced, seconds: round(seconds), busyS: round(busyMs / 1000) } };
  },
};

export const MUSIC: CommandTable = {
  'music analyse': { command: analyseOne, options: [] },
  'music follow': { command: followOne, options: ['realtime!'] },
  ...MUSIC_SHOW,
};
