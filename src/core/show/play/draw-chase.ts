import type { ChaseProgram } from './chase.ts';
import { PLAIN } from '../effect/shape.ts';
import { chaseAt, type ChasePoint } from './chase-at.ts';
import type { Draw, Laid, LayerTime } from './drawing.ts';
import { applyLevel, applyRow, type Merging } from './merge.ts';
import { drawTravel } from './draw-travel.ts';
import type { Play } from '../live/state.ts';

const point: ChasePoint = { from: -1, to: -1, mix: 1 };
/** How what moves in a step is laid: its levels are always compared, by the other steps. */
const within = { play: null as Play | null, rank: 0, compared: true, levelsOnly: false, shape: { ...PLAIN } };

/** Lays a chase over what is there, `elapsed` as it counts. `draw` draws what moves by itself in a step. */
export function drawChase(
  into: Merging,
  program: ChaseProgram,
  elapsed: number,
  level: number,
  laid: Laid,
  time: LayerTime,
  draw: Draw,
): void {
  if (level <= 0) return;
  within.shape = laid.shape;
  if (program.moving) drawMoving(into, program, elapsed, level, laid.play, laid.rank, time, draw);
  else drawStill(into, program, elapsed, level, laid);
}

function drawStill(
  into: Merging,
  program: ChaseProgram,
  elapsed: number,
  level: number,
  { rank, levelsOnly }: Laid,
): void {
  const { from, to, mix } = chaseAt(program, elapsed, point);
  if (to < 0) return;
  const { table, complete } = program;
  const width = program.slots.length;
  const whole = complete[to] === 1;
  if (whole && (from < 0 || mix >= 1)) {
    const weight = level * mix;
    if (weight > 0) applyRow(into, program, table, to * width, rank, weight, levelsOnly);
    else applyJumps(into, program, to * width);
  } else if (whole && complete[from] === 1) {
    applyBetween(into, program, table, from * width, table, to * width, mix, rank, level, levelsOnly);
  } else applyPartly(into, program, from < 0 ? -1 : from * width, to * width, mix, rank, level);
  if (program.travellers.length > 0 && !levelsOnly)
    drawTravel(into.current, program, program.travellers, from, to, mix, level);
}

/** At the very start of a fade from nothing only what jumps is there. */
function applyJumps(into: Merging, { slots, table, htpEnd, snapEnd }: ChaseProgram, at: number): void {
  for (let i = htpEnd; i < snapEnd; i++) into.current[slots[i]!] = table[at + i]!;
}

/** Between two rows that both touch every slot. */
function applyBetween(
  into: Merging,
  { slots, htpEnd, snapEnd, runs }: ChaseProgram,
  before: Float32Array,
  from: number,
  after: Float32Array,
  to: number,
  mix: number,
  rank: number,
  level: number,
  levelsOnly = false,
): void {
  const { current } = into;
  for (let i = 0; i < htpEnd; i++) {
    const value = before[from + i]!;
    applyLevel(into, slots[i]!, value + (after[to + i]! - value) * mix, rank, level);
  }
  if (levelsOnly) return;
  for (let i = htpEnd; i < snapEnd; i++) current[slots[i]!] = after[to + i]!;
  for (let r = 0; r < runs.length; r += 2) {
    const count = runs[r + 1]!;
    const slot = slots[runs[r]!]!;
    const [a, b] = [from + runs[r]!, to + runs[r]!];
    if (level >= 1)
      for (let i = 0; i < count; i++) {
        const value = before[a + i]!;
        current[slot + i] = value + (after[b + i]! - value) * mix;
      }
    else
      for (let i = 0; i < count; i++) {
        const value = before[a + i]!;
        const below = current[slot + i]!;
        current[slot + i] = below + (value + (after[b + i]! - value) * mix - below) * level;
      }
  }
}

/** Between steps that touch different slots: what only one of them touches fades in from or out to what is below. */
function applyPartly(
  into: Merging,
  program: ChaseProgram,
  from: number,
  to: number,
  mix: number,
  rank: number,
  level: number,
): void {
  const { slots, table, htpEnd, snapEnd } = program;
  const { current } = into;
  for (let i = 0; i < slots.length; i++) {
    const slot = slots[i]!;
    const before = from < 0 || mix >= 1 ? NaN : table[from + i]!;
    const after = table[to + i]!;
    const hasBefore = before === before;
    const hasAfter = after === after;
    const snaps = i >= htpEnd && i < snapEnd;
    if (snaps) {
      if (hasAfter) current[slot] = after;
      continue;
    }
    if (!hasBefore && !hasAfter) continue;
    const value = hasBefore && hasAfter ? before + (after - before) * mix : hasAfter ? after : before;
    const weight = (hasBefore && hasAfter ? 1 : hasAfter ? mix : 1 - mix) * level;
    if (weight <= 0) continue;
    if (i < htpEnd) applyLevel(into, slot, value, rank, weight);
    else if (weight >= 1) current[slot] = value;
    else current[slot] = current[slot]! + (value - current[slot]!) * weight;
  }
}

/** Steps that move by themselves: each is drawn over what is below, then one fades into the other. */
function drawMoving(
  into: Merging,
  program: ChaseProgram,
  elapsed: number,
  level: number,
  play: Play,
  rank: number,
  time: LayerTime,
  draw: Draw,
): void {
  const { from, to, mix } = chaseAt(program, elapsed, point);
  if (to < 0) return;
  const moving = program.moving!;
  keep(into, program);
  drawStep(into, program, to, play, rank, time, draw);
  take(into, program, moving.to);
  if (from >= 0 && mix < 1) {
    drawStep(into, program, from, play, rank, time, draw);
    take(into, program, moving.from);
  } else moving.from.set(moving.keptValue);
  applyBetween(into, program, moving.from, 0, moving.to, 0, mix, rank, level);
}

function keep(into: Merging, { slots, moving }: ChaseProgram): void {
  for (let i = 0; i < slots.length; i++) {
    const slot = slots[i]!;
    moving!.keptValue[i] = into.current[slot]!;
    moving!.keptBase[i] = into.base[slot]!;
    moving!.keptRank[i] = into.rank[slot]!;
  }
}

/** Takes what was drawn into a row, and puts back what was below. */
function take(into: Merging, { slots, moving }: ChaseProgram, row: Float32Array): void {
  for (let i = 0; i < slots.length; i++) {
    const slot = slots[i]!;
    row[i] = into.current[slot]!;
    into.current[slot] = moving!.keptValue[i]!;
    into.base[slot] = moving!.keptBase[i]!;
    into.rank[slot] = moving!.keptRank[i]!;
  }
}

/** One step at full. What moves in it has run since the chase was started. */
function drawStep(
  into: Merging,
  program: ChaseProgram,
  step: number,
  play: Play,
  rank: number,
  time: LayerTime,
  draw: Draw,
): void {
  const { slots, table, htpEnd, moving } = program;
  const shown = moving!.programs[step]!;
  if (shown) {
    const passed = shown.beats ? time.beat - play.startedBeat : (time.ms - play.startedAt) / 1000;
    const { from, to, mix } = point;
    within.play = play;
    within.rank = rank;
    draw(into, shown, passed * shown.rate, 1, within as Laid, time);
    // A chase within used the same point.
    point.from = from;
    point.to = to;
    point.mix = mix;
    return;
  }
  const at = step * slots.length;
  for (let i = 0; i < slots.length; i++) {
    const value = table[at + i]!;
    if (value !== value) continue;
    if (i < htpEnd) applyLevel(into, slots[i]!, value, rank, 1);
    else into.current[slots[i]!] = value;
  }
}
