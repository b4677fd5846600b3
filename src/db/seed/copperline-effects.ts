import type { ProfileId } from '../../core/ids.ts';
import { make, type AnyRecord } from '../../core/records/index.ts';
import type { UnitValues } from '../../core/records/scene.ts';
import { fromHex } from '../../core/colour/convert.ts';
import { ROWS } from './copperline-rig.ts';

export const colour = (hex: string): UnitValues => {
  const { r, g, b } = fromHex(hex);
  const round = (v: number): number => Math.round(v * 1e4) / 1e4;
  return { ColorRGB_Red: round(r), ColorRGB_Green: round(g), ColorRGB_Blue: round(b) };
};

const profileOf = (prefix: string): ProfileId => `profile:${ROWS.find((r) => r.slug.startsWith(prefix))!.profile}`;

/** Colours that scenes and effects share: changed once, changed everywhere. */
export const palettes = (): AnyRecord[] =>
  (
    [
      ['lagoon', 'Lagoon', '#12b5ff', 'Lake'],
      ['heather', 'Heather', '#9b6bff', 'Heather'],
      ['copper', 'Copper', '#ff7a33', 'Straw'],
    ] as const
  ).map(([slug, name, hex, slot], i) =>
    make('palette', {
      id: `palette:${slug}`,
      number: i + 1,
      name,
      colour: hex,
      family: 'colour',
      all: colour(hex) as Record<string, number>,
      profiles: { [profileOf('spot')]: { Color1: { range: slot, at: 0.5 } } },
    }),
  );

export const effects = (): AnyRecord[] => [
  make('effect', {
    id: 'effect:rainbow',
    number: 1,
    name: 'Counter rainbow',
    colour: '#6be36b',
    folder: 'Disco',
    on: ['group:bars'],
    rate: 0.125,
    beats: true,
    light: 0.9,
    parts: [{ does: 'colour', way: 'hue', spread: 1, order: 'x' }],
  }),
  make('effect', {
    id: 'effect:circles',
    number: 2,
    name: 'Beams circle slowly',
    colour: '#bcd0ff',
    folder: 'Disco',
    on: ['group:spots'],
    rate: 0.0625,
    beats: true,
    parts: [{ does: 'aim', path: 'circle', panDeg: 28, tiltDeg: 12, spread: 0.5, mirror: true }],
  }),
  make('effect', {
    id: 'effect:puddles',
    number: 5,
    name: 'Beams walk on the floor',
    colour: '#7fd4c1',
    folder: 'Disco',
    on: ['group:spots'],
    rate: 0.0625,
    beats: true,
    parts: [{ does: 'aim', path: 'circle', in: 'metres', round: 'aim:row', acrossM: 1.6, deepM: 1.6, spread: 1 }],
  }),
  make('effect', {
    id: 'effect:lap',
    number: 3,
    name: 'Wash lap',
    colour: '#12b5ff',
    folder: 'Disco',
    on: ['group:washes'],
    rate: 0.25,
    beats: true,
    light: 0.85,
    parts: [
      {
        does: 'colour',
        way: 'walk',
        colours: ['palette:lagoon', 'palette:heather', 'palette:copper'],
        size: 0.6,
        spread: 0.4,
      },
      { does: 'level', wave: 'wave', offset: 0.25, size: 0.75, spread: 1, combine: 'through', order: 'x' },
    ],
  }),
  make('effect', {
    id: 'effect:twinkle',
    number: 4,
    name: 'Festoon twinkle',
    colour: '#ffd9a0',
    folder: 'Slow',
    on: ['group:house'],
    rate: 0.9,
    light: 0.8,
    parts: [{ does: 'level', wave: 'sparkle', width: 0.4, offset: 0.35, size: 0.65 }],
  }),
];
