import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  check,
  doublePrecision,
  foreignKey,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';

/**
 * One table for each record kind: columns for what is queried or referred to, `data` for the rest of the record.
 * Ids are unique within a show, so that the same show can be imported twice; every key starts with the show.
 */
export const show = pgTable('show', {
  id: text().primaryKey(),
  name: text().notNull(),
  revision: integer().notNull().default(0),
  /** The version of its records (`core/records/versions`); rows from before there was this column are of version 6. */
  records: integer().notNull().default(6),
  data: jsonb().notNull(),
  createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  changedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
});

const showId = () =>
  text()
    .notNull()
    .references(() => show.id, { onDelete: 'cascade' });

/** Every record: its show, and its id there. */
const record = () => ({ showId: showId(), id: text().notNull() });
/** What people tell it by. */
const numbered = () => ({ number: integer().notNull(), name: text().notNull() });
const rest = () => ({ data: jsonb().notNull() });

export const profile = pgTable(
  'profile',
  {
    ...record(),
    maker: text().notNull(),
    model: text().notNull(),
    fixtureKind: text().notNull(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

export const unit = pgTable(
  'unit',
  {
    ...record(),
    ...numbered(),
    profileId: text().notNull(),
    mode: text().notNull(),
    universe: integer(),
    address: integer(),
    ...rest(),
  },
  (t) => [
    primaryKey({ columns: [t.showId, t.id] }),
    foreignKey({ columns: [t.showId, t.profileId], foreignColumns: [profile.showId, profile.id] }),
    index('unit_profile').on(t.showId, t.profileId),
    check('unit_address', sql`${t.address} between 1 and 512`),
    check('unit_universe', sql`${t.universe} between 1 and 63999`),
    check('unit_patch_whole', sql`(${t.universe} is null) = (${t.address} is null)`),
  ],
);

/** A part belongs to its unit. */
export const part = pgTable(
  'part',
  {
    ...record(),
    unitId: text().notNull(),
    ...numbered(),
    ...rest(),
  },
  (t) => [
    primaryKey({ columns: [t.showId, t.id] }),
    foreignKey({ columns: [t.showId, t.unitId], foreignColumns: [unit.showId, unit.id] }),
    index('part_unit').on(t.showId, t.unitId),
  ],
);

export const area = pgTable(
  'area',
  {
    ...record(),
    ...numbered(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

export const thing = pgTable(
  'thing',
  {
    ...record(),
    ...numbered(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

export const group = pgTable(
  'unit_group',
  {
    ...record(),
    ...numbered(),
    data: jsonb().notNull().default({}),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

export const groupMember = pgTable(
  'group_member',
  { showId: text().notNull(), groupId: text().notNull(), position: integer().notNull(), unitId: text().notNull() },
  (t) => [
    primaryKey({ columns: [t.showId, t.groupId, t.position] }),
    foreignKey({ columns: [t.showId, t.groupId], foreignColumns: [group.showId, group.id] }).onDelete('cascade'),
    foreignKey({ columns: [t.showId, t.unitId], foreignColumns: [unit.showId, unit.id] }),
    index('group_member_unit').on(t.showId, t.unitId),
  ],
);

export const output = pgTable(
  'output',
  {
    ...record(),
    name: text().notNull(),
    protocol: text().notNull(),
    enabled: boolean().notNull(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

export const line = pgTable(
  'line',
  {
    ...record(),
    ...numbered(),
    outputId: text(),
    ...rest(),
  },
  (t) => [
    primaryKey({ columns: [t.showId, t.id] }),
    foreignKey({ columns: [t.showId, t.outputId], foreignColumns: [output.showId, output.id] }),
    index('line_output').on(t.showId, t.outputId),
  ],
);

/** A unit hangs on one line at the most. */
export const lineUnit = pgTable(
  'line_unit',
  { showId: text().notNull(), lineId: text().notNull(), position: integer().notNull(), unitId: text().notNull() },
  (t) => [
    primaryKey({ columns: [t.showId, t.lineId, t.position] }),
    foreignKey({ columns: [t.showId, t.lineId], foreignColumns: [line.showId, line.id] }).onDelete('cascade'),
    foreignKey({ columns: [t.showId, t.unitId], foreignColumns: [unit.showId, unit.id] }),
    index('line_unit_unit').on(t.showId, t.unitId),
  ],
);

export const route = pgTable(
  'route',
  {
    ...record(),
    universe: integer().notNull(),
    outputId: text().notNull(),
    wireUniverse: integer().notNull(),
    enabled: boolean().notNull(),
    data: jsonb().notNull().default({}),
  },
  (t) => [
    primaryKey({ columns: [t.showId, t.id] }),
    foreignKey({ columns: [t.showId, t.outputId], foreignColumns: [output.showId, output.id] }),
    index('route_output').on(t.showId, t.outputId),
  ],
);

export const scene = pgTable(
  'scene',
  {
    ...record(),
    ...numbered(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

/** Values of a scene by unit or part of a unit; that these exist is a rule between records (`core/rules`). */
export const sceneUnit = pgTable(
  'scene_unit',
  { showId: text().notNull(), sceneId: text().notNull(), unitId: text().notNull(), values: jsonb().notNull() },
  (t) => [
    primaryKey({ columns: [t.showId, t.sceneId, t.unitId] }),
    foreignKey({ columns: [t.showId, t.sceneId], foreignColumns: [scene.showId, scene.id] }).onDelete('cascade'),
  ],
);

/** Aims: that what they stand on and who takes part exists is a rule between records. */
export const aim = pgTable(
  'aim',
  {
    ...record(),
    ...numbered(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

export const room = pgTable(
  'room',
  {
    ...record(),
    ...numbered(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

/** Songs. Their files may be elsewhere, so that no foreign key names them. */
export const song = pgTable(
  'song',
  {
    ...record(),
    ...numbered(),
    blob: text(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] }), index('song_blob').on(t.blob)],
);

/** Lists of songs: that these exist is a rule between records. */
export const setlist = pgTable(
  'setlist',
  {
    ...record(),
    ...numbered(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

/** Ways of Auto: that what they name exists is a rule between records. */
export const variant = pgTable(
  'variant',
  {
    ...record(),
    ...numbered(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

/** Lanes of songs: that what they name exists is a rule between records. */
export const lane = pgTable(
  'lane',
  {
    ...record(),
    number: integer('number').notNull(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

/** Passages: that what they name exists is a rule between records. */
export const passage = pgTable(
  'passage',
  {
    ...record(),
    ...numbered(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

/** Palettes: that what scenes name exists is a rule between records. */
export const palette = pgTable(
  'palette',
  {
    ...record(),
    ...numbered(),
    family: text().notNull(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

export const effect = pgTable(
  'effect',
  {
    ...record(),
    ...numbered(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

export const chase = pgTable(
  'chase',
  {
    ...record(),
    ...numbered(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

export const chaseStep = pgTable(
  'chase_step',
  {
    showId: text().notNull(),
    chaseId: text().notNull(),
    position: integer().notNull(),
    /** What the step shows: a scene, another chase, an effect, or values of its own. */
    sceneId: text(),
    shownChaseId: text(),
    effectId: text(),
    values: jsonb(),
    name: text(),
    fade: doublePrecision(),
    hold: doublePrecision(),
  },
  (t) => [
    primaryKey({ columns: [t.showId, t.chaseId, t.position] }),
    foreignKey({ columns: [t.showId, t.chaseId], foreignColumns: [chase.showId, chase.id] }).onDelete('cascade'),
    foreignKey({ columns: [t.showId, t.sceneId], foreignColumns: [scene.showId, scene.id] }),
    foreignKey({ columns: [t.showId, t.effectId], foreignColumns: [effect.showId, effect.id] }),
    index('chase_step_scene').on(t.showId, t.sceneId),
    index('chase_step_effect').on(t.showId, t.effectId),
    check('chase_step_shows_one', sql`num_nonnulls(${t.sceneId}, ${t.shownChaseId}, ${t.effectId}, ${t.values}) = 1`),
  ],
);

export const input = pgTable(
  'input',
  {
    ...record(),
    name: text().notNull(),
    protocol: text().notNull(),
    enabled: boolean().notNull(),
    ...rest(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

/** Pictures and whatever else is a file (`core/records/blob.ts`); the files themselves stand in the data folder. */
export const blob = pgTable('blob', {
  /** SHA-256 of its bytes. */
  hash: text().primaryKey(),
  type: text().notNull(),
  bytes: bigint({ mode: 'number' }).notNull(),
  /** When it was brought in or was let go of last: what nobody uses is kept for some time. */
  touchedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
});

/** Which records of a show name a blob. */
export const blobUse = pgTable(
  'blob_use',
  {
    showId: showId(),
    recordId: text().notNull(),
    hash: text()
      .notNull()
      .references(() => blob.hash),
  },
  (t) => [primaryKey({ columns: [t.showId, t.recordId, t.hash] }), index('blob_use_hash').on(t.hash)],
);

/** The file of a picture is named in `blob_use` too. `data` is what versions before 7 of the records had instead. */
export const picture = pgTable(
  'picture',
  {
    ...record(),
    name: text().notNull(),
    widthPx: integer().notNull(),
    heightPx: integer().notNull(),
    type: text(),
    bytes: integer(),
    blob: text(),
    data: text(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);

export const backdrop = pgTable(
  'backdrop',
  {
    ...record(),
    name: text().notNull(),
    pictureId: text().notNull(),
    ...rest(),
  },
  (t) => [
    primaryKey({ columns: [t.showId, t.id] }),
    foreignKey({ columns: [t.showId, t.pictureId], foreignColumns: [picture.showId, picture.id] }),
    index('backdrop_picture').on(t.showId, t.pictureId),
  ],
);

/**
 * History: what every edit changed, in order of revision. Lines are only added; what old ones changed is let go of in
 * time (`db/history.ts`), and then they cannot be taken back any more.
 */
export const change = pgTable(
  'change',
  {
    showId: showId(),
    revision: integer().notNull(),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
    author: text().notNull(),
    action: text().notNull(),
    target: integer(),
    label: text().notNull(),
    /** What changed, field by field (`core/document/difference.ts`); null where it is no longer kept. */
    difference: jsonb(),
    /** What lines from before there were differences had instead: whole records, of `records`. */
    forward: jsonb(),
    reverse: jsonb(),
    /** Made blind: what plays goes on as it was until it is taken live. */
    blind: boolean().notNull().default(false),
    /** The version of the records in it. */
    records: integer().notNull().default(6),
  },
  (t) => [
    primaryKey({ columns: [t.showId, t.revision] }),
    check('change_action', sql`${t.action} in ('edit', 'undo', 'redo')`),
  ],
);

/** Which lines of history hold on to a blob, so that what used it can come back. */
export const blobHistory = pgTable(
  'blob_history',
  {
    showId: showId(),
    revision: integer().notNull(),
    hash: text()
      .notNull()
      .references(() => blob.hash),
  },
  (t) => [
    primaryKey({ columns: [t.showId, t.revision, t.hash] }),
    foreignKey({ columns: [t.showId, t.revision], foreignColumns: [change.showId, change.revision] }).onDelete(
      'cascade',
    ),
    index('blob_history_hash').on(t.hash),
  ],
);

/** What is playing, by hand, masters and tempo: the state that survives a restart. */
export const live = pgTable('live', {
  showId: text()
    .primaryKey()
    .references(() => show.id, { onDelete: 'cascade' }),
  data: jsonb().notNull(),
  /** The show's revision that was playing; null for what was kept before there was this column. */
  revision: integer(),
  /** The version of the records in it. */
  records: integer().notNull().default(6),
  savedAt: bigint({ mode: 'number' }).notNull(),
});

/** Settings of this installation, such as the open show and the sACN component id. */
export const setting = pgTable('setting', { key: text().primaryKey(), value: jsonb().notNull() });
