import dgram from 'node:dgram';
import type { Logger } from 'pino';
import { recordsOf, type Document } from '../../core/document/change.ts';
import type { NetworkAnswer, NetworkAsk, NetworkState, FoundPort } from '../../core/protocol/network.ts';
import { DISCOVERY_MS, DISCOVERY_UNIVERSE, makeSacnDiscovery } from '../../core/protocol/sacn-extended.ts';
import { multicastGroup, SACN_PORT, type SacnSource } from '../../core/protocol/sacn.ts';
import type { OutputRecord } from '../../core/records/index.ts';
import type { LiveCommand } from '../../core/show/index.ts';
import type { MergedInput } from '../shared.ts';
import { ArtNetSockets, EVERYWHERE } from './artnet-sockets.ts';
import { HubOutputs, type HubKeys } from './hubs.ts';
import { InputDesk } from './inputs.ts';
import { broadcastOf, ownInterfaces } from './interfaces.ts';
import { NodeWatch, POLL_MS } from './nodes.ts';
import { RdmService } from './rdm.ts';
import { SerialOutputs } from './serial.ts';
import { listPorts } from './serial-ports.ts';
import { SourceWatch } from './sources.ts';

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
  readonly command: (command: LiveCommand) => void;
  /** Slots of one of our universes as they were sent last. */
  readonly slotsOf: (universe: number) => Uint8Array | null;
  /** The devices that answer to port-addresses are others than before. */
  readonly onHosts: () => void;
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
  readonly #announcer = dgram.createSocket({ type: 'udp4', reuseAddr: true });
  #timers: NodeJS.Timeout[] = [];
  #document: Document = new Map();
  #outputs: readonly OutputRecord[] = [];
  /** Universe that each serial output carries. */
  readonly #serialUniverse = new Map<string, number>();
  #ports: readonly FoundPort[] = [];
  #scanUntil = 0;
  #hosts = '';

  constructor(options: NetworkOptions) {
    const { now } = options;
    this.#options = options;
    this.#serial = new SerialOutputs(options.simulated?.serialPaths ?? []);
    this.#artnet = new ArtNetSockets(now);
    this.#nodes = new NodeWatch(this.#artnet, now);
    this.inputs = new InputDesk(now, options.command);
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
    // An address that cannot be reached is no reason to end.
    this.#announcer.on('error', () => undefined);
    this.#announcer.bind(0);
    const probe = (): void => void this.#hubs.probe(this.#outputs).catch(this.#complain);
    this.#timers = [
      setInterval(() => this.#tidy(), TIDY_MS),
      setInterval(() => this.#nodes.poll(), POLL_MS),
      setInterval(() => this.#slowOutputs(), SLOW_OUTPUTS_MS),
      setInterval(() => this.#announce(), DISCOVERY_MS),
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
      if (route.enabled && !this.#serialUniverse.has(route.outputId))
        this.#serialUniverse.set(route.outputId, route.universe);
    this.#serial.setOutputs(this.#outputs);
    this.#hubs.setOutputs(document, this.#outputs);
    this.#watch();
    this.#nodes.poll();
    return inputs;
  }

  /** Sockets, groups and segments for what the show and the machine are now. */
  #watch(): void {
    const own = ownInterfaces();
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
    this.#watch();
    const hosts = this.#outputs.some((o) => o.delivery === 'found')
      ? JSON.stringify(this.#nodes.nodes().map((n) => [n.ip, n.state, n.outputs.map((p) => p.portAddress)]))
      : '';
    if (hosts === this.#hosts) return;
    this.#hosts = hosts;
    this.#options.onHosts();
  }

  /** Addresses of devices that are there and put out a port-address. */
  hostsOf(portAddress: number): readonly string[] {
    return this.#nodes.hostsOf(portAddress);
  }

  #slowOutputs(): void {
    const { now, slotsOf } = this.#options;
    if (this.#serial.size > 0)
      this.#serial.send((outputId) => {
        const universe = this.#serialUniverse.get(outputId);
        return universe === undefined ? null : slotsOf(universe);
      }, now());
    if (this.#hubs.size > 0) this.#hubs.send(slotsOf, now());
  }

  /** Tells the network which universes we send (ANSI E1.31 8), where we send them. */
  #announce(): void {
    const byWay = new Map<string, number[]>();
    for (const route of recordsOf(this.#document, 'route')) {
      const output = this.#outputs.find((o) => o.id === route.outputId);
      if (!output?.enabled || !route.enabled || output.protocol !== 'sacn') continue;
      const hosts = output.multicast ? [multicastGroup(DISCOVERY_UNIVERSE)] : output.destinations;
      for (const host of hosts) {
        const way = `${output.multicast ? (output.interfaceAddress ?? '') : ''}>${host}`;
        byWay.set(way, [...(byWay.get(way) ?? []), route.wireUniverse]);
      }
    }
    for (const [way, universes] of byWay) {
      const [own, host] = way.split('>') as [string, string];
      try {
        if (own !== '') this.#announcer.setMulticastInterface(own);
      } catch {
        continue;
      }
      for (const packet of makeSacnDiscovery(this.#options.source, universes))
        this.#announcer.send(packet, SACN_PORT, host, () => undefined);
    }
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
        ...ownInterfaces(),
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
