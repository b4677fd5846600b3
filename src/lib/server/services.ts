import type { Logger } from 'pino';
import { makeSpareIds } from './ids.ts';
import { readArchive, writeArchive } from '../../core/format/archive.ts';
import { FaultError } from '../../core/faults.ts';
import { kindOf, type ShowId } from '../../core/ids.ts';
import type { ServerMessage, SystemState } from '../../core/protocol/live.ts';
import type { StandinOrder, StandinReport } from '../../core/protocol/standin.ts';
import type { Principal } from '../../core/protocol/principal.ts';
import { make, type AnyRecord } from '../../core/records/index.ts';
import { connect, type Connection } from '../../db/connect.ts';
import { createShow, deleteShow, listShows, openShowId, setOpenShow, type ShowLine } from '../../db/shows.ts';
import { historySize, recentHistory, thinHistory, type HistoryLine, type HistorySize } from '../../db/history.ts';
import { Files } from './files.ts';
import { Hearing } from './hearing.ts';
import { EngineLink } from './engine-link.ts';
import { CardPlayer } from './card-player.ts';
import { LiveEar } from './live-ear.ts';
import { LiveHub, type PageOf } from './live-hub.ts';
import { ShowService, type Applied } from './show-service.ts';
import { StandinLink } from './standin-link.ts';
import { diskState } from './trouble.ts';

export interface ServiceOptions {
  readonly databaseUrl: string;
  readonly enginePort: number;
  readonly engineToken: string;
  /** null where no stand-ins run (AMBER_DEMO=0). */
  readonly standinPort: number | null;
  readonly dataDir: string;
  /** The build of the pages that are given out; null where they are made on the way. */
  readonly pages: string | null;
  /** What the process that hears songs is started from; null where none is. */
  readonly ear: string | null;
  /** The same of the process that listens, and the songs that the stand-in plays. */
  readonly listen: string | null;
  /** The same of the process that plays songs on a sound card. */
  readonly play: string | null;
  readonly songs: string | null;
  readonly log: Logger;
}

/** The ear of this machine, as one that works the show. */
const LISTENS: Principal = { role: 'owner', name: 'ear' };

const LOOK_MS = 2000;
/** How often what nobody needs any more is let go of. */
const TIDY_MS = 6 * 3600 * 1000;
const SYSTEM_MS = 400;

/** Everything the web process does, behind the pages, the routes and the WebSocket. One instance a process. */
export class Services {
  readonly log: Logger;
  readonly #connection: Connection;
  readonly engine: EngineLink;
  readonly standins: StandinLink | null;
  readonly hub: LiveHub;
  readonly shows: ShowService;
  readonly files: Files;
  readonly hearing: Hearing;
  readonly liveEar: LiveEar;
  readonly cardPlayer: CardPlayer;
  #systemSentAt = 0;
  #databaseUp = true;
  #disk: SystemState['disk'] = null;
  #openId: ShowId | null = null;
  readonly #timer: NodeJS.Timeout;
  readonly #tidyTimer: NodeJS.Timeout;
  readonly #pages: string | null;

  constructor(options: ServiceOptions) {
    this.log = options.log;
    this.#pages = options.pages;
    this.#connection = connect(options.databaseUrl, (error) =>
      options.log.warn({ err: error }, 'database connection lost'),
    );
    this.files = new Files(options.dataDir, this.#connection.db, () => this.hearing.look());
    this.hearing = this.#hearing(options);
    this.shows = new ShowService(this.#connection.db, (showId, applied) => this.#announce(showId, applied));
    this.hub = new LiveHub({
      welcome: (client) => this.#welcome(client),
      edit: async ({ author, clientId: origin }, { change, base, label, blind }) =>
        this.shows.edit(await this.#current(), { change, base, label, author, origin, blind }),
      turnBack: async ({ author, clientId: origin }, message) => {
        const by = { author, origin, blind: message.blind };
        const show = await this.#current();
        if (message.type === 'redo') return this.shows.redo(show, by);
        if (message.revision === undefined) return this.shows.undo(show, by);
        return this.shows.takeBack(show, by, message.revision);
      },
      command: (by, command) => this.engine.command(by, command),
      ask: (by, ask) => this.engine.ask(by, ask),
      frame: (kind) => (kind === 'sent' ? this.engine.frame : this.engine.received),
      network: () => this.engine.network,
      report: (error) => this.log.error({ err: error }, 'live message failed'),
    });
    this.liveEar = new LiveEar({
      entry: options.listen,
      songs: options.songs,
      now: () => this.engine.now(),
      live: () => this.engine.live,
      said: (what) => void this.engine.command(LISTENS, what),
      tell: (source, said) => this.hub.broadcast({ type: 'ear', source, ...said }),
    });
    this.cardPlayer = this.#cardPlayer(options);
    this.engine = new EngineLink(options.enginePort, options.engineToken, {
      onState: (live, universes) => {
        this.hub.broadcast({ type: 'live', live, now: this.engine.now(), universes, seq: this.engine.seq });
        this.liveEar.look(live);
        this.cardPlayer.look();
      },
      onLive: (difference) => {
        this.hub.broadcast({ type: 'liveChange', difference, now: this.engine.now(), seq: this.engine.seq });
        this.liveEar.look(this.engine.live);
        this.cardPlayer.look();
      },
      onHealth: () => this.#sendSystem(),
      onFrame: (universes, timeMs, frameNumber, kind) => this.hub.frame(universes, timeMs, frameNumber, kind),
      onNetwork: (delta, whole) => this.hub.broadcast({ type: 'network', delta, whole }),
    });
    this.standins =
      options.standinPort === null ? null : new StandinLink(options.standinPort, () => this.#sendSystem());
    this.#timer = setInterval(() => void this.#look(options.dataDir), LOOK_MS);
    void this.#look(options.dataDir);
    this.hearing.look();
    this.#tidyTimer = setInterval(() => void this.#tidy(), TIDY_MS);
    void this.#tidy();
  }

  #hearing({ dataDir, ear, log }: ServiceOptions): Hearing {
    return new Hearing({
      dataDir,
      entry: ear,
      log,
      open: async () => {
        const showId = await this.openShowId();
        return showId && { showId, document: (await this.shows.get(showId)).document };
      },
      pathOf: (hash) => this.files.pathOf(hash),
      save: async (showId, song, label) => {
        await this.shows.edit(showId, { change: { put: [song], remove: [] }, label, author: 'ear' });
      },
      tell: (shares) => this.hub.broadcast({ type: 'hearing', shares }),
    });
  }

  #cardPlayer({ play }: ServiceOptions): CardPlayer {
    return new CardPlayer({
      entry: play,
      now: () => this.engine.now(),
      live: () => this.engine.live,
      document: async () => (this.#openId ? (await this.shows.get(this.#openId)).document : null),
      pathOf: (hash) => this.files.pathOf(hash),
      said: (key, said) =>
        this.hub.broadcast(
          'trouble' in said ? { type: 'sound', key, offMs: null, ...said } : { type: 'sound', key, ...said },
        ),
    });
  }

  /** Lets go of what old edits changed, and of files that nobody has used for long. */
  async #tidy(): Promise<void> {
    try {
      await thinHistory(this.#connection.db);
      await this.files.tidy(Date.now());
      await this.hearing.tidy((hash) => this.files.known(hash));
    } catch (error) {
      this.log.warn({ err: error }, 'what is no longer needed could not be taken away; it is tried again later');
    }
  }

  /** Looks whether the database answers and there is room to save. */
  async #look(dataDir: string): Promise<void> {
    this.#disk = await diskState(dataDir);
    this.#databaseUp = await this.#connection.pool.query('select 1').then(
      () => true,
      () => false,
    );
  }

  system(): SystemState {
    return {
      engine: this.engine.health,
      standins: this.standins?.report ?? null,
      database: this.#databaseUp ? 'up' : 'down',
      disk: this.#disk,
    };
  }

  #sendSystem(): void {
    const now = Date.now();
    if (now - this.#systemSentAt < SYSTEM_MS) return;
    this.#systemSentAt = now;
    this.hub.broadcast({ type: 'system', system: this.system(), now: this.engine.now() });
  }

  async #current(): Promise<ShowId> {
    const id = await this.openShowId();
    if (id) return id;
    throw new FaultError({
      code: 'NO_OPEN_SHOW',
      path: 'show',
      message: 'no show is open',
      remedy: 'Create, import or open a show first.',
    });
  }

  async #welcome({ clientId, author }: PageOf): Promise<ServerMessage> {
    const showId = await this.openShowId();
    const held = showId ? await this.shows.get(showId, author) : null;
    return {
      type: 'welcome',
      pages: this.#pages,
      clientId,
      show: showId && held ? { showId, revision: held.revision, records: [...held.document.values()] } : null,
      history: held?.history ?? { undo: null, redo: null },
      live: this.engine.live,
      liveSeq: this.engine.seq,
      now: this.engine.now(),
      universes: this.engine.universes,
      system: this.system(),
      hearing: this.hearing.shares,
    };
  }

  /** Without a wait of its own, so that changes are told in the order they were made. */
  #announce(showId: ShowId, { entry, change, history, overwrote, origin }: Applied): void {
    if (this.#openId !== showId) return;
    const { revision, author, action, label } = entry;
    this.hub.broadcast({ type: 'change', revision, change, author, origin, action, label, history });
    const ids = [...change.put.map(({ id }) => id), ...change.remove];
    if (ids.some((id) => kindOf(id) === 'song')) this.hearing.look();
    const told = new Map<string, string[]>();
    for (const { field, author: earlier } of overwrote)
      if (earlier !== author) told.set(earlier, [...(told.get(earlier) ?? []), field]);
    for (const [earlier, fields] of told) this.hub.tell(earlier, { type: 'overwritten', label, fields });
  }

  listShows(): Promise<ShowLine[]> {
    return listShows(this.#connection.db);
  }

  /** The show that is open. This process alone opens shows, so the answer is kept. */
  async openShowId(): Promise<ShowId | null> {
    this.#openId ??= await openShowId(this.#connection.db);
    return this.#openId;
  }

  /** Opens a show for everybody: the engine plays it, every page shows it. */
  async openShow(showId: ShowId): Promise<void> {
    await this.shows.get(showId);
    await setOpenShow(this.#connection.db, showId);
    this.#openId = showId;
    await this.hub.welcomeAll();
    this.hearing.look();
  }

  /** A new show with nothing in it: profiles come in with the first units of them. */
  async createShow(name: string): Promise<ShowId> {
    const { showId } = makeSpareIds();
    return createShow(this.#connection.db, [make('show', { id: showId, name })]);
  }

  /** Imports an archive. Where the same show is here already it comes in as a copy with an id of its own. */
  async importShow(file: Uint8Array): Promise<{ showId: ShowId; copy: boolean }> {
    const { records, blobs, faults } = readArchive(file);
    if (faults.length > 0) throw new FaultError(faults);
    for (const [hash, bytes] of blobs) await this.files.add({ hash, bytes });
    const show = records.find((r) => r.kind === 'show')!;
    const taken = (await this.listShows()).some((line) => line.id === show.id);
    const { showId } = makeSpareIds();
    const all: AnyRecord[] = taken
      ? records.map((r) => (r.kind === 'show' ? { ...r, id: showId, name: copyName(r.name) } : r))
      : [...records];
    return { showId: await createShow(this.#connection.db, all), copy: taken };
  }

  /** The show as an archive; `songs`: with their files. */
  async exportShow(showId: ShowId, songs: boolean): Promise<Uint8Array> {
    const records = [...(await this.shows.get(showId)).document.values()];
    return writeArchive(records, await this.files.of(records, songs));
  }

  async deleteShow(showId: ShowId): Promise<void> {
    if ((await this.openShowId()) === showId)
      throw new FaultError({
        code: 'SHOW_OPEN',
        path: 'showId',
        message: 'the show is open and may be playing',
        received: showId,
        remedy: 'Open another show first.',
      });
    await this.shows.get(showId);
    await deleteShow(this.#connection.db, showId);
    this.shows.forget(showId);
  }

  async history(showId: ShowId, limit: number): Promise<{ lines: HistoryLine[]; size: HistorySize }> {
    const { db } = this.#connection;
    const [lines, size] = await Promise.all([recentHistory(db, showId, limit), historySize(db, showId)]);
    return { lines, size };
  }

  async orderStandin(order: StandinOrder): Promise<StandinReport> {
    if (this.standins) return this.standins.order(order);
    throw new FaultError({
      code: 'NO_STANDIN',
      path: 'id',
      message: 'there are no stand-ins here',
      received: order.id,
      remedy: 'Start without AMBER_DEMO=0.',
    });
  }

  async close(): Promise<void> {
    clearInterval(this.#timer);
    clearInterval(this.#tidyTimer);
    this.hearing.close();
    this.liveEar.close();
    this.cardPlayer.close();
    this.hub.close();
    this.engine.close();
    this.standins?.close();
    await this.#connection.close();
  }
}

const copyName = (name: string): string => `${name.slice(0, 90)} (copy)`;

const REGISTRY = Symbol.for('amber-kite.services');

/** The one instance: set by whatever starts the web process, found by the routes (which live in another bundle). */
export function setServices(services: Services): void {
  (globalThis as Record<symbol, unknown>)[REGISTRY] = services;
}

export function services(): Services {
  const found = (globalThis as Record<symbol, unknown>)[REGISTRY] as Services | undefined;
  if (!found) throw new Error('the services are not started; the web process is started by "npm start"');
  return found;
}
