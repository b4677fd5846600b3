import type { Logger } from 'pino';
import { recordsOf, type Document } from '../../core/document/change.ts';
import type { NetworkAnswer, NetworkAsk, NetworkState, FoundPort } from '../../core/protocol/network.ts';
import { DISCOVERY_MS } from '../../core/protocol/sacn-extended.ts';
import type { SacnSource } from '../../core/protocol/sacn.ts';
import type { OutputRecord } from '../../core/records/index.ts';
import type { MergedInput } from '../../core/show/index.ts';
import { ArtNetSockets, EVERYWHERE } from './artnet-sockets.ts';
import { HubOutputs, type HubKeys } from './hubs.ts';
import { InputDesk, type Act } from './inputs.ts';
import { NodeWatch, POLL_MS } from './nodes.ts';
import { RdmService } from './rdm.ts';
import { SerialOutputs } from './serial.ts';
import { listPorts } from './serial-ports.ts';
import { Announcer } from './announcer.ts';
import { SourceWatch } from './sources.ts';
import { broadcastOf, linkFor, readWays, signatureOf, wayTrouble, type Way, type Ways } from './ways.ts';

const TIDY_MS = 500;
const SLOW_OUTPUTS_MS = 25;
const SCAN_MS = 12_000;
const PROBE_MS = 5000;
const RDM_MS = 5000;
const PORTS_MS = 10_000;
/** Time devices get to answer a scan before their RDM tables are asked for. */
const ANSWER_MS = 600;

/** A simulated network on loopback, where the demonstration runs. */
export interface Simulated {
  /** Address that reaches all simulated Art-Net devices, and ours on that network. */
  readonly broadcast: string;
  readonly own: string;
  readonly serialPaths: readonly string[];
  readonly devices: readonly string[];
}

export interface NetworkOptions {
  readonly now: () => number;
  readonly source: SacnSource;
  readonly simulated: Simulated | null;
  readonly hubKeys: HubKeys;
  readonly saveHubKeys: (keys: HubKeys) => Promise<void>;
  readonly act: Act;
  /** Slots of one of our universes as they were sent last. */
  readonly slotsOf: (universe: number) => Uint8Array | null;
  /** The devices that answer to port-addresses are others than before. */
  readonly onHosts: () => void;
  /** The machine's own network is another: a cable, a card, an address. */
  readonly onNetwork: () => void;
  readonly log: Logger;
}

/** Everything of the engine that is not packets of frames: finding devices, hearing others, RDM, serial, hubs. */
export class Network {
  readonly #options: NetworkOptions;
  readonly #artnet: ArtNetSockets;
  readonly #nodes: NodeWatch;
  readonly #sources: SourceWatch;
  readonly #rdm: RdmService;
  readonly inputs: InputDesk;
  readonly #serial: SerialOutputs;
  readonly #hubs: HubOutputs;
  readonly #announcer: Announcer;
  #ways: Ways = readWays();
  #signature = signatureOf(this.#ways);
  #timers: NodeJS.Timeout[] = [];
  #document: Document = new Map();
  #outputs: readonly OutputRecord[] = [];
  /** Universe that each port of a serial output carries, by `output port`. */
  readonly #serialUniverse = new Map<string, number>();
  #ports: readonly FoundPort[] = [];
  #scanUntil = 0;
  #hosts = '';

  constructor(options: NetworkOptions) {
    const { now } = options;
    this.#options = options;
    this.#serial = new SerialOutputs(options.simulated?.serialPaths ?? []);
    this.#artnet = new ArtNetSockets(now);
    this.#nodes = new NodeWatch(this.#artnet, now, () => this.#ways);
    this.inputs = new InputDesk(now, options.act);
    this.#sources = new SourceWatch(this.#artnet, {
      now,
      cid: options.source.cid,
      addresses: [EVERYWHERE, ...(options.simulated ? [options.simulated.own] : [])],
      onData: (heard) => this.inputs.take(heard),
    });
    this.#rdm = new RdmService(this.#artnet, this.#nodes, now);
    this.#hubs = new HubOutputs({
      keys: options.hubKeys,
      saveKeys: options.saveHubKeys,
      candidates: () => options.simulated?.devices ?? [],
      now,
    });
    this.#announcer = new Announcer(options.source);
    const probe = (): void => void this.#hubs.probe(this.#outputs).catch(this.#complain);
    this.#timers = [
      setInterval(() => this.#tidy(), TIDY_MS),
      setInterval(() => this.#nodes.poll(), POLL_MS),
      setInterval(() => this.#slowOutputs(), SLOW_OUTPUTS_MS),
      setInterval(() => this.#announcer.announce(this.#document, this.#outputs), DISCOVERY_MS),
      setInterval(probe, PROBE_MS),
      setInterval(() => this.#rdm.refresh(), RDM_MS),
      setInterval(() => void this.#listPorts().catch(this.#complain), PORTS_MS),
    ];
    void this.#listPorts().catch(this.#complain);
  }

  readonly #complain = (error: unknown): void => this.#options.log.error({ err: error }, 'network');

  /** Follows the show; gives what the frame thread needs of the inputs. */
  setDocument(document: Document): { memory: SharedArrayBuffer; entries: MergedInput[] } {
    this.#document = document;
    this.#outputs = recordsOf(document, 'output');
    const inputs = this.inputs.setInputs(recordsOf(document, 'input'));
    this.#serialUniverse.clear();
    for (const route of recordsOf(document, 'route'))
      if (route.enabled && !this.#serialUniverse.has(`${route.outputId} ${route.wireUniverse}`))
        this.#serialUniverse.set(`${route.outputId} ${route.wireUniverse}`, route.universe);
    this.#serial.setOutputs(this.#outputs);
    this.#hubs.setOutputs(document, this.#outputs);
    this.#watch();
    this.#nodes.poll();
    return inputs;
  }

  /** Sockets, groups and segments for what the show and the machine are now. */
  #watch(): void {
    const own = this.#ways.links;
    const { simulated } = this.#options;
    const records = [...this.#outputs, ...recordsOf(this.#document, 'input')].filter((r) => r.enabled);
    const named = (protocol: string): string[] =>
      records.flatMap((r) => (r.protocol === protocol && r.interfaceAddress ? [r.interfaceAddress] : []));
    this.#artnet.want(new Set([EVERYWHERE, ...(simulated ? [simulated.own] : []), ...named('artnet')]));
    const segments = own
      .filter((i) => !i.internal)
      .map(({ address, netmask }) => ({
        broadcast: broadcastOf(address, netmask),
        own: named('artnet').includes(address) ? address : EVERYWHERE,
      }));
    if (simulated) segments.push({ broadcast: simulated.broadcast, own: simulated.own });
    this.#nodes.setOutputs(this.#outputs, segments);
    const sent = recordsOf(this.#document, 'route')
      .filter((r) => this.#outputs.some((o) => o.id === r.outputId && o.protocol === 'sacn'))
      .map((r) => r.wireUniverse);
    const interfaces = [...new Set([...own.filter((i) => !i.internal).map((i) => i.address), ...named('sacn')])];
    this.#sources.listenTo(new Set([...this.inputs.wanted('sacn'), ...sent]), interfaces, [
      ...own.map((i) => i.address),
      ...named('artnet'),
      ...(simulated ? [simulated.own] : []),
    ]);
  }

  #tidy(): void {
    this.inputs.tidy();
    this.#ways = readWays();
    const signature = signatureOf(this.#ways);
    if (signature !== this.#signature) {
      this.#signature = signature;
      // Groups and addresses that were lost with a card do not come back by themselves.
      this.#artnet.renew();
      this.#sources.renew();
      this.#announcer.renew();
      this.#watch();
      this.#nodes.poll();
      this.#options.onNetwork();
    } else this.#watch();
    const hosts = this.#outputs.some((o) => o.delivery === 'found')
      ? JSON.stringify(this.#nodes.nodes().map((n) => [n.ip, n.state, n.outputs.map((p) => p.portAddress)]))
      : '';
    if (hosts === this.#hosts) return;
    this.#hosts = hosts;
    this.#options.onHosts();
  }

  /** Why packets do not leave this way; null while they do. The simulated network needs no interface. */
  wayTrouble(way: Way): string | null {
    return wayTrouble(this.#ways, way);
  }

  /** The broadcast address of the network that a device is on. */
  broadcastFor = (host: string, interfaceAddress: string | null): string | null => {
    if (host.startsWith('127.')) return this.#options.simulated?.broadcast ?? null;
    const link = linkFor(this.#ways, { host, interfaceAddress, multicast: false });
    return link && link !== 'lo' ? broadcastOf(link.address, link.netmask) : null;
  };

  /** UDP ports of this machine that our own frames come from. */
  sendsFrom(ports: readonly number[]): void {
    this.#sources.sendsFrom(ports);
  }

  /** Addresses of devices that are there and put out a port-address. */
  hostsOf = (portAddress: number): readonly string[] => this.#nodes.hostsOf(portAddress);

  #slowOutputs(): void {
    const { now, slotsOf } = this.#options;
    if (this.#serial.size > 0)
      this.#serial.send((outputId, port) => {
        const universe = this.#serialUniverse.get(`${outputId} ${port}`);
        return universe === undefined ? null : slotsOf(universe);
      }, now());
    if (this.#hubs.size > 0) this.#hubs.send(slotsOf, now());
  }

  async #listPorts(): Promise<void> {
    this.#ports = await listPorts(this.#options.simulated?.serialPaths ?? []);
  }

  /** Carries out what a page asks. Throws FaultError with what is wrong. */
  async ask(ask: NetworkAsk): Promise<NetworkAnswer> {
    switch (ask.ask) {
      case 'scan':
        this.#scan();
        break;
      case 'rdmFind':
        this.#rdm.find(ask.gatewayIp);
        break;
      case 'rdmRead':
        await this.#rdm.read(ask.uid);
        break;
      case 'rdmIdentify':
        await this.#rdm.identify(ask.uid, ask.on);
        break;
      case 'rdmSet':
        await this.#rdm.set(ask);
        break;
      case 'trustHost':
        await this.#hubs.trust(ask.address);
        break;
      case 'hubPair':
        await this.#hubs.pair(ask.address);
        break;
      case 'hubLamps':
        return { kind: 'lamps', lamps: await this.#hubs.lamps(ask.address) };
      case 'stringCells':
        return { kind: 'string', string: await this.#hubs.string(ask.address) };
    }
    return { kind: 'done' };
  }

  #scan(): void {
    this.#scanUntil = this.#options.now() + SCAN_MS;
    this.#nodes.scan(this.#scanUntil);
    void this.#listPorts().catch(this.#complain);
    void this.#hubs.probe(this.#outputs).catch(this.#complain);
    setTimeout(() => this.#rdm.find(null), ANSWER_MS).unref();
  }

  /** Nobody watches any more: what pages held is let go. */
  letGo(): void {
    this.#rdm.identifyNone();
  }

  gatewaysOf(output: OutputRecord): ReturnType<NodeWatch['gatewaysOf']> {
    return this.#nodes.gatewaysOf(output);
  }

  /** What an output that does not send packets says of itself. */
  slowHealthOf(
    outputId: string,
  ): { packets: number; errors: number; lastError: string | null; says?: string | null } | null {
    return this.#serial.healthOf(outputId) ?? this.#hubs.healthOf(outputId);
  }

  state(): NetworkState {
    const now = this.#options.now();
    return {
      now,
      interfaces: [
        ...this.#ways.links.map(({ name, address, netmask, internal }) => ({ name, address, netmask, internal })),
        ...(this.#options.simulated
          ? [{ name: 'stand-ins', address: this.#options.simulated.own, netmask: '255.255.255.0', internal: true }]
          : []),
      ],
      nodes: this.#nodes.nodes(),
      sources: this.#sources.sources(),
      ports: this.#ports,
      rdm: this.#rdm.devices(),
      devices: this.#hubs.devices(),
      trusted: this.#hubs.trusted(),
      inputs: this.inputs.health(),
      scanUntil: now < this.#scanUntil ? this.#scanUntil : null,
      refused: this.#artnet.refused + this.#sources.refused,
      ignored: this.#nodes.ignored + this.#sources.ignored + this.#rdm.ignored,
      troubles: [...this.#artnet.troubles, ...this.#sources.troubles],
    };
  }

  close(): void {
    for (const timer of this.#timers) clearInterval(timer);
    this.#rdm.close();
    this.#artnet.close();
    this.#sources.close();
    this.#serial.close();
    this.#announcer.close();
  }
}
