import { and, desc, eq, isNull, isNotNull, lt, or, sql } from 'drizzle-orm';
import type { ChangeSet } from '../core/document/change.ts';
import {
  differenceOf,
  DifferenceMisfit,
  recordDifference,
  takenBack,
  type Difference,
} from '../core/document/difference.ts';
import { documentOf } from '../core/document/change.ts';
import { FaultError, type Fault } from '../core/faults.ts';
import type { Id, ShowId } from '../core/ids.ts';
import type { BlobFile } from '../core/records/blob.ts';
import type { AnyRecord } from '../core/records/index.ts';
import { readStored, RECORDS_VERSION, trustStored, type KeepBlob } from '../core/records/versions.ts';
import { readStoredState } from '../core/show/live/stored-state.ts';
import { addBlob, keepForHistory } from './blobs.ts';
import { readRaw, writeChange } from './codecs.ts';
import type { Database, Executor } from './connect.ts';
import * as t from './schema.ts';

/** What could not be brought to the version of now. */
export interface LeftBehind {
  readonly showId: ShowId;
  readonly what: 'show' | 'history';
  readonly faults: readonly Fault[];
}

/** Puts a file into the data folder, so that it is there before a record names it. */
export type PutBlob = (blob: BlobFile) => Promise<string>;

/**
 * Brings all that is stored of shows to the version of now, each show in a transaction of its own: its records, its
 * history, what it played. A show whose records cannot be read stays as it is, and is named with its faults; of a
 * history what cannot be read is let go of and named. Files that stood in records go to `put`, which gives their type.
 */
export async function upgradeShows(db: Database, put: PutBlob): Promise<LeftBehind[]> {
  const shows = await db
    .select({ id: t.show.id, records: t.show.records })
    .from(t.show)
    .where(
      or(
        lt(t.show.records, RECORDS_VERSION),
        sql`exists (select 1 from ${t.change} where ${t.change.showId} = ${t.show.id} and ${t.change.forward} is not null)`,
      ),
    );
  const left: LeftBehind[] = [];
  for (const { id } of shows) await db.transaction((tx) => upgradeShow(tx, id as ShowId, put, left));
  return left;
}

async function upgradeShow(tx: Executor, showId: ShowId, put: PutBlob, left: LeftBehind[]): Promise<void> {
  const stored = (await readRaw(tx, showId))!;
  const files = new Map<string, BlobFile>();
  const keep: KeepBlob = (blob) => void files.set(blob.hash, blob);
  const { records, faults } = readStored(stored.raw, stored.version, { keep });
  if (faults.length > 0) return void left.push({ showId, what: 'show', faults });
  const history = await upgradedHistory(tx, showId, stored.raw, stored.version, keep);
  if (history.faults.length > 0) left.push({ showId, what: 'history', faults: history.faults });
  const [live] = await tx.select().from(t.live).where(eq(t.live.showId, showId));
  const state = live && readStoredState(live.data, live.records, live.savedAt, { keep });
  for (const file of files.values())
    await addBlob(tx, { hash: file.hash, type: await put(file), bytes: file.bytes.length });
  await writeChange(tx, showId, { put: records, remove: [] }, null);
  await tx.update(t.show).set({ records: RECORDS_VERSION }).where(eq(t.show.id, showId));
  for (const { revision, difference, touched } of history.lines) {
    await tx
      .update(t.change)
      .set({ difference, forward: null, reverse: null, records: RECORDS_VERSION })
      .where(and(eq(t.change.showId, showId), eq(t.change.revision, revision)));
    await keepForHistory(tx, showId, revision, touched);
  }
  // What of it cannot be read is said by the engine, which goes on without.
  if (live && state!.faults.length === 0)
    await tx.update(t.live).set({ data: state!.state, records: RECORDS_VERSION }).where(eq(t.live.showId, showId));
}

interface Line {
  readonly revision: number;
  readonly difference: Difference | null;
  /** Records on either side of it. */
  readonly touched: readonly AnyRecord[];
}

/**
 * Lines of history as differences of the version of now. Those that hold whole records are compared; those that hold
 * differences of an earlier version are gone back through, from the show as it was stored, and compared anew.
 */
async function upgradedHistory(
  tx: Executor,
  showId: ShowId,
  raw: readonly unknown[],
  version: number,
  keep: KeepBlob,
): Promise<{ lines: Line[]; faults: Fault[] }> {
  const rows = await tx
    .select()
    .from(t.change)
    .where(
      and(
        eq(t.change.showId, showId),
        or(
          isNotNull(t.change.forward),
          and(isNotNull(t.change.difference), lt(t.change.records, RECORDS_VERSION)),
          // Beyond a line that is let go of nobody can go back.
          and(isNull(t.change.difference), isNull(t.change.forward)),
        ),
      ),
    )
    .orderBy(desc(t.change.revision));
  const lines: Line[] = [];
  const faults: Fault[] = [];
  // As the records were stored after the line that comes next.
  let now: ReadonlyMap<Id, AnyRecord> | null = documentOf(raw as AnyRecord[]);
  for (const row of rows) {
    const { revision } = row;
    try {
      if (row.forward !== null) {
        const [forward, reverse] = [row.forward, row.reverse].map((change) => storedChange(change, row.records, keep));
        lines.push({
          revision,
          difference: differenceOf(documentOf(reverse!.put), forward!),
          touched: [...forward!.put, ...reverse!.put],
        });
      } else if (row.difference === null || now === null) {
        now = null;
        if (row.difference !== null) lines.push({ revision, difference: null, touched: [] });
      } else {
        const stored = row.difference as Difference;
        const was: Map<Id, AnyRecord> = new Map(now);
        const back = takenBack(now, stored);
        for (const id of back.remove) was.delete(id);
        for (const record of back.put) was.set(record.id, record);
        const before = trusted(was, stored, version, keep);
        const after = trusted(now, stored, version, keep);
        lines.push({
          revision,
          difference: stored.flatMap(({ id }) => recordDifference(id, before.get(id), after.get(id)) ?? []),
          touched: [...before.values(), ...after.values()],
        });
        now = was;
      }
    } catch (error) {
      if (!(error instanceof FaultError) && !(error instanceof DifferenceMisfit)) throw error;
      faults.push(...(error instanceof FaultError ? error.faults : [misfit(revision, error)]));
      lines.push({ revision, difference: null, touched: [] });
      if (row.forward === null) now = null;
    }
  }
  return { lines, faults };
}

const misfit = (revision: number, error: Error): Fault => ({
  code: 'HISTORY_BROKEN',
  path: `history.${revision}`,
  message: error.message,
  remedy: 'Edits before it cannot be taken back any more; the show itself is whole.',
});

/** The records that a difference touches, brought to the version of now. Throws FaultError. */
const trusted = (
  document: ReadonlyMap<Id, AnyRecord>,
  difference: Difference,
  version: number,
  keep: KeepBlob,
): ReadonlyMap<Id, AnyRecord> =>
  documentOf(
    trustStored(
      difference.flatMap(({ id }) => document.get(id) ?? []),
      version,
      { keep },
    ),
  );

/** A change set of any version. Throws FaultError where it cannot be read any more. */
function storedChange(stored: unknown, version: number, keep: KeepBlob): ChangeSet {
  const { put, remove } = stored as ChangeSet;
  const { records, faults } = readStored(put, version, { keep });
  if (faults.length > 0) throw new FaultError(faults);
  return { put: records, remove };
}
