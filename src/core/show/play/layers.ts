import type { ChaseProgram, MovingProgram } from './chase.ts';
import { chaseAt, type ChasePoint } from './chase-at.ts';
import { endedMsAgo, fadeLevel, playLevel, positionOf } from './clock.ts';
import { applyEffect } from '../effect/draw.ts';
import { applyLevel, applyRow, type Merging } from './merge.ts';
import type { Program, SceneProgram } from './program.ts';
import type { BeatMap } from './beat-map.ts';
import type { Play } from '../live/state.ts';

/** Something that plays, ready to be drawn. `failed` says why it was taken out; the rest goes on without it. */
export interface Layer {
  readonly play: Play;
  readonly program: Program;
  /** What decides between layers: see `rankOf`. */
  readonly rank: number;
  /** A later layer of this rank compares its levels with what was below the rank. */
  readonly compared: boolean;
  /** Later layers (by place) that hide this one whole while they are at full. */
  readonly coveredBy: readonly number[];
  failed: string | null;
}

/** The moment that layers are drawn at: time, beat and tempo. */
export interface LayerTime {
  ms: number;
  beat: number;
  tempo: BeatMap;
}

/** Above every rank that something playing can have. */
export const HAND_RANK = 1_000_000;
const FLASH_RANK = 500_000;

/**
 * Who wins: a flash over all that plays; what an area plays of its own over what the room around it plays, the deeper
 * area first; then the priority (0-200). Inside a rank levels merge highest-takes-precedence, the rest
 * latest-takes-precedence.
 */
export const rankOf = (play: Play, program: Program, areaDepth: number): number =>
  (play.flash ? FLASH_RANK : 0) + areaDepth * 1000 + program.priority;

const point: ChasePoint = { from: -1, to: -1, mix: 1 };

/** Level 0-1 of a layer at a moment. */
export const levelOf = ({ play, program }: Layer, time: LayerTime): number =>
  playLevel(play, program, time.ms, endedMsAgo(play, program, time.tempo, time.ms));

/** True where nothing of a layer is to be seen at a moment: one that lies over it is in at full. */
export function isCovered(layers: readonly Layer[], { coveredBy }: Layer, time: LayerTime): boolean {
  for (let i = 0; i < coveredBy.length; i++) {
    const over = layers[coveredBy[i]!]!;
    if (over.failed === null && levelOf(over, time) >= 1) return true;
  }
  return false;
}

/** True where a layer gives the same values from now on, until the live state changes. */
export function isStill(layer: Layer, time: LayerTime): boolean {
  const { play, program } = layer;
  if (play.releasedAt !== null || levelOf(layer, time) < 1) return false;
  if (program.type === 'effect') return program.rate === 0 || play.speed === 0;
  return program.type === 'scene' && program.times === null;
}

/** Lays one layer over what is there. Allocates nothing. */
export function applyLayer(into: Merging, layer: Layer, time: LayerTime): void {
  const { play, program, rank, compared } = layer;
  if (program.type === 'scene' && program.times) return applyTimed(into, layer, program, time.ms);
  const level = levelOf(layer, time);
  if (level <= 0) return;
  if (program.type === 'scene') applyRow(into, program, program.values, 0, rank, level);
  else if (program.type === 'effect')
    applyEffect(into, program, positionOf(play, program, time.ms, time.beat), rank, level, compared);
  else applyMoving(into, program, positionOf(play, program, time.ms, time.beat), play, time, rank, level);
}

/** A chase or an effect at a position of its own clock. */
function applyMoving(
  into: Merging,
  program: MovingProgram,
  position: number,
  play: Play,
  time: LayerTime,
  rank: number,
  level: number,
): void {
  if (program.type === 'effect') applyEffect(into, program, position, rank, level);
  else if (program.moving) applyMovingChase(into, program, position, play, time, rank, level);
  else applyChase(into, program, position, rank, level);
}

/** A scene whose attributes have times of their own. */
function applyTimed(into: Merging, { play, rank }: Layer, program: SceneProgram, nowMs: number): void {
  const { slots, values, htpEnd } = program;
  const times = program.times!;
  const { current } = into;
  for (let i = 0; i < slots.length; i++) {
    const inMs = play.flash ? 0 : (play.fadeInMs ?? times.fadeInMs[i]!);
    const outMs = play.flash ? 0 : (play.fadeOutMs ?? times.fadeOutMs[i]!);
    const from = play.startedAt + (play.flash ? 0 : times.delayMs[i]!);
    const level = fadeLevel(from, inMs, play.releasedAt ?? Infinity, outMs, nowMs);
    const jumps = times.snap[i] === 1 && nowMs >= play.startedAt + times.delayMs[i]! && play.releasedAt === null;
    if (level <= 0 && !jumps) continue;
    const weight = times.snap[i] === 1 ? 1 : level;
    const slot = slots[i]!;
    if (i < htpEnd) applyLevel(into, slot, values[i]!, rank, weight);
    else current[slot] = current[slot]! + (values[i]! - current[slot]!) * weight;
  }
}

function applyChase(into: Merging, program: ChaseProgram, elapsed: number, rank: number, level: number): void {
  const { from, to, mix } = chaseAt(program, elapsed, point);
  if (to < 0) return;
  const { table, complete } = program;
  const width = program.slots.length;
  const whole = complete[to] === 1;
  if (whole && (from < 0 || mix >= 1)) {
    const weight = level * mix;
    if (weight > 0) applyRow(into, program, table, to * width, rank, weight);
    else applyJumps(into, program, to * width);
  } else if (whole && complete[from] === 1) {
    applyBetween(into, program, table, from * width, table, to * width, mix, rank, level);
  } else applyPartly(into, program, from < 0 ? -1 : from * width, to * width, mix, rank, level);
}

/** At the very start of a fade from nothing only what jumps is there. */
function applyJumps(into: Merging, { slots, table, htpEnd, snapEnd }: ChaseProgram, at: number): void {
  for (let i = htpEnd; i < snapEnd; i++) into.current[slots[i]!] = table[at + i]!;
}

/** Between two rows that both touch every slot. */
function applyBetween(
  into: Merging,
  { slots, htpEnd, snapEnd }: ChaseProgram,
  before: Float32Array,
  from: number,
  after: Float32Array,
  to: number,
  mix: number,
  rank: number,
  level: number,
): void {
  const { current } = into;
  for (let i = 0; i < htpEnd; i++) {
    const value = before[from + i]!;
    applyLevel(into, slots[i]!, value + (after[to + i]! - value) * mix, rank, level);
  }
  for (let i = htpEnd; i < snapEnd; i++) current[slots[i]!] = after[to + i]!;
  for (let i = snapEnd; i < slots.length; i++) {
    const slot = slots[i]!;
    const value = before[from + i]!;
    const mixed = value + (after[to + i]! - value) * mix;
    const below = current[slot]!;
    current[slot] = level >= 1 ? mixed : below + (mixed - below) * level;
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
function applyMovingChase(
  into: Merging,
  program: ChaseProgram,
  elapsed: number,
  play: Play,
  time: LayerTime,
  rank: number,
  level: number,
): void {
  const { from, to, mix } = chaseAt(program, elapsed, point);
  if (to < 0) return;
  const moving = program.moving!;
  keep(into, program);
  drawStep(into, program, to, play, time, rank);
  take(into, program, moving.to);
  if (from >= 0 && mix < 1) {
    drawStep(into, program, from, play, time, rank);
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
function drawStep(into: Merging, program: ChaseProgram, step: number, play: Play, time: LayerTime, rank: number): void {
  const { slots, table, htpEnd, moving } = program;
  const shown = moving!.programs[step]!;
  if (shown) {
    const passed = shown.beats ? time.beat - play.startedBeat : (time.ms - play.startedAt) / 1000;
    const { from, to, mix } = point;
    applyMoving(into, shown, passed * shown.rate, play, time, rank, 1);
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
