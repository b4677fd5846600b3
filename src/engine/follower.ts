import type { Logger } from 'pino';
import { DifferenceMisfit } from '../core/document/difference.ts';
import { FaultError, type Fault } from '../core/faults.ts';
import type { ShowId } from '../core/ids.ts';
import type { AnyRecord } from '../core/records/index.ts';
import type { LiveState } from '../core/show/index.ts';
import { connect, listen, type Connection } from '../db/connect.ts';
import { loadPlaying, savedLiveAt, writeLive } from '../db/playing.ts';
import { changesSince, CHANNEL_CHANGE, HistoryGone, stampOf, type HistoryEntry } from '../db/history.ts';
import { CHANNEL_OPEN, openShowId, readSetting, writeSetting } from '../db/shows.ts';
import type { KeptShow } from './kept-state.ts';
import { Repeat } from './repeat.ts';

/** The show that was loaded last: null for none. */
export interface Place {
  readonly showId: ShowId | null;
  readonly revision: number;
  readonly stamp: string | null;
}

interface FollowerOptions {
  readonly databaseUrl: string;
  readonly log: Logger;
  /** A show was loaded whole. `live` is null where it was never played. */
  readonly onShow: (place: Place, records: readonly AnyRecord[], live: LiveState | null) => void;
  /** Throws DifferenceMisfit where the entry does not fit what is loaded: then the show is loaded anew. */
  readonly onChange: (entry: HistoryEntry) => void;
  /** All changes that were told are worked off. */
  readonly onFollowed: () => void;
  /** The live state to keep in the database. */
  readonly live: () => LiveState;
  readonly now: () => number;
}

/** A state that the database has and that is this much newer than what this engine kept is somebody else's. */
const NEWER_MS = 1500;
const SAVE_MS = 1000;
/** Nobody who names what is not known yet waits longer than this. */
const CAUGHT_UP_MS = 1000;
const RETRY_MS = 1000;

/**
 * The engine's view of the database: follows the show that is open and its changes, keeps the live state. Without a
 * database it waits, and whoever uses it goes on with what they have.
 */
export class Follower {
  readonly #options: FollowerOptions;
  readonly #connection: Connection;
  #listener: { close(): Promise<void> } | null = null;
  #work: Promise<void> = Promise.resolve();
  #place: Place = { showId: null, revision: 0, stamp: null };
  /** What was kept here and has not been compared with the database yet. */
  #kept: KeptShow | null = null;
  #attached = false;
  #faults: readonly Fault[] = [];
  #up = false;
  #closed = false;
  #retry: NodeJS.Timeout | undefined;
  readonly #saving = new Repeat(() => this.#save(), SAVE_MS);

  constructor(options: FollowerOptions) {
    this.#options = options;
    this.#connection = connect(options.databaseUrl, (error) =>
      options.log.warn({ err: error }, 'database connection lost'),
    );
  }

  get place(): Place {
    return this.#place;
  }
  /** What went wrong loading the show; the last good one goes on. */
  get faults(): readonly Fault[] {
    return this.#faults;
  }
  /** False while the database does not answer. */
  get up(): boolean {
    return this.#up;
  }

  /** The identifier for sACN that earlier versions kept in the database; null for none. */
  async earlierCid(): Promise<string | null> {
    const cid = await readSetting(this.#connection.db, 'sacnCid');
    return typeof cid === 'string' ? cid : null;
  }
  async hubKeys(): Promise<Record<string, string>> {
    return ((await readSetting(this.#connection.db, 'hubKeys')) ?? {}) as Record<string, string>;
  }
  saveHubKeys(keys: Readonly<Record<string, string>>): Promise<void> {
    return writeSetting(this.#connection.db, 'hubKeys', keys);
  }

  /** Goes on from what was kept (null for nothing), and follows the database as soon as and whenever it answers. */
  start(kept: KeptShow | null): void {
    this.#kept = kept;
    if (kept) this.#place = { showId: kept.showId, revision: kept.revision, stamp: kept.stamp };
    this.#listener = listen(
      this.#options.databaseUrl,
      [CHANNEL_CHANGE, CHANNEL_OPEN],
      (channel) => this.#queue(() => (channel === CHANNEL_OPEN ? this.#openCurrent() : this.#follow())),
      () => this.#queue(() => this.#openCurrent()),
    );
  }

  /**
   * Reads what the database has that is not known here yet. Over when it is read, when it cannot be, or when it takes too
   * long: whoever waits goes on with what there is.
   */
  async catchUp(): Promise<void> {
    let late: ReturnType<typeof setTimeout> | undefined;
    this.#queue(() => this.#openCurrent());
    await Promise.race([this.#work, new Promise<void>((resolve) => (late = setTimeout(resolve, CAUGHT_UP_MS)))]);
    clearTimeout(late);
  }

  /** One after the other: changes are worked off in the order they were notified. */
  #queue(job: () => Promise<void>): void {
    this.#work = this.#work.then(job).then(
      () => {
        this.#up = true;
      },
      (error: unknown) => {
        this.#up = false;
        if (this.#closed) return;
        this.#options.log.error({ err: error }, 'could not follow the show; what was playing goes on');
        clearTimeout(this.#retry);
        this.#retry = setTimeout(() => this.#queue(() => this.#openCurrent()), RETRY_MS);
      },
    );
  }

  /** Loads whatever show is open now, or what is new in it. A show that does not load leaves the last one playing. */
  async #openCurrent(): Promise<void> {
    const { db } = this.#connection;
    const showId = await openShowId(db);
    if (showId === null) {
      this.#attached = true;
      if (this.#place.showId === null && this.#kept === null && this.#faults.length === 0 && this.#up) return;
      this.#kept = null;
      this.#place = { showId: null, revision: 0, stamp: null };
      return this.#options.onShow(this.#place, [], null);
    }
    if (showId === this.#place.showId && (this.#attached || (await this.#goesOn(showId)))) {
      this.#attached = true;
      this.#kept = null;
      await this.#follow();
      return this.#saving.ask();
    }
    return this.#load(showId);
  }

  /** Loads a show whole, whatever was played before. */
  async #load(showId: ShowId): Promise<void> {
    const { db } = this.#connection;
    try {
      // It begins with the show that was playing, so that what was edited blind since then stays held.
      const { records, revision, stamp, live, liveFaults, behind } = await loadPlaying(db, showId);
      if (liveFaults.length > 0)
        this.#options.log.error(
          { faults: liveFaults },
          'part of what was playing cannot be read any more; the rest plays on',
        );
      this.#attached = true;
      this.#kept = null;
      this.#faults = [];
      this.#place = { showId, revision, stamp };
      this.#options.onShow(this.#place, records, live);
      if (behind) await this.#follow();
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      this.#faults = error.faults;
      this.#options.log.error({ faults: error.faults }, 'the show could not be loaded; the last good one goes on');
    }
  }

  /** True where what was kept here is an earlier state of the very show the database has, and played last. */
  async #goesOn(showId: ShowId): Promise<boolean> {
    const { db } = this.#connection;
    if (!this.#kept) return false;
    if ((await stampOf(db, showId, this.#place.revision)) !== this.#place.stamp) return false;
    const savedAt = await savedLiveAt(db, showId);
    return savedAt === null || savedAt <= this.#kept.atMs + NEWER_MS;
  }

  async #follow(): Promise<void> {
    const { showId, revision } = this.#place;
    if (showId === null) return;
    try {
      for (const entry of await changesSince(this.#connection.db, showId, revision)) {
        this.#options.onChange(entry);
        this.#place = { showId, revision: entry.revision, stamp: entry.at.toISOString() };
      }
    } catch (error) {
      if (!(error instanceof HistoryGone) && !(error instanceof DifferenceMisfit)) throw error;
      this.#options.log.warn({ err: error }, 'what came since cannot be followed; the show is loaded anew');
      return this.#load(showId);
    }
    this.#options.onFollowed();
  }

  /** The live state changed: it is kept in the database at most once a second. */
  saveLive(): void {
    this.#saving.ask();
  }

  async #save(): Promise<void> {
    const { showId, revision } = this.#place;
    // Whoever has not compared with the database yet must not write over what it has.
    if (showId === null || !this.#attached) return;
    const state = this.#options.live();
    await writeLive(this.#connection.db, showId, { state, revision }, Math.round(this.#options.now())).catch(
      (error: unknown) => this.#options.log.warn({ err: error }, 'what is playing could not be kept in the database'),
    );
  }

  async close(): Promise<void> {
    this.#closed = true;
    clearTimeout(this.#retry);
    await this.#listener?.close();
    await this.#saving.end();
    await this.#connection.close();
  }
}
