import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import { followed } from '../core/document/difference.ts';
import { FaultError } from '../core/faults.ts';
import type { EngineHealth } from '../core/protocol/link.ts';
import { EMPTY_NETWORK, type NetworkAsk, type NetworkAnswer, type NetworkState } from '../core/protocol/network.ts';
import { applyNetwork, diffNetwork, wholeNetwork } from '../core/protocol/network-diff.ts';
import { mustBeAllowed, type Principal } from '../core/protocol/principal.ts';
import type { Action } from '../core/records/action.ts';
import {
  Actor,
  applyLive,
  idsNamedBy,
  initialLive,
  isOver,
  type LiveCommand,
  type LiveState,
  type Signal,
} from '../core/show/index.ts';
import type { Document } from '../core/document/change.ts';
import type { AnyRecord } from '../core/records/index.ts';
import { RECORDS_VERSION } from '../core/records/versions.ts';
import { ControlServer, UNKNOWN_ID } from './control.ts';
import { Follower, type Place } from './follower.ts';
import type { Frames } from './frames.ts';
import { HealthReport } from './health.ts';
import { Keeping } from './keeping.ts';
import { readKeptShow } from './kept-show.ts';
import { encoded, type KeptLive, type KeptShow, type KeptState } from './kept-state.ts';
import { Network, type Simulated } from './network/network.ts';
import { owned, type Ownership } from './ownership.ts';
import { Player, wireRoutes } from './player.ts';
import { Publication } from './publication.ts';
import { Repeat } from './repeat.ts';
import { channelKey } from './senders.ts';
import { AutoClock } from './auto-clock.ts';
import { LightClock } from './light-clock.ts';
import { CodeClock } from './code-clock.ts';
import { SongClock } from './song-clock.ts';
import type { LiveHost } from './wake.ts';
import type { FromFrameThread, RouteStats, ToFrameThread } from './shared.ts';

export interface EngineOptions {
  readonly databaseUrl: string;
  readonly controlPort: number;
  readonly token: string;
  readonly sourceName: string;
  /** The simulated network of the demonstration; null where there is none. */
  readonly simulated: Simulated | null;
  readonly log: Logger;
  readonly now: () => number;
  readonly frames: Frames;
  readonly kept: KeptState;
  readonly ownership: Ownership;
}

const FRAMES_TO_WEB_MS = 1000 / 30;
const HEALTH_MS = 500;
/** A frame at 40 a second. */
const SAY_MS = 25;
const NETWORK_MS = 1000;
const TIDY_MS = 200;
const WAYS_MS = 500;
const KEEP_SHOW_MS = 1000;
const KEEP_SEQUENCES_MS = 500;

/**
 * The engine: follows the show that is open, plays it, sends it. It begins with what it kept of its own and goes on
 * without a database. `start` resolves when frames are being made.
 */
export class Engine {
  readonly #options: EngineOptions;
  readonly #now: () => number;
  readonly #frames: Frames;
  readonly #player: Player;
  readonly #control: ControlServer;
  readonly #publish: Publication;
  readonly #follower: Follower;
  readonly #report: HealthReport;
  #network: Network | null = null;
  #timers: NodeJS.Timeout[] = [];
  #layers: Pick<EngineHealth, 'failedPlays' | 'flashesHeld'> = { failedPlays: {}, flashesHeld: false };
  #routeStats: readonly RouteStats[] = [];
  #sequences: Readonly<Record<string, number>> = {};
  #ended = false;
  #hubKeys: Readonly<Record<string, string>> = {};
  #realtime = false;
  /** What of the show this engine sends. */
  #sent: Document = new Map();
  #toldNetwork: NetworkState = EMPTY_NETWORK;
  readonly #startedMs: number;
  readonly #keepShow: Keeping;
  readonly #keepLive: Keeping;
  readonly #keepSequences: Keeping;

  constructor(options: EngineOptions) {
    const { frames, kept, log, now } = options;
    this.#options = options;
    this.#now = now;
    this.#frames = frames;
    this.#startedMs = now();
    this.#player = new Player(initialLive(now()), now);
    this.#report = new HealthReport(frames.stats);
    frames.onMessage = (message) => this.#fromFrames(message);
    frames.onError = (error) => {
      // A dead frame thread means no light: end, and the supervisor starts a new engine within a second.
      log.fatal({ err: error }, 'the frame thread failed');
      process.exit(1);
    };
    const onError = (error: unknown): void => log.warn({ err: error }, 'what is playing could not be kept in a file');
    frames.onKeepError = onError;
    this.#keepShow = new Keeping(kept.show, {
      make: () => encoded(this.#keptShow()),
      everyMs: KEEP_SHOW_MS,
      onError,
    });
    this.#keepLive = new Keeping(kept.live, { make: () => encoded(this.#keptLive()), everyMs: 0, onError });
    this.#keepSequences = new Keeping(kept.sequences, {
      make: () => encoded({ atMs: this.#now(), ended: this.#ended, numbers: this.#sequences }),
      everyMs: KEEP_SEQUENCES_MS,
      onError,
    });
    this.#follower = new Follower({
      databaseUrl: options.databaseUrl,
      log,
      now,
      onShow: (_, records, live) => this.#loaded(records, live),
      onChange: (entry) => this.#changed(entry),
      onFollowed: () => this.#publish.now(),
      live: () => this.#player.live,
    });
    this.#publish = new Publication(
      () => ({
        showId: this.#follower.place.showId,
        live: this.#player.live,
        universes: this.#player.universes,
      }),
      (message) => this.#control.broadcast(message),
    );
    this.#control = new ControlServer({
      port: options.controlPort,
      token: options.token,
      onCommand: (command) => this.#command(command),
      onAct: (by, action, signal) => this.#act(by, action, signal),
      onUnknown: () => this.#follower.catchUp(),
      onAsk: (ask) => this.#ask(ask),
      onBug: (error) => log.error({ err: error }, 'asking the network failed'),
      greet: () => [
        this.#publish.whole(),
        { type: 'health', health: this.health() },
        { type: 'network', delta: wholeNetwork(this.#toldNetwork), whole: true },
      ],
      // Whoever held "identify" or ran a test is gone with the web process.
      onEmpty: () => {
        this.#network?.letGo();
        this.#setLive({ ...this.#player.live, identify: [], probe: null, test: null });
      },
    });
  }

  async start(): Promise<void> {
    const { kept, sourceName, log } = this.#options;
    const before = readKeptShow(kept, (faults) =>
      this.#options.log.error({ faults }, 'what was kept of the show cannot be read whole by this version'),
    );
    if (!this.#frames.begun) {
      kept.cid(kept.hasCid ? null : await this.#follower.earlierCid());
      this.#frames.begin();
    }
    await this.#control.listen();
    this.#hubKeys = before?.hubKeys ?? (await this.#follower.hubKeys());
    this.#network = new Network({
      now: this.#now,
      source: { cid: kept.cid(), name: sourceName },
      simulated: this.#options.simulated,
      hubKeys: this.#hubKeys,
      saveHubKeys: (next) => {
        this.#hubKeys = next;
        this.#keepShow.ask();
        return this.#follower.saveHubKeys(next);
      },
      act: (desk, action, signal) => this.#fromDesk(desk, action, signal),
      slotsOf: (universe) => this.#player.slots.get(universe) ?? null,
      onHosts: () => this.#frames.tell({ routes: this.#routes() }),
      onNetwork: () => this.#frames.tell({ routes: this.#routes(), reopen: true }),
      log,
    });
    if (before) this.#loaded(before.records, before.live);
    const followed = new Promise<void>((resolve) => (this.#onFollowing = resolve));
    this.#follower.start(before);
    // Without anything of its own there is nothing to send before the database has answered.
    if (!before) await followed;
    this.#timers.push(
      setInterval(() => this.#sendFrame(), FRAMES_TO_WEB_MS),
      setInterval(() => this.#control.broadcast({ type: 'health', health: this.health() }), HEALTH_MS),
      setInterval(() => this.#tellNetwork(), NETWORK_MS),
      setInterval(() => this.#tidy(), TIDY_MS),
      setInterval(() => this.#lookAtWays(), WAYS_MS),
    );
  }
  #onFollowing: () => void = () => undefined;

  #fromFrames(message: FromFrameThread): void {
    if (message.type === 'fault')
      this.#options.log.error({ fault: message.message }, 'a frame could not be rendered; the last good one is sent');
    if (message.type === 'layers') this.#tellLayers(message.failed, message.flashesHeld);
    if (message.type !== 'routes') return;
    this.#routeStats = message.stats;
    this.#sequences = message.sequences;
    this.#network?.sendsFrom(message.ports);
    this.#keepSequences.ask();
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

  #loaded(records: readonly AnyRecord[], live: LiveState | null): void {
    const show = records.find((r) => r.kind === 'show');
    const tempo = show?.kind === 'show' ? show.tempoBpm : 120;
    const message = this.#player.load(records, live ?? initialLive(this.#now(), tempo));
    this.#frames.tell({ ...message, ...this.#afterRig() });
    this.#publish.now();
    this.#keepShow.ask();
    this.#keepLive.ask();
    this.#songs.look();
    this.#code.look();
    this.#light.look();
    this.#auto.look();
    this.#onFollowing();
  }

  /** An edit that somebody made; those made blind are held with what plays. */
  #changed({ difference, blind }: Parameters<ConstructorParameters<typeof Follower>[0]['onChange']>[0]): void {
    const change = followed(this.#player.document, difference);
    const { message, ways } = this.#player.edit(change, this.#now(), blind);
    this.#frames.tell(ways ? { ...message, ...this.#afterRig() } : message);
    this.#keepShow.ask();
    this.#saveLive();
    this.#songs.look();
    this.#code.look();
    this.#light.look();
    this.#auto.look();
  }

  /** What the frame thread needs besides the rig: inputs, and the ways out. */
  #afterRig(): Pick<ToFrameThread, 'inputs' | 'routes'> {
    this.#sent = owned(this.#player.document, this.#options.ownership);
    const inputs = this.#network!.setDocument(this.#sent);
    return { inputs, routes: this.#routes() };
  }

  #routes(): NonNullable<ToFrameThread['routes']> {
    return (this.#told = wireRoutes(this.#sent, this.#network!));
  }
  /** Streams as they were told last. */
  #told: NonNullable<ToFrameThread['routes']> = [];

  /** Tells the frame thread which packets do not leave this machine. */
  #lookAtWays(): void {
    const blocked: Record<string, string> = {};
    for (const route of this.#told) {
      const trouble = this.#network!.wayTrouble(route);
      if (trouble) blocked[channelKey(route)] = trouble;
    }
    const text = JSON.stringify(blocked);
    if (text === this.#blocked) return;
    this.#blocked = text;
    this.#frames.tell({ blocked });
  }
  #blocked = '{}';

  async #ask(ask: NetworkAsk): Promise<NetworkAnswer> {
    const answer = await this.#network!.ask(ask);
    this.#tellNetwork();
    return answer;
  }

  #tellNetwork(): void {
    if (!this.#network) return;
    // Devices change in place while they are read: what was told is kept as those have it who were told.
    const delta = structuredClone(diffNetwork(this.#toldNetwork, this.#network.state()));
    this.#control.broadcast({ type: 'network', delta, whole: false });
    this.#toldNetwork = applyNetwork(this.#toldNetwork, delta);
  }

  /** A desk that comes in works something; what it names may be gone. */
  #fromDesk(desk: string, action: Action, signal: Signal): void {
    try {
      this.#act({ role: 'desk', name: desk }, action, signal);
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      this.#options.log.warn({ faults: error.faults }, 'another desk asked for something that is not there');
    }
  }

  /** Whatever is done from outside comes through here, whoever does it. */
  #act(by: Principal, action: Action, signal: Signal): void {
    mustBeAllowed(by, 'act');
    this.#actor.act(action, signal, this.#now(), `${by.role} ${by.name}`);
  }
  readonly #actor = new Actor({
    document: () => this.#player.document,
    live: () => this.#player.live,
    command: (command) => this.#command(command),
  });

  #command(command: LiveCommand): void {
    const missing = idsNamedBy(command).find((id) => !this.#player.document.has(id));
    if (missing !== undefined)
      throw new FaultError({
        code: UNKNOWN_ID,
        path: 'command',
        message: `the open show has no ${missing}`,
        received: missing,
        remedy: 'Name something of the show that is open.',
      });
    const live = applyLive(this.#player.live, command, this.#now(), randomUUID(), this.#player.played);
    this.#setLive(live);
  }

  #setLive(live: LiveState): void {
    if (live === this.#player.live) return;
    this.#player.take(live);
    this.#say.ask();
    this.#saveLive();
    this.#songs.look();
    this.#code.look();
    this.#light.look();
    this.#auto.look();
  }
  readonly #goingOn: LiveHost = {
    now: () => this.#now(),
    live: () => this.#player.live,
    document: () => this.#player.played,
    take: (live) => this.#setLive(live),
  };
  readonly #songs = new SongClock(this.#goingOn);
  readonly #code = new CodeClock(this.#goingOn);

  readonly #auto = new AutoClock(this.#goingOn);
  readonly #light = new LightClock(this.#goingOn, () => this.#frames.tell(this.#player.liveMessage()));

  /** Tells what plays at once, and then at most once a frame, however many commands come. */
  readonly #say = new Repeat(() => {
    this.#frames.tell(this.#player.liveMessage());
    this.#publish.now();
    return Promise.resolve();
  }, SAY_MS);

  #saveLive(): void {
    this.#keepLive.ask();
    this.#follower.saveLive();
  }

  #keptLive(): KeptLive {
    const { showId, revision } = this.#follower.place;
    const live = { ...this.#player.live, identify: [], probe: null, test: null };
    return { version: RECORDS_VERSION, showId, revision, live, atMs: this.#now() };
  }
  #keptShow(): KeptShow {
    const { stamp } = this.#follower.place;
    return { ...this.#keptLive(), stamp, records: [...this.#player.document.values()], hubKeys: this.#hubKeys };
  }

  /** Takes out what has faded away. */
  #tidy(): void {
    const { live } = this.#player;
    const now = this.#now();
    const playing = live.playing.filter((play) => {
      const program = this.#player.programOf(play);
      return program !== null && !isOver(play, program, live.tempo, now);
    });
    const faded = live.fading !== null && now >= live.fading.at + live.fading.ms;
    const over = live.frozen === null && playing.length !== live.playing.length;
    if (faded || over) this.#setLive({ ...live, ...(over ? { playing } : {}), ...(faded ? { fading: null } : {}) });
  }

  #sendFrame(): void {
    const { stats } = this.#frames;
    this.#control.sendFrame(stats.lastFrameMs, stats.frames, this.#player.slots);
    const received = this.#network?.inputs.received();
    if (received) this.#control.sendFrame(stats.lastFrameMs, stats.frames, received, 'received');
  }

  health(): EngineHealth {
    const now = this.#now();
    const { showId, revision } = this.#follower.place;
    return {
      pid: process.pid,
      now,
      uptimeS: Math.round((now - this.#startedMs) / 1000),
      showId,
      revision,
      showFaults: this.#follower.faults,
      database: this.#follower.up,
      ...this.#report.frames(this.#player.frameRate, now),
      universes: this.#player.universes.length,
      realtime: this.#realtime,
      ...this.#layers,
      outputs: this.#report.outputs(this.#player.document, this.#network, this.#routeStats, now),
    };
  }

  setRealtime(realtime: boolean): void {
    this.#realtime = realtime;
  }

  /** Ends sACN streams with terminated packets, keeps what is playing, closes everything. */
  async stop(): Promise<void> {
    for (const timer of this.#timers) clearInterval(timer);
    this.#songs.end();
    this.#code.end();
    this.#auto.end();
    this.#light.end();
    await this.#frames.stop();
    this.#ended = true;
    this.#keepSequences.ask();
    this.#network?.close();
    this.#control.close();
    await Promise.all([this.#keepShow.end(), this.#keepLive.end(), this.#keepSequences.end()]);
    await this.#follower.close();
  }
}

export type { Place };
