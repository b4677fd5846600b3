import dgram from 'node:dgram';
import { fillArtDmx, makeArtDmx, makeArtSync } from '../core/protocol/artnet.ts';
import { fillSacnSync, makeSacnSync } from '../core/protocol/sacn-extended.ts';
import { fillSacn, makeSacnPacket, multicastGroup, type SacnSource } from '../core/protocol/sacn.ts';
import type { RouteStats, WireRoute } from './shared.ts';

/** Unchanged data: after three repeats only a keep-alive this often (ANSI E1.31 6.6.2 asks for 800-1000 ms). */
export const KEEP_ALIVE_MS = 900;
const REPEATS = 3;
const TERMINATIONS = 3;
const RETRY_MS = 2000;
/** An error is told for this long after it was met last; more than it takes to try again. */
const ERROR_STANDS_MS = 4000;
/** A frame this little early is in time for an output of fewer frames. */
const EARLY_MS = 2;

/** Where a channel goes: what of a route decides about the socket. */
type Way = Pick<WireRoute, 'host' | 'port' | 'interfaceAddress' | 'multicast' | 'broadcast'>;

/** A connected UDP socket: no address look-up per packet. Opens itself again after an error that closed it. */
class Channel {
  #socket: dgram.Socket | null = null;
  #ready = false;
  #retryAt = 0;
  #route: Way;
  #nowMs: number;
  #errorAt = -Infinity;
  errors = 0;
  #lastError: string | null = null;
  users = 0;

  constructor(route: Way, nowMs: number) {
    this.#route = route;
    this.#nowMs = nowMs;
    this.#open(nowMs);
  }

  #open(nowMs: number): void {
    const { host, port, interfaceAddress, multicast, broadcast } = this.#route;
    const socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
    this.#socket = socket;
    this.#retryAt = nowMs + RETRY_MS;
    socket.on('error', (error) => this.#note(error));
    socket.on('connect', () => {
      this.#ready = true;
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

  #note(error: Error): void {
    this.errors++;
    this.#errorAt = this.#nowMs;
    this.#lastError = explain(error, this.#route);
  }

  /** What went wrong in the last seconds, in words; null when it goes well again. */
  trouble(nowMs: number): string | null {
    return nowMs - this.#errorAt < ERROR_STANDS_MS ? this.#lastError : null;
  }

  /** True when the packet was handed to the system. */
  send(packet: Uint8Array, nowMs: number): boolean {
    this.#nowMs = nowMs;
    if (this.#ready) {
      try {
        this.#socket!.send(packet);
        return true;
      } catch (error) {
        this.#note(error as Error);
        return false;
      }
    }
    if (nowMs >= this.#retryAt) {
      this.close();
      this.#open(nowMs);
    }
    return false;
  }

  close(): void {
    this.#ready = false;
    try {
      this.#socket?.close();
    } catch {
      // A socket that never opened cannot be closed; there is nothing to free.
    }
    this.#socket = null;
  }
}

function explain(error: NodeJS.ErrnoException, route: Way): string {
  const where = `${route.host}:${route.port}`;
  switch (error.code) {
    case 'ECONNREFUSED':
      return `nobody listens at ${where}`;
    case 'EADDRNOTAVAIL':
      return `this machine has no network interface ${route.interfaceAddress ?? ''}`.trim();
    case 'ENETUNREACH':
    case 'EHOSTUNREACH':
      return `no way to ${where} from this network`;
    case 'EACCES':
    case 'EPERM':
      return `the system does not allow sending to ${where}`;
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
    this.sequence = (this.sequence + 1) & 0xff;
    if (this.route.protocol === 'sacn') fillSacn(this.#packet, this.sequence, slots, terminated);
    else fillArtDmx(this.#packet, this.sequence, slots);
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
  readonly way: Way;
  readonly #packet: Uint8Array;
  readonly #sacn: boolean;
  #sequence = 0;
  wanted = false;

  constructor(route: WireRoute, way: Way, channel: Channel, source: SacnSource) {
    this.way = way;
    this.channel = channel;
    this.#sacn = route.protocol === 'sacn';
    this.#packet = this.#sacn ? makeSacnSync(source.cid, route.syncAddress) : makeArtSync();
  }

  send(nowMs: number): void {
    this.wanted = false;
    if (this.#sacn) fillSacnSync(this.#packet, ++this.#sequence);
    this.channel.send(this.#packet, nowMs);
  }
}

const syncsOf = (route: WireRoute): boolean => (route.protocol === 'sacn' ? route.syncAddress > 0 : route.artSync);
/** Sync packets go where the data goes; those of multicast streams to the group of the sync universe. */
const syncWay = (route: WireRoute): Way =>
  route.multicast ? { ...route, host: multicastGroup(route.syncAddress) } : route;

/** All streams of the engine. Changing one route leaves the others, their sockets and sequences as they are. */
export class Senders {
  #senders: { sender: Sender; universeIndex: number; syncer: Syncer | null }[] = [];
  readonly #syncers = new Map<string, Syncer>();
  readonly #byKey = new Map<string, Sender>();
  readonly #channels = new Map<string, Channel>();
  readonly #source: SacnSource;
  readonly #sequences: Readonly<Record<string, number>>;
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
    return `${route.outputId}|${route.syncAddress}|${this.#channelKey(syncWay(route))}`;
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
      this.#syncers.set(key, new Syncer(route, way, this.#join(way, nowMs), this.#source));
    }
  }

  #channelKey(way: Way): string {
    return `${way.interfaceAddress ?? ''}>${way.host}:${way.port}${way.broadcast ? ' all' : ''}`;
  }

  #join(route: Way, nowMs: number): Channel {
    const key = this.#channelKey(route);
    let channel = this.#channels.get(key);
    if (!channel) this.#channels.set(key, (channel = new Channel(route, nowMs)));
    channel.users++;
    return channel;
  }

  #leave(channel: Channel, way: Way, nowMs: number): void {
    if (--channel.users > 0) return;
    this.#channels.delete(this.#channelKey(way));
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
