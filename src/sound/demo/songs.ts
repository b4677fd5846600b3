import type { Sound } from '../../core/music/sound.ts';
import { seeded } from '../../core/random.ts';
import { synthesise, type Note } from '../synth.ts';

/** The three songs of the demo show: short pieces of our own, played by instruments of our own. */

export interface DemoSong {
  /** Body of its id and name of its file. */
  readonly key: string;
  readonly name: string;
  readonly notes: readonly Note[];
  readonly seconds: number;
  /** Its beats, for tests: seconds. */
  readonly beats: readonly number[];
  readonly metre: number;
}
export const DEMO_ARTIST = 'House band';

type As = Note['as'];
export type Add = (as: As, at: number, loud: number, note?: number, long?: number) => void;
const hz = (note: number): number => 440 * 2 ** ((note - 69) / 12);

/** A piece is written beat by beat into this. */
export class Score {
  readonly notes: Note[] = [];
  readonly beats: number[] = [];
  #at: number;
  readonly #random: () => number;
  constructor(seed: number, lead: number) {
    this.#random = seeded(seed);
    this.#at = lead;
  }
  get end(): number {
    return this.#at;
  }
  /** One beat at a tempo; `write` gets how to add notes by parts of it. */
  beat(bpm: number, write: (add: Add, long: number) => void): void {
    const long = 60 / bpm;
    const at = this.#at;
    this.beats.push(at);
    write((as, part, loud, note = 60, length = 0.5) => {
      const off = (this.#random() - 0.5) * 0.006;
      this.notes.push({
        as,
        at: Math.max(0, at + part * long + off),
        loud: loud * (0.92 + this.#random() * 0.16),
        hz: hz(note),
        long: length * long,
      });
    }, long);
    this.#at += long;
  }
}

export const done = (key: string, name: string, metre: number, score: Score): DemoSong => ({
  key,
  name,
  metre,
  notes: score.notes.sort((a, b) => a.at - b.at),
  seconds: score.end + 1.5,
  beats: score.beats,
});

export const chord = (add: Add, as: As, part: number, loud: number, notes: readonly number[], long: number): void =>
  notes.forEach((note) => add(as, part, loud, note, long));

/** 96 beats a minute in three: pads and plucked strings, a fuller middle. */
function waltz(): DemoSong {
  const score = new Score(96, 0.4);
  const chords = [
    [57, 60, 64],
    [53, 57, 60],
    [48, 52, 55],
    [55, 59, 62],
  ];
  const tune = [76, 74, 72, 71, 72, 69, 67, 71];
  for (let bar = 0; bar < 40; bar++) {
    const [own, full] = [chords[bar % 4]!, bar >= 8 && bar < 16 ? 1 : bar >= 24 && bar < 36 ? 2 : 0];
    for (let place = 0; place < 3; place++)
      score.beat(96, (add) => {
        if (place === 0) {
          chord(add, 'pad', 0, 0.22, own, 2.9);
          add('bass', 0, 0.7, own[0]! - 24, 1.2);
          if (full > 0) add('kick', 0, 0.8);
        } else {
          chord(
            add,
            'pluck',
            0,
            0.3,
            own.map((n) => n + 12),
            0.8,
          );
          if (full > 0) add('hat', 0, 0.35);
          if (full > 1) add('snare', 0, 0.4);
        }
        if (bar >= 4 && place !== 1)
          add(full > 1 ? 'lead' : 'pluck', place === 0 ? 0 : 0.5, 0.3, tune[(bar * 2 + place) % 8]!, 0.9);
      });
  }
  return done('lantern-waltz', 'Lantern Waltz', 3, score);
}

/** 128 beats a minute in four: eight bars, a full part, a break, a build of eight bars, and the drop. */
function night(): DemoSong {
  const score = new Score(128, 0.3);
  const chords = [
    [57, 60, 64],
    [53, 57, 60],
    [60, 64, 67],
    [55, 59, 62],
  ];
  for (let bar = 0; bar < 48; bar++) {
    const own = chords[bar % 4]!;
    const part =
      bar < 8 ? 'intro' : bar < 20 ? 'full' : bar < 28 ? 'break' : bar < 32 ? 'build' : bar < 44 ? 'drop' : 'end';
    for (let place = 0; place < 4; place++)
      score.beat(128, (add) => {
        const drums = part === 'intro' || part === 'full' || part === 'drop' || part === 'end';
        if (drums) {
          add('kick', 0, 1);
          add('hat', 0.5, 0.5);
        }
        if (part === 'full' || part === 'drop') {
          if (place % 2 === 1) add('clap', 0, 0.7);
          add('bass', place === 0 ? 0 : 0.5, place === 0 ? 0.8 : 0.5, own[0]! - 24, 0.4);
          add('hat', 0.25, 0.25);
          add('hat', 0.75, 0.25);
          if (place === 0) chord(add, 'chord', 0, 0.4, own, 1.6);
        }
        if (part === 'drop') {
          add('lead', 0, 0.4, own[place % 3]! + 12, 0.4);
          if (place % 2 === 1) add('lead', 0.5, 0.25, own[(place + 1) % 3]! + 24, 0.4);
        }
        if ((part === 'break' || part === 'build') && place === 0) chord(add, 'pad', 0, 0.25, own, 4);
        if (part === 'break') add('pluck', 0, place === 0 ? 0.4 : 0.25, own[place % 3]! + 24, 1.2);
        if (part === 'build') {
          const rolls = bar < 30 ? 1 : bar < 31 ? 2 : 4;
          const loud = 0.25 + (bar - 28) * 0.16 + place * 0.03;
          for (let k = 0; k < rolls; k++) add('snare', k / rolls, loud);
          add('hat', 0.5, loud * 0.7);
        }
      });
  }
  return done('night-ferry', 'Night Ferry', 4, score);
}

/** A song that goes from 104 to 126 in the middle, over four bars. */
function gears(): DemoSong {
  const score = new Score(104, 0.5);
  const chords = [
    [60, 64, 67],
    [57, 60, 64],
    [62, 65, 69],
    [55, 59, 62],
  ];
  for (let bar = 0; bar < 36; bar++) {
    const own = chords[bar % 4]!;
    const fast = bar >= 18;
    for (let place = 0; place < 4; place++) {
      const bpm = bar < 14 ? 104 : bar < 18 ? 104 + ((bar - 14) * 4 + place) * (22 / 16) : 126;
      score.beat(bpm, (add) => {
        if (place === 0 || (fast && place === 2)) add('kick', 0, 0.95);
        if (place % 2 === 1) add('snare', 0, 0.8);
        add('hat', 0, 0.4);
        add('hat', 0.5, 0.35);
        add('bass', place === 0 ? 0 : 0.5, 0.7, own[0]! - 24, 0.5);
        if (place === 0) chord(add, 'chord', 0, 0.4, own, 1.8);
        if (fast || bar % 2 === 1) add('lead', place % 2 === 0 ? 0 : 0.5, 0.3, own[place % 3]! + 12, 0.6);
      });
    }
  }
  return done('two-gears', 'Two Gears', 4, score);
}

export const demoSongs = (): readonly DemoSong[] => [waltz(), night(), gears()];

/** The sound of a song; the same song is always the same sound. */
export const playDemo = (song: DemoSong): Sound => synthesise(song, { room: true, noise: 0, drive: 1.1 }, 7, 32_000);
