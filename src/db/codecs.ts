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
  profile: {
    table: t.profile,
    toRow: ({ id, maker, model, fixtureKind, kind: _, ...data }) => ({ id, maker, model, fixtureKind, data }),
    fromRow: ({ id, maker, model, fixtureKind, data }) => ({
      kind: 'profile',
      id,
      maker,
      model,
      fixtureKind,
      ...(data as Row),
    }),
  },
  unit: {
    table: t.unit,
    toRow: ({ id, number, name, profileId, mode, patch, kind: _, ...data }) => ({
      id,
      number,
      name,
      profileId,
      mode,
      universe: patch?.universe ?? null,
      address: patch?.address ?? null,
      data,
    }),
    fromRow: ({ id, number, name, profileId, mode, universe, address, data }) => ({
      kind: 'unit',
      id,
      number,
      name,
      profileId,
      mode,
      patch: universe === null ? null : { universe, address },
      ...(data as Row),
    }),
  },
  part: {
    table: t.part,
    toRow: ({ id, unitId, number, name, kind: _, ...data }) => ({ id, unitId, number, name, data }),
    fromRow: ({ id, unitId, number, name, data }) => ({ kind: 'part', id, unitId, number, name, ...(data as Row) }),
  },
  picture: {
    table: t.picture,
    toRow: ({ kind: _, ...row }) => ({ ...row, data: null }),
    fromRow: ({ showId: _, ...row }) => ({ kind: 'picture', ...withoutNulls(row) }),
  },
  backdrop: {
    table: t.backdrop,
    toRow: ({ id, name, pictureId, kind: _, ...data }) => ({ id, name, pictureId, data }),
    fromRow: ({ id, name, pictureId, data }) => ({ kind: 'backdrop', id, name, pictureId, ...(data as Row) }),
  },
  area: {
    table: t.area,
    toRow: ({ id, number, name, kind: _, ...data }) => ({ id, number, name, data }),
    fromRow: ({ id, number, name, data }) => ({ kind: 'area', id, number, name, ...(data as Row) }),
  },
  group: {
    table: t.group,
    toRow: ({ id, number, name, unitIds: _ids, kind: _, ...data }) => ({ id, number, name, data }),
    fromRow: ({ id, number, name, data }, members) => ({
      kind: 'group',
      id,
      number,
      name,
      ...(data as Row),
      unitIds: members.map((m) => m['unitId']),
    }),
    children: {
      table: t.groupMember,
      parent: 'groupId',
      key: 'position',
      toRows: (record) => record.unitIds.map((unitId, position) => ({ groupId: record.id, position, unitId })),
    },
  },
  output: {
    table: t.output,
    toRow: ({ id, name, protocol, enabled, kind: _, ...data }) => ({ id, name, protocol, enabled, data }),
    fromRow: ({ id, name, protocol, enabled, data }) => ({
      kind: 'output',
      id,
      name,
      protocol,
      enabled,
      ...(data as Row),
    }),
  },
  line: {
    table: t.line,
    toRow: ({ id, number, name, outputId, unitIds: _ids, kind: _, ...data }) => ({ id, number, name, outputId, data }),
    fromRow: ({ id, number, name, outputId, data }, members) => ({
      kind: 'line',
      id,
      number,
      name,
      outputId,
      ...(data as Row),
      unitIds: members.map((m) => m['unitId']),
    }),
    children: {
      table: t.lineUnit,
      parent: 'lineId',
      key: 'position',
      toRows: (record) => record.unitIds.map((unitId, position) => ({ lineId: record.id, position, unitId })),
    },
  },
  route: {
    table: t.route,
    toRow: ({ id, universe, outputId, wireUniverse, enabled, kind: _, ...data }) => ({
      id,
      universe,
      outputId,
      wireUniverse,
      enabled,
      data,
    }),
    fromRow: ({ showId: _, data, ...row }) => ({ kind: 'route', ...row, ...(data as Row) }),
  },
  scene: {
    table: t.scene,
    toRow: ({ id, number, name, values: _values, kind: _, ...data }) => ({ id, number, name, data }),
    fromRow: ({ id, number, name, data }, rows) => ({
      kind: 'scene',
      id,
      number,
      name,
      ...(data as Row),
      values: Object.fromEntries(rows.map((r) => [r['unitId'], r['values']])),
    }),
    children: {
      table: t.sceneUnit,
      parent: 'sceneId',
      key: 'unitId',
      toRows: (record) =>
        Object.entries(record.values).map(([unitId, values]) => ({ sceneId: record.id, unitId, values })),
    },
  },
  chase: {
    table: t.chase,
    toRow: ({ id, number, name, steps: _steps, kind: _, ...data }) => ({ id, number, name, data }),
    fromRow: ({ id, number, name, data }, rows) => ({
      kind: 'chase',
      id,
      number,
      name,
      ...(data as Row),
      steps: rows.map(({ sceneId, shownChaseId: chaseId, effectId, values, name: own, fade, hold }) =>
        withoutNulls({ sceneId, chaseId, effectId, values, name: own, fade, hold }),
      ),
    }),
    children: {
      table: t.chaseStep,
      parent: 'chaseId',
      key: 'position',
      toRows: (record) =>
        record.steps.map((step, position) => ({
          chaseId: record.id,
          position,
          sceneId: step.sceneId ?? null,
          shownChaseId: step.chaseId ?? null,
          effectId: step.effectId ?? null,
          values: step.values ?? null,
          name: step.name ?? null,
          fade: step.fade ?? null,
          hold: step.hold ?? null,
        })),
    },
  },
  effect: {
    table: t.effect,
    toRow: ({ id, number, name, kind: _, ...data }) => ({ id, number, name, data }),
    fromRow: ({ id, number, name, data }) => ({ kind: 'effect', id, number, name, ...(data as Row) }),
  },
  palette: {
    table: t.palette,
    toRow: ({ id, number, name, family, kind: _, ...data }) => ({ id, number, name, family, data }),
    fromRow: ({ id, number, name, family, data }) => ({ kind: 'palette', id, number, name, family, ...(data as Row) }),
  },
  input: {
    table: t.input,
    toRow: ({ id, name, protocol, enabled, kind: _, ...data }) => ({ id, name, protocol, enabled, data }),
    fromRow: ({ id, name, protocol, enabled, data }) => ({
      kind: 'input',
      id,
      name,
      protocol,
      enabled,
      ...(data as Row),
    }),
  },
};

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
