import type { Channel } from '../records/profile.ts';
import { valueToFraction } from '../profile/layout.ts';
import type { Lamps, Placed, Strobes } from './rig.ts';

/** Lamps of all units, every unit counting 1 whatever it is made of. */
export function lampsOf(placed: readonly Placed[]): Lamps {
  const count = placed.reduce((sum, { piece }) => sum + piece.lampLevel.length, 0);
  const level = new Int32Array(count);
  const colour = new Int32Array(count);
  const weight = new Float32Array(count);
  let at = 0;
  let whole = 0;
  for (const { piece, base } of placed) {
    const own = piece.lampLevel.length;
    if (own > 0) whole++;
    for (let i = 0; i < own; i++, at++) {
      level[at] = piece.lampLevel[i]! < 0 ? -1 : base + piece.lampLevel[i]!;
      colour[at] = piece.lampColour[i]! < 0 ? -1 : base + piece.lampColour[i]!;
      weight[at] = 1 / own;
    }
  }
  return { count, level, colour, weight, whole };
}

/** What a strobe range does where its profile does not say: from slow to fast, in flashes a second. */
const USUAL_HZ = { from: 0.5, to: 20 } as const;
const NO_RANGE = 255;

export function strobesOf(placed: readonly Placed[]): Strobes {
  const tables = new Map<Channel, number>();
  const slot: number[] = [];
  const table: number[] = [];
  for (const { piece, base } of placed)
    for (const { slot: own, channel } of piece.strobes) {
      if (!tables.has(channel!)) tables.set(channel!, tables.size);
      slot.push(base + own);
      table.push(tables.get(channel!)!);
    }
  const hz = new Float32Array(tables.size * 256);
  const range = new Uint8Array(tables.size * 256).fill(NO_RANGE);
  const open = new Float32Array(tables.size);
  for (const [channel, at] of tables) {
    for (let raw = 0; raw < 256; raw++) {
      const place = channel.ranges.findIndex((r) => raw >= r.from && raw <= r.to);
      range[at * 256 + raw] = place < 0 ? NO_RANGE : Math.min(place, NO_RANGE - 1);
      hz[at * 256 + raw] = flashesAt(channel, place, raw);
    }
    const free = channel.ranges.find((r) => r.light === 'open');
    open[at] = free ? (valueToFraction(channel, { range: free.name, at: 0.5 }) ?? 0) : 0;
  }
  return { slot: Uint32Array.from(slot), table: Uint16Array.from(table), hz, range, open };
}

/** Flashes a second at a coarse value; 0 where nothing strobes. */
export function flashesAt(channel: Channel, place: number, raw: number): number {
  const range = channel.ranges[place];
  if (!range) return channel.attribute === 'StrobeRate' && channel.ranges.length === 0 ? along(USUAL_HZ, raw / 255) : 0;
  const at = range.to > range.from ? (raw - range.from) / (range.to - range.from) : 0;
  if (range.physical?.unit === 'hz') return Math.abs(along(range.physical, at));
  return range.light === 'strobe' ? along(USUAL_HZ, at) : 0;
}

const along = ({ from, to }: { readonly from: number; readonly to: number }, at: number): number =>
  from + (to - from) * at;
