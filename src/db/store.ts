import { and, asc, desc, eq, getTableColumns, gt, is, lt, sql } from 'drizzle-orm';
import { getTableConfig, PgTable, type PgColumn } from 'drizzle-orm/pg-core';
import { changeFaults } from '../core/rules/faults.ts';
import { reverseOf, type ChangeSet, type Document } from '../core/document/change.ts';
import type { HistoryMark } from '../core/document/undo.ts';
import { FaultError, type Fault } from '../core/faults.ts';
import type { ShowId } from '../core/ids.ts';
import type { AnyRecord } from '../core/records/index.ts';
import { RECORDS_VERSION, trustStored } from '../core/records/versions.ts';
import { readRecords, writeChange } from './codecs.ts';
import type { Database, Executor } from './connect.ts';
import * as t from './schema.ts';

/** NOTIFY channels: a show got a new revision; another show was opened. */
export const CHANNEL_CHANGE = 'amber_change';
export const CHANNEL_OPEN = 'amber_open';

export interface HistoryEntry extends HistoryMark {
  readonly at: Date;
  readonly forward: ChangeSet;
  readonly reverse: ChangeSet;
  /** Made blind: what plays goes on as it was until it is taken live. */
  readonly blind: boolean;
}

export interface ShowLine {
  readonly id: ShowId;
  readonly name: string;
  readonly revision: number;
  readonly changedAt: string;
}

/** The revision a commit was based on is no longer the newest: load what is new and try again. */
export class StaleRevision extends Error {
  readonly expected: number;
  readonly found: number;
  constructor(expected: number, found: number) {
    super(`revision ${expected} expected, ${found} found`);
    this.name = 'StaleRevision';
    this.expected = expected;
    this.found = found;
  }
}

const noShow = (id: string): Fault => ({
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
    await writeChange(tx, id, change);
  });
  return id;
}

/**
 * Brings the records of all shows to the version of now, each show in a transaction of its own. One whose records cannot
 * be read stays as it is, and is named with its faults.
 */
export async function upgradeShows(db: Database): Promise<{ showId: ShowId; faults: readonly Fault[] }[]> {
  const old = await db.select({ id: t.show.id }).from(t.show).where(lt(t.show.records, RECORDS_VERSION));
  const left: { showId: ShowId; faults: readonly Fault[] }[] = [];
  for (const { id } of old)
    await db.transaction(async (tx) => {
      const found = await readRecords(tx, id);
      if (!found || found.faults.length > 0)
        return void left.push({ showId: id as ShowId, faults: found?.faults ?? [] });
      await writeChange(tx, id, { put: found.records, remove: [] });
      await tx.update(t.show).set({ records: RECORDS_VERSION }).where(eq(t.show.id, id));
    });
  return left;
}

/** A show whole. Throws FaultError when it is not there or its rows do not make sound records. */
export async function loadShow(db: Executor, showId: string): Promise<{ revision: number; records: AnyRecord[] }> {
  const found = await readRecords(db, showId);
  if (!found) throw new FaultError(noShow(showId));
  if (found.faults.length > 0) throw new FaultError(found.faults);
  return found;
}

export interface Commit {
  readonly showId: ShowId;
  readonly document: Document;
  readonly revision: number;
  readonly change: ChangeSet;
  readonly author: string;
  readonly action: HistoryMark['action'];
  readonly target: number | null;
  readonly label: string;
  readonly blind?: boolean;
}

/**
 * Writes one change set, its history line and the new revision in one transaction, and notifies. The show's row is
 * locked meanwhile. Throws StaleRevision when somebody else was first.
 */
export async function commitChange(db: Database, commit: Commit): Promise<HistoryEntry> {
  const reverse = reverseOf(commit.document, commit.change);
  return db.transaction(async (tx) => {
    const [row] = await tx
      .select({ revision: t.show.revision })
      .from(t.show)
      .where(eq(t.show.id, commit.showId))
      .for('update');
    if (!row) throw new FaultError(noShow(commit.showId));
    if (row.revision !== commit.revision) throw new StaleRevision(commit.revision, row.revision);
    const revision = row.revision + 1;
    await writeChange(tx, commit.showId, commit.change);
    const at = new Date();
    const { author, action, target, label, blind = false } = commit;
    await tx.insert(t.change).values({
      showId: commit.showId,
      revision,
      at,
      author,
      action,
      target,
      label,
      blind,
      records: RECORDS_VERSION,
      forward: commit.change,
      reverse,
    });
    await tx.update(t.show).set({ revision, changedAt: at }).where(eq(t.show.id, commit.showId));
    await tx.execute(sql`select pg_notify(${CHANNEL_CHANGE}, ${JSON.stringify({ showId: commit.showId, revision })})`);
    return { revision, at, author, action, target, label, blind, forward: commit.change, reverse };
  });
}

/** A change set of any version. Throws FaultError where one of an earlier version cannot be read any more. */
const storedChange = (stored: unknown, version: number): ChangeSet => {
  const { put, remove } = stored as ChangeSet;
  return { put: trustStored(put, version), remove };
};

type ChangeRow = typeof t.change.$inferSelect;
const toEntry = (row: ChangeRow): HistoryEntry => ({
  revision: row.revision,
  at: row.at,
  author: row.author,
  action: row.action as HistoryMark['action'],
  target: row.target,
  label: row.label,
  forward: storedChange(row.forward, row.records),
  reverse: storedChange(row.reverse, row.records),
  blind: row.blind,
});

/** History after a revision, oldest first. */
export async function changesSince(db: Executor, showId: string, revision: number): Promise<HistoryEntry[]> {
  const rows = await db
    .select()
    .from(t.change)
    .where(and(eq(t.change.showId, showId), gt(t.change.revision, revision)))
    .orderBy(asc(t.change.revision));
  return rows.map(toEntry);
}

/**
 * When a revision of a show was made (ISO 8601), which tells it from the same number of another show; null where there
 * is none such (revision 0 has the moment the show was made as long as nothing changed it).
 */
export async function stampOf(db: Executor, showId: string, revision: number): Promise<string | null> {
  const { at } = t.change;
  const [row] = await db
    .select({ at })
    .from(t.change)
    .where(and(eq(t.change.showId, showId), eq(t.change.revision, revision)));
  return row?.at.toISOString() ?? null;
}

export async function changeAt(db: Executor, showId: string, revision: number): Promise<HistoryEntry | null> {
  const [row] = await db
    .select()
    .from(t.change)
    .where(and(eq(t.change.showId, showId), eq(t.change.revision, revision)));
  return row ? toEntry(row) : null;
}

/** The marks of a show's whole history, oldest first, without contents. */
export async function historyMarks(db: Executor, showId: string): Promise<HistoryMark[]> {
  const { revision, author, action, target, label } = t.change;
  const rows = await db
    .select({ revision, author, action, target, label })
    .from(t.change)
    .where(eq(t.change.showId, showId))
    .orderBy(asc(revision));
  return rows.map((r) => ({ ...r, action: r.action as HistoryMark['action'] }));
}

/** The newest lines of history for people to read, newest first. */
export async function recentHistory(
  db: Executor,
  showId: string,
  limit: number,
): Promise<(HistoryMark & { at: Date })[]> {
  const { revision, action, target, label, at, author } = t.change;
  const rows = await db
    .select({ revision, action, target, label, at, author })
    .from(t.change)
    .where(eq(t.change.showId, showId))
    .orderBy(desc(revision))
    .limit(limit);
  return rows.map((r) => ({ ...r, action: r.action as HistoryMark['action'] }));
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
