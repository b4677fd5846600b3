import dgram from 'node:dgram';
import { ARTNET_PORT, decodeArtNet, makeArtPollReply, type ArtNode } from '../core/protocol/artnet.ts';
import { UniverseReceiver } from '../core/protocol/receiver.ts';
import { decodeSacn, SACN_PORT } from '../core/protocol/sacn.ts';
import type { StandinGateway } from '../core/protocol/standin.ts';

export interface GatewayOptions {
  readonly id: string;
  readonly name: string;
  readonly protocol: 'sacn' | 'artnet';
  readonly address: string;
  /** Universe or port-address of each of its ports. */
  readonly wireUniverses: readonly number[];
}

const RECEIVE_BUFFER = 4 << 20;

/** A small network gateway on loopback: takes packets as a real one would, and says what it got. */
export class Gateway {
  readonly #options: GatewayOptions;
  readonly #socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
  readonly #ports: { wireUniverse: number; receiver: UniverseReceiver }[];
  readonly #now: () => number;
  #refused = 0;
  #elsewhere = 0;
  #polls = 0;

  constructor(options: GatewayOptions, now: () => number) {
    this.#options = options;
    this.#now = now;
    this.#ports = options.wireUniverses.map((wireUniverse) => ({
      wireUniverse,
      receiver: new UniverseReceiver(options.protocol),
    }));
  }

  start(): Promise<void> {
    const { protocol, address } = this.#options;
    this.#socket.on('message', (packet, from) =>
      protocol === 'sacn' ? this.#takeSacn(packet) : this.#takeArtNet(packet, from),
    );
    return new Promise((resolve, reject) => {
      this.#socket.once('error', reject);
      this.#socket.bind(protocol === 'sacn' ? SACN_PORT : ARTNET_PORT, address, () => {
        this.#socket.removeListener('error', reject);
        // A reply to somebody who is gone is not our trouble.
        this.#socket.on('error', () => undefined);
        try {
          this.#socket.setRecvBufferSize(RECEIVE_BUFFER);
        } catch {
          // The system may allow less; the default buffer is used then.
        }
        resolve();
      });
    });
  }

  #receiver(wireUniverse: number): UniverseReceiver | null {
    const port = this.#ports.find((p) => p.wireUniverse === wireUniverse);
    if (!port) this.#elsewhere++;
    return port?.receiver ?? null;
  }

  #takeSacn(packet: Uint8Array): void {
    const decoded = decodeSacn(packet);
    if (!decoded.ok) {
      this.#refused++;
      return;
    }
    const { cid, sourceName, universe, priority, sequence, slots, terminated, preview, startCode } = decoded.value;
    if (preview || startCode !== 0) return;
    this.#receiver(universe)?.receive(
      { sourceId: cid, sourceName, priority, sequence, slots, terminated },
      this.#now(),
    );
  }

  #takeArtNet(packet: Uint8Array, from: dgram.RemoteInfo): void {
    const decoded = decodeArtNet(packet);
    if (!decoded.ok) {
      this.#refused++;
      return;
    }
    const message = decoded.value;
    if (message.op === 'poll') {
      this.#polls++;
      this.#socket.send(makeArtPollReply(this.#node()), from.port, from.address, () => undefined);
    } else if (message.op === 'dmx') {
      const { sequence, slots, portAddress } = message;
      this.#receiver(portAddress)?.receive(
        { sourceId: from.address, sourceName: from.address, priority: 100, sequence, slots },
        this.#now(),
      );
    }
  }

  #node(): ArtNode {
    const now = this.#now();
    return {
      ip: this.#options.address,
      shortName: this.#options.name.slice(0, 17),
      longName: `${this.#options.name} (stand-in of Amber Kite)`,
      firmware: 1,
      style: 0,
      mac: '02:00:00:00:00:01',
      outputs: this.#ports.map(({ wireUniverse, receiver }) => {
        const sources = receiver.sources(now).length;
        return { portAddress: wireUniverse, transmitting: sources > 0, merging: sources > 1 };
      }),
    };
  }

  report(): StandinGateway {
    const now = this.#now();
    const { id, name, protocol, address } = this.#options;
    return {
      id,
      name,
      protocol,
      address,
      refused: this.#refused,
      elsewhere: this.#elsewhere,
      polls: this.#polls,
      ports: this.#ports.map(({ wireUniverse, receiver }, i) => ({
        port: i + 1,
        wireUniverse,
        lastSeenMs: receiver.lastSeenMs,
        packetsPerSecond: receiver.rate(now),
        packets: receiver.packets,
        lost: receiver.lost,
        source: receiver.sources(now)[0]?.name ?? null,
        slots: Buffer.from(receiver.slots).toString('base64'),
      })),
    };
  }

  close(): void {
    this.#socket.close();
  }
}
