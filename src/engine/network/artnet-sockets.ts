import dgram from 'node:dgram';
import { ARTNET_PORT, decodeArtNet, type ArtPacket } from '../../core/protocol/artnet.ts';
import { closeQuietly, grow } from './sockets.ts';

/** A sound packet that came in. */
export interface HeardArtNet {
  readonly packet: ArtPacket;
  readonly bytes: Uint8Array;
  readonly from: string;
  readonly fromPort: number;
  /** Own address it came to. */
  readonly own: string;
}
export type ArtNetListener = (heard: HeardArtNet) => void;
/** All addresses of the machine. */
export const EVERYWHERE = '0.0.0.0';
const RETRY_MS = 3000;

/**
 * The sockets on UDP port 6454, one for each own address in use: polling, RDM and desks that come in share them,
 * because a packet to one address reaches only one socket. A socket that fails is opened again by a later `want`.
 */
export class ArtNetSockets {
  readonly #held = new Map<string, dgram.Socket>();
  readonly #listeners = new Set<ArtNetListener>();
  readonly #troubles = new Map<string, string>();
  /** When an address that could not be opened is tried again. */
  readonly #waitUntil = new Map<string, number>();
  readonly #now: () => number;
  /** Packets that were not sound. */
  refused = 0;

  constructor(now: () => number) {
    this.#now = now;
  }

  get troubles(): string[] {
    return [...this.#troubles.values()];
  }

  listen(listener: ArtNetListener): void {
    this.#listeners.add(listener);
  }

  /** Own addresses that are wanted from now on; sockets of others are closed. To be said again now and then. */
  want(addresses: ReadonlySet<string>): void {
    for (const [address, socket] of this.#held) {
      if (addresses.has(address)) continue;
      this.#held.delete(address);
      this.#troubles.delete(address);
      socket.close();
    }
    const now = this.#now();
    for (const address of addresses)
      if (!this.#held.has(address) && now >= (this.#waitUntil.get(address) ?? 0)) this.#open(address, ARTNET_PORT);
  }

  #open(address: string, port: number): void {
    const socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
    this.#held.set(address, socket);
    socket.on('message', (packet, from) => {
      const decoded = decodeArtNet(packet);
      if (!decoded.ok) {
        this.refused++;
        return;
      }
      const heard = { packet: decoded.value, bytes: packet, from: from.address, fromPort: from.port, own: address };
      for (const listener of this.#listeners) listener(heard);
    });
    socket.on('error', (error: NodeJS.ErrnoException) => {
      if (this.#held.get(address) !== socket) return;
      this.#held.delete(address);
      closeQuietly(socket);
      if (error.code === 'EADDRINUSE' && port === ARTNET_PORT) {
        // Another program holds the port alone: answers that come back to the sender's port are still heard.
        this.#troubles.set(address, `another program holds UDP port ${ARTNET_PORT} of ${address}`);
        this.#open(address, 0);
        return;
      }
      this.#troubles.set(
        address,
        error.code === 'EADDRNOTAVAIL'
          ? `this machine has no network interface ${address} now`
          : `${error.code ?? error.name} at ${address}`,
      );
      this.#waitUntil.set(address, this.#now() + RETRY_MS);
    });
    socket.bind({ port, address }, () => {
      if (port !== 0) this.#troubles.delete(address);
      try {
        socket.setBroadcast(true);
      } catch {
        // Without broadcast only devices known by address are found.
      }
      grow(socket);
    });
  }

  /** Sends from one own address; from any when it is not open. Lost without a word when nothing is open. */
  send(packet: Uint8Array, to: string, own: string): void {
    const socket = this.#held.get(own) ?? this.#held.values().next().value;
    try {
      socket?.send(packet, ARTNET_PORT, to, () => undefined);
    } catch {
      // Not open yet, or closing: it is asked again with the next poll.
    }
  }

  /** The machine's own network is another: all are opened anew when they are wanted next. */
  renew(): void {
    this.close();
    this.#waitUntil.clear();
  }

  close(): void {
    for (const socket of this.#held.values()) closeQuietly(socket);
    this.#held.clear();
  }
}
