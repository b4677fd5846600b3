import { analyse } from '../../src/core/music/analyse.ts';
import { beatMeasures, COUNTED_FROM_S, fMeasure, tempoOf } from '../../src/core/music/measures.ts';
import { compose, STYLES, type Pace, type Piece } from './compose.ts';
import { record } from './band/render.ts';
import { composeBand, type Score } from './band/score.ts';
import { STYLES as BAND_STYLES } from './band/styles.ts';
import type { Sound } from '../../src/core/music/sound.ts';
import { DRY, synthesise } from '../../src/sound/synth.ts';

/** Pieces of one half: even seeds are for working, odd ones for judging. */
export function pieces(half: 'work' | 'judge', rounds: number): Piece[] {
  const paces: Pace[] = ['steady', 'drift', 'steady', 'ramp', 'jump', 'drift'];
  const found: Piece[] = [];
  for (let r = 0; r < rounds; r++)
    for (const [i, style] of STYLES.entries()) {
      const seed = 1000 + (r * STYLES.length + i) * 2 + (half === 'judge' ? 1 : 0);
      found.push(compose(seed, style, paces[(r + i) % paces.length]!));
    }
  return found;
}

/** What is known of a piece. */
export type Truth = Pick<Piece, 'name' | 'style' | 'metre' | 'beats' | 'downbeats' | 'sections'>;

export interface Judged {
  readonly piece: Omit<Truth, 'style'> & { readonly style: string };
  readonly f: number;
  readonly cmlt: number;
  readonly amlt: number;
  readonly acc1: boolean;
  readonly acc2: boolean;
  readonly downbeats: number;
  readonly metre: boolean;
  /** F of the boundaries of sections within half a second, and within three. */
  readonly sections: number;
  readonly sections3: number;
  readonly heardBpm: number;
}

/** The recording of a piece of ours: in a room, dry, or driven hard. */
export function recordingOf(piece: Piece): Sound {
  const n = Number(/\d+$/.exec(piece.name)![0]);
  const mix =
    n % 3 === 0 ? { room: true, noise: 0.004, drive: 1.4 } : n % 3 === 1 ? DRY : { room: false, noise: 0.01, drive: 2 };
  return synthesise(piece, mix, n);
}

/** Pieces of the sampled band that are kept for judging, with their recordings: a style after the other. */
export function* band(half: 'work' | 'judge', rounds: number): Generator<readonly [Score, Sound]> {
  let n = 0;
  for (let r = 0; r < rounds; r++)
    for (const style of Object.keys(BAND_STYLES)) {
      const seed = 50_000 + 2 * n++ + (half === 'judge' ? 1 : 0);
      const score = composeBand(seed, style);
      yield [score, record(score, seed)];
    }
}

export function judge(piece: Judged['piece'], sound: Sound): Judged {
  const heard = analyse(sound);
  const late = (times: readonly number[]): number[] => times.filter((t) => t >= COUNTED_FROM_S);
  return {
    piece,
    ...beatMeasures(heard.beats, piece.beats),
    downbeats: fMeasure(late(heard.downbeats), late(piece.downbeats)),
    metre: heard.metre === piece.metre,
    sections: boundaries(heard.sections, piece.sections, 0.5),
    sections3: boundaries(heard.sections, piece.sections, 3),
    heardBpm: tempoOf(heard.beats),
  };
}

/** F of where sections begin, the beginning of the piece left out, and what is nearer to it or its end than counts. */
function boundaries(heard: readonly { from: number }[], truth: readonly { from: number }[], within: number): number {
  const inner = (list: readonly { from: number }[]): number[] => list.slice(1).map(({ from }) => from);
  const [found, wanted] = [inner(heard), inner(truth)];
  const near = (at: number, list: readonly number[]): boolean => list.some((other) => Math.abs(other - at) <= within);
  const right = found.filter((at) => near(at, wanted)).length;
  const met = wanted.filter((at) => near(at, found)).length;
  const [precision, recall] = [right / Math.max(1, found.length), met / Math.max(1, wanted.length)];
  return precision + recall === 0 ? 0 : (2 * precision * recall) / (precision + recall);
}

const mean = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0) / Math.max(1, list.length);
export function summary(list: readonly Judged[]): Record<string, number> {
  const of = (pick: (j: Judged) => number | boolean): number =>
    Math.round(mean(list.map((j) => Number(pick(j)))) * 1000) / 1000;
  return {
    pieces: list.length,
    f: of((j) => j.f),
    cmlt: of((j) => j.cmlt),
    amlt: of((j) => j.amlt),
    acc1: of((j) => j.acc1),
    acc2: of((j) => j.acc2),
    downbeats: of((j) => j.downbeats),
    metre: of((j) => j.metre),
    'sections within 0.5 s': of((j) => j.sections),
    'sections within 3 s': of((j) => j.sections3),
  };
}
