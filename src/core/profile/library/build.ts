import { make, type ProfileRecord } from '../../records/index.ts';
import type { Channel, FixtureKind, ModeSlot, Range } from '../../records/profile.ts';
import type { z } from 'zod';
import type { profileSchema } from '../../records/profile.ts';

/** Short forms for writing built-in profiles down like the channel table of a manual. */

type RangeRow = readonly [from: number, to: number, name: string, extra?: Partial<Omit<Range, 'from' | 'to' | 'name'>>];
type ChannelRow = Partial<Channel> & { readonly key: string; readonly name: string; readonly attribute: string };

export const ranges = (...rows: RangeRow[]): Range[] =>
  rows.map(([from, to, name, extra]) => ({ from, to, name, ...extra }));

/** Speed or other physical quantity over a range. */
export const does = (from: number, to: number, unit: 'hz' | 'rpm' | 'deg' | 'percent' | 'kelvin' | 'second') => ({
  physical: { from, to, unit },
});

export const level = (key = 'dimmer', name = 'Level', bits: 8 | 16 = 8): ChannelRow => ({
  key,
  name,
  attribute: 'Dimmer',
  bits,
});

export const emitter = (letter: 'R' | 'G' | 'B' | 'W' | 'RY' | 'UV' | 'WW' | 'CW', name: string): ChannelRow => ({
  key: `emit${letter}`,
  name,
  attribute: `ColorAdd_${letter}`,
});
export const RED = emitter('R', 'Red');
export const GREEN = emitter('G', 'Green');
export const BLUE = emitter('B', 'Blue');
export const WHITE = emitter('W', 'White');

/** A shutter that is open at 0 and strobes above, as LED fixtures have it. */
export const strobe = (topHz: number): ChannelRow => ({
  key: 'strobe',
  name: 'Strobe',
  attribute: 'Shutter1',
  snap: true,
  ranges: ranges(
    [0, 7, 'Open', { light: 'open' }],
    [8, 255, 'Strobe slow to fast', { light: 'strobe', ...does(0.5, topHz, 'hz') }],
  ),
});

export const turning = (key: string, name: string, attribute: string, topRpm: number): ChannelRow => ({
  key,
  name,
  attribute,
  ranges: ranges(
    [0, 9, 'Stop', does(0, 0, 'rpm')],
    [10, 127, 'Forward slow to fast', does(1, topRpm, 'rpm')],
    [128, 137, 'Stop again', does(0, 0, 'rpm')],
    [138, 255, 'Backward slow to fast', does(-1, -topRpm, 'rpm')],
  ),
});

/** Slots of a mode: `dimmer` is one slot, `pan+` a coarse and a fine one. */
export const slots = (text: string): ModeSlot[] =>
  text
    .split(/\s+/)
    .filter((word) => word !== '')
    .flatMap((word): ModeSlot[] => {
      if (word === '-') return [{ unused: true as const }];
      if (!word.endsWith('+')) return [{ channel: word, byte: 0 }];
      const channel = word.slice(0, -1);
      return [
        { channel, byte: 0 },
        { channel, byte: 1 },
      ];
    });

/** A block repeated for each cell: `cells(16, 'emitR emitG emitB')`. */
export const cells = (count: number, text: string, firstCell = 1): ModeSlot => ({
  cells: count,
  firstCell,
  slots: slots(text) as { channel: string; byte: number }[],
});

export const mode = (key: string, name: string, ...parts: (string | ModeSlot)[]) => ({
  key,
  name,
  slots: parts.flatMap((part) => (typeof part === 'string' ? slots(part) : [part])),
});

type Input = z.input<typeof profileSchema>;
export type ProfileRow = Omit<Input, 'kind' | 'id' | 'channels' | 'author'> & {
  readonly slug: string;
  readonly channels: readonly ChannelRow[];
};

export const define = ({ slug, channels, ...rest }: ProfileRow): ProfileRecord =>
  make('profile', { id: `profile:${slug}`, author: 'Amber Kite', channels: channels.map((c) => ({ ...c })), ...rest });

export type { FixtureKind };
