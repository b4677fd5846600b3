import dgram from 'node:dgram';
import { ARTNET_PORT, decodeArtNet, makeArtPoll, type ArtNode } from '../core/protocol/artnet.ts';
import type { GatewayHealth } from '../core/protocol/link.ts';
import type { OutputRecord } from '../core/records/index.ts';

/** Art-Net asks for a poll every 2.5-3 s; a device silent for 10 s is lost. */
const POLL_MS = 2500;
const LOST_MS = 10_000;

interface Watched {
  readonly socket: dgram.Socket;
  readonly seen: Map<string, { node: ArtNode; at: number }>;
  readonly destinations: readonly string[];
  readonly interfaceAddress: string | null;
}

/** Polls the Art-Net devices that outputs name, and remembers what they answer. */
export class ArtNetPoller {
  readonly #watched = new Map<string, Watched>();
  readonly #now: () => number;
  readonly #timer: NodeJS.Timeout;

  constructor(now: () => number) {
    this.#now = now;
    this.#timer = setInterval(() => this.#pollAll(), POLL_MS);
  }

  /** Follows the outputs of a show; outputs that did not change keep what is known of their devices. */
  setOutputs(outputs: readonly OutputRecord[]): void {
    const wanted = new Map(outputs.filter((o) => o.protocol === 'artnet' && o.enabled).map((o) => [o.id as string, o]));
    for (const [id, watched] of this.#watched) {
      const output = wanted.get(id);
      if (
        output &&
        output.destinations.join() === watched.destinations.join() &&
        output.interfaceAddress === watched.interfaceAddress
      )
        continue;
      watched.socket.close();
      this.#watched.delete(id);
    }
    for (const [id, output] of wanted) if (!this.#watched.has(id)) this.#watch(id, output);
  }

  #watch(id: string, output: OutputRecord): void {
    const seen: Watched['seen'] = new Map();
    const socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
    this.#watched.set(id, {
      socket,
      seen,
      destinations: output.destinations,
      interfaceAddress: output.interfaceAddress,
    });
    let fellBack = false;
    const open = (port: number): void => {
      socket.bind({ port, address: output.interfaceAddress ?? '0.0.0.0' });
    };
    socket.on('error', () => {
      // Port 6454 is held by another program alone: answers that come back to the sender's port are still heard.
      if (fellBack) return;
      fellBack = true;
      open(0);
    });
    socket.on('message', (packet, from) => {
      const decoded = decodeArtNet(packet);
      if (!decoded.ok || decoded.value.op !== 'reply' || !output.destinations.includes(from.address)) return;
      seen.set(from.address, { node: decoded.value.node, at: this.#now() });
    });
    socket.once('listening', () => this.#poll(output.destinations, socket));
    open(ARTNET_PORT);
  }

  #poll(destinations: readonly string[], socket: dgram.Socket): void {
    for (const host of destinations) socket.send(makeArtPoll(), ARTNET_PORT, host, () => undefined);
  }

  #pollAll(): void {
    for (const { socket, destinations } of this.#watched.values()) this.#poll(destinations, socket);
  }

  /** Devices of one output; null when it is not an Art-Net output in use. */
  gatewaysOf(outputId: string): GatewayHealth[] | null {
    const watched = this.#watched.get(outputId);
    if (!watched) return null;
    const now = this.#now();
    return watched.destinations.map((ip) => {
      const known = watched.seen.get(ip);
      const state = !known ? 'silent' : now - known.at > LOST_MS ? 'lost' : 'found';
      return {
        ip,
        name: known?.node.shortName ?? null,
        lastSeenMs: known?.at ?? null,
        state,
        outputs: known?.node.outputs ?? [],
      };
    });
  }

  close(): void {
    clearInterval(this.#timer);
    for (const { socket } of this.#watched.values()) socket.close();
    this.#watched.clear();
  }
}
