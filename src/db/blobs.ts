import { and, eq, inArray, lt, notExists, sql } from 'drizzle-orm';
import type { ChangeSet, Document } from '../core/document/change.ts';
import { FaultError } from '../core/faults.ts';
import type { Id } from '../core/ids.ts';
import type { BlobFile, BlobHash } from '../core/records/blob.ts';
import { blobsOf, neededBlobsOf, type AnyRecord } from '../core/records/index.ts';
import type { BlobFolder } from './blob-folder.ts';
import { chunks } from './chunks.ts';
import type { Database, Executor } from './connect.ts';
import * as t from './schema.ts';

/** A blob that nobody uses, and that was brought in or let go of longer ago, is taken away. */
const UNUSED_MS = 7 * 24 * 3600 * 1000;

/** Says that a blob is here: from now on records may name it. */
export async function addBlob(db: Executor, blob: { hash: BlobHash; type: string; bytes: number }): Promise<void> {
  await db
    .insert(t.blob)
    .values(blob)
    .onConflictDoUpdate({ target: t.blob.hash, set: { touchedAt: sql`now()` } });
  // Songs that named it while it was elsewhere use it from now on.
  const waiting = db
    .select({ showId: t.song.showId, recordId: t.song.id, hash: t.song.blob })
    .from(t.song)
    .where(eq(t.song.blob, blob.hash));
  await db.insert(t.blobUse).select(waiting).onConflictDoNothing();
}

/** Puts a file that is here whole into the folder, and says so. Throws FaultError where it is nothing that is kept. */
export async function bringIn(db: Executor, folder: BlobFolder, file: BlobFile): Promise<void> {
  await addBlob(db, { hash: file.hash, type: await folder.put(file), bytes: file.bytes.length });
}

export async function findBlob(db: Executor, hash: BlobHash): Promise<{ type: string; bytes: number } | null> {
  const [row] = await db.select({ type: t.blob.type, bytes: t.blob.bytes }).from(t.blob).where(eq(t.blob.hash, hash));
  return row ?? null;
}

/**
 * Writes down which blobs records name after a change. Throws FaultError (NO_SUCH_BLOB) where one is not here: it has to
 * be brought in before the record that names it.
 */
export async function writeBlobUse(
  tx: Executor,
  showId: string,
  change: ChangeSet,
  before: Document | null,
): Promise<void> {
  const wanted = change.put.flatMap((record) =>
    blobsOf(record).map((hash) => ({
      showId,
      recordId: record.id,
      hash,
      needed: neededBlobsOf(record).includes(hash),
    })),
  );
  const here = await presentOf(tx, wanted);
  mustBeHere(wanted.filter(({ hash, needed }) => needed && !here.has(hash)));
  const uses = wanted.flatMap(({ needed: _, ...use }) => (here.has(use.hash) ? [use] : []));
  const named = new Set<Id>([...change.put.filter((r) => blobsOf(r).length > 0).map((r) => r.id), ...change.remove]);
  for (const { id } of change.put) {
    const earlier = before?.get(id);
    if (!before || (earlier && blobsOf(earlier).length > 0)) named.add(id);
  }
  for (const ids of chunks([...named])) {
    const old = await tx
      .delete(t.blobUse)
      .where(and(eq(t.blobUse.showId, showId), inArray(t.blobUse.recordId, ids)))
      .returning({ hash: t.blobUse.hash });
    if (old.length > 0) await touch(tx, [...new Set(old.map(({ hash }) => hash))]);
  }
  for (const part of chunks(uses)) await tx.insert(t.blobUse).values(part);
}

/** Which of these are here. */
async function presentOf(tx: Executor, of: Iterable<{ readonly hash: BlobHash }>): Promise<ReadonlySet<BlobHash>> {
  const here = new Set<BlobHash>();
  for (const part of chunks([...new Set([...of].map(({ hash }) => hash))]))
    for (const { hash } of await tx.select({ hash: t.blob.hash }).from(t.blob).where(inArray(t.blob.hash, part)))
      here.add(hash);
  return here;
}

function mustBeHere(missing: readonly { readonly recordId: string; readonly hash: BlobHash }[]): void {
  if (missing.length > 0)
    throw new FaultError(
      missing.slice(0, 50).map(({ recordId, hash }) => ({
        code: 'NO_SUCH_BLOB',
        path: `${recordId}.blob`,
        message: 'the file it names is not here',
        received: hash,
        remedy: `Bring it in first: PUT /api/blobs/${hash}.`,
      })),
    );
}

const touch = async (tx: Executor, hashes: readonly BlobHash[]): Promise<void> => {
  await tx
    .update(t.blob)
    .set({ touchedAt: sql`now()` })
    .where(inArray(t.blob.hash, [...hashes]));
};

/** Holds on to the blobs of what an edit touched, for as long as the line of history is kept whole. */
export async function keepForHistory(
  tx: Executor,
  showId: string,
  revision: number,
  records: Iterable<AnyRecord | undefined>,
): Promise<void> {
  const hashes = new Set<BlobHash>();
  for (const record of records) if (record) for (const hash of blobsOf(record)) hashes.add(hash);
  if (hashes.size === 0) return;
  const here = await presentOf(
    tx,
    [...hashes].map((hash) => ({ hash })),
  );
  const rows = [...here].map((hash) => ({ showId, revision, hash }));
  if (rows.length > 0) await tx.insert(t.blobHistory).values(rows).onConflictDoNothing();
}

/** Takes blobs that nobody has used for long out of the table; gives their names, for their files to be taken away. */
export async function dropUnused(db: Database, unusedMs = UNUSED_MS): Promise<BlobHash[]> {
  const used = (table: typeof t.blobUse | typeof t.blobHistory) =>
    notExists(
      db
        .select({ one: sql`1` })
        .from(table)
        .where(eq(table.hash, t.blob.hash)),
    );
  const rows = await db
    .delete(t.blob)
    .where(
      and(
        lt(t.blob.touchedAt, sql`now() - ${unusedMs / 1000} * interval '1 second'`),
        used(t.blobUse),
        used(t.blobHistory),
      ),
    )
    .returning({ hash: t.blob.hash });
  return rows.map(({ hash }) => hash);
}
