import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { plainValueSchema } from './value.ts';
import { hexColourSchema, keySchema, nameSchema, notesSchema } from './common.ts';
import { isAttribute } from '../attributes.ts';

/** What a fixture is, for its symbol on the plot, for filters and for first guesses. */
export const FIXTURE_KINDS = [
  'dimmer',
  'par',
  'bar',
  'head',
  'scanner',
  'derby',
  'strobe',
  'blinder',
  'hazer',
  'fan',
  'uv',
  'laser',
  'motor',
  'relay',
  'strip',
  'matrix',
  'lamp',
  'other',
] as const;
export type FixtureKind = (typeof FIXTURE_KINDS)[number];

export const PHYSICAL_UNITS = ['', 'percent', 'deg', 'hz', 'rpm', 'kelvin', 'second', 'deg/s'] as const;

const byteSchema = z.int('must be a whole number').min(0, 'must be 0-255').max(255, 'must be 0-255');

/**
 * A named part of a channel, in values of its first (coarse) slot, both ends included. `physical` maps the ends to
 * what happens in the world. A shutter range says whether light passes: `light`.
 */
export const rangeSchema = z.strictObject({
  from: byteSchema,
  to: byteSchema,
  name: nameSchema,
  physical: z.strictObject({ from: z.number(), to: z.number(), unit: z.enum(PHYSICAL_UNITS) }).optional(),
  /** Colour of a wheel slot or a macro, sRGB. */
  colour: hexColourSchema.optional(),
  /** The other half, where the beam stands between two colours. */
  colour2: hexColourSchema.optional(),
  /** What the slot looks like: a built-in picture's name, or `own:KEY` of the profile's pictures. */
  picture: z
    .string()
    .regex(/^(own:)?[A-Za-z0-9][A-Za-z0-9_-]{0,47}$/, 'must be a picture name')
    .optional(),
  /** For a shutter: what this range lets through. */
  light: z.enum(['open', 'closed', 'strobe']).optional(),
});
export type Range = z.infer<typeof rangeSchema>;

/** One function of the fixture that takes one to three slots (8, 16 or 24 bit). */
export const channelSchema = z.strictObject({
  key: keySchema,
  name: nameSchema,
  /** Canonical attribute name of GDTF (DIN SPEC 15800), such as `ColorAdd_R` or `Gobo1`. */
  attribute: z.string().refine(isAttribute, 'must be an attribute name of GDTF such as "Dimmer" or "Gobo1"'),
  bits: z.union([z.literal(8), z.literal(16), z.literal(24)]).default(8),
  /** Value at rest, in the channel's full resolution. */
  home: z.int().min(0).max(0xffffff).default(0),
  /** Value for "light it", in the channel's full resolution; where absent: full for levels and colours, else home. */
  highlight: z.int().min(0).max(0xffffff).optional(),
  /** True: jumps at the start of a fade (wheels, patterns). False: fades. */
  snap: z.boolean().default(false),
  ranges: z.array(rangeSchema).max(256).default([]),
});
export type Channel = z.infer<typeof channelSchema>;

const slotUseSchema = z.strictObject({
  channel: keySchema,
  /** 0 coarse, 1 fine, 2 ultra fine. */
  byte: z.int().min(0).max(2).default(0),
});
/** A slot of a mode: a byte of a channel, nothing, or a block repeated for each cell. */
export const modeSlotSchema = z.union([
  slotUseSchema,
  z.strictObject({ unused: z.literal(true) }),
  z.strictObject({
    cells: z.int().min(1).max(65_536),
    firstCell: z.int().min(1).max(65_536).default(1),
    slots: z.array(slotUseSchema).min(1).max(64),
  }),
]);
export type ModeSlot = z.infer<typeof modeSlotSchema>;
export const modeSchema = z.strictObject({
  key: keySchema,
  name: nameSchema,
  slots: z.array(modeSlotSchema).min(1, 'a mode needs at least one slot').max(2048),
});
export type Mode = z.infer<typeof modeSchema>;

/** A small picture as a PNG data address: at most 48 KiB of base64. Nothing else is ever kept of an upload. */
export const pictureSchema = z
  .string()
  .max(65_536, 'a picture must be smaller than 48 KiB')
  .regex(/^data:image\/png;base64,iVBORw0KGgo[A-Za-z0-9+/]+={0,2}$/, 'must be a PNG picture');

export const MOODS = ['calm', 'easy', 'lively', 'strong', 'peak'] as const;
export type Mood = (typeof MOODS)[number];

const measure = (max: number) => z.number().min(0).max(max).optional();
export const physicalSchema = z.strictObject({
  widthMm: measure(100_000),
  heightMm: measure(100_000),
  depthMm: measure(100_000),
  massKg: measure(10_000),
  powerW: measure(100_000),
  panDeg: measure(3600),
  tiltDeg: measure(3600),
  beamDeg: measure(180),
  fieldDeg: measure(180),
  /** What the beam angle can be set to by hand on the lamp itself, where it can. */
  beamFromDeg: measure(180),
  beamToDeg: measure(180),
  /** Luminous flux of all its light sources at full, lumen. */
  fluxLm: measure(10_000_000),
  connectors: z.string().max(200).optional(),
});

/** A fixture type: everything that is true of each unit of it. */
export const profileSchema = z.strictObject({
  kind: z.literal('profile'),
  id: idSchema('profile'),
  maker: nameSchema,
  model: nameSchema,
  fixtureKind: z.enum(FIXTURE_KINDS),
  author: z.string().max(100).default(''),
  notes: notesSchema.default(''),
  channels: z.array(channelSchema).min(1, 'a profile needs at least one channel').max(1024),
  modes: z.array(modeSchema).min(1, 'a profile needs at least one mode').max(256),
  physical: physicalSchema.default({}),
  /** Goes up by one with every change that is given away; the higher one of two is the newer. */
  revision: z.int().min(1).max(99_999).default(1),
  /** Own pictures of wheel slots, by key. */
  pictures: z.record(keySchema, pictureSchema).default({}),
  /** What special channels do from calm to peak, by channel key; five values, null where the channel stays at rest. */
  moods: z.record(keySchema, z.array(plainValueSchema.nullable()).length(MOODS.length)).default({}),
  /** True for pixel strips and matrices: the cells flow on into the next universe. */
  flow: z.boolean().default(false),
  /** True where the unit's own switches or menu count addresses from 0. */
  addressFromZero: z.boolean().default(false),
  /** True where the address is set with DIP switches. */
  dipSwitches: z.boolean().default(false),
  /** How the switches stand: `highFirst` where switch 1 is worth 256; `modeSwitch` is 10 and more, with its position. */
  dip: z
    .strictObject({
      highFirst: z.boolean().default(false),
      modeSwitch: z.strictObject({ number: z.int().min(10).max(12), on: z.boolean() }).optional(),
    })
    .optional(),
  /** Where the address is set as a unit number: circuits a unit, and the base it is shown in. */
  unitNumber: z
    .strictObject({ circuits: z.int().min(1).max(512), base: z.union([z.literal(10), z.literal(16)]) })
    .optional(),
});
export type ProfileRecord = z.infer<typeof profileSchema>;
