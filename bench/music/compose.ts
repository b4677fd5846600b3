import { seeded } from '../../src/core/random.ts';
import type { Note } from '../../src/sound/synth.ts';

/** Music that is made up, with the truth about it: where its beats, bars and sections are. No music from elsewhere. */

export const STYLES = [
  'house',
  'rock',
  'halftime',
  'ballad',
  'pop',
  'waltz',
  'six',
  'five',
  'seven',
  'swing',
  'breaks',
  'chip',
  'strings',
  'offbeat',
  'march',
] as const;
export type Style = (typeof STYLES)[number];

/** How the tempo goes: steady, as people drift, faster or slower all along, or another from some bar on. */
export type Pace = 'steady' | 'drift' | 'ramp' | 'jump';

export interface Piece {
  readonly name: string;
  readonly style: Style;
  readonly pace: Pace;
  readonly bpm: number;
  readonly metre: number;
  readonly seconds: number;
  readonly beats: readonly number[];
  readonly downbeats: readonly number[];
  readonly sections: readonly { readonly from: number; readonly to: number; readonly label: string }[];
  readonly notes: readonly Note[];
}

const RANGES: Readonly<Record<Style, readonly [number, number]>> = {
  house: [116, 134],
  rock: [84, 168],
  halftime: [64, 88],
  ballad: [58, 84],
  pop: [88, 128],
  waltz: [84, 180],
  six: [100, 190],
  five: [100, 170],
  seven: [110, 190],
  swing: [96, 190],
  breaks: [150, 178],
  chip: [110, 180],
  strings: [60, 120],
  offbeat: [76, 110],
  march: [96, 128],
};
const METRE: Readonly<Partial<Record<Style, number>>> = { waltz: 3, six: 6, five: 5, seven: 7, march: 2 };

const SCALES = [
  [0, 2, 4, 5, 7, 9, 11],
  [0, 2, 3, 5, 7, 8, 10],
] as const;
const PROGRESSIONS = [
  [0, 4, 5, 3],
  [0, 5, 3, 4],
  [5, 3, 0, 4],
  [0, 3, 0, 4],
  [0, 3, 5, 4],
  [0, 0, 3, 4],
] as const;

/** Composes a piece; the same seed gives the same piece. */
export function compose(seed: number, style: Style, pace: Pace, seconds = 44): Piece {
  const random = seeded(seed);
  const [slow, fast] = RANGES[style];
  const bpm = Math.round(slow + (fast - slow) * random());
  const metre = METRE[style] ?? 4;
  const beats = beatTimes(bpm, pace, metre, seconds, random);
  const bars = Math.floor(beats.length / metre);
  const downbeats = beats.filter((_, i) => i % metre === 0 && i < bars * metre);
  const sections = sectionsOf(downbeats, beats, random);
  const notes = notesOf({ style, metre, beats, sections, random });
  const end = beats.at(-1)! + 60 / bpm;
  return { name: `${style} ${pace} ${seed}`, style, pace, bpm, metre, seconds: end, beats, downbeats, sections, notes };
}

function beatTimes(bpm: number, pace: Pace, metre: number, seconds: number, random: () => number): number[] {
  const beats: number[] = [];
  let at = 0.3 + random() * 0.6;
  let now = bpm;
  const to = bpm * (random() < 0.5 ? 0.86 : 1.16);
  const jumpAt = seconds * (0.4 + random() * 0.2);
  const after = bpm * (random() < 0.5 ? 0.8 : 1.22);
  for (let i = 0; at < seconds; i++) {
    beats.push(at);
    if (pace === 'drift') now = Math.max(bpm * 0.94, Math.min(bpm * 1.06, now * (1 + (random() - 0.5) * 0.012)));
    if (pace === 'ramp') now = bpm + (to - bpm) * Math.min(1, at / seconds);
    if (pace === 'jump' && at > jumpAt && i % metre === 0) now = after;
    at += 60 / now;
  }
  return beats;
}

function sectionsOf(downbeats: readonly number[], beats: readonly number[], random: () => number): Piece['sections'] {
  const found: { from: number; to: number; label: string }[] = [];
  const labels = ['A', 'B', 'A', 'C', 'B', 'A'];
  const length = random() < 0.5 ? 8 : 4;
  for (let bar = 0, n = 0; bar < downbeats.length; bar += length, n++) {
    const from = downbeats[bar]!;
    found.push({ from, to: downbeats[bar + length] ?? beats.at(-1)!, label: labels[n % labels.length]! });
  }
  return found;
}

interface Making {
  readonly style: Style;
  readonly metre: number;
  readonly beats: readonly number[];
  readonly sections: Piece['sections'];
  readonly random: () => number;
}

const hz = (note: number): number => 440 * 2 ** ((note - 69) / 12);

function notesOf({ style, metre, beats, sections, random }: Making): Note[] {
  const notes: Note[] = [];
  const key = 40 + Math.floor(random() * 12);
  const scale = SCALES[random() < 0.6 ? 0 : 1];
  const human = style === 'chip' || style === 'house' ? 0.001 : 0.004 + random() * 0.006;
  const swing = style === 'swing' ? 0.64 : 0.5;
  const songs = new Map<string, readonly number[]>();
  const add = (as: Note['as'], at: number, loud: number, note = 60, long = 0.2): void => {
    notes.push({
      as,
      at: Math.max(0, at + (random() - 0.5) * 2 * human),
      loud: loud * (0.85 + random() * 0.3),
      hz: hz(note),
      long,
    });
  };
  const drums = style !== 'ballad' && style !== 'strings';
  for (let i = 0; i + 1 < beats.length; i++) {
    const [at, next] = [beats[i]!, beats[i + 1]!];
    const long = next - at;
    const place = i % metre;
    const bar = Math.floor(i / metre);
    const section = sections.find((s) => at >= s.from - 0.01 && at < s.to - 0.01) ?? sections.at(-1)!;
    if (!songs.has(section.label)) songs.set(section.label, PROGRESSIONS[Math.floor(random() * PROGRESSIONS.length)]!);
    const chords = songs.get(section.label)!;
    const degree = chords[bar % chords.length]!;
    const chordNote = (step: number): number =>
      key + 12 + scale[(degree + step) % 7]! + 12 * Math.floor((degree + step) / 7);
    const full = section.label !== 'B' || style === 'house';
    const half = at + long * swing;
    if (drums && (full || random() < 0.9)) drumsOf(style, metre, place, bar, at, long, half, full, add, random);
    // Bass: on the first, and as the style has it.
    if (place === 0) add('bass', at, 0.8, chordNote(0) - 24, long * (style === 'house' ? 0.4 : 1.4));
    else if (style === 'house' || style === 'chip') add('bass', half, 0.6, chordNote(0) - 24, long * 0.4);
    else if (style === 'swing') add('bass', at, 0.6, chordNote(place * 2) - 24, long * 0.9);
    else if (random() < 0.45)
      add('bass', random() < 0.6 ? at : half, 0.5, chordNote(random() < 0.5 ? 0 : 4) - 24, long * 0.6);
    // Chords.
    if (style === 'offbeat') {
      for (const step of [0, 2, 4]) add('chord', half, 0.4, chordNote(step), long * 0.25);
      if (place === 0) for (const step of [0, 2, 4]) add('pad', at, 0.12, chordNote(step), long * metre);
    } else if (style === 'strings') {
      if (place === 0) for (const step of [0, 2, 4, 7]) add('pad', at, 0.35, chordNote(step), long * metre * 0.98);
      add('pluck', at, 0.35, chordNote(place * 2) + 12, long);
      if (random() < 0.6) add('pluck', half, 0.25, chordNote(place * 2 + 2) + 12, long * 0.6);
    } else if (style === 'ballad') {
      if (place === 0) for (const step of [0, 2, 4]) add('chord', at, 0.45, chordNote(step), long * metre);
      add('pluck', at, 0.4, chordNote([0, 4, 2, 4][place % 4]!) + 12, long);
      add('pluck', half, 0.3, chordNote([2, 7, 4, 2][place % 4]!) + 12, long * 0.7);
    } else if (style === 'chip') {
      for (let k = 0; k < 4; k++) add('lead', at + (long * k) / 4, 0.28, chordNote([0, 2, 4, 7][k]!) + 12, long / 5);
    } else if (place === 0 || (place === 2 && metre > 3) || (metre === 5 && place === 3))
      for (const step of [0, 2, 4]) add('chord', at, 0.4, chordNote(step), long * 1.7);
    // A tune over it.
    if (style !== 'chip' && random() < (full ? 0.5 : 0.25))
      add('lead', random() < 0.65 ? at : half, 0.3, chordNote(Math.floor(random() * 7)) + 12, long * (0.4 + random()));
  }
  return notes.sort((a, b) => a.at - b.at);
}

type Add = (as: Note['as'], at: number, loud: number, note?: number, long?: number) => void;

function drumsOf(
  style: Style,
  metre: number,
  place: number,
  bar: number,
  at: number,
  long: number,
  half: number,
  full: boolean,
  add: Add,
  random: () => number,
): void {
  const fill = bar % 4 === 3 && place === metre - 1 && random() < 0.6;
  if (fill) for (const k of [0.25, 0.5, 0.75]) add('snare', at + long * k, 0.45);
  switch (style) {
    case 'house':
      if (full || bar % 8 > 3) add('kick', at, 1);
      add('open', half, 0.5);
      if (place % 2 === 1) add('clap', at, 0.7);
      add('hat', at + long * 0.25, 0.25);
      add('hat', at + long * 0.75, 0.25);
      return;
    case 'breaks':
      if (place === 0 || (place === 2 && random() < 0.3)) add('kick', at, 1);
      if (place === 2) add('kick', half, 0.9);
      if (place % 2 === 1) add('snare', at, 0.95);
      if (random() < 0.4) add('snare', at + long * 0.75, 0.3);
      add('hat', at, 0.4);
      add('hat', half, 0.4);
      return;
    case 'halftime':
      if (place === 0) add('kick', at, 1);
      if (place === 2) add('snare', at, 0.95);
      if (place === 1 && random() < 0.5) add('kick', half, 0.7);
      for (let k = 0; k < 4; k++) add('hat', at + (long * k) / 4, k === 0 ? 0.45 : 0.25);
      return;
    case 'swing':
      add('hat', at, place % 2 === 1 ? 0.5 : 0.35);
      if (place % 2 === 1) add('hat', half, 0.4);
      if (place === 0) add('kick', at, 0.5);
      if (place % 2 === 1) add('snare', at, 0.3);
      return;
    case 'march':
      if (place === 0) add('kick', at, 0.9);
      else add('snare', at, 0.7);
      add('snare', half, 0.25);
      return;
    case 'offbeat':
      if (place === 2) {
        add('kick', at, 0.9);
        add('snare', at, 0.7);
      }
      add('hat', half, 0.4);
      return;
    default: {
      const backbeat =
        metre === 4
          ? place % 2 === 1
          : metre === 3
            ? place > 0
            : metre === 6
              ? place === 3
              : place === 2 || place === metre - 2;
      if (place === 0) add('kick', at, 1);
      else if (metre === 4 && place === 2 && random() < 0.75) add('kick', at, 0.85);
      else if (random() < 0.2) add('kick', half, 0.7);
      if (backbeat) add('snare', at, metre === 3 ? 0.45 : 0.9);
      add('hat', at, 0.4);
      if (metre !== 6) add('hat', half, 0.3);
    }
  }
}
