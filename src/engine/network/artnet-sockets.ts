import dgram from 'node:dgram';
import { ARTNET_PORT } from '../../core/protocol/artnet.ts';

export type ArtNetListener = (packet: Uint8Array, from: string, own: string) => void;
/** All addresses of the machine. */
export const EVERYWHERE = '0.0.0.0';
const RETRY_MS = 3000;

interface Held {
  readonly socket: dgram.Socket;
}

/**
 * The sockets on UDP port 6454, one for each own address in use: polling, RDM and desks that come in share them,
 * because a packet to one address reaches only one socket. A socket that fails is opened again by itself.
 */
export class ArtNetSockets {
  readonly #held = new Map<string, Held>();
  readonly #listeners = new Set<ArtNetListener>();
  readonly #troubles = new Map<string, string>();
  readonly #timers = new Set<NodeJS.Timeout>();

  get troubles(): string[] {
    return [...this.#troubles.values()];
  }

  listen(listener: ArtNetListener): void {
    this.#listeners.add(listener);
  }

  /** Own addresses that are wanted from now on; sockets of others are closed. */
  want(addresses: ReadonlySet<string>): void {
    for (const [address, held] of this.#held) {
      if (addresses.has(address)) continue;
      this.#held.delete(address);
      this.#troubles.delete(address);
      held.socket.close();
    }
    for (const address of addresses) if (!this.#held.has(address)) this.#open(address, ARTNET_PORT);
  }

  #open(address: string, port: number): void {
    const socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
    this.#held.set(address, { socket });
    socket.on('message', (packet, from) => {
      for (const listener of this.#listeners) listener(packet, from.address, address);
    });
    socket.on('error', (error: NodeJS.ErrnoException) => {
      if (this.#held.get(address)?.socket !== socket) return;
      this.#held.delete(address);
      try {
        socket.close();
      } catch {
        // It never opened.
      }
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
      this.#later(() => !this.#held.has(address) && this.#open(address, ARTNET_PORT));
    });
    socket.bind({ port, address }, () => {
      if (port !== 0) this.#troubles.delete(address);
      try {
        socket.setBroadcast(true);
        socket.setRecvBufferSize(1 << 20);
      } catch {
        // Without broadcast only devices known by address are found; the buffer may be smaller.
      }
    });
  }

  #later(what: () => void): void {
    const timer = setTimeout(() => {
      this.#timers.delete(timer);
      what();
    }, RETRY_MS);
    this.#timers.add(timer);
  }

  /** Sends from one own address; from any when it is not open. Lost without a word when nothing is open. */
  send(packet: Uint8Array, to: string, own: string): void {
    const held = this.#held.get(own) ?? this.#held.values().next().value;
    try {
      held?.socket.send(packet, ARTNET_PORT, to, () => undefined);
    } catch {
      // Not open yet, or closing: it is asked again with the next poll.
    }
  }

  close(): void {
    for (const timer of this.#timers) clearTimeout(timer);
    for (const { socket } of this.#held.values()) socket.close();
    this.#held.clear();
  }
}
