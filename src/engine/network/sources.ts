import dgram from 'node:dgram';
import type { FoundSource } from '../../core/protocol/network.ts';
import { isHeard, lossOf, SOURCE_TIMEOUT_MS, type ReceivedPacket } from '../../core/protocol/receiver.ts';
import { decodeSacnExtended, DISCOVERY_MS, DISCOVERY_UNIVERSE } from '../../core/protocol/sacn-extended.ts';
import { decodeSacn, multicastGroup, SACN_PORT, type SacnData } from '../../core/protocol/sacn.ts';
import { Rates } from '../rates.ts';
import type { ArtNetSockets, HeardArtNet } from './artnet-sockets.ts';
import { Remembered } from './remembered.ts';
import { closeQuietly, grow } from './sockets.ts';

/** Slots of one universe that somebody else sends. */
export interface HeardUniverse extends ReceivedPacket {
  readonly protocol: 'sacn' | 'artnet';
  readonly wireUniverse: number;
  readonly preview: boolean;
  /** IP address it came from. */
  readonly from: string;
}

interface Source {
  readonly protocol: 'sacn' | 'artnet';
  readonly id: string;
  name: string;
  ip: string;
  priority: number | null;
  readonly universes: Map<number, { at: number; sequence: number }>;
  announced: readonly number[];
  lost: number;
  packets: number;
  at: number;
}

const MOST_SOURCES = 500;
/** One that is lost is shown as lost for so long. */
const FORGET_MS = 600_000;
const MOST_UNIVERSES = 512;
/** Most multicast groups that are listened to besides discovery. */
const MOST_GROUPS = 64;
const RETRY_MS = 3000;
/** An interface without multicast is asked again this often. */
const REJOIN_MS = 10_000;

/** Hears what other sources send: sACN by unicast and multicast, Art-Net on the shared sockets. Our own is left out. */
export class SourceWatch {
  readonly #sources = new Remembered<Source>({
    most: MOST_SOURCES,
    confirmMs: 1500,
    forgetStrangerMs: DISCOVERY_MS * 1.5,
    forgetKnownMs: FORGET_MS,
  });
  readonly #groups = new Map<string, dgram.Socket>();
  readonly #unicast = new Map<string, dgram.Socket>();
  readonly #troubles = new Map<string, string>();
  readonly #now: () => number;
  readonly #ownCid: Uint8Array;
  readonly #onData: (heard: HeardUniverse) => void;
  readonly #addresses: readonly string[];
  readonly #rates = new Rates();
  /** When an address that could not be opened, or a group that could not be joined, is tried again. */
  readonly #waitUntil = new Map<string, number>();
  #ownAddresses: ReadonlySet<string> = new Set();
  #ownPorts: ReadonlySet<number> = new Set();
  refused = 0;
  /** Universes of a source beyond what is kept. */
  #surplus = 0;

  /** Sources that were forgotten to make room for others, and universes that were not kept. */
  get ignored(): number {
    return this.#sources.driven + this.#surplus;
  }

  get troubles(): string[] {
    return [...this.#troubles.values()];
  }

  /** `addresses`: own addresses that sACN by unicast is heard on. */
  constructor(
    artnet: ArtNetSockets,
    options: {
      now: () => number;
      cid: Uint8Array;
      addresses: readonly string[];
      onData: (heard: HeardUniverse) => void;
    },
  ) {
    this.#now = options.now;
    this.#ownCid = options.cid.subarray(0, 16);
    this.#onData = options.onData;
    this.#addresses = options.addresses;
    artnet.listen((heard) => this.#takeArtNet(heard));
    this.#openUnicast();
  }

  #isDue(key: string): boolean {
    return this.#now() >= (this.#waitUntil.get(key) ?? 0);
  }

  #openUnicast(): void {
    for (const address of this.#addresses)
      if (!this.#unicast.has(address) && this.#isDue(address)) this.#openOne(address);
  }

  #openOne(address: string): void {
    const socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
    this.#unicast.set(address, socket);
    socket.on('message', (packet, from) => this.#takeSacn(packet, from.address));
    socket.on('error', (error: NodeJS.ErrnoException) => {
      this.#troubles.set(address, `sACN cannot be heard on ${address}: ${error.code ?? error.message}`);
      this.#unicast.delete(address);
      this.#waitUntil.set(address, this.#now() + RETRY_MS);
      closeQuietly(socket);
    });
    socket.bind({ port: SACN_PORT, address }, () => {
      this.#troubles.delete(address);
      grow(socket);
    });
  }

  /** Which universes are listened to, and on which own addresses. Said again now and then, it opens what was lost. */
  listenTo(universes: ReadonlySet<number>, interfaces: readonly string[], own: Iterable<string>): void {
    this.#ownAddresses = new Set(own);
    this.#openUnicast();
    const groups = [DISCOVERY_UNIVERSE, ...[...universes].slice(0, MOST_GROUPS)];
    const wanted = new Set(groups.flatMap((u) => interfaces.map((i) => `${i}>${u}`)));
    for (const [key, socket] of this.#groups) {
      if (wanted.has(key)) continue;
      this.#groups.delete(key);
      socket.close();
    }
    for (const key of wanted) if (!this.#groups.has(key) && this.#isDue(key)) this.#join(key);
  }

  /** A socket for one group, bound to the group itself: it gets nothing else. */
  #join(key: string): void {
    const [own, universe] = key.split('>') as [string, string];
    const group = multicastGroup(Number(universe));
    const socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
    this.#groups.set(key, socket);
    socket.on('message', (packet, from) => this.#takeSacn(packet, from.address));
    const drop = (): void => {
      if (this.#groups.get(key) !== socket) return;
      this.#groups.delete(key);
      this.#waitUntil.set(key, this.#now() + REJOIN_MS);
      closeQuietly(socket);
    };
    socket.on('error', drop);
    socket.bind({ port: SACN_PORT, address: group }, () => {
      try {
        socket.addMembership(group, own);
        grow(socket);
      } catch {
        drop();
      }
    });
  }

  #takeSacn(packet: Uint8Array, from: string): void {
    // Our own multicast comes back to us: known by its component id before anything is decoded.
    if (packet.length >= 38 && this.#ownCid.every((byte, i) => packet[22 + i] === byte)) return;
    const decoded = decodeSacn(packet);
    if (!decoded.ok) return this.#takeExtended(packet, from);
    const { value } = decoded;
    const { startCode } = value;
    if (!isHeard(startCode)) return;
    this.#note(value, from);
    this.#onData({
      protocol: 'sacn',
      startCode,
      wireUniverse: value.universe,
      sourceId: value.cid,
      sourceName: value.sourceName,
      priority: value.priority,
      sequence: value.sequence,
      terminated: value.terminated,
      preview: value.preview,
      slots: value.slots,
      from,
    });
  }

  #note(data: SacnData, from: string): void {
    const source = this.#source('sacn', data.cid, data.sourceName, from);
    const now = this.#now();
    source.priority = data.priority;
    if (data.terminated) {
      source.universes.delete(data.universe);
      return;
    }
    this.#count(source, 'sacn', data.universe, data.sequence, now);
  }

  #count(source: Source, kind: 'sacn' | 'artnet', universe: number, sequence: number, now: number): void {
    const known = source.universes.get(universe);
    source.packets++;
    if (known) {
      source.lost += lossOf(kind, known.sequence, sequence);
      known.sequence = sequence;
      known.at = now;
    } else if (source.universes.size < MOST_UNIVERSES) source.universes.set(universe, { at: now, sequence });
    else this.#surplus++;
  }

  #takeExtended(packet: Uint8Array, from: string): void {
    const decoded = decodeSacnExtended(packet);
    if (!decoded.ok) {
      this.refused++;
      return;
    }
    if (decoded.value.type !== 'discovery') return;
    const { cid, sourceName, page, universes } = decoded.value;
    const source = this.#source('sacn', cid, sourceName, from);
    const before = page === 0 ? [] : source.announced;
    source.announced = [...new Set([...before, ...universes])].slice(0, MOST_UNIVERSES);
  }

  /** UDP ports of this machine that our own frames come from. */
  sendsFrom(ports: readonly number[]): void {
    this.#ownPorts = new Set(ports);
  }

  #takeArtNet({ packet, from, fromPort }: HeardArtNet): void {
    if (packet.op !== 'dmx') return;
    // Our own comes back where we send to ourselves; another program of this machine is a source like any other.
    if (this.#ownPorts.has(fromPort) && (this.#ownAddresses.has(from) || from.startsWith('127.'))) return;
    const { portAddress, sequence, slots } = packet;
    const source = this.#source('artnet', from, from, from);
    this.#count(source, 'artnet', portAddress, sequence, this.#now());
    this.#onData({
      protocol: 'artnet',
      wireUniverse: portAddress,
      sourceId: from,
      sourceName: from,
      priority: 100,
      sequence,
      preview: false,
      slots,
      from,
    });
  }

  #source(protocol: 'sacn' | 'artnet', id: string, name: string, ip: string): Source {
    const at = this.#now();
    const source = this.#sources.get(id) ?? {
      protocol,
      id,
      name,
      ip,
      priority: null,
      universes: new Map(),
      announced: [],
      lost: 0,
      packets: 0,
      at,
    };
    source.name = name;
    source.ip = ip;
    source.at = at;
    this.#sources.note(id, source);
    return source;
  }

  sources(): FoundSource[] {
    const now = this.#now();
    for (const id of this.#sources.tidy(now)) this.#rates.forget(id);
    return [...this.#sources.values()].map((s) => {
      for (const [universe, { at }] of s.universes) if (now - at > SOURCE_TIMEOUT_MS) s.universes.delete(universe);
      // One that only announces itself does so every 10 s.
      const silence = s.announced.length > 0 ? DISCOVERY_MS * 2.5 : SOURCE_TIMEOUT_MS;
      return {
        protocol: s.protocol,
        id: s.id,
        name: s.name,
        ip: s.ip,
        priority: s.priority,
        universes: [...new Set([...s.universes.keys(), ...s.announced])].sort((a, b) => a - b),
        packetsPerSecond: Math.round(this.#rates.rateOf(s.id, s.packets, now)),
        lost: s.lost,
        state: now - s.at > silence ? ('lost' as const) : ('found' as const),
        lastSeenMs: s.at,
      };
    });
  }

  /** The machine's own network is another: groups are joined anew when they are listened to next. */
  renew(): void {
    for (const socket of this.#groups.values()) closeQuietly(socket);
    this.#groups.clear();
    this.#waitUntil.clear();
  }

  close(): void {
    for (const socket of this.#unicast.values()) socket.close();
    this.#unicast.clear();
    for (const socket of this.#groups.values()) socket.close();
    this.#groups.clear();
  }
}
