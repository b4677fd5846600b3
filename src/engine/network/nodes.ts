import { makeArtPoll, makeArtPollReply, type ArtNode } from '../../core/protocol/artnet.ts';
import type { GatewayHealth } from '../../core/protocol/link.ts';
import type { FoundNode } from '../../core/protocol/network.ts';
import type { OutputRecord } from '../../core/records/index.ts';
import { Remembered } from './remembered.ts';
import { ownAddressFor, type Ways } from './ways.ts';
import { EVERYWHERE, type ArtNetSockets, type HeardArtNet } from './artnet-sockets.ts';

/** Art-Net asks for a poll every 2.5-3 s; a device silent for 10 s is lost. */
export const POLL_MS = 2500;
const LOST_MS = 10_000;
/** Devices remembered; whoever sends more replies than that is no lighting network. */
const MOST_NODES = 1000;
/** One that is lost is shown as lost for so long. */
const FORGET_MS = 600_000;
const MOST_DESTINATIONS = 4096;
const MOST_ANSWERS_A_SECOND = 20;

interface Seen {
  node: ArtNode;
  readonly own: string;
  at: number;
}

const OUR_NAME = 'Amber Kite';

/**
 * Art-Net devices: those outputs name are always polled; everything else is found by a broadcast poll while devices
 * are looked for, or while an output sends to whatever is found. What was found once is polled on, so that it is known
 * when it goes.
 */
export class NodeWatch {
  readonly #seen = new Remembered<Seen>({
    most: MOST_NODES,
    confirmMs: POLL_MS - 500,
    forgetStrangerMs: LOST_MS * 1.5,
    forgetKnownMs: FORGET_MS,
  });
  readonly #sockets: ArtNetSockets;
  readonly #now: () => number;
  readonly #ways: () => Ways;
  #outputs: readonly OutputRecord[] = [];
  /** Broadcast addresses and the own address each is reached from. */
  #segments: readonly { readonly broadcast: string; readonly own: string }[] = [];
  #scanUntil = 0;
  #answers = { since: 0, count: 0 };
  /** Addresses that outputs name. */
  #named: ReadonlySet<string> = new Set();

  /** Devices that were forgotten to make room for others. */
  get ignored(): number {
    return this.#seen.driven;
  }

  constructor(sockets: ArtNetSockets, now: () => number, ways: () => Ways) {
    this.#sockets = sockets;
    this.#now = now;
    this.#ways = ways;
    sockets.listen((heard) => this.#take(heard));
  }

  setOutputs(outputs: readonly OutputRecord[], segments: readonly { broadcast: string; own: string }[]): void {
    this.#outputs = outputs.filter((o) => o.protocol === 'artnet');
    this.#named = new Set(this.#outputs.flatMap((o) => o.destinations));
    this.#seen.tidy(this.#now(), ({ node }) => this.#named.has(node.ip));
    this.#segments = segments;
  }

  scan(untilMs: number): void {
    this.#scanUntil = untilMs;
    this.poll();
  }

  /** Every device known by address, and everybody while devices are looked for. */
  poll(): void {
    const now = this.#now();
    const asked = new Map<string, string>();
    for (const { own, node } of this.#seen.values()) asked.set(node.ip, own);
    for (const output of this.#outputs) {
      if (!output.enabled || output.delivery === 'broadcast') continue;
      for (const ip of output.destinations) asked.set(ip, output.interfaceAddress ?? EVERYWHERE);
    }
    const looking = now < this.#scanUntil || this.#outputs.some((o) => o.enabled && o.delivery !== 'listed');
    if (looking) for (const { broadcast, own } of this.#segments) asked.set(broadcast, own);
    const poll = makeArtPoll();
    let count = 0;
    for (const [ip, own] of asked) if (count++ < MOST_DESTINATIONS) this.#sockets.send(poll, ip, own);
  }

  #take({ packet, from, own }: HeardArtNet): void {
    // A broadcast poll of ours comes back to us.
    if (packet.op === 'poll') return this.#isOwn(from) ? undefined : this.#answer(from, own);
    if (packet.op !== 'reply') return;
    const { node } = packet;
    if (node.longName.startsWith(OUR_NAME) && node.style === 1) return;
    // What a reply says of its own address is not trusted: the packet came from where it came from.
    const key = `${from}/${node.bindIndex}`;
    this.#seen.note(key, { node: { ...node, ip: from }, own, at: this.#now() }, this.#named.has(from));
  }

  #isOwn(ip: string): boolean {
    return this.#segments.some((s) => s.own === ip) || this.#ways().links.some((l) => l.address === ip);
  }

  /**
   * Tells other controllers that we are here (style 1: a controller, without ports); not more often than a network of
   * some controllers asks, so that nobody can make us flood somebody else.
   */
  #answer(from: string, own: string): void {
    const now = this.#now();
    if (now - this.#answers.since >= 1000) this.#answers = { since: now, count: 0 };
    if (++this.#answers.count > MOST_ANSWERS_A_SECOND) return;
    const ip = own === EVERYWHERE ? (ownAddressFor(this.#ways(), from) ?? '0.0.0.0') : own;
    const node: ArtNode = {
      ip,
      bindIndex: 1,
      shortName: OUR_NAME,
      longName: `${OUR_NAME} controller`,
      firmware: 1,
      style: 1,
      mac: '00:00:00:00:00:00',
      rdm: true,
      report: '',
      inputs: [],
      outputs: [],
    };
    this.#sockets.send(makeArtPollReply(node), from, own);
  }

  nodes(): FoundNode[] {
    const now = this.#now();
    return [...this.#seen.values()].map(({ node: { shortName: name, style: _, ...node }, at }) => ({
      ...node,
      name,
      state: now - at > LOST_MS ? ('lost' as const) : ('found' as const),
      lastSeenMs: at,
    }));
  }

  /** True for a device that was heard and puts out a port-address. */
  puts(ip: string, portAddress: number): boolean {
    for (const { node } of this.#seen.values())
      if (node.ip === ip && node.outputs.some((o) => o.portAddress === portAddress)) return true;
    return false;
  }

  /** Own address a device was last heard on. */
  ownAddressFor(ip: string): string {
    for (const { node, own } of this.#seen.values()) if (node.ip === ip) return own;
    return EVERYWHERE;
  }

  /** Addresses of devices that are there and put out a port-address. */
  hostsOf(portAddress: number): string[] {
    const now = this.#now();
    const hosts = new Set<string>();
    for (const { node, at } of this.#seen.values())
      if (now - at <= LOST_MS && node.outputs.some((o) => o.portAddress === portAddress)) hosts.add(node.ip);
    return [...hosts].sort();
  }

  /** Devices an output sends to; null where it has none to name. */
  gatewaysOf(output: OutputRecord): GatewayHealth[] | null {
    if (output.protocol !== 'artnet' || !output.enabled || output.delivery === 'broadcast') return null;
    const now = this.#now();
    const ips = output.delivery === 'listed' ? output.destinations : [...new Set(this.nodes().map((n) => n.ip))].sort();
    return ips.map((ip) => {
      const all = [...this.#seen.values()].filter((s) => s.node.ip === ip);
      const at = Math.max(...all.map((s) => s.at), -Infinity);
      const state = all.length === 0 ? 'silent' : now - at > LOST_MS ? 'lost' : 'found';
      return {
        ip,
        name: all[0]?.node.shortName ?? null,
        lastSeenMs: all.length > 0 ? at : null,
        state,
        outputs: all.flatMap((s) => s.node.outputs),
      };
    });
  }
}
