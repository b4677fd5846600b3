import { make, type ProfileRecord } from '../../records/index.ts';
import type { Channel, FixtureKind, ModeSlot, Range } from '../../records/profile.ts';
import type { z } from 'zod';
import { PICTURES } from '../pictures.ts';
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

export const emitter = (
  letter: 'R' | 'G' | 'B' | 'W' | 'RY' | 'GY' | 'UV' | 'WW' | 'CW',
  name: string,
): ChannelRow => ({
  key: `emit${letter}`,
  name,
  attribute: `ColorAdd_${letter}`,
});
export const RED = emitter('R', 'Red');
export const GREEN = emitter('G', 'Green');
export const BLUE = emitter('B', 'Blue');
export const WHITE = emitter('W', 'White');
export const AMBER = emitter('RY', 'Amber');
export const LIME = emitter('GY', 'Lime');
export const UV = emitter('UV', 'Ultraviolet');

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

export const PAN = { key: 'pan', name: 'Pan', attribute: 'Pan', bits: 16 as const, home: 32768 };
export const TILT = { key: 'tilt', name: 'Tilt', attribute: 'Tilt', bits: 16 as const, home: 32768 };

/** A mechanical shutter of a head: closed, strobing, open. */
export const headShutter = {
  key: 'shutter',
  name: 'Shutter',
  attribute: 'Shutter1',
  snap: true,
  home: 255,
  ranges: ranges(
    [0, 19, 'Closed', { light: 'closed' }],
    [20, 119, 'Strobe slow to fast', { light: 'strobe', ...does(0.5, 12, 'hz') }],
    [120, 199, 'Random strobe', { light: 'strobe', ...does(0.5, 8, 'hz') }],
    [200, 255, 'Open', { light: 'open' }],
  ),
};

export const reset = {
  key: 'control',
  name: 'Control',
  attribute: 'Control1',
  snap: true,
  ranges: ranges([0, 199, 'Normal'], [200, 209, 'Lamp on'], [210, 229, 'Fan quiet'], [240, 255, 'Reset']),
};

export const PAN8 = { ...PAN, bits: 8 as const, home: 128 };
export const TILT8 = { ...TILT, bits: 8 as const, home: 128 };

export const moveSpeed: ChannelRow = {
  key: 'speed',
  name: 'Pan and tilt speed',
  attribute: 'PanTiltSpeed',
  ranges: ranges([0, 255, 'Fast to slow', does(100, 5, 'percent')]),
};

export const zoomFrom = (narrowDeg: number, wideDeg: number): ChannelRow => ({
  key: 'zoom',
  name: 'Zoom',
  attribute: 'Zoom',
  home: 128,
  ranges: ranges([0, 255, 'Narrow to wide', does(narrowDeg, wideDeg, 'deg')]),
});

export const focus: ChannelRow = {
  key: 'focus',
  name: 'Focus',
  attribute: 'Focus1',
  home: 128,
  ranges: ranges([0, 255, 'Far to near', does(0, 100, 'percent')]),
};

export const frost: ChannelRow = {
  key: 'frost',
  name: 'Frost',
  attribute: 'Frost1',
  ranges: ranges([0, 15, 'Clear'], [16, 255, 'Light to heavy', does(5, 100, 'percent')]),
};

export const iris: ChannelRow = {
  key: 'iris',
  name: 'Iris',
  attribute: 'Iris',
  ranges: ranges([0, 191, 'Open to closed', does(100, 10, 'percent')], [192, 255, 'Pulsing', does(0.5, 5, 'hz')]),
};

export const prism = (facets: number, n = 1): ChannelRow => ({
  key: n === 1 ? 'prism' : `prism${n}`,
  name: n === 1 ? 'Prism' : `Prism ${n}`,
  attribute: `Prism${n}`,
  snap: true,
  ranges: ranges(
    [0, 15, 'Out'],
    [16, 127, `${facets} facets`],
    [128, 191, `${facets} facets turning forward`, does(1, 40, 'rpm')],
    [192, 255, `${facets} facets turning backward`, does(-1, -40, 'rpm')],
  ),
});

type Slot = readonly [name: string, hex: string];

/** A colour wheel: a slot of `step` values for each colour, half colours between them where it has them, then turning. */
export function colourWheel(
  colours: readonly Slot[],
  options: { n?: number; step: number; halves?: boolean },
): ChannelRow {
  const { n = 1, step, halves = false } = options;
  const rows: RangeRow[] = [];
  let from = 0;
  const put = (name: string, extra: Partial<Range>): void => {
    rows.push([from, from + step - 1, name, extra]);
    from += step;
  };
  colours.forEach(([name, colour], i) => {
    put(name, { colour });
    const next = colours[(i + 1) % colours.length]!;
    if (halves) put(`${name} and ${next[0].toLowerCase()}`, { colour, colour2: next[1] });
  });
  const middle = Math.floor((from + 255) / 2);
  rows.push([from, middle - 2, 'Turning forward', does(1, 90, 'rpm')], [middle - 1, middle, 'Wheel stopped']);
  rows.push([middle + 1, 255, 'Turning backward', does(-1, -90, 'rpm')]);
  return {
    key: n === 1 ? 'colour' : `colour${n}`,
    name: n === 1 ? 'Colour wheel' : `Colour wheel ${n}`,
    attribute: `Color${n}`,
    snap: true,
    ranges: ranges(...rows),
  };
}

/** A gobo wheel with our own pictures: still, then each shaking, then the wheel turning. */
export function goboWheel(
  pictures: readonly string[],
  options: { n?: number; step: number; shake?: boolean },
): ChannelRow {
  const { n = 1, step, shake = false } = options;
  const title = (picture: string): string => picture[0]!.toUpperCase() + picture.slice(1);
  const rows: RangeRow[] = [];
  let from = 0;
  for (const picture of ['open', ...pictures]) {
    rows.push([from, from + step - 1, title(picture), { picture }]);
    from += step;
  }
  for (const picture of shake ? pictures : []) {
    rows.push([from, from + step - 1, `${title(picture)} shaking slow to fast`, { picture, ...does(1, 8, 'hz') }]);
    from += step;
  }
  rows.push([from, 255, 'Wheel turning slow to fast', does(1, 60, 'rpm')]);
  return {
    key: n === 1 ? 'gobo' : `gobo${n}`,
    name: n === 1 ? 'Gobo wheel' : `Gobo wheel ${n}`,
    attribute: `Gobo${n}`,
    snap: true,
    ranges: ranges(...rows),
  };
}

export const goboTurn = (n = 1, bits: 8 | 16 = 8): ChannelRow => ({
  key: n === 1 ? 'gobopos' : `gobopos${n}`,
  name: n === 1 ? 'Gobo turn' : `Gobo ${n} turn`,
  attribute: `Gobo${n}Pos`,
  bits,
  ranges: ranges(
    [0, 127, 'Angle', does(0, 360, 'deg')],
    [128, 190, 'Turning forward slow to fast', does(1, 60, 'rpm')],
    [191, 192, 'Standing'],
    [193, 255, 'Turning backward slow to fast', does(-1, -60, 'rpm')],
  ),
});

/** A channel of built-in programs with a range each, and one for sound. */
export const programs = (key: string, name: string, attribute: string, names: readonly string[]): ChannelRow => {
  const step = Math.floor(240 / (names.length + 1));
  return {
    key,
    name,
    attribute,
    snap: true,
    ranges: ranges([0, step - 1, 'None'], ...names.map((n, i): RangeRow => [(i + 1) * step, (i + 2) * step - 1, n]), [
      (names.length + 1) * step,
      255,
      'Sound',
    ]),
  };
};

export const rate = (key: string, name: string, attribute: string, topHz: number): ChannelRow => ({
  key,
  name,
  attribute,
  ranges: ranges([0, 255, 'Slow to fast', does(0.1, topHz, 'hz')]),
});

export const RELAY: ChannelRow = {
  key: 'relay',
  name: 'Relay',
  attribute: 'Control1',
  snap: true,
  ranges: ranges([0, 127, 'Off'], [128, 255, 'On']),
};

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
  make('profile', { id: `profile:${slug}`, author: 'Amber Kite', channels: channels.map(withPictures), ...rest });

/** Gobos that are called as one of our pictures show it. */
const withPictures = (channel: ChannelRow): ChannelRow =>
  /^Gobo\d+$/.test(channel.attribute) && channel.ranges
    ? {
        ...channel,
        ranges: channel.ranges.map((r) => {
          const picture = r.name.toLowerCase();
          return !r.picture && Object.hasOwn(PICTURES, picture) ? { ...r, picture } : r;
        }),
      }
    : channel;

export type { FixtureKind };
