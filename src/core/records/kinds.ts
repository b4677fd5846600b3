import type { z } from 'zod';
import { kindOf, type Id, type RecordKind } from '../ids.ts';
import { idsOfAction } from './action.ts';
import { aimSchema, type AimRecord } from './aim.ts';
import { areaSchema, type AreaRecord } from './area.ts';
import type { BlobHash } from './blob.ts';
import { chaseSchema, shownBy, type ChaseRecord } from './chase.ts';
import { effectSchema, followedIn, type EffectRecord } from './effect.ts';
import { groupSchema, type GroupRecord } from './group.ts';
import { inputSchema, type InputRecord } from './input.ts';
import { laneSchema, namedIn, type LaneRecord } from './lane.ts';
import { namedInPassage, passageSchema, type PassageRecord } from './passage.ts';
import { lineSchema, type LineRecord } from './line.ts';
import { outputSchema, type OutputRecord } from './output.ts';
import { paletteSchema, type PaletteRecord } from './palette.ts';
import { partSchema, type PartRecord } from './part.ts';
import { backdropSchema, pictureRecordSchema, type BackdropRecord, type PictureRecord } from './picture.ts';
import { profileSchema, type ProfileRecord } from './profile.ts';
import { roomSchema, type RoomRecord } from './room.ts';
import { routeSchema, type RouteRecord } from './route.ts';
import { sceneSchema, type SceneRecord, type UnitValues } from './scene.ts';
import { showSchema, type ShowRecord } from './show.ts';
import { setlistSchema, songSchema, type SetlistRecord, type SongRecord } from './song.ts';
import { thingSchema, type ThingRecord } from './thing.ts';
import { unitSchema, type UnitRecord } from './unit.ts';
import { ownIn, variantSchema, type VariantRecord } from './variant.ts';
import { isAimValue, isPaletteValue } from './value.ts';

export interface RecordOf {
  show: ShowRecord;
  profile: ProfileRecord;
  area: AreaRecord;
  thing: ThingRecord;
  unit: UnitRecord;
  part: PartRecord;
  group: GroupRecord;
  output: OutputRecord;
  line: LineRecord;
  route: RouteRecord;
  scene: SceneRecord;
  chase: ChaseRecord;
  effect: EffectRecord;
  aim: AimRecord;
  room: RoomRecord;
  palette: PaletteRecord;
  input: InputRecord;
  picture: PictureRecord;
  backdrop: BackdropRecord;
  song: SongRecord;
  setlist: SetlistRecord;
  variant: VariantRecord;
  lane: LaneRecord;
  passage: PassageRecord;
}
export type AnyRecord = RecordOf[RecordKind];

/** An id that stands in a record, with the key path it stands at. */
export type Reference = readonly [path: string, id: Id];

/** What tells the items of a list apart, so that two people can edit different ones; null for plain ids and words. */
export type ItemKey = string | null;

/**
 * What is made of a record: the compiled rig (`rig`), programs of what plays (`program`), both, ways out and in
 * (`ways`), or nothing that is sent.
 */
export type MadeOf = 'rig' | 'program' | 'both' | 'ways' | 'nothing';

/** All that is said of a record kind. What is not said here does not compile; tables and rows are in `db/codecs.ts`. */
export interface KindDescription<R> {
  readonly schema: z.ZodType<R>;
  /** What one is called, and several. */
  readonly words: readonly [one: string, many: string];
  /** Every id it refers to. */
  readonly references: (record: R) => Iterable<Reference>;
  /** Files it names (`blob.ts`). */
  readonly blobs: (record: R) => readonly BlobHash[];
  /** It stands without them too: they may be left out of an archive, and are found again by what is in them. */
  readonly withoutBlobs?: true;
  /** What it cannot be without: it goes where that goes. */
  readonly owner: (record: R) => Id | null;
  /** Lists (by key path) that are merged item by item instead of as a whole. */
  readonly lists: Readonly<Record<string, ItemKey>>;
  readonly madeOf: MadeOf;
  /** Fields that nothing is made of: an edit of these alone changes nothing that is sent. */
  readonly silent: readonly (keyof R & string)[];
  /** Fields that the program fills in by itself: they stand in the way of nobody's undo. */
  readonly filledIn?: readonly (keyof R & string)[];
}

const none = (): Iterable<Reference> => [];
const alone = (): null => null;
const noBlobs = (): readonly BlobHash[] => [];

/** One entry for each kind: whoever adds one says all of it. */
export const KINDS = {
  show: {
    schema: showSchema,
    words: ['show', 'shows'],
    *references({ roomId }) {
      if (roomId) yield ['roomId', roomId];
    },
    blobs: noBlobs,
    owner: alone,
    lists: { favourites: null, recent: null, tags: 'key', views: 'key', viewpoints: 'key' },
    madeOf: 'ways',
    silent: [
      'notes',
      'favourites',
      'recent',
      'tags',
      'views',
      'lengths',
      'guides',
      'slotNames',
      'firstPaper',
      'paperViews',
      'viewpoints',
    ],
  },
  profile: {
    schema: profileSchema,
    words: ['profile', 'profiles'],
    references: none,
    blobs: noBlobs,
    owner: alone,
    lists: { channels: 'key', modes: 'key' },
    madeOf: 'both',
    silent: [
      'maker',
      'model',
      'author',
      'notes',
      'revision',
      'pictures',
      'addressFromZero',
      'dipSwitches',
      'dip',
      'unitNumber',
    ],
  },
  area: {
    schema: areaSchema,
    words: ['area', 'areas'],
    *references({ parentId }) {
      if (parentId) yield ['parentId', parentId];
    },
    blobs: noBlobs,
    owner: alone,
    lists: {},
    madeOf: 'both',
    silent: ['name', 'tag', 'locked'],
  },
  thing: {
    schema: thingSchema,
    words: ['thing', 'things'],
    references: none,
    blobs: ({ model }) => (model ? [model.blob] : []),
    owner: alone,
    lists: {},
    madeOf: 'both',
    silent: ['name', 'number', 'colour', 'model', 'locked', 'notes'],
  },
  unit: {
    schema: unitSchema,
    words: ['unit', 'units'],
    *references({ profileId, areaId, hungOn, relation }) {
      yield ['profileId', profileId];
      if (areaId) yield ['areaId', areaId];
      if (hungOn) yield ['hungOn', hungOn];
      if (relation && 'twinOf' in relation) yield ['relation.twinOf', relation.twinOf];
      else if (relation) yield ['relation.after', relation.after];
    },
    blobs: noBlobs,
    owner: ({ profileId }) => profileId,
    lists: {},
    madeOf: 'both',
    silent: ['name', 'tag', 'walk', 'expectedEnd', 'locked', 'rdmUid', 'hungOn', 'focus', 'notes'],
  },
  part: {
    schema: partSchema,
    words: ['part', 'parts'],
    *references({ unitId }) {
      yield ['unitId', unitId];
    },
    blobs: noBlobs,
    owner: ({ unitId }) => unitId,
    lists: {},
    madeOf: 'both',
    silent: ['name'],
  },
  group: {
    schema: groupSchema,
    words: ['group', 'groups'],
    *references({ unitIds, rule }) {
      yield* listed('unitIds', unitIds);
      if (rule?.profileId) yield ['rule.profileId', rule.profileId];
      if (rule?.areaId) yield ['rule.areaId', rule.areaId];
    },
    blobs: noBlobs,
    owner: alone,
    lists: { unitIds: null },
    madeOf: 'both',
    silent: ['name', 'number', 'tag', 'role'],
  },
  output: {
    schema: outputSchema,
    words: ['output', 'outputs'],
    *references({ lamps }) {
      for (const [i, lamp] of lamps.entries()) if (lamp.unitId) yield [`lamps.${i}.unitId`, lamp.unitId];
    },
    blobs: noBlobs,
    owner: alone,
    lists: { destinations: null, lamps: 'lampId' },
    madeOf: 'ways',
    silent: ['notes'],
  },
  line: {
    schema: lineSchema,
    words: ['line', 'lines'],
    *references({ unitIds, outputId }) {
      yield* listed('unitIds', unitIds);
      if (outputId) yield ['outputId', outputId];
    },
    blobs: noBlobs,
    owner: alone,
    lists: { unitIds: null },
    // Groups may take their units in cable order.
    madeOf: 'both',
    silent: [
      'name',
      'outputId',
      'port',
      'medium',
      'connector',
      'terminated',
      'cables',
      'pixelLimit',
      'pixelWatts',
      'volts',
      'injectEvery',
      'levelLimit',
      'notes',
    ],
  },
  route: {
    schema: routeSchema,
    words: ['route', 'routes'],
    *references({ outputId }) {
      yield ['outputId', outputId];
    },
    blobs: noBlobs,
    owner: ({ outputId }) => outputId,
    lists: {},
    madeOf: 'rig',
    silent: [],
  },
  picture: {
    schema: pictureRecordSchema,
    words: ['picture', 'pictures'],
    references: none,
    blobs: ({ blob }) => [blob],
    owner: alone,
    lists: {},
    madeOf: 'nothing',
    silent: [],
  },
  aim: {
    schema: aimSchema,
    words: ['aim', 'aims'],
    *references({ anchor, heads, corrections }) {
      if (anchor) yield ['anchor', anchor];
      yield* listed('heads', heads ?? []);
      for (const id of Object.keys(corrections)) yield [`corrections.${id}`, id as Id];
    },
    blobs: noBlobs,
    owner: alone,
    lists: { tags: null, heads: null },
    madeOf: 'program',
    silent: ['name', 'number', 'folder', 'tags', 'colour'],
  },
  room: {
    schema: roomSchema,
    words: ['room', 'rooms'],
    *references({ kept }) {
      for (const list of ['units', 'areas', 'aims'] as const)
        for (const id of Object.keys(kept?.[list] ?? {})) yield [`kept.${list}.${id}`, id as Id];
    },
    blobs: ({ kept }) => Object.values(kept?.things ?? {}).flatMap(({ model }) => (model ? [model.blob] : [])),
    owner: alone,
    lists: {},
    madeOf: 'nothing',
    silent: [],
  },
  palette: {
    schema: paletteSchema,
    words: ['palette', 'palettes'],
    *references({ profiles, units }) {
      for (const id of Object.keys(profiles)) yield [`profiles.${id}`, id as Id];
      for (const id of Object.keys(units)) yield [`units.${id}`, id as Id];
    },
    blobs: noBlobs,
    owner: alone,
    lists: { tags: null },
    madeOf: 'program',
    silent: ['name', 'number', 'folder', 'tags', 'colour'],
  },
  scene: {
    schema: sceneSchema,
    words: ['scene', 'scenes'],
    *references(scene) {
      yield* playableReferences(scene);
      yield* valueReferences('values', scene.values);
    },
    blobs: noBlobs,
    owner: alone,
    lists: { tags: null },
    madeOf: 'program',
    silent: ['name', 'number', 'folder', 'tags', 'colour', 'pictureId'],
  },
  effect: {
    schema: effectSchema,
    words: ['effect', 'effects'],
    *references(effect) {
      yield* playableReferences(effect);
      yield* listed('on', effect.on);
      for (const [i, part] of effect.parts.entries())
        for (const [path, id] of followedIn(part)) yield [`parts.${i}.${path}`, id];
    },
    blobs: noBlobs,
    owner: alone,
    lists: { tags: null, on: null },
    madeOf: 'program',
    silent: ['name', 'number', 'folder', 'tags', 'colour', 'pictureId'],
  },
  chase: {
    schema: chaseSchema,
    words: ['chase', 'chases'],
    *references(chase) {
      yield* playableReferences(chase);
      for (const [i, step] of chase.steps.entries()) {
        const shown = shownBy(step);
        if (shown) yield [`steps.${i}.${kindOf(shown)}Id`, shown];
        if (step.values) yield* valueReferences(`steps.${i}.values`, step.values);
      }
    },
    blobs: noBlobs,
    owner: alone,
    lists: { tags: null },
    madeOf: 'program',
    silent: ['name', 'number', 'folder', 'tags', 'colour', 'pictureId'],
  },
  input: {
    schema: inputSchema,
    words: ['desk that comes in', 'desks that come in'],
    *references({ controls }) {
      for (const [i, { does }] of controls.entries())
        for (const [path, id] of idsOfAction(does)) yield [`controls.${i}.does.${path}`, id];
    },
    blobs: noBlobs,
    owner: alone,
    lists: {},
    madeOf: 'ways',
    silent: ['notes'],
  },
  backdrop: {
    schema: backdropSchema,
    words: ['picture under the plot', 'pictures under the plot'],
    *references({ pictureId }) {
      yield ['pictureId', pictureId];
    },
    blobs: noBlobs,
    owner: ({ pictureId }) => pictureId,
    lists: {},
    madeOf: 'nothing',
    silent: [],
  },
  song: {
    schema: songSchema,
    words: ['song', 'songs'],
    references: none,
    blobs: ({ blob }) => (blob ? [blob] : []),
    withoutBlobs: true,
    owner: alone,
    lists: { tags: null, 'mended.stretches': 'from' },
    madeOf: 'program',
    silent: [
      'name',
      'number',
      'folder',
      'tags',
      'artist',
      'album',
      'notes',
      'file',
      'type',
      'bytes',
      'listen',
      'fault',
      'marks',
      'codeAt',
    ],
    filledIn: ['heard', 'lengthS', 'fault'],
  },
  setlist: {
    schema: setlistSchema,
    words: ['list of songs', 'lists of songs'],
    *references({ songs }) {
      yield* listed('songs', songs);
    },
    blobs: noBlobs,
    owner: alone,
    lists: { tags: null, songs: null },
    madeOf: 'nothing',
    silent: [],
  },
  variant: {
    schema: variantSchema,
    words: ['way of Auto', 'ways of Auto'],
    references: ownIn,
    blobs: noBlobs,
    owner: alone,
    lists: {},
    madeOf: 'nothing',
    silent: [],
  },
  lane: {
    schema: laneSchema,
    words: ['lane of a song', 'lanes of songs'],
    *references(lane) {
      yield ['songId', lane.songId];
      yield* namedIn(lane);
    },
    blobs: noBlobs,
    owner: ({ songId }) => songId,
    lists: { blocks: 'key' },
    madeOf: 'program',
    silent: ['favourite'],
  },
  passage: {
    schema: passageSchema,
    words: ['passage', 'passages'],
    references: namedInPassage,
    blobs: noBlobs,
    owner: alone,
    lists: { tags: null },
    madeOf: 'nothing',
    silent: [],
  },
} satisfies { readonly [K in RecordKind]: KindDescription<RecordOf[K]> };

/** What is said of a kind, whichever it is. */
export const describe = (kind: RecordKind): KindDescription<AnyRecord> =>
  KINDS[kind] as unknown as KindDescription<AnyRecord>;

/** Every id a record refers to, each with the key path it stands at. */
export const referencesOf = (record: AnyRecord): Iterable<Reference> => describe(record.kind).references(record);

/** What a record cannot be without. */
export const ownerOf = (record: AnyRecord): Id | null => describe(record.kind).owner(record);

/** The files a record cannot be without. */
export const neededBlobsOf = (record: AnyRecord): readonly BlobHash[] =>
  describe(record.kind).withoutBlobs ? [] : blobsOf(record);

/** The files a record names. */
export const blobsOf = (record: AnyRecord): readonly BlobHash[] => describe(record.kind).blobs(record);

function* listed(path: string, ids: readonly Id[]): Iterable<Reference> {
  for (const [i, id] of ids.entries()) yield [`${path}.${i}`, id];
}

function* playableReferences(record: SceneRecord | ChaseRecord | EffectRecord): Iterable<Reference> {
  if (record.areaId) yield ['areaId', record.areaId];
  if (record.pictureId) yield ['pictureId', record.pictureId];
}

function* valueReferences(path: string, values: Readonly<Record<string, UnitValues>>): Iterable<Reference> {
  for (const [id, attributes] of Object.entries(values)) {
    yield [`${path}.${id}`, id as Id];
    for (const [key, value] of Object.entries(attributes))
      if (isPaletteValue(value)) yield [`${path}.${id}.${key}.palette`, value.palette];
      else if (isAimValue(value)) yield [`${path}.${id}.${key}.aim`, value.aim];
  }
}
