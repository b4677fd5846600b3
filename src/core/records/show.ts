import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { PLOT_SIDES } from './picture.ts';
import { measuresSchema } from './room.ts';
import {
  bpmSchema,
  guidesSchema,
  hexColourSchema,
  keySchema,
  metresSchema,
  nameSchema,
  notesSchema,
} from './common.ts';

/** Shapes of colour tags: a colour never stands alone. */
export const TAG_SHAPES = ['disc', 'square', 'diamond', 'triangle', 'cross', 'ring', 'bar', 'star'] as const;
export const tagSchema = z.strictObject({
  key: keySchema,
  name: nameSchema,
  colour: hexColourSchema,
  shape: z.enum(TAG_SHAPES),
});
export type Tag = z.infer<typeof tagSchema>;

/** A way of looking at the patch sheet, kept with the show: which columns, in which order, and what is filtered. */
export const sheetViewSchema = z.strictObject({
  key: keySchema,
  name: nameSchema,
  columns: z.array(keySchema).min(1, 'a view has at least one column').max(40),
  sort: z.strictObject({ column: keySchema, descending: z.boolean() }).nullable().default(null),
  filter: z.string().max(200).default(''),
});
export type SheetViewRecord = z.infer<typeof sheetViewSchema>;

const SLOT = /^[1-9]\d{0,4}\.[1-9]\d{0,2}$/;
const MOST_NAMES = 20_000;

const paperPoint = z.strictObject({ x: metresSchema, y: metresSchema });

const farMetres = z.number().min(-10_000, 'must be within 10 km').max(10_000, 'must be within 10 km');
const roomPoint = z.strictObject({ x: farMetres, y: farMetres, z: farMetres });

const uniqueKeys = (list: readonly { readonly key: string }[]): boolean =>
  new Set(list.map((item) => item.key)).size === list.length;

/** The room of a show that says nothing of it. */
export const USUAL_ROOM = { name: 'Room', widthM: 12, depthM: 8, heightM: 4, walls: true };

/** The show itself: one record a show, the root that all others belong to. */
export const showSchema = z.strictObject({
  kind: z.literal('show'),
  id: idSchema('show'),
  name: nameSchema,
  notes: notesSchema.default(''),
  /** Frames a second the engine renders and sends: 10-44 (44 is the limit of ANSI E1.11 with 512 slots). */
  frameRate: z.int().min(10, 'must be 10-44').max(44, 'must be 10-44').default(40),
  /** Tempo at which the show opens, beats a minute. */
  tempoBpm: bpmSchema.default(120),
  /** Beats in a bar, for what counts in bars. */
  beatsPerBar: z.int().min(1, 'must be 1-32').max(32, 'must be 1-32').default(4),
  /** What is sent never flashes faster over a large part of the plot than is safe for those who look at it. */
  safety: z
    .strictObject({
      /** Off only where everybody who can see it has been told. */
      limitFlashes: z.boolean().default(true),
      flashesPerSecond: z.number().min(0.5, 'must be 0.5-20').max(20, 'must be 0.5-20').default(3),
      /** The part of the plot (0-1) over which that holds. */
      share: z.number().min(0, 'must be 0-1').max(1, 'must be 0-1').default(0.25),
      /** No strobe goes faster than this, in flashes a second, however small. */
      strobeHz: z.number().min(0.5, 'must be 0.5-50').max(50, 'must be 0.5-50').default(12),
    })
    .default({ limitFlashes: true, flashesPerSecond: 3, share: 0.25, strobeHz: 12 }),
  /** Profiles marked as favourites, and those units were added of lately, newest first. They need not be in the show. */
  favourites: z.array(idSchema('profile')).max(200).default([]),
  recent: z.array(idSchema('profile')).max(12).default([]),
  /** Colour tags of units, groups and areas: each with a name, a colour and a shape. */
  tags: z.array(tagSchema).max(24).refine(uniqueKeys, 'must not use a key twice').default([]),
  /** Saved views of the patch sheet. */
  views: z.array(sheetViewSchema).max(24).refine(uniqueKeys, 'must not use a key twice').default([]),
  /** How lengths are shown and typed; they are kept in metres. */
  lengths: z.enum(['metres', 'feet']).default('metres'),
  guides: guidesSchema,
  /** Names of single slots, by slot (`3.145`): for what is on the wire and no unit. */
  slotNames: z
    .record(
      z.string().regex(SLOT, 'must be a slot such as "3.145"'),
      z.string().min(1).max(40, 'at most 40 characters'),
    )
    .refine((names) => Object.keys(names).length <= MOST_NAMES, `at most ${MOST_NAMES} named slots`)
    .default({}),
  /** The paper the plot opens on: a room is drawn from above, a display is seen from the front. */
  firstPaper: z.enum(PLOT_SIDES).default('plan'),
  /** What each paper shows first, metres on that paper; all of it where nothing is said. */
  paperViews: z.partialRecord(z.enum(PLOT_SIDES), z.strictObject({ min: paperPoint, max: paperPoint })).default({}),
  /** Own places to look at the room from, metres in the room. */
  viewpoints: z
    .array(z.strictObject({ key: keySchema, name: nameSchema, eye: roomPoint, target: roomPoint }))
    .max(24, 'at most 24 viewpoints')
    .refine(uniqueKeys, 'must not use a key twice')
    .default([]),
  /** Size of the room in metres: x across, y deep, z high. The plan's origin is the middle of the floor. */
  room: measuresSchema.default(USUAL_ROOM),
  /** Which of its rooms it stands in; null while it has never been anywhere else. */
  roomId: idSchema('room').nullable().default(null),
});
export type ShowRecord = z.infer<typeof showSchema>;
