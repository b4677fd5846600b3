import { eq } from 'drizzle-orm';
import { applyChange, documentOf } from '../core/document/change.ts';
import { takenBack } from '../core/document/difference.ts';
import type { AnyRecord } from '../core/records/index.ts';
import { RECORDS_VERSION } from '../core/records/versions.ts';
import type { LiveState } from '../core/show/index.ts';
import { readStoredState } from '../core/show/live/stored-state.ts';
import type { Fault } from '../core/faults.ts';
import type { Executor } from './connect.ts';
import * as t from './schema.ts';
import { changesSince, HistoryGone, stampOf, type HistoryEntry } from './history.ts';
import { loadShow } from './shows.ts';

/** What was playing, and at which revision of the show; null for a state from before revisions were kept. */
export interface KeptLive {
  readonly state: LiveState;
  readonly revision: number | null;
}

/** As it is stored: with what of it could not be read. */
export interface StoredLive extends KeptLive {
  readonly faults: readonly Fault[];
}

export async function readLive(db: Executor, showId: string): Promise<StoredLive | null> {
  const [row] = await db.select().from(t.live).where(eq(t.live.showId, showId));
  return row ? { ...readStoredState(row.data, row.records, row.savedAt), revision: row.revision } : null;
}

/** When the live state of a show was kept last (ms since 1970); null where none was. */
export async function savedLiveAt(db: Executor, showId: string): Promise<number | null> {
  const [row] = await db.select({ at: t.live.savedAt }).from(t.live).where(eq(t.live.showId, showId));
  return row?.at ?? null;
}

export async function writeLive(
  db: Executor,
  showId: string,
  { state, revision }: KeptLive,
  savedAt: number,
): Promise<void> {
  const data = { ...state, identify: [], probe: null };
  await db
    .insert(t.live)
    .values({ showId, data, revision, savedAt, records: RECORDS_VERSION })
    .onConflictDoUpdate({ target: t.live.showId, set: { data, revision, savedAt, records: RECORDS_VERSION } });
}

/** A show as it was when its live state was kept last: what came later has yet to be followed. */
export interface Playing {
  readonly records: readonly AnyRecord[];
  readonly revision: number;
  /** When that revision was made, as `stampOf` says it. */
  readonly stamp: string | null;
  /** Null for a show that was never played. */
  readonly live: LiveState | null;
  /** What of the live state could not be read. */
  readonly liveFaults: readonly Fault[];
  /** True where there are later changes. */
  readonly behind: boolean;
}

/** What came later, or nothing where that is no longer kept: then the show of now plays what it played. */
const changesKept = (db: Executor, showId: string, revision: number): Promise<HistoryEntry[]> =>
  changesSince(db, showId, revision).catch((error: unknown) => {
    if (error instanceof HistoryGone) return [];
    throw error;
  });

/**
 * Loads what was playing, with the show of that moment: later changes are taken back, so that whoever follows them
 * learns which of them were made blind. Throws like `loadShow`.
 */
export async function loadPlaying(db: Executor, showId: string): Promise<Playing> {
  const { revision, records } = await loadShow(db, showId);
  const kept = await readLive(db, showId);
  const since = await changesKept(db, showId, kept?.revision ?? revision);
  // What came in since the records were read is not in them.
  const later = since.filter((entry) => entry.revision <= revision);
  const began = later.reduceRight(
    (document, { difference }) => applyChange(document, takenBack(document, difference)),
    documentOf(records),
  );
  const at = later[0] ? later[0].revision - 1 : revision;
  return {
    records: [...began.values()],
    revision: at,
    stamp: await stampOf(db, showId, at),
    live: kept?.state ?? null,
    liveFaults: kept?.faults ?? [],
    behind: since.length > 0,
  };
}
