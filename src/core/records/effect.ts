import { z } from 'zod';
import { idSchema, type AimId, type AreaId, type GroupId, type LitId, type PaletteId } from '../ids.ts';
import { hexColourSchema } from './common.ts';
import { colourField, fadeFields, playableFields } from './playable.ts';

/** Turns a second, or turns a beat. Faster than this no lamp follows, and no rig can send it. */
export const FASTEST_RATE = 50;
export const rateSchema = z.number().min(0, `must be 0-${FASTEST_RATE}`).max(FASTEST_RATE, `must be 0-${FASTEST_RATE}`);

/** A colour of its own, or that of a palette. */
const partColourSchema = z.union([hexColourSchema, idSchema('palette')]);
/** Where a colour of an effect is one of a palette. */
export const isPaletteId = (colour: string): colour is PaletteId => colour.startsWith('palette:');
const coloursSchema = z.array(partColourSchema).min(1, 'at least one colour').max(16, 'at most 16 colours');

/** How a part is combined with the parts before it. `through`: light only where it is; `cut`: light only where it is not. */
export const COMBINES = ['over', 'add', 'brightest', 'through', 'cut'] as const;
export type Combine = (typeof COMBINES)[number];
/** In which order a part goes over what it plays on. The last three need the plot: across, up, out from the middle. */
export const EFFECT_ORDERS = ['selection', 'number', 'wire', 'random', 'x', 'y', 'z', 'radius'] as const;
export type EffectOrder = (typeof EFFECT_ORDERS)[number];

/** What every part has: how it follows the time of the effect and how it is spread. */
const partFields = {
  combine: z.enum(COMBINES).default('over'),
  /** Turns of this part while the effect makes one. */
  times: z.number().min(0, 'must be 0-64').max(64, 'must be 0-64').default(1),
  order: z.enum(EFFECT_ORDERS).default('selection'),
  /** `bounce` goes there and back. */
  direction: z.enum(['forward', 'backward', 'bounce']).default('forward'),
  /** Turns from the first to the last. */
  spread: z.number().min(-64, 'must be -64 to 64').max(64, 'must be -64 to 64').default(0),
  /** The second half runs against the first, from the middle out. */
  mirror: z.boolean().default(false),
  /** So many next to one another do the same. */
  groupsOf: z.int('must be a whole number').min(1, 'must be 1-10000').max(10_000, 'must be 1-10000').default(1),
  /** Turns it is ahead. */
  phase: z.number().min(-64).max(64).default(0),
  /** Whether the cells of a unit are taken one by one. */
  each: z.enum(['cell', 'unit']).default('cell'),
  seed: z.int().min(0).max(0xffffffff).default(1),
};
const fraction = z.number().min(0, 'must be 0-1').max(1, 'must be 0-1');

export const LEVEL_WAVES = [
  'wave',
  'triangle',
  'rise',
  'fall',
  'pulse',
  'square',
  'breath',
  'sparkle',
  'flicker',
  'strobe',
] as const;
export type LevelWave = (typeof LEVEL_WAVES)[number];
/** level = offset + size x wave. `width` is the share of a turn that a pulse, square, sparkle or strobe is alight. */
const levelPartSchema = z.strictObject({
  does: z.literal('level'),
  wave: z.enum(LEVEL_WAVES).default('wave'),
  size: fraction.default(1),
  offset: fraction.default(0),
  width: z.number().min(0.01, 'must be 0.01-1').max(1, 'must be 0.01-1').default(0.5),
  ...partFields,
});

export const COLOUR_WAYS = ['hue', 'gradient', 'walk', 'swap'] as const;
export type ColourWay = (typeof COLOUR_WAYS)[number];
/**
 * `hue` turns round the colour circle; `gradient` lies along the order and moves; `walk` goes from colour to colour;
 * `swap` has two colours that change places. `size` is the saturation of `hue` and how soft a walk is.
 */
const colourPartSchema = z.strictObject({
  does: z.literal('colour'),
  way: z.enum(COLOUR_WAYS).default('hue'),
  colours: coloursSchema.default(['#ff2a1a', '#1f4bff']),
  size: fraction.default(1),
  offset: fraction.default(0),
  ...partFields,
});

export const AIM_PATHS = ['circle', 'eight', 'line', 'fan', 'cross', 'drawn'] as const;
export type AimPath = (typeof AIM_PATHS)[number];
/** Half-widths of a path in metres. */
const halfM = z.number().min(0, 'must be 0-100 m').max(100, 'must be 0-100 m');
/**
 * A movement round wherever the heads aim, or round an aim that is named: half-widths in degrees of pan and tilt, or in
 * metres on the floor (across, and up-stage), the path turned by `turnDeg`.
 */
const aimPartSchema = z.strictObject({
  does: z.literal('aim'),
  path: z.enum(AIM_PATHS).default('circle'),
  round: idSchema('aim').nullable().default(null),
  in: z.enum(['degrees', 'metres']).default('degrees'),
  acrossM: halfM.default(1.5),
  deepM: halfM.default(1.5),
  panDeg: z.number().min(0, 'must be 0-360').max(360, 'must be 0-360').default(30),
  tiltDeg: z.number().min(0, 'must be 0-360').max(360, 'must be 0-360').default(15),
  turnDeg: z.number().min(-360).max(360).default(0),
  /** Corners of a drawn path, -1 to 1 each; it is closed. */
  points: z
    .array(z.tuple([z.number().min(-1).max(1), z.number().min(-1).max(1)]))
    .max(200, 'at most 200 points')
    .default([]),
  ...partFields,
});

export const PIXEL_PATTERNS = ['bars', 'waves', 'comet', 'wipe', 'rain', 'snow', 'fire', 'plasma', 'text'] as const;
export type PixelPattern = (typeof PIXEL_PATTERNS)[number];
export const PIXEL_PLANES = ['auto', 'plan', 'front', 'side', 'unit'] as const;
export type PixelPlane = (typeof PIXEL_PLANES)[number];
/**
 * A picture that moves over the plot. `angleDeg` is the way it goes (0 to the right, 90 up); `width` the part of a
 * repeat that is alight, `repeat` how often it repeats across; `soft` how soft its edges are.
 */
const pixelsPartSchema = z.strictObject({
  does: z.literal('pixels'),
  pattern: z.enum(PIXEL_PATTERNS).default('bars'),
  colours: coloursSchema.default(['#ffb347']),
  angleDeg: z.number().min(-360).max(360).default(0),
  width: fraction.default(0.3),
  repeat: z.number().min(0.1, 'must be 0.1-64').max(64, 'must be 0.1-64').default(2),
  soft: fraction.default(0.2),
  text: z.string().max(200, 'at most 200 characters').default(''),
  /** The side of the plot it lies on; `unit` gives every unit a picture of its own. */
  plane: z.enum(PIXEL_PLANES).default('auto'),
  size: fraction.default(1),
  ...partFields,
});

export const effectPartSchema = z.discriminatedUnion('does', [
  levelPartSchema,
  colourPartSchema,
  aimPartSchema,
  pixelsPartSchema,
]);
export type EffectPart = z.infer<typeof effectPartSchema>;

/** What a part follows, with where it says so: palettes of its colours, the aim it moves round. */
export function* followedIn(part: EffectPart): Iterable<readonly [path: string, id: PaletteId | AimId]> {
  if ('colours' in part)
    for (const [i, colour] of part.colours.entries()) if (isPaletteId(colour)) yield [`colours.${i}`, colour];
  if (part.does === 'aim' && part.round) yield ['round', part.round];
}
export type LevelPart = z.infer<typeof levelPartSchema>;
export type ColourPart = z.infer<typeof colourPartSchema>;
export type AimPart = z.infer<typeof aimPartSchema>;
export type PixelsPart = z.infer<typeof pixelsPartSchema>;

/** How its levels meet what plays below: in place of it, scaling it, or the higher of both. */
export const LEVEL_MERGES = ['over', 'scale', 'highest'] as const;

/** Something as a function of time, without steps. */
export const effectSpecSchema = z.strictObject({
  /** Turns a second, or a beat where `beats`. */
  rate: rateSchema.default(0.5),
  beats: z.boolean().default(false),
  /** The level at which it lights what it plays on, 0-1; null leaves the level alone. */
  light: fraction.nullable().default(null),
  levels: z.enum(LEVEL_MERGES).default('over'),
  parts: z.array(effectPartSchema).min(1, 'at least one part').max(6, 'at most 6 parts'),
});
export type EffectSpec = z.infer<typeof effectSpecSchema>;

/** What an effect plays on, in order: units, parts, groups, areas. */
export type ReachId = LitId | GroupId | AreaId;
export const reachIdSchema = z.custom<ReachId>(
  (value) => typeof value === 'string' && /^(unit|part|group|area):[a-z0-9][a-z0-9-]{0,39}$/.test(value),
  { message: 'must be the id of a unit, a part, a group or an area' },
);

export const effectSchema = z.strictObject({
  kind: z.literal('effect'),
  id: idSchema('effect'),
  ...playableFields,
  colour: colourField('#c7a6ff'),
  on: z
    .array(reachIdSchema)
    .max(20_000, 'at most 20000')
    .refine((ids) => new Set(ids).size === ids.length, 'must not name anything twice')
    .default([]),
  ...effectSpecSchema.shape,
  ...fadeFields(500, 1000),
});
export type EffectRecord = z.infer<typeof effectSchema>;

/** The function alone, without what it is called and plays on. */
export const specOf = ({ rate, beats, light, levels, parts }: EffectSpec): EffectSpec => ({
  rate,
  beats,
  light,
  levels,
  parts,
});
