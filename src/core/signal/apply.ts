import { modulo } from '../units.ts';
import type { PreparedTest } from './prepare.ts';
import { BLUE, GREEN, OTHER, RED, WHITE } from './roles.ts';

/** How raw bytes may be laid over a frame: see `RigArrays.ceiling`. */
export interface RawTarget {
  readonly bytes: Uint8Array;
  readonly ceiling: Float32Array;
  /** Grand master times Dark, 0-1. */
  readonly master: number;
}

/** A byte of a shutter of a unit that has no level: it stays closed while the masters are at nothing. */
export const SHUTTER_BYTE = -2;
/** A byte that nothing raw may change now. */
export const LOCKED_BYTE = -3;
/** A byte that is no level: masters don't change it. */
export const FREE_BYTE = -1;

/**
 * Writes one raw byte where it cannot pass what masters and limits allow: levels (and slots nobody owns) are scaled
 * by the masters and the limit of their unit, rounded down; shutters stay closed in the dark.
 */
export function writeRaw(target: RawTarget, offset: number, value: number): void {
  const ceiling = target.ceiling[offset]!;
  if (ceiling >= 0) target.bytes[offset] = (value * ceiling * target.master) | 0;
  else if (ceiling === FREE_BYTE || (ceiling === SHUTTER_BYTE && target.master > 0)) target.bytes[offset] = value;
}

/** Every tenth cell of a counting test is shown in white at this part of the level. */
const MARK_EVERY = 10;
/** Seconds a colour stands after its last cell came on. */
const COLOUR_HOLD_S = 0.8;

/**
 * Lays a running test over a frame at a moment (show clock, ms). Its slots are the test's alone: those it does not
 * light are at 0. Nothing at all once its lease has run out. Allocates nothing.
 */
export function applyTest(prepared: PreparedTest, target: RawTarget, nowMs: number): void {
  const { test, offsets, pattern } = prepared;
  if (nowMs >= test.until) return;
  const { signal } = test;
  const seconds = Math.max(0, (nowMs - test.startedAt) / 1000);
  const full = (test.level * 255 + 0.5) | 0;
  if (signal.kind === 'colours') return applyColours(prepared, target, seconds, signal.cellsPerSecond, full);
  if (signal.kind === 'wire') return applyWire(prepared, target, seconds * signal.cellsPerSecond, full);
  for (let i = 0; i < pattern.length; i++) writeRaw(target, offsets[pattern[i]!]!, 0);
  switch (signal.kind) {
    case 'slot':
      if (signal.index < offsets.length) writeRaw(target, offsets[signal.index]!, full);
      return;
    case 'sweep': {
      if (pattern.length === 0) return;
      const at = Math.floor(seconds * signal.perSecond) % pattern.length;
      writeRaw(target, offsets[pattern[at]!]!, full);
      return;
    }
    case 'ramp': {
      const value = (((seconds / signal.seconds) % 1) * full + 0.5) | 0;
      for (let i = 0; i < pattern.length; i++) writeRaw(target, offsets[pattern[i]!]!, value);
      return;
    }
    case 'every': {
      const shift = Math.floor(seconds * signal.perSecond) + signal.offset;
      for (let i = 0; i < pattern.length; i++)
        if (modulo(i - shift, signal.n) === 0) writeRaw(target, offsets[pattern[i]!]!, full);
      return;
    }
    case 'all':
      for (let i = 0; i < pattern.length; i++) writeRaw(target, offsets[pattern[i]!]!, full);
  }
}

/** Cells behind the one that runs that still glow. */
const TAIL = 4;

/** `at`: the cell that is lit, counted on from round to round; white, and the cells behind it less and less. */
function applyWire(
  { offsets, roles, cells, levels, cellCount }: PreparedTest,
  target: RawTarget,
  at: number,
  full: number,
): void {
  const head = Math.floor(at) % Math.max(1, cellCount);
  for (let i = 0; i < offsets.length; i++) {
    if (levels[i] === 1) writeRaw(target, offsets[i]!, full);
    else if (roles[i] !== OTHER) {
      const behind = head - cells[i]!;
      writeRaw(target, offsets[i]!, behind < 0 || behind >= TAIL ? 0 : full >> (behind * 2));
    }
  }
}

/** Where a colours test is: the colour that shows and how many cells of it are lit. */
export function coloursAt(
  cellCount: number,
  hasWhite: boolean,
  seconds: number,
  cellsPerSecond: number,
): { colour: number; lit: number } {
  const each = cellCount / cellsPerSecond + COLOUR_HOLD_S;
  const colours = hasWhite ? 4 : 3;
  const turn = Math.floor(seconds / each);
  const lit = Math.min(cellCount, Math.floor((seconds - turn * each) * cellsPerSecond) + 1);
  return { colour: turn % colours, lit };
}

function applyColours(
  prepared: PreparedTest,
  target: RawTarget,
  seconds: number,
  cellsPerSecond: number,
  full: number,
): void {
  const { offsets, roles, cells, levels, cellCount, hasWhite } = prepared;
  const { colour, lit } = coloursAt(cellCount, hasWhite, seconds, cellsPerSecond);
  for (let i = 0; i < offsets.length; i++) {
    const role = roles[i]!;
    if (levels[i] === 1) writeRaw(target, offsets[i]!, full);
    else if (role !== OTHER) {
      const on = cells[i]! < lit;
      const marked = on && (cells[i]! + 1) % MARK_EVERY === 0 && cellCount >= MARK_EVERY;
      const value = on && (role === colour || (marked && role <= BLUE && colour !== WHITE)) ? full : 0;
      writeRaw(target, offsets[i]!, marked && role !== colour ? value >> 1 : value);
    }
  }
}

/** Names of the colours of a test in their order. */
export const COLOUR_NAMES: Readonly<Record<number, string>> = {
  [RED]: 'red',
  [GREEN]: 'green',
  [BLUE]: 'blue',
  [WHITE]: 'white',
};
