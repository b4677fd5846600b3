import { analyse } from '../../src/core/music/analyse.ts';
import { beatMeasures, COUNTED_FROM_S, fMeasure, tempoOf } from '../../src/core/music/measures.ts';
import { compose, STYLES, type Pace, type Piece } from './compose.ts';
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

export interface Judged {
  readonly piece: Piece;
  readonly f: number;
  readonly cmlt: number;
  readonly amlt: number;
  readonly acc1: boolean;
  readonly acc2: boolean;
  readonly downbeats: number;
  readonly metre: boolean;
  readonly heardBpm: number;
}

export function judge(piece: Piece): Judged {
  const n = Number(/\d+$/.exec(piece.name)![0]);
  const mix =
    n % 3 === 0 ? { room: true, noise: 0.004, drive: 1.4 } : n % 3 === 1 ? DRY : { room: false, noise: 0.01, drive: 2 };
  const heard = analyse(synthesise(piece, mix, n));
  const late = (times: readonly number[]): number[] => times.filter((t) => t >= COUNTED_FROM_S);
  return {
    piece,
    ...beatMeasures(heard.beats, piece.beats),
    downbeats: fMeasure(late(heard.downbeats), late(piece.downbeats)),
    metre: heard.metre === piece.metre,
    heardBpm: tempoOf(heard.beats),
  };
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
  };
}
