import type { ModeLayout, LaidChannel } from '../profile/layout.ts';
import { layoutMode } from '../profile/layout.ts';
import type { Mode, ProfileRecord } from '../records/profile.ts';
import type { ColourOrder, Prop, PropString } from '../records/prop.ts';
import { cellCount } from './cells.ts';

/** A string of a prop with the cells it has: `first` counts from 0 in wiring order. */
export interface StringRun {
  readonly first: number;
  readonly cells: number;
  readonly nulls: number;
  readonly backward: boolean;
  readonly start: PropString['start'];
}

/** Slots that follow one another from one start. `start` null: right after the section before. */
export interface Section {
  readonly slots: number;
  readonly start: PropString['start'];
}

/** A mode as one unit has it: its cells in wiring order, and the sections its slots lie in. */
export interface UnitLayout extends ModeLayout {
  readonly sections: readonly Section[];
}

/** A mode with nothing special about it. */
export const plainLayout = (layout: ModeLayout): UnitLayout => ({
  ...layout,
  sections: [{ slots: layout.footprint, start: null }],
});

/**
 * The strings of a prop of `count` cells, in wiring order: strings that would begin beyond the last cell are left out,
 * the last one is cut, and cells that no string has follow as one more.
 */
export function stringRuns(prop: Prop, count: number): StringRun[] {
  const runs: StringRun[] = [];
  let first = 0;
  for (const { cells, nulls, backward, start } of prop.strings) {
    if (first >= count) break;
    const own = Math.min(cells, count - first);
    runs.push({ first, cells: own, nulls, backward, start });
    first += own;
  }
  if (first < count || runs.length === 0)
    runs.push({ first, cells: count - first, nulls: 0, backward: false, start: null });
  return runs;
}

/** For each cell (from 0, in wiring order): which pixel it is on the wire, counted from 0 through all strings, nulls included. */
export function wirePixels(runs: readonly StringRun[]): Uint32Array {
  const last = runs.at(-1);
  const pixels = new Uint32Array(last ? last.first + last.cells : 0);
  let before = 0;
  for (const { first, cells, nulls, backward } of runs) {
    before += nulls;
    for (let i = 0; i < cells; i++) pixels[first + i] = before + (backward ? cells - 1 - i : i);
    before += cells;
  }
  return pixels;
}

/** True where a mode repeats a block for each cell: only such a mode can be a prop. */
export const canBeProp = (mode: Mode | undefined): boolean =>
  mode?.slots.filter((entry) => 'cells' in entry).length === 1;

/**
 * The layout of a mode for a prop: as many cells as its shape has, each where its string puts it on the wire, colours
 * in the prop's own order. A mode without a repeated block (or with several) is laid out as it is. Linear in the slots.
 */
export function layoutProp(profile: ProfileRecord, mode: Mode, prop: Prop): UnitLayout {
  if (!canBeProp(mode)) return plainLayout(layoutMode(profile, mode));
  const count = cellCount(prop.shape);
  const slots = mode.slots.map((entry) => ('cells' in entry ? { ...entry, firstCell: 1, cells: count } : entry));
  const plain = layoutMode(profile, { ...mode, slots }, { cellLevels: true });
  const each = plain.cellFootprint;
  const at = mode.slots.findIndex((entry) => 'cells' in entry);
  const runs = stringRuns(prop, count);
  const pixels = wirePixels(runs);
  const extra = runs.reduce((sum, run) => sum + run.nulls, 0) * each;
  const moved = (laid: LaidChannel): LaidChannel => {
    const shift = laid.cell > 0 ? (pixels[laid.cell - 1]! - (laid.cell - 1)) * each : laid.offsets[0]! > at ? extra : 0;
    return shift === 0 ? laid : { ...laid, offsets: laid.offsets.map((offset) => offset + shift) };
  };
  const wired = plain.channels.map(moved);
  return {
    ...plain,
    footprint: plain.footprint + extra,
    channels: prop.colourOrder ? recoloured(wired, prop.colourOrder) : wired,
    sections: sectionsOf(runs, each, at, plain.footprint - count * each),
  };
}

/** `before`: slots before the cells; `others`: all slots that belong to no cell. */
function sectionsOf(runs: readonly StringRun[], each: number, before: number, others: number): Section[] {
  const sections: Section[] = [];
  for (const [i, run] of runs.entries()) {
    const slots =
      (run.nulls + run.cells) * each + (i === 0 ? before : 0) + (i === runs.length - 1 ? others - before : 0);
    const last = sections.at(-1);
    if (last && run.start === null) sections[sections.length - 1] = { ...last, slots: last.slots + slots };
    else sections.push({ slots, start: i === 0 ? null : run.start });
  }
  return sections;
}

const LETTER: Readonly<Record<string, string>> = { ColorAdd_R: 'R', ColorAdd_G: 'G', ColorAdd_B: 'B', ColorAdd_W: 'W' };

/** Gives the slots of each cell's colours (8 bit) to the colours in the order named; colours it does not name come last. */
function recoloured(channels: readonly LaidChannel[], order: ColourOrder): LaidChannel[] {
  const byCell = new Map<number, LaidChannel[]>();
  for (const laid of channels) {
    if (laid.cell === 0 || !(laid.channel.attribute in LETTER) || laid.offsets.length !== 1) continue;
    const list = byCell.get(laid.cell);
    if (list) list.push(laid);
    else byCell.set(laid.cell, [laid]);
  }
  const rank = (laid: LaidChannel): number => {
    const at = order.indexOf(LETTER[laid.channel.attribute]!);
    return at < 0 ? order.length : at;
  };
  const moved = new Map<LaidChannel, number>();
  for (const list of byCell.values()) {
    const offsets = list.map((laid) => laid.offsets[0]!).sort((a, b) => a - b);
    [...list].sort((a, b) => rank(a) - rank(b)).forEach((laid, i) => moved.set(laid, offsets[i]!));
  }
  return channels.map((laid) => (moved.has(laid) ? { ...laid, offsets: [moved.get(laid)!] } : laid));
}
