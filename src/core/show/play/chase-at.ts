import { lastAt } from '../../song/grid.ts';
import type { ChaseProgram } from './chase.ts';

/** Where a chase is: fading from step `from` (-1: from nothing) to step `to`, `mix` 0-1 of the way. */
export interface ChasePoint {
  from: number;
  to: number;
  mix: number;
}

/**
 * The steps of a chase at `elapsed` (seconds or beats, as the chase counts) since its start; fills and returns `into`.
 * Before the start and for a chase without steps `to` is -1. A chase whose times are all 0 stays on its first step.
 * O(log steps).
 */
export function chaseAt(program: ChaseProgram, elapsed: number, into: ChasePoint): ChasePoint {
  const count = program.sequence.length;
  into.from = -1;
  into.to = -1;
  into.mix = 1;
  if (count === 0 || elapsed < 0) return into;
  if (program.total <= 0) {
    into.to = program.sequence[0]!;
    return into;
  }
  const ends = program.length !== null;
  const round = ends ? 0 : Math.floor(elapsed / program.total);
  const within = ends ? Math.min(elapsed, program.total) : elapsed - round * program.total;
  const low = Math.max(0, lastAt(program.starts, within));
  into.to = program.sequence[low]!;
  const fade = program.fades[low]!;
  into.mix = fade <= 0 ? 1 : Math.min(1, (within - program.starts[low]!) / fade);
  if (into.mix < 1) into.from = low > 0 ? program.sequence[low - 1]! : round > 0 ? program.sequence[count - 1]! : -1;
  return into;
}
