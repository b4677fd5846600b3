import { endedMsAgo, playLevel, positionOf } from './clock.ts';
import { drawingOf, drawProgram, type LayerTime } from './drawing.ts';
import type { Shape } from '../effect/shape.ts';
import type { Merging } from './merge.ts';
import type { Program } from './program.ts';
import { steered } from './exact.ts';
import { isAuto, songHeight } from './own-plays.ts';
import type { Play } from '../live/state.ts';

/** Something that plays, ready to be drawn. `failed` says why it was taken out; the rest goes on without it. */
export interface Layer {
  readonly play: Play;
  readonly program: Program;
  /** What decides between layers: see `rankOf`. */
  readonly rank: number;
  /** A later layer of this rank compares its levels with what was below the rank. */
  readonly compared: boolean;
  /** Later layers (by place) that hide this one while they are at full: whole, or all but its levels. */
  readonly coveredBy: readonly number[];
  readonly restCoveredBy: readonly number[];
  /** The rest of it is hidden in this frame. */
  levelsOnly: boolean;
  /** What its curves make of it in this frame. */
  readonly shape: Shape;
  failed: string | null;
}

/** Light that runs by itself lies under everything that people play, and its areas among themselves alike. */
const AUTO_RANK = -1_000_000;
const AUTO_LIGHT = 100;
const SONG_RANK = -500_000;
/** Lanes that are not live: over pads, under flashes. */
const EXACT_RANK = 400_000;
/** Above every rank that something playing can have. */
export const HAND_RANK = 1_000_000;
const FLASH_RANK = 500_000;

/**
 * Who wins: a flash over all that plays, all of that over what runs by itself; what an area plays of its own over what the room around it plays, the deeper
 * area first; then the priority (0-200). Inside a rank levels merge highest-takes-precedence, the rest
 * latest-takes-precedence.
 */
export const rankOf = (play: Play, program: Program, areaDepth: number): number =>
  songRank(play) ??
  (play.flash ? FLASH_RANK : isAuto(play) ? AUTO_RANK : 0) + areaDepth * 1000 + priorityIn(play, program);

/** Blocks of a song lie between those: under what people play (or over it, where their lane says so), over what runs by itself. */
function songRank(play: Play): number | null {
  const found = songHeight(play);
  return found && (found.over ? EXACT_RANK : SONG_RANK) + found.height;
}

/** What runs by itself brings light over what its mood says of shutters. */
const priorityIn = (play: Play, { priority }: Program): number =>
  isAuto(play) && play.target === null ? AUTO_LIGHT : priority;

/** Level 0-1 of a layer at a moment. */
export const levelOf = ({ play, program }: Layer, time: LayerTime): number =>
  playLevel(play, program, time.ms, endedMsAgo(play, program, time.tempo, time.ms)) *
  (play.exact ? steered(play.exact, 'level', time.ms) : 1);

/** True where one of these layers, which lie over another, is in at full at a moment. */
export function isCovered(layers: readonly Layer[], coveredBy: readonly number[], time: LayerTime): boolean {
  for (let i = 0; i < coveredBy.length; i++) {
    const over = layers[coveredBy[i]!]!;
    if (over.failed !== null || levelOf(over, time) < 1) continue;
    if (drawingOf(over.program).hasBegun(over.program, placeOf(over, time))) return true;
  }
  return false;
}

const placeOf = ({ play, program }: Layer, time: LayerTime): number => positionOf(play, program, time.ms, time.beat);

/** True where a layer gives the same values from now on, until the live state changes. */
export function isStill(layer: Layer, time: LayerTime): boolean {
  const { play, program } = layer;
  if (play.releasedAt !== null || play.exact || levelOf(layer, time) < 1) return false;
  return drawingOf(program).isStill(program, play);
}

/** Lays one layer over what is there. Allocates nothing. */
export function applyLayer(into: Merging, layer: Layer, time: LayerTime): void {
  const { exact } = layer.play;
  if (exact) {
    const { shape } = layer;
    shape.size = steered(exact, 'size', time.ms);
    shape.hue = steered(exact, 'hue', time.ms);
    shape.width = steered(exact, 'width', time.ms);
    shape.base = steered(exact, 'base', time.ms);
  }
  drawProgram(into, layer.program, placeOf(layer, time), levelOf(layer, time), layer, time);
}
