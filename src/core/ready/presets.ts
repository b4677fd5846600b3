import { effectSpecSchema, type EffectPart, type EffectSpec } from '../records/effect.ts';
import type { z } from 'zod';

/** A ready-made effect: nothing has to be stored first. */
export interface Preset {
  readonly key: string;
  readonly name: string;
  readonly family: 'level' | 'colour' | 'aim' | 'pixels';
  readonly colour: string;
  readonly spec: EffectSpec;
}

type SpecInput = z.input<typeof effectSpecSchema>;
type PartInput = SpecInput['parts'][number];

const preset = (
  key: string,
  name: string,
  family: Preset['family'],
  colour: string,
  parts: PartInput[],
  times: Omit<SpecInput, 'parts'> = {},
): Preset => ({ key, name, family, colour, spec: effectSpecSchema.parse({ ...times, parts }) });

/** Our own ready-made effects, in the order in which they are shown. Levels light what they play on; colours too. */
export const PRESETS: readonly Preset[] = [
  preset('breathe', 'Breathe', 'level', '#ffd9a0', [{ does: 'level', wave: 'breath', offset: 0.08, size: 0.92 }], {
    rate: 0.2,
  }),
  preset('tide', 'Tide', 'level', '#a9d6ff', [{ does: 'level', wave: 'wave', spread: 1, each: 'unit' }], {
    rate: 0.25,
  }),
  preset('runner', 'Runner', 'level', '#ffb347', [{ does: 'level', wave: 'pulse', width: 0.35, spread: 1 }], {
    rate: 0.5,
    beats: true,
  }),
  preset('heart', 'On the beat', 'level', '#ff8f6b', [{ does: 'level', wave: 'pulse', width: 0.8, each: 'unit' }], {
    rate: 1,
    beats: true,
  }),
  preset('twinkle', 'Twinkle', 'level', '#fff2c9', [{ does: 'level', wave: 'sparkle', width: 0.3, offset: 0.06 }], {
    rate: 1.2,
  }),
  preset('candle', 'Candle', 'level', '#ff9d3c', [{ does: 'level', wave: 'flicker', width: 0.55, each: 'unit' }], {
    rate: 1.1,
  }),
  preset(
    'alternate',
    'Alternate',
    'level',
    '#d3c4ff',
    [{ does: 'level', wave: 'square', width: 0.5, spread: 1, groupsOf: 1, each: 'unit' }],
    { rate: 0.5, beats: true },
  ),
  preset('flash', 'Slow strobe', 'level', '#ffffff', [{ does: 'level', wave: 'strobe', width: 0.3, each: 'unit' }], {
    rate: 2.5,
  }),
  preset('hues', 'Hue turn', 'colour', '#ff5fd2', [{ does: 'colour', way: 'hue', each: 'unit' }], {
    rate: 0.08,
    light: 1,
  }),
  preset('rainbow', 'Rainbow along', 'colour', '#6be36b', [{ does: 'colour', way: 'hue', spread: 1 }], {
    rate: 0.12,
    light: 1,
  }),
  preset(
    'embers',
    'Embers',
    'colour',
    '#ff6a1a',
    [{ does: 'colour', way: 'gradient', spread: 1, colours: ['#ff2a00', '#ffb000', '#ff5a00', '#7a0d00'] }],
    { rate: 0.1, light: 1 },
  ),
  preset(
    'lagoon',
    'Lagoon',
    'colour',
    '#2fc7c0',
    [{ does: 'colour', way: 'gradient', spread: 1, colours: ['#0040ff', '#00c8b0', '#0a8cff', '#3000c0'] }],
    { rate: 0.08, light: 1 },
  ),
  preset(
    'swap',
    'Swap two',
    'colour',
    '#8f7bff',
    [{ does: 'colour', way: 'swap', size: 0.4, colours: ['#ff3a6b', '#2f6bff'], each: 'unit' }],
    { rate: 0.25, beats: true, light: 1 },
  ),
  preset(
    'stroll',
    'Colour walk',
    'colour',
    '#ffd24a',
    [
      {
        does: 'colour',
        way: 'walk',
        size: 0.5,
        colours: ['#ffb347', '#ff4f6b', '#9a4bff', '#2f8bff', '#27d08a'],
        spread: 0.2,
        each: 'unit',
      },
    ],
    { rate: 0.05, light: 1 },
  ),
  preset('circle', 'Slow circle', 'aim', '#bcd0ff', [{ does: 'aim', path: 'circle', panDeg: 25, tiltDeg: 14 }], {
    rate: 0.12,
  }),
  preset(
    'chase-circle',
    'Circles in turn',
    'aim',
    '#9fc0ff',
    [{ does: 'aim', path: 'circle', panDeg: 25, tiltDeg: 14, spread: 1 }],
    { rate: 0.2 },
  ),
  preset('eight', 'Figure of eight', 'aim', '#b6a6ff', [{ does: 'aim', path: 'eight', panDeg: 30, tiltDeg: 12 }], {
    rate: 0.12,
  }),
  preset('sweep', 'Sweep', 'aim', '#8fd8ff', [{ does: 'aim', path: 'line', panDeg: 35, mirror: true }], {
    rate: 0.125,
    beats: true,
  }),
  preset(
    'nod',
    'Nod',
    'aim',
    '#ffd0e8',
    [{ does: 'aim', path: 'line', tiltDeg: 18, panDeg: 0.1, turnDeg: 90, spread: 0.5 }],
    {
      rate: 0.25,
      beats: true,
    },
  ),
  preset('fan', 'Fan breathing', 'aim', '#ffe08a', [{ does: 'aim', path: 'fan', panDeg: 35 }], { rate: 0.15 }),
  preset('cross', 'Crossing', 'aim', '#ffb0a0', [{ does: 'aim', path: 'cross', panDeg: 30 }], { rate: 0.15 }),
  preset(
    'comet',
    'Comet',
    'pixels',
    '#cfe8ff',
    [{ does: 'pixels', pattern: 'comet', colours: ['#cfe8ff'], repeat: 1, width: 0.4, soft: 0.9 }],
    { rate: 0.5, light: 1 },
  ),
  preset(
    'bars',
    'Bars',
    'pixels',
    '#ffb347',
    [{ does: 'pixels', pattern: 'bars', colours: ['#ffb347', '#ff3a6b'], repeat: 4, width: 0.5 }],
    { rate: 0.5, light: 1 },
  ),
  preset(
    'swell',
    'Swell',
    'pixels',
    '#4fb4ff',
    [{ does: 'pixels', pattern: 'waves', colours: ['#0030ff', '#00c0ff'], repeat: 2, width: 1, soft: 1 }],
    { rate: 0.25, light: 1 },
  ),
  preset(
    'fire',
    'Fire',
    'pixels',
    '#ff7a1f',
    [
      {
        does: 'pixels',
        pattern: 'fire',
        colours: ['#fff0a0', '#ff9a10', '#d02000'],
        angleDeg: 90,
        width: 0.5,
        plane: 'unit',
      },
    ],
    { rate: 0.35, light: 1 },
  ),
  preset(
    'rain',
    'Rain',
    'pixels',
    '#7fb2ff',
    [{ does: 'pixels', pattern: 'rain', colours: ['#5f9bff', '#cfe2ff'], angleDeg: -90, width: 0.25, repeat: 2 }],
    { rate: 0.6, light: 1 },
  ),
  preset(
    'snow',
    'Snow',
    'pixels',
    '#eef4ff',
    [{ does: 'pixels', pattern: 'snow', colours: ['#ffffff', '#cfe0ff'], angleDeg: -90, width: 0.2, repeat: 2 }],
    { rate: 0.12, light: 1 },
  ),
  preset(
    'plasma',
    'Plasma',
    'pixels',
    '#c06bff',
    [{ does: 'pixels', pattern: 'plasma', colours: ['#ff2f6b', '#6a2fff', '#00b8d8'], repeat: 2, soft: 0.3 }],
    { rate: 0.1, light: 1 },
  ),
  preset(
    'wipe',
    'Wipe',
    'pixels',
    '#8affc7',
    [{ does: 'pixels', pattern: 'wipe', colours: ['#12d690', '#0a5cff'], soft: 0.1 }],
    { rate: 0.25, beats: true, light: 1 },
  ),
  preset(
    'words',
    'Words',
    'pixels',
    '#ffe9b0',
    [{ does: 'pixels', pattern: 'text', colours: ['#ffd27a'], text: 'HELLO' }],
    { rate: 0.12, light: 1 },
  ),
];

const WAVES: Readonly<Record<string, string>> = {
  wave: 'Wave',
  triangle: 'Triangle',
  rise: 'Rise',
  fall: 'Fall',
  pulse: 'Pulse',
  square: 'On and off',
  breath: 'Breath',
  sparkle: 'Sparkle',
  flicker: 'Flicker',
  strobe: 'Strobe',
};
const WAYS: Readonly<Record<string, string>> = {
  hue: 'Hue turn',
  gradient: 'Gradient',
  walk: 'Colour walk',
  swap: 'Colour swap',
};
const PATHS: Readonly<Record<string, string>> = {
  circle: 'Circle',
  eight: 'Figure of eight',
  line: 'Line',
  fan: 'Fan',
  cross: 'Crossing',
  drawn: 'Drawn path',
};
const PATTERNS: Readonly<Record<string, string>> = {
  bars: 'Bars',
  waves: 'Swell',
  comet: 'Comet',
  wipe: 'Wipe',
  rain: 'Rain',
  snow: 'Snow',
  fire: 'Fire',
  plasma: 'Plasma',
  text: 'Text',
};
/** What the forms of each kind of part are called. */
export const FORM_WORDS = { level: WAVES, colour: WAYS, aim: PATHS, pixels: PATTERNS } as const;

/** The form of a part: its wave, way, path or pattern. */
export const formOf = (part: EffectPart): string =>
  part.does === 'level'
    ? part.wave
    : part.does === 'colour'
      ? part.way
      : part.does === 'aim'
        ? part.path
        : part.pattern;

export const partWords = (part: EffectPart): string => FORM_WORDS[part.does][formOf(part)] ?? formOf(part);

/** What an effect does, in words: the name of the preset it is, else its parts. */
export function effectWords(spec: EffectSpec): string {
  const own = JSON.stringify(spec.parts);
  const known = PRESETS.find((p) => JSON.stringify(p.spec.parts) === own);
  return known?.name ?? spec.parts.map(partWords).join(' + ');
}
