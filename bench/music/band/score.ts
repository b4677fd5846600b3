import { seeded } from '../../../src/core/random.ts';
import { DRUMS, STYLES, type Comp, type Pattern, type Style } from './styles.ts';

/**
 * Music for an orchestra of sampled instruments, with the truth about it. It is richer than what `compose.ts` makes, and made
 * otherwise: what is learnt from it is judged on that.
 */

export interface Hit {
  readonly at: number;
  readonly long: number;
  /** 0-1. */
  readonly loud: number;
  /** MIDI note; of the drums their key. */
  readonly note: number;
  /** General MIDI program; null: drums. */
  readonly program: number | null;
}

export interface Score {
  readonly name: string;
  readonly style: string;
  readonly metre: number;
  readonly beats: readonly number[];
  readonly downbeats: readonly number[];
  readonly sections: readonly { readonly from: number; readonly to: number; readonly label: string }[];
  readonly hits: readonly Hit[];
  readonly seconds: number;
}

/** One bar that is to be played. */
interface Bar {
  readonly from: number;
  readonly metre: number;
  readonly label: string;
  /** Number of it in its section, and how many that has. */
  readonly n: number;
  readonly of: number;
}

const PROGRESSIONS = [
  [0, 4, 5, 3],
  [0, 5, 3, 4],
  [5, 3, 0, 4],
  [0, 3, 0, 4],
  [0, 3, 5, 4],
  [1, 4, 0, 0],
  [0, 0, 3, 3],
  [0, 6, 5, 4],
  [0, 2, 3, 4],
  [0, 0, 0, 0, 3, 3, 0, 0, 4, 3, 0, 4],
  [0],
] as const;
const SCALES = [
  [0, 2, 4, 5, 7, 9, 11],
  [0, 2, 3, 5, 7, 8, 10],
  [0, 2, 3, 5, 7, 9, 10],
] as const;
const FORMS = [
  ['A', 'B', 'A', 'B', 'C', 'B'],
  ['A', 'A', 'B', 'A', 'C', 'A'],
  ['I', 'A', 'B', 'A', 'B', 'A'],
  ['A', 'B', 'C', 'A', 'B', 'C'],
  ['I', 'A', 'A', 'B', 'B', 'A'],
] as const;
const GROUPS: Readonly<Record<number, readonly (readonly number[])[]>> = {
  2: [[2]],
  3: [[3]],
  4: [[4], [2, 2]],
  5: [
    [3, 2],
    [2, 3],
  ],
  6: [[3, 3]],
  7: [
    [4, 3],
    [3, 4],
    [2, 2, 3],
  ],
};

class Dice {
  readonly #random: () => number;
  constructor(seed: number) {
    this.#random = seeded(seed);
  }
  next(): number {
    return this.#random();
  }
  of<T>(list: readonly T[]): T {
    return list[Math.floor(this.#random() * list.length)]!;
  }
  within([low, high]: readonly [number, number]): number {
    return low + (high - low) * this.#random();
  }
  is(share: number): boolean {
    return this.#random() < share;
  }
  /** About as a normal distribution, deviation 1. */
  off(): number {
    return (this.#random() + this.#random() + this.#random() + this.#random() - 2) * 1.73;
  }
}

/** Composes a piece of about so many seconds; the same seed gives the same piece. */
export function composeBand(seed: number, name: string, seconds = 40): Score {
  const style = STYLES[name]!;
  const dice = new Dice(seed);
  const metre = dice.of(style.metres);
  const bpm = dice.within(style.bpm);
  const { bars, beats } = timeOf(dice, style, metre, bpm, seconds);
  const sections = sectionsOf(bars, beats);
  const hits = new Player(dice, style, beats).play(bars);
  const end = beats.at(-1)!;
  return {
    name: `${name} ${seed}`,
    style: name,
    metre,
    // The last one only ends the bar before.
    beats: beats.slice(0, -1),
    downbeats: bars.map(({ from }) => beats[from]!),
    sections,
    hits: hits.filter((hit) => hit.at >= 0).sort((a, b) => a.at - b.at),
    seconds: end + 0.6,
  };
}

/** Bars, and when each beat is: steady, drifting, faster or slower all along or for a while, or from some bar on. */
function timeOf(
  dice: Dice,
  style: Style,
  metre: number,
  bpm: number,
  seconds: number,
): { bars: Bar[]; beats: number[] } {
  const form = dice.of(FORMS);
  const bars: Bar[] = [];
  const most = Math.ceil((seconds * bpm) / 60) + 1;
  const mixed = metre > 4 ? dice.is(0.2) : dice.is(0.05);
  for (let from = 0, n = 0; from < most; n++) {
    const of = dice.of([4, 8, 8, 4, 8, 2, 6]);
    for (let k = 0; k < of && from < most; k++) {
      const now = mixed && k % 4 === 3 ? (metre === 4 ? dice.of([2, 5, 3]) : Math.max(2, metre - 1)) : metre;
      bars.push({ from, metre: now, label: form[n % form.length]!, n: k, of });
      from += now;
    }
  }
  const count = bars.at(-1)!.from + bars.at(-1)!.metre;
  const way = dice.next();
  const drift = style.human[1] < 0.003 ? 0 : dice.next() * 0.012;
  const free = style.free && dice.is(0.35) ? 0.03 + dice.next() * 0.05 : 0;
  const to = bpm * (dice.is(0.5) ? 0.82 : 1.2);
  const turn = Math.floor(count * (0.35 + dice.next() * 0.3));
  const jumps = bpm * dice.of([0.75, 0.85, 1.15, 1.25]);
  const starts = new Set(bars.map(({ from }) => from));
  const beats: number[] = [];
  let at = dice.next() * 0.8;
  let pace = 1;
  let jumped = false;
  for (let i = 0; i <= count; i++) {
    beats.push(at);
    pace = Math.max(0.93, Math.min(1.07, pace * (1 + dice.off() * drift) + (1 - pace) * 0.05));
    let now = bpm * pace;
    if (way < 0.1) now *= 1 + (to / bpm - 1) * (i / count);
    else if (way < 0.18) {
      jumped ||= i >= turn && starts.has(i);
      if (jumped) now = jumps * pace;
    } else if (way < 0.26 || free > 0) {
      // Phrases slow down at their end and begin again.
      const bar = bars.findLast(({ from }) => from <= i)!;
      const share = (bar.n + (i - bar.from) / bar.metre) / bar.of;
      const depth = free > 0 ? free * 3 : 0.2;
      if (share > 0.75 && (free > 0 || bar.of >= 4)) now *= 1 - depth * (share - 0.75) * 4;
      if (free > 0) now *= 1 + free * Math.sin(share * Math.PI) + dice.off() * free * 0.35;
    }
    at += 60 / now;
  }
  return { bars, beats };
}

function sectionsOf(bars: readonly Bar[], beats: readonly number[]): Score['sections'] {
  const found: { from: number; to: number; label: string }[] = [];
  for (const { from, metre, label, n } of bars) {
    const [begin, end] = [beats[from]!, beats[from + metre]!];
    if (n === 0) found.push({ from: begin, to: end, label });
    else found[found.length - 1]!.to = end;
  }
  return found;
}

/** What a section of a label is made of. */
interface Material {
  readonly chords: readonly number[];
  readonly tune: readonly (readonly [step: number, degree: number, long: number])[];
  readonly comp: Comp;
  readonly chord: number;
  readonly drums: boolean;
  readonly bass: boolean;
  readonly lead: boolean;
  readonly under: boolean;
}

class Player {
  readonly #dice: Dice;
  readonly #style: Style;
  readonly #beats: readonly number[];
  readonly #hits: Hit[] = [];
  readonly #materials = new Map<string, Material>();
  readonly #key: number;
  readonly #scale: readonly number[];
  readonly #pattern: Pattern;
  readonly #swing: number;
  readonly #human: number;
  readonly #programs: { readonly bass: number; readonly tune: number; readonly under: number; readonly chord: number };
  readonly #length: number;
  readonly #fills: number;

  constructor(dice: Dice, style: Style, beats: readonly number[]) {
    this.#dice = dice;
    this.#style = style;
    this.#beats = beats;
    this.#key = 36 + Math.floor(dice.next() * 12);
    this.#scale = dice.of(SCALES);
    this.#pattern = dice.of(style.drums);
    this.#swing = style.swing ? dice.within(style.swing) : 0.5;
    this.#human = dice.within(style.human);
    this.#programs = {
      bass: dice.of(style.basses),
      tune: dice.of(style.tune),
      under: dice.of(style.under),
      chord: dice.of(style.chords),
    };
    // Chords last a bar, two, or half of one.
    this.#length = dice.of([1, 1, 1, 1, 2, 0.5]);
    this.#fills = dice.next() * 0.8;
  }

  play(bars: readonly Bar[]): Hit[] {
    let chord = 0;
    bars.forEach((bar, i) => {
      const material = this.#material(bar.label, bar.metre);
      const stops = bar.n === bar.of - 1 && this.#dice.is(0.08);
      const groups = this.#dice.is(0.9) ? GROUPS[bar.metre]![0]! : this.#dice.of(GROUPS[bar.metre]!);
      if (material.drums && !stops) this.#drums(bar, i, groups);
      this.#bar(bar, material, groups, chord, stops);
      chord += 1;
    });
    return this.#hits;
  }

  #material(label: string, metre: number): Material {
    const known = this.#materials.get(label);
    if (known) return known;
    const dice = this.#dice;
    const { grid } = this.#style;
    const steps = metre * grid * 2;
    const tune: [number, number, number][] = [];
    let degree = Math.floor(dice.next() * 7) + 7;
    for (let step = 0; step < steps;) {
      const strong = step % grid === 0;
      const long = dice.of(grid === 3 ? [1, 2, 3, 3, 6] : [1, 2, 2, grid, grid, 2 * grid]);
      if (dice.is(strong ? 0.75 : 0.45)) tune.push([step, degree, long]);
      degree = Math.max(3, Math.min(16, degree + Math.round(dice.off() * 1.4)));
      step += long;
    }
    const intro = label === 'I';
    const made: Material = {
      chords: dice.of(PROGRESSIONS),
      tune,
      comp: dice.of(this.#style.comp),
      chord: dice.is(0.7) ? this.#programs.chord : dice.of(this.#style.chords),
      drums:
        Object.keys(this.#pattern).length > 0 || metre > 4 ? dice.is(intro ? 0.4 : label === 'C' ? 0.7 : 0.96) : false,
      bass: this.#style.bass !== 'none' && dice.is(intro ? 0.5 : 0.92),
      lead: dice.is(intro ? 0.3 : 0.7),
      under: dice.is(label === 'B' || label === 'C' ? 0.6 : 0.25),
    };
    this.#materials.set(label, made);
    return made;
  }

  /** When a place between beats is, as it is swung. */
  #at(beat: number, part = 0): number {
    const whole = beat + Math.floor(part);
    let rest = part - Math.floor(part);
    if (this.#style.grid !== 3 && this.#swing !== 0.5)
      rest = rest < 0.5 ? rest * 2 * this.#swing : this.#swing + (rest - 0.5) * 2 * (1 - this.#swing);
    const i = Math.max(0, Math.min(this.#beats.length - 2, whole));
    return this.#beats[i]! + (this.#beats[i + 1]! - this.#beats[i]!) * (whole - i + rest);
  }

  #hit(program: number | null, at: number, note: number, loud: number, long: number): void {
    const dice = this.#dice;
    this.#hits.push({
      at: at + dice.off() * this.#human,
      long: Math.max(0.04, long),
      loud: Math.max(0.05, Math.min(1, loud * (1 + dice.off() * 0.1))),
      note,
      program,
    });
  }

  #drum(letter: string, at: number, loud: number): void {
    this.#hit(null, at, DRUMS[letter]!, loud, 0.1);
  }

  #drums(bar: Bar, number: number, groups: readonly number[]): void {
    const dice = this.#dice;
    const { grid } = this.#style;
    const steps = bar.metre * grid;
    if (bar.n === 0 && dice.is(0.7)) this.#drum('y', this.#at(bar.from), 0.8);
    const fill =
      bar.n === bar.of - 1 && dice.is(this.#fills) ? Math.max(1, Math.floor(bar.metre / (dice.is(0.5) ? 2 : 4))) : 0;
    const until = steps - fill * grid;
    const fits = (pattern: string): boolean => pattern.length % steps === 0 || steps % pattern.length === 0;
    const own = Object.entries(this.#pattern);
    for (const [letter, pattern] of own.filter(([, pattern]) => fits(pattern)))
      for (let step = 0; step < until; step++) {
        const mark = pattern[(number * steps + step) % pattern.length]!;
        const accent = step % grid === 0 ? 1 : 0.8;
        if (mark === 'x' && !dice.is(0.02)) this.#drum(letter, this.#at(bar.from, step / grid), 0.85 * accent);
        else if (mark === 'o' || (letter === 's' && dice.is(0.01)))
          this.#drum(letter, this.#at(bar.from, step / grid), 0.4 * accent);
      }
    const lacks = (letter: string): boolean => !own.some(([has, pattern]) => has === letter && fits(pattern));
    if (lacks('k') && lacks('s') && lacks('b')) this.#counted(bar, groups);
    else if (dice.is(0.15)) this.#drum('k', this.#at(bar.from, dice.of([0.5, 1.5, 2.5]) % bar.metre), 0.6);
    for (let k = 0; k < fill * 4; k++)
      if (dice.is(0.8))
        this.#drum(dice.of(['s', 's', 't', 'o']), this.#at(bar.from + bar.metre - fill, k / 4), 0.5 + 0.1 * (k % 4));
  }

  /** Drums of a metre that has no pattern: a bass drum where groups begin, a snare drum before they end. */
  #counted(bar: Bar, groups: readonly number[]): void {
    let beat = bar.from;
    for (const [g, group] of groups.entries()) {
      if (g === 0 || this.#dice.is(0.6)) this.#drum('k', this.#at(beat), g === 0 ? 1 : 0.8);
      if (group === 3 && this.#dice.is(0.3)) this.#drum('s', this.#at(beat + 1), 0.4);
      this.#drum('s', this.#at(beat + group - 1), 0.8);
      if (this.#dice.is(0.25)) this.#drum('k', this.#at(beat, group - 0.5), 0.6);
      for (let k = 0; k < group * 2; k++) this.#drum('h', this.#at(beat, k / 2), k % 2 === 0 ? 0.5 : 0.35);
      beat += group;
    }
  }

  #bar(bar: Bar, material: Material, groups: readonly number[], number: number, stops: boolean): void {
    const { chords } = material;
    const parts = this.#length === 0.5 && bar.metre % 2 === 0 ? 2 : 1;
    for (let part = 0; part < parts; part++) {
      const index = this.#length === 2 ? Math.floor(number / 2) : number * parts + part;
      const degree = chords[index % chords.length]!;
      const from = part * (bar.metre / parts);
      const metre = bar.metre / parts;
      if (material.bass) this.#bass(bar.from + from, metre, degree, groups, stops);
      this.#chords(bar.from + from, metre, degree, material, groups, stops);
      if (material.under && !stops)
        for (const step of [0, 2, 4])
          this.#hit(
            this.#programs.under,
            this.#at(bar.from + from),
            this.#pitch(degree + step, 2),
            0.35,
            this.#span(bar.from + from, metre),
          );
    }
    if (material.lead && !stops) this.#tune(bar, material);
  }

  #pitch(degree: number, octave: number): number {
    return this.#key + 12 * octave + this.#scale[degree % 7]! + 12 * Math.floor(degree / 7);
  }

  #span(beat: number, beats: number): number {
    return this.#at(beat, beats) - this.#at(beat);
  }

  #bass(from: number, metre: number, degree: number, groups: readonly number[], stops: boolean): void {
    const dice = this.#dice;
    const { bass, grid } = this.#style;
    const low = (step: number): number => this.#pitch(degree + step, 0);
    const play = (beat: number, part: number, step: number, long: number, loud = 0.75): void =>
      this.#hit(this.#programs.bass, this.#at(beat, part), low(step), loud, this.#span(beat, 1) * long);
    if (stops) return play(from, 0, 0, 1);
    for (let i = 0; i < metre; i++) {
      const beat = from + i;
      switch (bass) {
        case 'root':
          if (i === 0) play(beat, 0, 0, Math.min(metre, 3));
          else if (startsGroup(groups, i) && dice.is(0.7)) play(beat, 0, dice.is(0.6) ? 0 : 4, 1);
          break;
        case 'fifths':
          if (i % 2 === 0) play(beat, 0, i % 4 === 0 ? 0 : 4, 0.8);
          break;
        case 'walk':
          play(beat, 0, [0, 2, 4, 5, 4, 2][i % 6]!, 0.9);
          break;
        case 'off':
          play(beat, 0.5, 0, 0.4);
          break;
        case 'half':
          for (let k = 0; k < 2; k++) play(beat, k / 2, dice.is(0.85) ? 0 : 4, 0.45, k === 0 ? 0.8 : 0.65);
          break;
        case 'drive':
          for (let k = grid === 4 && dice.is(0.7) ? 1 : 0; k < grid; k++) play(beat, k / grid, 0, 0.9 / grid, 0.65);
          break;
        case 'tumbao':
          if (i % 4 === 1) play(beat, 0.5, 4, 1);
          if (i % 4 === 3) play(beat, 0, 0, 1.5);
          break;
        default:
          if (i === 0) play(beat, 0, 0, 1.2);
          else if (dice.is(0.5)) play(beat, dice.of([0, 0.5, 0.5, grid === 4 ? 0.75 : 0]), dice.of([0, 0, 4, 2]), 0.6);
      }
    }
  }

  #chords(
    from: number,
    metre: number,
    degree: number,
    material: Material,
    groups: readonly number[],
    stops: boolean,
  ): void {
    const dice = this.#dice;
    const { grid } = this.#style;
    const early = dice.is(this.#style.early ?? 0.04) && from > 0;
    const play = (beat: number, part: number, long: number, loud = 0.5): void => {
      for (const step of dice.is(0.2) ? [0, 2, 4, 6] : [0, 2, 4])
        this.#hit(
          material.chord,
          this.#at(beat, part),
          this.#pitch(degree + step, 2),
          loud,
          this.#span(beat, 1) * long,
        );
    };
    if (stops) return play(from, 0, 1);
    switch (material.comp) {
      case 'hold':
        return early ? play(from - 1, 0.5, metre + 0.4) : play(from, 0, metre * 0.95);
      case 'beats':
        for (let i = 0; i < metre; i++) play(from + i, 0, 0.8, startsGroup(groups, i) ? 0.6 : 0.45);
        return;
      case 'off':
        for (let i = 0; i < metre; i++) play(from + i, 0.5, 0.3, 0.55);
        return;
      case 'half':
        for (let i = 0; i < metre * 2; i++) play(from, i / 2, 0.4, i % 2 === 0 ? 0.55 : 0.4);
        return;
      case 'waltz':
        for (let i = 1; i < metre; i++) play(from + i, 0, 0.5, 0.45);
        return;
      case 'strum':
        for (let i = 0; i < metre; i++) {
          play(from + i, 0, 0.45, i === 0 ? 0.6 : 0.45);
          if (dice.is(0.7)) play(from + i, 0.5, 0.4, 0.35);
        }
        return;
      case 'arp':
        for (let k = 0; k < metre * grid; k++)
          if (grid < 4 || k % 2 === 0 || dice.is(0.6))
            this.#hit(
              material.chord,
              this.#at(from, k / grid),
              this.#pitch(degree + [0, 2, 4, 7, 4, 2][k % 6]!, 2),
              k === 0 ? 0.6 : 0.45,
              this.#span(from, 1) * 0.9,
            );
        return;
      case 'stabs':
        if (early) play(from - 1, 0.5, 0.8, 0.55);
        for (let i = 0; i < metre; i++)
          if (!(early && i === 0) && dice.is(0.45)) play(from + i, dice.of([0, 0.5, 0.5]), 0.35, 0.55);
        return;
      case 'none':
    }
  }

  #tune(bar: Bar, { tune, chords }: Material): void {
    const { grid } = this.#style;
    const steps = bar.metre * grid;
    const half = bar.n % 2;
    for (const [step, degree, long] of tune) {
      if (Math.floor(step / steps) !== half || this.#dice.is(0.06)) continue;
      const within = (step % steps) / grid;
      const lifted = step % steps === 0 ? chords[bar.n % chords.length]! % 7 : 0;
      this.#hit(
        this.#programs.tune,
        this.#at(bar.from, within),
        this.#pitch(degree + (lifted % 3), 2),
        0.6,
        (this.#span(bar.from, 1) * long * 0.95) / grid,
      );
    }
  }
}

function startsGroup(groups: readonly number[], beat: number): boolean {
  let at = 0;
  for (const group of groups) {
    if (at === beat) return true;
    at += group;
  }
  return false;
}
