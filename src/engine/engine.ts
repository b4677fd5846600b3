import { randomUUID } from 'node:crypto';
import { Worker } from 'node:worker_threads';
import type { Logger } from 'pino';
import { recordsOf } from '../core/document/change.ts';
import { FaultError, type Fault } from '../core/faults.ts';
import type { ShowId } from '../core/ids.ts';
import type { EngineHealth, FromEngine } from '../core/protocol/link.ts';
import type { NetworkAsk, NetworkAnswer } from '../core/protocol/network.ts';
import { applyLive, idsNamedBy, initialLive, isOver, type LiveCommand, type LiveState } from '../core/show/index.ts';
import { connect, listen, type Connection } from '../db/connect.ts';
import { changesSince, CHANNEL_CHANGE, CHANNEL_OPEN, openShowId, readSetting, writeSetting } from '../db/store.ts';
import { loadPlaying, writeLive } from '../db/playing.ts';
import { makeClock } from './clock.ts';
import { ControlServer } from './control.ts';
import type { OutputRecord } from '../core/records/index.ts';
import { kindsOf, Player } from './player.ts';
import { Rates } from './rates.ts';
import { Repeat } from './repeat.ts';
import { SequenceFile } from './sequences.ts';
import { Network, type Simulated } from './network/network.ts';
import {
  FrameStats,
  quantile,
  type FrameThreadStart,
  type FromFrameThread,
  type RouteStats,
  type ToFrameThread,
} from './shared.ts';

export interface EngineOptions {
  readonly databaseUrl: string;
  readonly controlPort: number;
  readonly token: string;
  readonly dataDir: string;
  readonly sourceName: string;
  /** The simulated network of the demonstration; null where there is none. */
  readonly simulated: Simulated | null;
  readonly log: Logger;
}

const FRAMES_TO_WEB_MS = 1000 / 30;
const HEALTH_MS = 500;
const NETWORK_MS = 1000;
const TIDY_MS = 200;
/** Lateness is said of the last so many seconds. */
const LATENESS_S = 20;

/** The engine: follows the show in the database, plays it, sends it. `start` resolves when frames are being made. */
export class Engine {
  readonly #options: EngineOptions;
  readonly #now = makeClock();
  readonly #connection: Connection;
  readonly #player: Player;
  readonly #control: ControlServer;
  #network: Network | null = null;
  readonly #stats: FrameStats;
  readonly #memory = new SharedArrayBuffer(FrameStats.bytes);
  #worker: Worker | null = null;
  #listener: { close(): Promise<void> } | null = null;
  #timers: NodeJS.Timeout[] = [];
  #showId: ShowId | null = null;
  #revision = 0;
  #showFaults: readonly Fault[] = [];
  #layers: Pick<EngineHealth, 'failedPlays' | 'flashesHeld'> = { failedPlays: {}, flashesHeld: false };
  #routeStats: readonly RouteStats[] = [];
  readonly #rates = new Rates();
  readonly #sequences: SequenceFile;
  #realtime = false;
  #work: Promise<void> = Promise.resolve();
  readonly #saving = new Repeat(() => this.#save());
  readonly #startedMs = this.#now();

  constructor(options: EngineOptions) {
    this.#options = options;
    this.#sequences = new SequenceFile(options.dataDir);
    this.#connection = connect(options.databaseUrl, (error) =>
      options.log.warn({ err: error }, 'database connection lost'),
    );
    this.#player = new Player(initialLive(this.#now()));
    this.#stats = new FrameStats(this.#memory);
    this.#control = new ControlServer({
      port: options.controlPort,
      token: options.token,
      onCommand: (command) => this.#command(command),
      onAsk: (ask) => this.#ask(ask),
      onBug: (error) => options.log.error({ err: error }, 'asking the network failed'),
      greet: () => [this.#stateMessage(), { type: 'health', health: this.health() }],
      // Whoever held "identify" or ran a test is gone with the web process.
      onEmpty: () => {
        this.#network?.letGo();
        this.#setLive({ ...this.#player.live, identify: [], probe: null, test: null });
      },
    });
  }

  async start(): Promise<void> {
    await this.#control.listen();
    const source = { cid: await this.#cid(), name: this.#options.sourceName };
    this.#startFrames(source.cid);
    const keys = await readSetting(this.#connection.db, 'hubKeys');
    this.#network = new Network({
      now: this.#now,
      source,
      simulated: this.#options.simulated,
      hubKeys: (keys ?? {}) as Record<string, string>,
      saveHubKeys: (next) => writeSetting(this.#connection.db, 'hubKeys', next),
      command: (command) => this.#fromDesk(command),
      slotsOf: (universe) => this.#slotsOf(universe),
      onHosts: () => this.#toFrames({ routes: this.#routes() }),
      log: this.#options.log,
    });
    await this.#openCurrent();
    this.#listener = listen(
      this.#options.databaseUrl,
      [CHANNEL_CHANGE, CHANNEL_OPEN],
      (channel) => this.#queue(() => (channel === CHANNEL_OPEN ? this.#openCurrent() : this.#follow())),
      () => this.#queue(() => this.#openCurrent()),
    );
    this.#timers.push(
      setInterval(() => this.#sendFrame(), FRAMES_TO_WEB_MS),
      setInterval(() => this.#control.broadcast({ type: 'health', health: this.health() }), HEALTH_MS),
      setInterval(() => this.#tellNetwork(), NETWORK_MS),
      setInterval(() => this.#tidy(), TIDY_MS),
    );
  }

  /** One after the other: changes of the database are worked off in the order they were notified. */
  #queue(job: () => Promise<void>): void {
    this.#work = this.#work.then(job).catch((error: unknown) => {
      this.#options.log.error({ err: error }, 'could not follow the show; what was playing goes on');
    });
  }

  #startFrames(cid: Uint8Array): void {
    const start: FrameThreadStart = {
      stats: this.#memory,
      cid,
      sourceName: this.#options.sourceName,
      sequences: this.#sequences.read(),
    };
    const name = import.meta.url.endsWith('.ts') ? './frame-worker.ts' : './frame-worker.js';
    const worker = new Worker(new URL(name, import.meta.url), { workerData: start });
    worker.on('message', (message: FromFrameThread) => this.#fromFrames(message));
    worker.on('error', (error) => {
      // A dead frame thread means no light: end, and the supervisor starts a new engine within a second.
      this.#options.log.fatal({ err: error }, 'the frame thread failed');
      process.exit(1);
    });
    this.#worker = worker;
  }

  async #cid(): Promise<Uint8Array> {
    const { db } = this.#connection;
    let cid = await readSetting(db, 'sacnCid');
    if (typeof cid !== 'string') {
      cid = randomUUID().replaceAll('-', '');
      await writeSetting(db, 'sacnCid', cid);
    }
    return Uint8Array.from(Buffer.from(cid as string, 'hex'));
  }

  #fromFrames(message: FromFrameThread): void {
    if (message.type === 'fault')
      this.#options.log.error({ fault: message.message }, 'a frame could not be rendered; the last good one is sent');
    if (message.type === 'layers') this.#tellLayers(message.failed, message.flashesHeld);
    if (message.type !== 'routes') return;
    this.#routeStats = message.stats;
    try {
      this.#sequences.keep(message.sequences);
    } catch (error) {
      this.#options.log.warn({ err: error }, 'sequence numbers could not be kept');
    }
  }

  #tellLayers(failed: Readonly<Record<string, string>>, flashesHeld: boolean): void {
    for (const [play, why] of Object.entries(failed))
      if (!(play in this.#layers.failedPlays))
        this.#options.log.error(
          { play, fault: why },
          'something that plays failed and was taken out; the rest goes on',
        );
    this.#layers = { failedPlays: failed, flashesHeld };
  }

  #toFrames(message: ToFrameThread): void {
    this.#worker?.postMessage(message);
  }

  /** Loads whatever show is open now, or what is new in it. A show that does not load leaves the last one playing. */
  async #openCurrent(): Promise<void> {
    const { db } = this.#connection;
    const showId = await openShowId(db);
    if (showId === this.#showId && showId !== null) return this.#follow();
    if (showId === null) {
      this.#showId = null;
      this.#revision = 0;
      this.#loaded([], initialLive(this.#now()));
      return;
    }
    try {
      // It begins with the show that was playing, so that what was edited blind since then stays held.
      const { records, revision, live, behind } = await loadPlaying(db, showId);
      const show = records.find((r) => r.kind === 'show');
      this.#showId = showId;
      this.#revision = revision;
      this.#showFaults = [];
      this.#loaded(records, live ?? initialLive(this.#now(), show?.kind === 'show' ? show.tempoBpm : 120));
      if (behind) await this.#follow();
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      this.#showFaults = error.faults;
      this.#options.log.error({ faults: error.faults }, 'the show could not be loaded; the last good one goes on');
    }
  }

  #loaded(records: Parameters<Player['load']>[0], live: LiveState): void {
    const message = this.#player.load(records, live);
    this.#toFrames({ ...message, ...this.#afterRig() });
    this.#control.broadcast(this.#stateMessage());
  }

  /** What the frame thread needs besides the rig: inputs, and the ways out. */
  #afterRig(): Pick<ToFrameThread, 'inputs' | 'routes'> {
    const inputs = this.#network!.setDocument(this.#player.document);
    return { inputs, routes: this.#routes() };
  }

  #routes(): NonNullable<ToFrameThread['routes']> {
    return this.#player.routes((portAddress) => this.#network!.hostsOf(portAddress));
  }

  #slotsOf(universe: number): Uint8Array | null {
    const index = this.#player.universes.indexOf(universe);
    return index < 0 ? null : new Uint8Array(this.#player.bytes, index * 512, 512);
  }

  async #ask(ask: NetworkAsk): Promise<NetworkAnswer> {
    const answer = await this.#network!.ask(ask);
    this.#tellNetwork();
    return answer;
  }

  #tellNetwork(): void {
    if (this.#network) this.#control.broadcast({ type: 'network', network: this.#network.state() });
  }

  /** A desk that comes in works something; what it names may be gone. */
  #fromDesk(command: LiveCommand): void {
    try {
      this.#command(command);
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      this.#options.log.warn({ faults: error.faults }, 'another desk asked for something that is not there');
    }
  }

  async #follow(): Promise<void> {
    if (this.#showId === null) return;
    const later = await changesSince(this.#connection.db, this.#showId, this.#revision);
    for (const entry of later) {
      const message = this.#player.edit(entry.forward, this.#now(), entry.blind);
      // What else an edit touches changes neither the ways out nor what comes in.
      const ways = message.rig !== undefined || kindsOf(entry.forward).has('input');
      this.#toFrames(ways ? { ...message, ...this.#afterRig() } : message);
      this.#revision = entry.revision;
    }
    this.#control.broadcast(this.#stateMessage());
    // Blind edits are held with what plays.
    if (later.length > 0) this.#saving.ask();
  }

  #command(command: LiveCommand): void {
    const missing = idsNamedBy(command).find((id) => !this.#player.document.has(id));
    if (missing !== undefined)
      throw new FaultError({
        code: 'UNKNOWN_ID',
        path: 'command',
        message: `the open show has no ${missing}`,
        received: missing,
        remedy: 'Name something of the show that is open.',
      });
    const live = applyLive(this.#player.live, command, this.#now(), randomUUID(), this.#player.played);
    this.#setLive(live, command.do === 'goLive' ? command.fadeMs : 0);
  }

  #setLive(live: LiveState, fadeMs = 0): void {
    if (live === this.#player.live) return;
    this.#toFrames(this.#player.setLive(live, fadeMs));
    this.#control.broadcast(this.#stateMessage());
    this.#saving.ask();
  }

  /** Keeps the newest live state in the database. */
  async #save(): Promise<void> {
    if (this.#showId === null) return;
    const kept = { state: this.#player.live, revision: this.#revision };
    await writeLive(this.#connection.db, this.#showId, kept, Math.round(this.#now())).catch((error: unknown) =>
      this.#options.log.warn({ err: error }, 'what is playing could not be kept'),
    );
  }

  /** Takes out what has faded away. */
  #tidy(): void {
    const { live } = this.#player;
    const now = this.#now();
    const playing = live.playing.filter((play) => {
      const program = this.#player.programOf(play);
      return program !== null && !isOver(play, program, live.tempo, now);
    });
    if (live.frozen === null && playing.length !== live.playing.length) this.#setLive({ ...live, playing });
  }

  #sendFrame(): void {
    const bytes = new Uint8Array(this.#player.bytes);
    const sent = this.#player.universes.map((u, i) => [u, bytes.subarray(i * 512, i * 512 + 512)] as const);
    this.#control.sendFrame(this.#stats.lastFrameMs, this.#stats.frames, sent);
    const received = this.#network?.inputs.received();
    if (received) this.#control.sendFrame(this.#stats.lastFrameMs, this.#stats.frames, [...received], 'received');
  }

  #stateMessage(): FromEngine {
    return { type: 'state', showId: this.#showId, live: this.#player.live, universes: this.#player.universes };
  }

  health(): EngineHealth {
    const latenesses = this.#stats.latenesses(this.#player.frameRate * LATENESS_S);
    const now = this.#now();
    const round = (value: number): number => Math.round(value * 100) / 100;
    return {
      pid: process.pid,
      uptimeS: Math.round((now - this.#startedMs) / 1000),
      showId: this.#showId,
      revision: this.#revision,
      showFaults: this.#showFaults,
      frameRateAsked: this.#player.frameRate,
      frameRateMeasured: round(this.#rates.rateOf('frames', this.#stats.frames, now)),
      latenessP50Ms: round(quantile(latenesses, 0.5)),
      latenessP99Ms: round(quantile(latenesses, 0.99)),
      latenessMaxMs: round(latenesses.at(-1) ?? 0),
      frames: this.#stats.frames,
      framesLate: this.#stats.late,
      framesSkipped: this.#stats.skipped,
      renderMs: round(this.#stats.workMs),
      universes: this.#player.universes.length,
      realtime: this.#realtime,
      ...this.#layers,
      outputs: recordsOf(this.#player.document, 'output').map((output) => this.#outputHealth(output, now)),
    };
  }

  #outputHealth(output: OutputRecord, now: number): EngineHealth['outputs'][number] {
    const { id, name, protocol, enabled } = output;
    const slow = this.#network?.slowHealthOf(id) ?? null;
    const stats = slow ?? this.#routeStats.find((s) => s.outputId === id);
    const packets = stats?.packets ?? 0;
    const universes = new Set(
      recordsOf(this.#player.document, 'route')
        .filter((r) => r.outputId === id && r.enabled)
        .map((r) => r.universe),
    ).size;
    return {
      id,
      name,
      protocol,
      enabled,
      universes,
      packetsPerSecond: Math.round(this.#rates.rateOf(id, packets, now)),
      packets,
      errors: stats?.errors ?? 0,
      lastError: stats?.lastError ?? null,
      says: slow?.says ?? null,
      gateways: this.#network?.gatewaysOf(output) ?? null,
    };
  }

  setRealtime(realtime: boolean): void {
    this.#realtime = realtime;
  }

  /** Ends sACN streams with terminated packets, keeps what is playing, closes everything. */
  async stop(): Promise<void> {
    for (const timer of this.#timers) clearInterval(timer);
    const worker = this.#worker;
    if (worker) {
      const stopped = new Promise<void>((resolve) => worker.once('exit', () => resolve()));
      this.#toFrames({ stop: true });
      await Promise.race([stopped, new Promise((resolve) => setTimeout(resolve, 1000))]);
      await worker.terminate();
    }
    await this.#listener?.close();
    await this.#saving.done;
    this.#network?.close();
    this.#control.close();
    await this.#connection.close();
  }
}
