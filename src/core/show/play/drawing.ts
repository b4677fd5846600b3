import type { EffectProgram } from '../effect/compile.ts';
import { eachSlotOfEffect } from '../effect/touches.ts';
import { applyEffect } from '../effect/draw.ts';
import type { Shape } from '../effect/shape.ts';
import type { Play } from '../live/state.ts';
import type { BeatMap } from './beat-map.ts';
import { drawChase } from './draw-chase.ts';
import { drawScene } from './draw-scene.ts';
import type { Merging } from './merge.ts';
import type { Program, SceneProgram } from './program.ts';
import type { ChaseProgram } from './chase.ts';
import type { SlotList } from '../rig/values.ts';

/** The moment that layers are drawn at: time, beat and tempo. */
export interface LayerTime {
  ms: number;
  beat: number;
  tempo: BeatMap;
}

/**
 * How a program is laid: for which play, in which rank, whether a later layer of the rank compares with what was below,
 * whether its levels are all that is asked for, because the rest of it is hidden; and how large its effects are and by
 * how many turns their colours are turned.
 */
export interface Laid {
  play: Play;
  rank: number;
  compared: boolean;
  levelsOnly: boolean;
  shape: Shape;
}

/** Draws a program at a position of its own clock and a level of 0-1: at nothing it leaves no trace. Allocates nothing. */
export type Draw<P = Program> = (
  into: Merging,
  program: P,
  position: number,
  level: number,
  laid: Laid,
  time: LayerTime,
) => void;

/** What the renderer asks of everything that can play, besides its span. */
export interface Drawing<P> {
  readonly draw: Draw<P>;
  /** Visits the attribute slots it may write to; some twice. */
  readonly touches: (program: P, visit: (slot: number) => void) => void;
  /** True where it gives the same values from now on while it is at full. */
  readonly isStill: (program: P, play: Play) => boolean;
  /** True where its levels are compared with what was below its rank. */
  readonly compares: (program: P) => boolean;
  /** Visits the slots whose value, at full, has nothing to do with what is below; null where there are none for sure. */
  readonly replaces: (program: P) => ((visit: (slot: number) => void) => void) | null;
  /** True where it replaces them at a position of its own clock already. */
  readonly hasBegun: (program: P, position: number) => boolean;
  /** Visits what it touches besides levels, where it can be drawn without; null where it cannot. */
  readonly rest: (program: P) => ((visit: (slot: number) => void) => void) | null;
}

const besideLevels =
  ({ slots, htpEnd }: SlotList) =>
  (visit: (slot: number) => void): void => {
    for (let i = htpEnd; i < slots.length; i++) visit(slots[i]!);
  };
const restOfScene = (program: SceneProgram) => (program.times ? null : besideLevels(program));
const restOfChase = (program: ChaseProgram) => (program.moving ? null : besideLevels(program));

/** One entry for each kind of program: whoever adds one says all of it. */
const DRAWINGS: { readonly [T in Program['type']]: Drawing<Extract<Program, { type: T }>> } = {
  scene: {
    draw: drawScene,
    touches: ({ slots }, visit) => slots.forEach((slot) => visit(slot)),
    isStill: ({ times }) => times === null,
    compares: () => true,
    replaces: restOfScene,
    hasBegun: () => true,
    rest: restOfScene,
  },
  chase: {
    draw: (into, program, position, level, laid, time) =>
      drawChase(into, program, position, level, laid, time, drawProgram),
    touches: ({ slots }, visit) => slots.forEach((slot) => visit(slot)),
    isStill: () => false,
    compares: () => true,
    replaces: (program) => (program.complete.every((whole) => whole === 1) ? restOfChase(program) : null),
    // From nothing to its first step it fades over what is below.
    hasBegun: ({ total, fades }, position) => total <= 0 || position >= (fades[0] ?? 0),
    rest: restOfChase,
  },
  effect: {
    draw(into, program, turns, level, { rank, compared, shape }) {
      if (level > 0) applyEffect(into, program, turns, rank, level, compared, shape);
    },
    touches: eachSlotOfEffect,
    isStill: ({ rate }, { speed }) => rate === 0 || speed === 0,
    compares: ({ levels }) => levels === 'highest',
    replaces: (program) =>
      program.levels === 'over' && program.scaled === null && (program.doesLevel || program.doesColour)
        ? (visit) => replacedByEffect(program, visit)
        : null,
    hasBegun: () => true,
    rest: () => null,
  },
};

function replacedByEffect({ elements, doesLevel, doesColour }: EffectProgram, visit: (slot: number) => void): void {
  for (let i = 0; i < elements.count; i++) {
    const [level, colour] = [elements.level[i]!, elements.colour[i]!];
    if (doesLevel && level >= 0) visit(level);
    if (doesColour && colour >= 0) for (let c = 0; c < 3; c++) visit(colour + c);
  }
  if (!doesLevel) return;
  elements.opens.forEach((slot) => visit(slot));
  elements.above.forEach((slot) => visit(slot));
}

export const drawingOf = (program: Program): Drawing<Program> => DRAWINGS[program.type] as Drawing<Program>;

/** Draws whatever plays. */
export const drawProgram: Draw = (into, program, position, level, laid, time) =>
  drawingOf(program).draw(into, program, position, level, laid, time);

/** All attribute slots a program may write to. */
export function slotsOf(program: Program): ReadonlySet<number> {
  const found = new Set<number>();
  drawingOf(program).touches(program, (slot) => found.add(slot));
  return found;
}
