import { and, eq, getTableColumns, inArray, sql } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import { RECORD_KINDS, kindOf, type RecordKind } from '../core/ids.ts';
import { sameJson, sortedChange, type ChangeSet, type Document } from '../core/document/change.ts';
import type { AnyRecord, RecordOf } from '../core/records/index.ts';
import { readStored, RECORDS_VERSION } from '../core/records/versions.ts';
import type { Fault } from '../core/faults.ts';
import { writeBlobUse } from './blobs.ts';
import { chunks } from './chunks.ts';
import type { Executor } from './connect.ts';
import * as t from './schema.ts';

type Row = Record<string, unknown>;

/** How a record kind is laid out in its table, and its lists in a child table. */
interface Codec<K extends RecordKind> {
  readonly table: PgTable;
  toRow(record: RecordOf[K]): Row;
  fromRow(row: Row, children: Row[]): unknown;
  /** `key` tells the rows of one record apart. */
  readonly children?: {
    readonly table: PgTable;
    readonly parent: string;
    readonly key: string;
    toRows(record: RecordOf[K]): Row[];
  };
}

const codecs: { [K in Exclude<RecordKind, 'show'>]: Codec<K> } = {
  profile: laid('profile', t.profile),
  unit: {
    table: t.unit,
    toRow: ({ patch, ...unit }) => ({
      ...split(t.unit, unit),
      universe: patch?.universe ?? null,
      address: patch?.address ?? null,
    }),
    fromRow: ({ universe, address, ...row }) => ({
      ...joined('unit', row),
      patch: universe === null ? null : { universe, address },
    }),
  },
  part: laid('part', t.part),
  picture: {
    table: t.picture,
    toRow: ({ kind: _, ...row }) => ({ ...row, data: null }),
    fromRow: ({ showId: _, ...row }) => ({ kind: 'picture', ...withoutNulls(row) }),
  },
  backdrop: laid('backdrop', t.backdrop),
  area: laid('area', t.area),
  thing: laid('thing', t.thing),
  group: laid('group', t.group, {
    field: 'unitIds',
    table: t.groupMember,
    parent: 'groupId',
    key: 'position',
    toRows: ({ id, unitIds }) => unitIds.map((unitId, position) => ({ groupId: id, position, unitId })),
    fromRows: (rows) => rows.map((row) => row['unitId']),
  }),
  output: laid('output', t.output),
  line: laid('line', t.line, {
    field: 'unitIds',
    table: t.lineUnit,
    parent: 'lineId',
    key: 'position',
    toRows: ({ id, unitIds }) => unitIds.map((unitId, position) => ({ lineId: id, position, unitId })),
    fromRows: (rows) => rows.map((row) => row['unitId']),
  }),
  route: laid('route', t.route),
  scene: laid('scene', t.scene, {
    field: 'values',
    table: t.sceneUnit,
    parent: 'sceneId',
    key: 'unitId',
    toRows: ({ id, values }) => Object.entries(values).map(([unitId, own]) => ({ sceneId: id, unitId, values: own })),
    fromRows: (rows) => Object.fromEntries(rows.map((row) => [row['unitId'], row['values']])),
  }),
  chase: laid('chase', t.chase, {
    field: 'steps',
    table: t.chaseStep,
    parent: 'chaseId',
    key: 'position',
    toRows: ({ id, steps }) =>
      steps.map((step, position) => ({
        chaseId: id,
        position,
        sceneId: step.sceneId ?? null,
        shownChaseId: step.chaseId ?? null,
        effectId: step.effectId ?? null,
        values: step.values ?? null,
        name: step.name ?? null,
        fade: step.fade ?? null,
        hold: step.hold ?? null,
      })),
    fromRows: (rows) =>
      rows.map(({ sceneId, shownChaseId: chaseId, effectId, values, name, fade, hold }) =>
        withoutNulls({ sceneId, chaseId, effectId, values, name, fade, hold }),
      ),
  }),
  effect: laid('effect', t.effect),
  aim: laid('aim', t.aim),
  room: laid('room', t.room),
  palette: laid('palette', t.palette),
  song: laid('song', t.song),
  setlist: laid('setlist', t.setlist),
  variant: laid('variant', t.variant),
  lane: laid('lane', t.lane),
  passage: laid('passage', t.passage),
  input: laid('input', t.input),
};

/** A list (or table) of a record that has rows of its own. */
interface Listed<K extends RecordKind> extends NonNullable<Codec<K>['children']> {
  readonly field: keyof RecordOf[K] & string;
  fromRows(rows: Row[]): unknown;
}

/** A kind whose fields are the columns of its table, the rest of them in `data`, and one of them perhaps in rows. */
function laid<K extends RecordKind>(kind: K, table: PgTable, listed?: Listed<K>): Codec<K> {
  return {
    table,
    toRow(record) {
      if (!listed) return split(table, record);
      const { [listed.field]: _, ...own } = record as Row;
      return split(table, own);
    },
    fromRow: (row, children) => ({
      ...joined(kind, row),
      ...(listed ? { [listed.field]: listed.fromRows(children) } : {}),
    }),
    ...(listed ? { children: listed } : {}),
  };
}

/** What of a record is a column of its own, and the rest as `data`. */
function split(table: PgTable, record: object): Row {
  const columns = getTableColumns(table);
  const [row, data]: [Row, Row] = [{}, {}];
  for (const [field, value] of Object.entries(record))
    if (field !== 'kind') (field in columns && field !== 'data' ? row : data)[field] = value;
  return { ...row, data };
}

const joined = (kind: RecordKind, { showId: _, data, ...row }: Row): Row => ({ kind, ...row, ...(data as Row) });

const withoutNulls = (row: Row): Row => Object.fromEntries(Object.entries(row).filter(([, value]) => value !== null));

const codecOf = (kind: RecordKind): Codec<RecordKind> =>
  codecs[kind as Exclude<RecordKind, 'show'>] as unknown as Codec<RecordKind>;
const column = (table: PgTable, name: string) => getTableColumns(table)[name]!;

/**
 * Writes a change set into the tables, in an order the foreign keys accept. Call inside a transaction. `before` is the
 * show as it is there, so that of long lists only the rows are written that change; null where that is not known. Throws
 * FaultError where a record names a file that is not here.
 */
export async function writeChange(
  tx: Executor,
  showId: string,
  change: ChangeSet,
  before: Document | null,
): Promise<void> {
  const { put, remove } = sortedChange(change);
  for (const kind of RECORD_KINDS) {
    const records = put.filter((r) => r.kind === kind);
    if (records.length === 0) continue;
    if (kind === 'show') await writeShow(tx, records[0] as RecordOf['show']);
    else await upsert(tx, showId, codecOf(kind), records, before);
  }
  for (const kind of [...RECORD_KINDS].reverse()) {
    const ids = remove.filter((id) => kindOf(id) === kind);
    if (ids.length === 0 || kind === 'show') continue;
    const { table } = codecOf(kind);
    for (const part of chunks(ids))
      await tx.delete(table).where(and(eq(column(table, 'showId'), showId), inArray(column(table, 'id'), part)));
  }
  await writeBlobUse(tx, showId, { put, remove }, before);
}

async function writeShow(tx: Executor, record: RecordOf['show']): Promise<void> {
  const { id, name, kind: _, ...data } = record;
  await tx
    .insert(t.show)
    .values({ id, name, data, records: RECORDS_VERSION })
    .onConflictDoUpdate({ target: t.show.id, set: { name, data, changedAt: sql`now()` } });
}

async function upsert(
  tx: Executor,
  showId: string,
  codec: Codec<RecordKind>,
  records: readonly AnyRecord[],
  before: Document | null,
): Promise<void> {
  const { table, children } = codec;
  const columns = getTableColumns(table);
  const set = Object.fromEntries(
    Object.keys(columns)
      .filter((name) => name !== 'showId' && name !== 'id')
      .map((name) => [name, sql.raw(`excluded."${toSnake(name)}"`)]),
  );
  for (const part of chunks(records)) {
    await tx
      .insert(table)
      .values(part.map((r) => ({ showId, ...codec.toRow(r) })) as never)
      .onConflictDoUpdate({ target: [column(table, 'showId'), column(table, 'id')] as never, set: set as never });
  }
  if (!children) return;
  if (!before)
    for (const part of chunks(records.map((r) => r.id)))
      await tx
        .delete(children.table)
        .where(
          and(eq(column(children.table, 'showId'), showId), inArray(column(children.table, children.parent), part)),
        );
  const rows: Row[] = [];
  for (const record of records) {
    const old = new Map<unknown, Row>();
    const earlier = before?.get(record.id);
    if (earlier) for (const row of children.toRows(earlier)) old.set(row[children.key], row);
    const own = children.toRows(record);
    const changed = own.filter((row) => !sameJson(old.get(row[children.key]), row));
    // Rows that go, and those that are written anew.
    const gone = new Set(old.keys());
    for (const row of own) gone.delete(row[children.key]);
    for (const row of changed) if (old.has(row[children.key])) gone.add(row[children.key]);
    for (const part of chunks([...gone]))
      await tx
        .delete(children.table)
        .where(
          and(
            eq(column(children.table, 'showId'), showId),
            eq(column(children.table, children.parent), record.id),
            inArray(column(children.table, children.key), part),
          ),
        );
    for (const row of changed) rows.push({ showId, ...row });
  }
  for (const part of chunks(rows)) await tx.insert(children.table).values(part as never);
}

const toSnake = (name: string): string => name.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`);

/** The records of a show as they are stored, and of which version they are. */
export interface StoredRecords {
  readonly revision: number;
  readonly version: number;
  readonly raw: readonly unknown[];
}

/** Reads all records of a show. Rows that no longer fit their schema are reported, not silently dropped. */
export async function readRecords(
  db: Executor,
  showId: string,
): Promise<{ revision: number; records: AnyRecord[]; faults: Fault[] } | null> {
  const stored = await readRaw(db, showId);
  return stored && { revision: stored.revision, ...readStored(stored.raw, stored.version) };
}

/** Reads a show as it is stored; null where there is none. */
export async function readRaw(db: Executor, showId: string): Promise<StoredRecords | null> {
  const [row] = await db.select().from(t.show).where(eq(t.show.id, showId));
  if (!row) return null;
  const raw: unknown[] = [{ kind: 'show', id: row.id, name: row.name, ...(row.data as Row) }];
  for (const kind of RECORD_KINDS) {
    if (kind === 'show') continue;
    const { table, children, fromRow } = codecOf(kind);
    const rows = (await db
      .select()
      .from(table)
      .where(eq(column(table, 'showId'), showId))
      .orderBy(column(table, 'id'))) as Row[];
    const byParent = new Map<unknown, Row[]>();
    if (children) {
      const order =
        'position' in getTableColumns(children.table)
          ? column(children.table, 'position')
          : column(children.table, 'unitId');
      const found = (await db
        .select()
        .from(children.table)
        .where(eq(column(children.table, 'showId'), showId))
        .orderBy(order)) as Row[];
      for (const child of found) {
        const list = byParent.get(child[children.parent]);
        if (list) list.push(child);
        else byParent.set(child[children.parent], [child]);
      }
    }
    for (const item of rows) raw.push(fromRow(item, byParent.get(item['id']) ?? []));
  }
  return { revision: row.revision, version: row.records, raw };
}
