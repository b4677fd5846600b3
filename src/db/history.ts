import { and, asc, count, desc, eq, gt, isNotNull, lt, max, or, sql } from 'drizzle-orm';
import type { ChangeSet, Document } from '../core/document/change.ts';
import { differenceOf, type Difference } from '../core/document/difference.ts';
import type { HistoryMark } from '../core/document/undo.ts';
import { FaultError } from '../core/faults.ts';
import type { ShowId } from '../core/ids.ts';
import { RECORDS_VERSION } from '../core/records/versions.ts';
import { keepForHistory } from './blobs.ts';
import { writeChange } from './codecs.ts';
import type { Database, Executor } from './connect.ts';
import * as t from './schema.ts';
import { noShow } from './shows.ts';

/** NOTIFY channel: a show got a new revision. */
export const CHANNEL_CHANGE = 'amber_change';

export interface HistoryEntry extends HistoryMark {
  readonly at: Date;
  readonly difference: Difference;
  /** Made blind: what plays goes on as it was until it is taken live. */
  readonly blind: boolean;
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

/** What an edit changed is no longer kept (or cannot be read any more): whoever would follow it loads the show anew. */
export class HistoryGone extends Error {
  readonly revision: number;
  constructor(revision: number) {
    super(`what revision ${revision} changed is no longer kept`);
    this.name = 'HistoryGone';
    this.revision = revision;
  }
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
 * locked meanwhile. Throws StaleRevision when somebody else was first, FaultError where a file is named that is not here.
 */
export async function commitChange(db: Database, commit: Commit): Promise<HistoryEntry> {
  const { showId, document, change, author, action, target, label, blind = false } = commit;
  const difference = differenceOf(document, change);
  return db.transaction(async (tx) => {
    const [row] = await tx
      .select({ revision: t.show.revision })
      .from(t.show)
      .where(eq(t.show.id, showId))
      .for('update');
    if (!row) throw new FaultError(noShow(showId));
    if (row.revision !== commit.revision) throw new StaleRevision(commit.revision, row.revision);
    const revision = row.revision + 1;
    await writeChange(tx, showId, change, document);
    const at = new Date();
    const line = { showId, revision, at, author, action, target, label, blind };
    await tx.insert(t.change).values({ ...line, records: RECORDS_VERSION, difference });
    await keepForHistory(tx, showId, revision, [
      ...change.put,
      ...[...change.put.map((r) => r.id), ...change.remove].map((id) => document.get(id)),
    ]);
    await tx.update(t.show).set({ revision, changedAt: at }).where(eq(t.show.id, showId));
    await tx.execute(sql`select pg_notify(${CHANNEL_CHANGE}, ${JSON.stringify({ showId, revision })})`);
    return { revision, at, author, action, target, label, blind, difference };
  });
}

type ChangeRow = typeof t.change.$inferSelect;
function toEntry({ revision, at, author, action, target, label, blind, difference }: ChangeRow): HistoryEntry {
  if (difference === null) throw new HistoryGone(revision);
  const mark = { revision, at, author, action: action as HistoryMark['action'], target, label, blind };
  return { ...mark, difference: difference as Difference };
}

/** History after a revision, oldest first. Throws HistoryGone. */
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

/** The marks of a show's history that can be taken back, oldest first, without contents. */
export async function historyMarks(db: Executor, showId: string): Promise<HistoryMark[]> {
  const { revision, author, action, target, label } = t.change;
  const rows = await db
    .select({ revision, author, action, target, label })
    .from(t.change)
    .where(and(eq(t.change.showId, showId), isNotNull(t.change.difference)))
    .orderBy(asc(revision));
  return rows.map((r) => ({ ...r, action: r.action as HistoryMark['action'] }));
}

/** A line of history for people to read; `kept` is false where it cannot be taken back any more. */
export type HistoryLine = HistoryMark & { readonly at: Date; readonly kept: boolean };

/** The newest lines of history, newest first. */
export async function recentHistory(db: Executor, showId: string, limit: number): Promise<HistoryLine[]> {
  const { revision, action, target, label, at, author, difference } = t.change;
  const rows = await db
    .select({ revision, action, target, label, at, author, kept: sql<boolean>`${difference} is not null` })
    .from(t.change)
    .where(eq(t.change.showId, showId))
    .orderBy(desc(revision))
    .limit(limit);
  return rows.map((r) => ({ ...r, action: r.action as HistoryMark['action'] }));
}

/** How much there is of a show's history: lines, those of them that can be taken back, and bytes on the disk. */
export interface HistorySize {
  readonly lines: number;
  readonly kept: number;
  readonly bytes: number;
}

export async function historySize(db: Executor, showId: string): Promise<HistorySize> {
  const [row] = await db
    .select({
      lines: count(),
      kept: count(t.change.difference),
      // What it takes as it is stored, packed.
      bytes: sql<string>`coalesce(sum(pg_column_size(${t.change})), 0)`,
    })
    .from(t.change)
    .where(eq(t.change.showId, showId));
  return { lines: row!.lines, kept: row!.kept, bytes: Number(row!.bytes) };
}

/** What edits changed is let go of after so long, but never that of the newest lines of a show. */
export const KEPT_MS = 90 * 24 * 3600 * 1000;
export const KEPT_LINES = 500;

/**
 * Lets go of what old edits changed; that they were made stays. What the engine has yet to follow stays as well. Gives
 * how many lines were thinned.
 */
export async function thinHistory(db: Database, keptMs = KEPT_MS, keptLines = KEPT_LINES): Promise<number> {
  const shows = await db
    .select({ showId: t.change.showId, newest: max(t.change.revision), played: t.live.revision })
    .from(t.change)
    .leftJoin(t.live, eq(t.live.showId, t.change.showId))
    .groupBy(t.change.showId, t.live.revision);
  let thinned = 0;
  for (const { showId, newest, played } of shows)
    await db.transaction(async (tx) => {
      const rows = await tx
        .update(t.change)
        .set({ difference: null, forward: null, reverse: null })
        .where(
          and(
            eq(t.change.showId, showId),
            or(isNotNull(t.change.difference), isNotNull(t.change.forward)),
            lt(t.change.at, sql`now() - ${keptMs / 1000} * interval '1 second'`),
            lt(t.change.revision, Math.min(newest! - keptLines, played ?? newest!) + 1),
          ),
        )
        .returning({ revision: t.change.revision });
      const last = Math.max(...rows.map((r) => r.revision));
      if (rows.length > 0)
        await tx
          .delete(t.blobHistory)
          .where(and(eq(t.blobHistory.showId, showId), lt(t.blobHistory.revision, last + 1)));
      thinned += rows.length;
    });
  return thinned;
}
