import { shuffledOrder } from '../../random.ts';
import type { ChaseRecord } from '../../records/index.ts';
import type { EffectProgram } from '../effect/compile.ts';
import type { CompiledRig } from '../rig/rig.ts';
import type { Traveller } from './travel.ts';
import { ENDLESS, type Span } from './span.ts';
import { slotList, type SlotList, type SlotValues } from '../rig/values.ts';

/**
 * A chase against one rig. `table[step x slots.length + i]` is the value of `slots[i]` in that step, NaN where the
 * step does not touch it; `complete[step]` is 1 where it touches all. `sequence` is one whole round of steps, `starts`
 * when each begins (in seconds or beats from the round's beginning), `fades` how long it fades in.
 */
export interface ChaseProgram extends SlotList, Span {
  readonly type: 'chase';
  readonly table: Float32Array;
  readonly complete: Uint8Array;
  readonly sequence: Int32Array;
  readonly starts: Float64Array;
  readonly fades: Float64Array;
  readonly total: number;
  /** What moves by itself in a step (another chase, an effect), by step; null where all steps stand still. */
  readonly moving: Moving | null;
  /** Heads that go from step to step along straight lines; none where they go as they turn. */
  readonly travellers: readonly Traveller[];
}

/** What moves by itself. */
export type MovingProgram = ChaseProgram | EffectProgram;

/** Steps that move, and room to draw two of them: values, ranks and bases of `slots`. */
export interface Moving {
  readonly programs: readonly (MovingProgram | null)[];
  readonly from: Float32Array;
  readonly to: Float32Array;
  readonly keptValue: Float32Array;
  readonly keptBase: Float32Array;
  readonly keptRank: Int32Array;
}

/** Rounds of a shuffled chase that are laid out before it repeats; fewer for very long ones. */
const SHUFFLED_ROUNDS = 16;
const SHUFFLED_STEPS = 4096;

/** One round of step indices in playing order. */
export function sequenceOf(chase: ChaseRecord): number[] {
  const count = chase.steps.length;
  const forward = Array.from({ length: count }, (_, i) => i);
  const straight = chase.direction === 'forward' ? forward : [...forward].reverse();
  switch (chase.order) {
    case 'repeat':
    case 'once':
      return straight;
    case 'thereAndBack':
      return count < 3 ? straight : [...straight, ...straight.slice(1, -1).reverse()];
    case 'shuffled': {
      const rounds = Math.max(1, Math.min(SHUFFLED_ROUNDS, Math.floor(SHUFFLED_STEPS / Math.max(1, count))));
      return Array.from({ length: rounds }, (_, i) => shuffledOrder(count, chase.seed + i)).flat();
    }
  }
}

/** When each step of a round begins, how long it fades in, and how long the round is: seconds or beats. */
export function stepStarts(chase: ChaseRecord): {
  sequence: number[];
  starts: number[];
  fades: number[];
  total: number;
} {
  const sequence = sequenceOf(chase);
  const starts: number[] = [];
  const fades: number[] = [];
  let total = 0;
  for (const index of sequence) {
    const step = chase.steps[index]!;
    const fade = step.fade ?? chase.fade;
    starts.push(total);
    fades.push(fade);
    total += fade + (step.hold ?? chase.hold);
  }
  return { sequence, starts, fades, total };
}

/** What one step shows: values, or something that moves by itself with the slots it may write to. */
export type StepShown = SlotValues | { readonly program: MovingProgram; readonly slots: ReadonlySet<number> };

/** No column of a chase: it does not touch the slot. */
const NONE = -1;

/** Puts a chase together from what its steps show. */
export function assembleChase(rig: CompiledRig, chase: ChaseRecord, looks: readonly StepShown[]): ChaseProgram {
  const column = new Int32Array(rig.arrays.slotCount).fill(NONE);
  for (const { slots } of new Set(looks)) for (const slot of slots) column[slot] = 0;
  const list = slotList(rig, (slot) => column[slot] !== NONE);
  list.slots.forEach((slot, i) => (column[slot] = i));
  const width = list.slots.length;
  const table = new Float32Array(width * chase.steps.length).fill(NaN);
  const complete = new Uint8Array(chase.steps.length);
  looks.forEach((look, row) => {
    if ('program' in look) return;
    complete[row] = look.slots.length === width ? 1 : 0;
    for (let i = 0; i < look.slots.length; i++) table[row * width + column[look.slots[i]!]!] = look.values[i]!;
  });
  const { sequence, starts, fades, total } = stepStarts(chase);
  const { priority, fadeInMs, fadeOutMs } = chase;
  const moves = looks.some((look) => 'program' in look);
  return {
    ...ENDLESS,
    type: 'chase',
    priority,
    fadeInMs,
    fadeOutMs,
    ...list,
    table,
    complete,
    sequence: Int32Array.from(sequence),
    starts: Float64Array.from(starts),
    fades: Float64Array.from(fades),
    total,
    length: chase.order === 'once' ? total : null,
    beats: chase.timeUnit === 'beats',
    travellers: [],
    moving: moves
      ? {
          programs: looks.map((look) => ('program' in look ? look.program : null)),
          from: new Float32Array(width),
          to: new Float32Array(width),
          keptValue: new Float32Array(width),
          keptBase: new Float32Array(width),
          keptRank: new Int32Array(width),
        }
      : null,
  };
}
