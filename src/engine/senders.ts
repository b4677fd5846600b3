import dgram from 'node:dgram';
import { fillArtDmx, makeArtDmx, makeArtSync, nextArtSequence } from '../core/protocol/artnet.ts';
import { fillSacnSync, makeSacnSync } from '../core/protocol/sacn-extended.ts';
import { fillSacn, makeSacnPacket, multicastGroup, type SacnSource } from '../core/protocol/sacn.ts';
import type { RouteStats, WireRoute } from './shared.ts';

/** Unchanged data: after three repeats only a keep-alive this often (ANSI E1.31 6.6.2 asks for 800-1000 ms). */
export const KEEP_ALIVE_MS = 900;
const REPEATS = 3;
const TERMINATIONS = 3;
const RETRY_MS = 1000;
/** After an error a socket is opened anew this soon. */
const HEAL_MS = 300;
/** The system is asked this often what becomes of a packet. */
const ASK_MS = 250;
/** An error is told for this long after it was met last; more than it takes to try again. */
const ERROR_STANDS_MS = 4000;
/** A frame this little early is in time for an output of fewer frames. */
const EARLY_MS = 2;

/** Where a channel goes: what of a route decides about the socket. */
export type ChannelWay = Pick<WireRoute, 'host' | 'port' | 'interfaceAddress' | 'multicast' | 'broadcast'>;
export const channelKey = (way: ChannelWay): string =>
  `${way.interfaceAddress ?? ''}>${way.host}:${way.port}${way.broadcast ? ' all' : ''}`;

/**
 * A connected UDP socket: no address look-up per packet. A connected socket dies with the address it was connected
 * from, and without a callback the system's errors are dropped: so one packet now and then is sent with one, and the
 * socket is opened anew when that says so, or when the machine's own network is another. The old one sends until the
 * new one can.
 */
class Channel {
  #socket: dgram.Socket | null = null;
  /** One that is being opened. */
  #next: dgram.Socket | null = null;
  readonly #way: ChannelWay;
  #nowMs: number;
  #retryAt: number;
  #askAt = 0;
  /** Something was wrong with the socket since it was opened. */
  #broken = false;
  #errorAt = -Infinity;
  #lastError: string | null = null;
  /** Why packets do not leave, as far as the system knows; null while they do. */
  blocked: string | null = null;
  errors = 0;
  users = 0;

  constructor(way: ChannelWay, nowMs: number) {
    this.#way = way;
    this.#nowMs = nowMs;
    this.#retryAt = nowMs + RETRY_MS;
    this.#open();
  }

  #open(): void {
    const { host, port, interfaceAddress, multicast, broadcast } = this.#way;
    const socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
    closeQuietly(this.#next);
    this.#next = socket;
    this.#retryAt = this.#nowMs + RETRY_MS;
    socket.on('error', (error) => {
      if (socket === this.#socket || socket === this.#next) this.#note(error);
    });
    socket.on('connect', () => {
      if (socket !== this.#next) return;
      closeQuietly(this.#socket);
      this.#socket = socket;
      this.#next = null;
      this.#broken = false;
    });
    socket.bind(0, interfaceAddress ?? '0.0.0.0', () => {
      try {
        if (multicast && interfaceAddress) socket.setMulticastInterface(interfaceAddress);
        if (multicast) socket.setMulticastTTL(16);
        if (broadcast) socket.setBroadcast(true);
        socket.setSendBufferSize(1 << 20);
        socket.connect(port, host);
      } catch (error) {
        this.#note(error as Error);
      }
    });
  }

  #note(error: NodeJS.ErrnoException): void {
    this.errors++;
    this.#errorAt = this.#nowMs;
    this.#lastError = explain(error, this.#way);
    // Nobody listening is no fault of the socket's.
    if (error.code === 'ECONNREFUSED' || this.#broken) return;
    this.#broken = true;
    this.#retryAt = Math.min(this.#retryAt, this.#nowMs + HEAL_MS);
  }

  /** The machine's own network is another: what was connected before may lead nowhere. */
  reopen(): void {
    this.#open();
  }

  /** UDP port it sends from; null while it is not open. */
  get localPort(): number | null {
    try {
      return this.#socket?.address().port ?? null;
    } catch {
      return null;
    }
  }

  /** What went wrong in the last seconds, in words; null when it goes well again. */
  trouble(nowMs: number): string | null {
    return this.blocked ?? (nowMs - this.#errorAt < ERROR_STANDS_MS ? this.#lastError : null);
  }

  /** True when the packet was handed to the system and, as far as it knows, leaves. */
  send(packet: Uint8Array, nowMs: number): boolean {
    this.#nowMs = nowMs;
    if ((this.#socket === null || this.#broken) && nowMs >= this.#retryAt) this.#open();
    if (this.#socket === null) return false;
    try {
      if (nowMs >= this.#askAt) {
        this.#askAt = nowMs + ASK_MS;
        const socket = this.#socket;
        socket.send(packet, (error) => {
          if (error && socket === this.#socket) this.#note(error);
        });
      } else this.#socket.send(packet);
    } catch (error) {
      this.#note(error as Error);
      return false;
    }
    if (this.blocked === null) return true;
    this.errors++;
    return false;
  }

  close(): void {
    closeQuietly(this.#socket);
    closeQuietly(this.#next);
    this.#socket = this.#next = null;
  }
}

/** A socket that never opened cannot be closed; there is nothing to free then. */
function closeQuietly(socket: dgram.Socket | null): void {
  try {
    socket?.close();
  } catch {
    // Nothing to free.
  }
}

function explain(error: NodeJS.ErrnoException, way: ChannelWay): string {
  const where = `${way.host}:${way.port}`;
  switch (error.code) {
    case 'ECONNREFUSED':
      return `nobody listens at ${where}`;
    case 'EADDRNOTAVAIL':
      return way.interfaceAddress
        ? `this machine has no network interface ${way.interfaceAddress}`
        : `packets do not leave: there is no way to ${where} from this machine`;
    case 'ENETUNREACH':
    case 'EHOSTUNREACH':
    case 'ENETDOWN':
    case 'EINVAL':
      return `packets do not leave: there is no way to ${where} from this network`;
    case 'EACCES':
    case 'EPERM':
      return `the system does not allow sending to ${where}`;
    case 'ENOBUFS':
      return `packets do not leave: the network card takes no more`;
    default:
      return `${error.code ?? error.name} at ${where}`;
  }
}

class Sender {
  readonly route: WireRoute;
  readonly channel: Channel;
  readonly #packet: Uint8Array;
  readonly #last = new Uint8Array(512);
  sequence: number;
  #sentAt = -Infinity;
  #unchanged = 0;
  #dueAt = -Infinity;
  packets = 0;

  constructor(route: WireRoute, channel: Channel, source: SacnSource, sequence: number) {
    this.route = route;
    this.channel = channel;
    this.sequence = sequence;
    this.#packet =
      route.protocol === 'sacn'
        ? makeSacnPacket(
            route.sourceName === '' ? source : { cid: source.cid, name: route.sourceName },
            route.wireUniverse,
            route.priority,
            route.slots,
            { preview: route.preview, syncAddress: route.syncAddress },
          )
        : makeArtDmx(route.wireUniverse, route.slots);
  }

  /** True when a packet went out. */
  send(slots: Uint8Array, nowMs: number): boolean {
    if (this.route.rateCap > 0 && !this.#inTime(nowMs)) return false;
    if (this.route.refresh === 'changes' && !this.#due(slots, nowMs)) return false;
    return this.#emit(slots, nowMs, false);
  }

  /** Lets at most `rateCap` frames a second through, evenly; frames in between are left out, never saved up. */
  #inTime(nowMs: number): boolean {
    const interval = 1000 / this.route.rateCap;
    if (nowMs < this.#dueAt - EARLY_MS) return false;
    // Counted on from when it was due, so that the pace holds; anew after a stall.
    this.#dueAt = nowMs - this.#dueAt > interval ? nowMs + interval : this.#dueAt + interval;
    return true;
  }

  #due(slots: Uint8Array, nowMs: number): boolean {
    let same = true;
    for (let i = 0; i < slots.length; i++) {
      if (slots[i] !== this.#last[i]) {
        same = false;
        break;
      }
    }
    if (!same) {
      this.#last.set(slots);
      this.#unchanged = 0;
      return true;
    }
    this.#unchanged++;
    return this.#unchanged <= REPEATS || nowMs - this.#sentAt >= KEEP_ALIVE_MS;
  }

  #emit(slots: Uint8Array, nowMs: number, terminated: boolean): boolean {
    if (this.route.protocol === 'sacn') {
      this.sequence = (this.sequence + 1) & 0xff;
      fillSacn(this.#packet, this.sequence, slots, terminated);
    } else {
      this.sequence = nextArtSequence(this.sequence);
      fillArtDmx(this.#packet, this.sequence, slots);
    }
    if (!this.channel.send(this.#packet, nowMs)) return false;
    this.#sentAt = nowMs;
    this.packets++;
    return true;
  }

  /** Three packets with the stream-terminated bit (ANSI E1.31 6.2.6), so that receivers let go at once. */
  terminate(slots: Uint8Array, nowMs: number): void {
    if (this.route.protocol !== 'sacn') return;
    for (let i = 0; i < TERMINATIONS; i++) this.#emit(slots, nowMs, true);
  }
}

const NOTHING = new Uint8Array(512);

/** Sends the packet that makes devices put out what they got: ANSI E1.31 6.3, or ArtSync. */
class Syncer {
  readonly channel: Channel;
  readonly way: ChannelWay;
  readonly #packet: Uint8Array;
  readonly #sacn: boolean;
  sequence: number;
  wanted = false;

  constructor(route: WireRoute, way: ChannelWay, channel: Channel, source: SacnSource, sequence: number) {
    this.way = way;
    this.sequence = sequence;
    this.channel = channel;
    this.#sacn = route.protocol === 'sacn';
    this.#packet = this.#sacn ? makeSacnSync(source.cid, route.syncAddress) : makeArtSync();
  }

  send(nowMs: number): void {
    this.wanted = false;
    if (this.#sacn) fillSacnSync(this.#packet, (this.sequence = (this.sequence + 1) & 0xff));
    this.channel.send(this.#packet, nowMs);
  }
}

const syncsOf = (route: WireRoute): boolean => (route.protocol === 'sacn' ? route.syncAddress > 0 : route.artSync);
/** Sync packets go where the data goes; those of multicast streams to the group of the sync universe. */
const syncWay = (route: WireRoute): ChannelWay => {
  if (route.multicast) return { ...route, host: multicastGroup(route.syncAddress) };
  // An ArtSync goes to everybody on the network of the device (Art-Net 4, "ArtSync").
  return route.protocol === 'artnet' && route.syncHost ? { ...route, host: route.syncHost, broadcast: true } : route;
};

/** All streams of the engine. Changing one route leaves the others, their sockets and sequences as they are. */
export class Senders {
  #senders: { sender: Sender; universeIndex: number; syncer: Syncer | null }[] = [];
  readonly #syncers = new Map<string, Syncer>();
  readonly #byKey = new Map<string, Sender>();
  readonly #channels = new Map<string, Channel>();
  readonly #source: SacnSource;
  readonly #sequences: Readonly<Record<string, number>>;
  #blocked: Readonly<Record<string, string>> = {};
  readonly #closing: { channel: Channel; at: number }[] = [];

  constructor(source: SacnSource, sequences: Readonly<Record<string, number>>) {
    this.#source = source;
    this.#sequences = sequences;
  }

  setRoutes(routes: readonly WireRoute[], universes: Uint16Array, nowMs: number): void {
    const indexOf = new Map(Array.from(universes, (u, i) => [u, i]));
    const wanted = new Map(routes.map((r) => [r.key, r]));
    for (const [key, sender] of this.#byKey) {
      if (wanted.has(key)) continue;
      sender.terminate(NOTHING, nowMs);
      this.#byKey.delete(key);
      this.#leave(sender.channel, sender.route, nowMs);
    }
    for (const [key, route] of wanted) {
      if (this.#byKey.has(key)) continue;
      const sequence = this.#sequences[key];
      this.#byKey.set(key, new Sender(route, this.#join(route, nowMs), this.#source, sequence ?? 0));
    }
    this.#setSyncers(routes, nowMs);
    this.#senders = [];
    for (const [key, sender] of this.#byKey) {
      const route = wanted.get(key)!;
      const universeIndex = indexOf.get(route.universe);
      const syncer = this.#syncers.get(this.#syncKey(route)) ?? null;
      if (universeIndex !== undefined) this.#senders.push({ sender, universeIndex, syncer });
    }
  }

  #syncKey(route: WireRoute): string {
    return `${route.outputId}|${route.syncAddress}|${channelKey(syncWay(route))}`;
  }

  #setSyncers(routes: readonly WireRoute[], nowMs: number): void {
    const wanted = new Map(routes.filter(syncsOf).map((r) => [this.#syncKey(r), r]));
    for (const [key, syncer] of this.#syncers) {
      if (wanted.has(key)) continue;
      this.#syncers.delete(key);
      this.#leave(syncer.channel, syncer.way, nowMs);
    }
    for (const [key, route] of wanted) {
      if (this.#syncers.has(key)) continue;
      const way = syncWay(route);
      const sequence = this.#sequences[`sync ${key}`] ?? 0;
      this.#syncers.set(key, new Syncer(route, way, this.#join(way, nowMs), this.#source, sequence));
    }
  }

  #join(way: ChannelWay, nowMs: number): Channel {
    const key = channelKey(way);
    let channel = this.#channels.get(key);
    if (!channel) {
      this.#channels.set(key, (channel = new Channel(way, nowMs)));
      channel.blocked = this.#blocked[key] ?? null;
    }
    channel.users++;
    return channel;
  }

  /** Ways that packets do not leave by, with the reason, by `channelKey`. */
  setBlocked(blocked: Readonly<Record<string, string>>): void {
    this.#blocked = blocked;
    for (const [key, channel] of this.#channels) channel.blocked = blocked[key] ?? null;
  }

  /** The machine's own network is another. */
  reopen(): void {
    for (const channel of this.#channels.values()) channel.reopen();
  }

  /** UDP ports that we send from. */
  localPorts(): number[] {
    return [...this.#channels.values()].flatMap((channel) => channel.localPort ?? []);
  }

  #leave(channel: Channel, way: ChannelWay, nowMs: number): void {
    if (--channel.users > 0) return;
    this.#channels.delete(channelKey(way));
    // The last packets may still be on their way out of the system's queue.
    this.#closing.push({ channel, at: nowMs + 500 });
  }

  /** Sends a frame: `bytes` holds 512 slots for each universe index. */
  send(bytes: Uint8Array, views: readonly Uint8Array[], nowMs: number): void {
    for (let i = 0; i < this.#senders.length; i++) {
      const { sender, universeIndex, syncer } = this.#senders[i]!;
      const slots = views[universeIndex];
      if (slots && sender.send(slots, nowMs) && syncer) syncer.wanted = true;
    }
    if (this.#syncers.size > 0) for (const syncer of this.#syncers.values()) if (syncer.wanted) syncer.send(nowMs);
    while (this.#closing.length > 0 && this.#closing[0]!.at <= nowMs) this.#closing.shift()!.channel.close();
  }

  terminateAll(nowMs: number): void {
    for (const sender of this.#byKey.values()) sender.terminate(NOTHING, nowMs);
  }

  close(): void {
    for (const channel of this.#channels.values()) channel.close();
    for (const { channel } of this.#closing) channel.close();
  }

  sequences(): Record<string, number> {
    const found: Record<string, number> = {};
    for (const [key, sender] of this.#byKey) found[key] = sender.sequence;
    for (const [key, syncer] of this.#syncers) found[`sync ${key}`] = syncer.sequence;
    return found;
  }

  /** Packets and errors since the start, by output, and what is wrong now. */
  stats(nowMs: number): RouteStats[] {
    const byOutput = new Map<
      string,
      { outputId: string; packets: number; errors: number; lastError: string | null; channels: Set<Channel> }
    >();
    for (const sender of this.#byKey.values()) {
      const { outputId } = sender.route;
      let entry = byOutput.get(outputId);
      if (!entry)
        byOutput.set(outputId, (entry = { outputId, packets: 0, errors: 0, lastError: null, channels: new Set() }));
      entry.packets += sender.packets;
      if (entry.channels.has(sender.channel)) continue;
      entry.channels.add(sender.channel);
      entry.errors += sender.channel.errors;
      entry.lastError = sender.channel.trouble(nowMs) ?? entry.lastError;
    }
    return [...byOutput.values()].map(({ channels: _, ...rest }) => rest);
  }
}
