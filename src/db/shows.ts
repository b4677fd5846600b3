import { asc, eq, getTableColumns, is, sql } from 'drizzle-orm';
import { getTableConfig, PgTable, type PgColumn } from 'drizzle-orm/pg-core';
import { changeFaults } from '../core/rules/faults.ts';
import type { ChangeSet } from '../core/document/change.ts';
import { FaultError, type Fault } from '../core/faults.ts';
import type { ShowId } from '../core/ids.ts';
import type { AnyRecord } from '../core/records/index.ts';
import { readRecords, writeChange } from './codecs.ts';
import type { Database, Executor } from './connect.ts';
import * as t from './schema.ts';

/** NOTIFY channel: another show was opened. */
export const CHANNEL_OPEN = 'amber_open';

export interface ShowLine {
  readonly id: ShowId;
  readonly name: string;
  readonly revision: number;
  readonly changedAt: string;
}

export const noShow = (id: string): Fault => ({
  code: 'NO_SUCH_SHOW',
  path: 'showId',
  message: `there is no show ${id}`,
  received: id,
  remedy: 'Choose a show from the list.',
});

export async function listShows(db: Executor): Promise<ShowLine[]> {
  const rows = await db.select().from(t.show).orderBy(asc(t.show.name), asc(t.show.id));
  return rows.map((r) => ({
    id: r.id as ShowId,
    name: r.name,
    revision: r.revision,
    changedAt: r.changedAt.toISOString(),
  }));
}

/** Writes a new show at revision 0. Throws FaultError when the records do not make a sound show or the id is taken. */
export async function createShow(db: Database, records: readonly AnyRecord[]): Promise<ShowId> {
  const change: ChangeSet = { put: records, remove: [] };
  const faults = changeFaults(new Map(), change);
  if (faults.length > 0) throw new FaultError(faults);
  const id = records.find((r) => r.kind === 'show')!.id as ShowId;
  await db.transaction(async (tx) => {
    const taken = await tx.select({ id: t.show.id }).from(t.show).where(eq(t.show.id, id));
    if (taken.length > 0)
      throw new FaultError({
        code: 'SHOW_EXISTS',
        path: 'show.id',
        message: `a show ${id} is already here`,
        received: id,
        remedy: 'Import it as a copy.',
      });
    await writeChange(tx, id, change, new Map());
  });
  return id;
}

/** A show whole. Throws FaultError when it is not there or its rows do not make sound records. */
export async function loadShow(db: Executor, showId: string): Promise<{ revision: number; records: AnyRecord[] }> {
  const found = await readRecords(db, showId);
  if (!found) throw new FaultError(noShow(showId));
  if (found.faults.length > 0) throw new FaultError(found.faults);
  return found;
}

/** Tables with rows of shows, those that refer to others before what they refer to. */
const DEPENDENTS_FIRST: readonly PgTable[] = (() => {
  const tables = Object.values(t).filter((table) => is(table, PgTable) && 'showId' in getTableColumns(table));
  const ordered: PgTable[] = [];
  const add = (table: PgTable): void => {
    if (ordered.includes(table)) return;
    for (const other of tables)
      if (other !== table && getTableConfig(other).foreignKeys.some((key) => key.reference().foreignTable === table))
        add(other);
    ordered.push(table);
  };
  tables.forEach(add);
  return ordered;
})();

export async function deleteShow(db: Database, showId: string): Promise<void> {
  await db.transaction(async (tx) => {
    for (const table of DEPENDENTS_FIRST)
      await tx.delete(table).where(eq((getTableColumns(table) as Record<string, PgColumn>)['showId']!, showId));
    await tx.delete(t.show).where(eq(t.show.id, showId));
  });
}

export async function readSetting(db: Executor, key: string): Promise<unknown> {
  const [row] = await db.select().from(t.setting).where(eq(t.setting.key, key));
  return row?.value;
}

export async function writeSetting(db: Executor, key: string, value: unknown): Promise<void> {
  await db.insert(t.setting).values({ key, value }).onConflictDoUpdate({ target: t.setting.key, set: { value } });
}

const OPEN_SHOW = 'openShow';

export async function openShowId(db: Executor): Promise<ShowId | null> {
  const value = await readSetting(db, OPEN_SHOW);
  return typeof value === 'string' && value !== '' ? (value as ShowId) : null;
}

/** Makes a show the one the engine plays; null closes it. Everybody is told. */
export async function setOpenShow(db: Database, showId: ShowId | null): Promise<void> {
  await db.transaction(async (tx) => {
    await writeSetting(tx, OPEN_SHOW, showId ?? '');
    await tx.execute(sql`select pg_notify(${CHANNEL_OPEN}, ${showId ?? ''})`);
  });
}
