import dgram from 'node:dgram';
import { decodeArtRdm, isArtRdm, makeArtRdm, makeTodData } from '../core/protocol/artnet-rdm.ts';
import { ARTNET_PORT, decodeArtNet, makeArtPollReply, type ArtNode } from '../core/protocol/artnet.ts';
import { isHeard, UniverseReceiver } from '../core/protocol/receiver.ts';
import { decodeSacnExtended } from '../core/protocol/sacn-extended.ts';
import { decodeSacn, SACN_PORT } from '../core/protocol/sacn.ts';
import type { Standin, StandinOrder } from '../core/protocol/standin.ts';
import { UnreliablePath } from './misbehave.ts';
import { RdmLine } from './rdm-line.ts';
import type { RdmResponder } from './rdm-responder.ts';
import { blankReport, type StandinDevice } from './device.ts';

export interface GatewayOptions {
  readonly id: string;
  readonly kind: 'sacn' | 'artnet' | 'pixels';
  readonly name: string;
  readonly address: string;
  /** UDP port; the standard's where it is not given. */
  readonly port?: number;
  /** Universe or port-address of each of its ports. */
  readonly wireUniverses: readonly number[];
  /** RDM devices behind its ports, by port-address (Art-Net only). */
  readonly rdm?: Readonly<Record<number, readonly RdmResponder[]>>;
  /** Numbers in [0, 1) for how it misbehaves. */
  readonly random: () => number;
}

const RECEIVE_BUFFER = 4 << 20;
const PORTS_A_REPLY = 4;

/** A small network gateway on loopback: takes packets as a real one would, and says what it got. */
export class Gateway implements StandinDevice {
  readonly #options: GatewayOptions;
  readonly #socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
  readonly #ports: { wireUniverse: number; receiver: UniverseReceiver }[];
  readonly #rdm = new Map<number, RdmLine>();
  readonly #in: UnreliablePath;
  readonly #out: UnreliablePath;
  readonly #now: () => number;
  readonly #sacn: boolean;
  #refused = 0;
  #elsewhere = 0;
  #polls = 0;
  #syncs = 0;

  constructor(options: GatewayOptions, now: () => number) {
    this.#options = options;
    this.#now = now;
    this.#sacn = options.kind !== 'artnet';
    this.#in = new UnreliablePath(options.random);
    this.#out = new UnreliablePath(options.random);
    this.#ports = options.wireUniverses.map((wireUniverse) => ({
      wireUniverse,
      receiver: new UniverseReceiver(this.#sacn ? 'sacn' : 'artnet'),
    }));
    for (const [portAddress, responders] of Object.entries(options.rdm ?? {}))
      this.#rdm.set(Number(portAddress), new RdmLine(responders));
  }

  get id(): string {
    return this.#options.id;
  }
  get isArtNet(): boolean {
    return !this.#sacn;
  }
  get responders(): readonly RdmResponder[] {
    return [...this.#rdm.values()].flatMap((line) => line.responders);
  }

  async start(): Promise<void> {
    const { address, port } = this.#options;
    this.#socket.on('message', (packet, from) => this.take(packet, from));
    await new Promise<void>((resolve, reject) => {
      this.#socket.once('error', reject);
      this.#socket.bind(port ?? (this.#sacn ? SACN_PORT : ARTNET_PORT), address, () => {
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
    await Promise.all([...this.#rdm.values()].map((line) => line.find()));
  }

  /** A packet that arrived, also one that was broadcast to everybody. */
  take(packet: Uint8Array, from: { address: string; port: number }): void {
    this.#in.pass(packet, (arrived) => (this.#sacn ? this.#takeSacn(arrived) : this.#takeArtNet(arrived, from)));
  }

  order({ misbehave }: StandinOrder): void {
    if (!misbehave) return;
    this.#in.behaviour = { ...misbehave, rubbishPercent: 0 };
    this.#out.behaviour = misbehave;
  }

  #receiver(wireUniverse: number): UniverseReceiver | null {
    const port = this.#ports.find((p) => p.wireUniverse === wireUniverse);
    if (!port) this.#elsewhere++;
    return port?.receiver ?? null;
  }

  #takeSacn(packet: Uint8Array): void {
    const decoded = decodeSacn(packet);
    if (!decoded.ok) {
      const extended = decodeSacnExtended(packet);
      if (!extended.ok) this.#refused++;
      else if (extended.value.type === 'sync') this.#syncs++;
      return;
    }
    const { cid, sourceName, universe, priority, sequence, slots, terminated, preview, startCode } = decoded.value;
    if (preview || !isHeard(startCode)) return;
    this.#receiver(universe)?.receive(
      { startCode, sourceId: cid, sourceName, priority, sequence, slots, terminated },
      this.#now(),
    );
  }

  #takeArtNet(packet: Uint8Array, from: { address: string; port: number }): void {
    if (isArtRdm(packet)) return this.#takeRdm(packet, from);
    const decoded = decodeArtNet(packet);
    if (!decoded.ok) {
      this.#refused++;
      return;
    }
    const message = decoded.value;
    if (message.op === 'poll') {
      this.#polls++;
      for (const reply of this.#replies()) this.#reply(reply, from);
    } else if (message.op === 'sync') this.#syncs++;
    else if (message.op === 'dmx') {
      const { sequence, slots, portAddress } = message;
      this.#receiver(portAddress)?.receive(
        { sourceId: from.address, sourceName: from.address, priority: 100, sequence, slots },
        this.#now(),
      );
    }
  }

  #reply(packet: Uint8Array, to: { address: string; port: number }): void {
    this.#out.pass(packet, (sent) => {
      try {
        this.#socket.send(sent, to.port, to.address, () => undefined);
      } catch {
        // Closed meanwhile.
      }
    });
  }

  #takeRdm(packet: Uint8Array, from: { address: string; port: number }): void {
    const decoded = decodeArtRdm(packet);
    if (!decoded.ok) {
      this.#refused++;
      return;
    }
    const { value } = decoded;
    if (value.op === 'todRequest') for (const address of value.portAddresses) this.#table(address, from);
    else if (value.op === 'todControl' && value.flush)
      void this.#rdm
        .get(value.portAddress)
        ?.find()
        .then(() => this.#table(value.portAddress, from));
    else if (value.op === 'rdm') {
      const answer = this.#rdm.get(value.portAddress)?.exchange(value.message);
      if (answer) this.#reply(makeArtRdm(value.portAddress, answer), from);
    }
  }

  #table(portAddress: number, to: { address: string; port: number }): void {
    const port = this.#ports.findIndex((p) => p.wireUniverse === portAddress);
    if (port < 0) return;
    const bindIndex = Math.floor(port / PORTS_A_REPLY) + 1;
    const uids = this.#rdm.get(portAddress)?.found ?? [];
    for (const packet of makeTodData(portAddress, (port % PORTS_A_REPLY) + 1, bindIndex, uids)) this.#reply(packet, to);
  }

  /** An ArtPollReply for every four ports. */
  #replies(): Uint8Array[] {
    const now = this.#now();
    const { name, address } = this.#options;
    const blocks = Math.max(1, Math.ceil(this.#ports.length / PORTS_A_REPLY));
    return Array.from({ length: blocks }, (_, block) => {
      const node: ArtNode = {
        ip: address,
        bindIndex: block + 1,
        shortName: name.slice(0, 17),
        longName: `${name} (stand-in of Amber Kite)`,
        firmware: 0x0103,
        style: 0,
        mac: '02:00:00:00:00:01',
        rdm: this.#rdm.size > 0,
        report: '#0001 [0042] all is well',
        inputs: [],
        outputs: this.#ports
          .slice(block * PORTS_A_REPLY, (block + 1) * PORTS_A_REPLY)
          .map(({ wireUniverse, receiver }) => {
            const sources = receiver.sources(now).length;
            return { portAddress: wireUniverse, transmitting: sources > 0, merging: sources > 1 };
          }),
      };
      return makeArtPollReply(node);
    });
  }

  report(): Standin {
    const now = this.#now();
    const { id, kind, name, address } = this.#options;
    return {
      ...blankReport({ id, kind, name, address, misbehaviour: this.#out.behaviour }),
      refused: this.#refused,
      elsewhere: this.#elsewhere,
      polls: this.#polls,
      syncs: this.#syncs,
      ports: this.#ports.map(({ wireUniverse, receiver }, i) => {
        const sources = receiver.sources(now);
        return {
          port: i + 1,
          wireUniverse,
          lastSeenMs: receiver.lastSeenMs,
          packetsPerSecond: receiver.rate(now),
          packets: receiver.packets,
          lost: receiver.lost,
          source: sources[0]?.name ?? null,
          sources: sources.length,
          slots: Buffer.from(receiver.slots).toString('base64'),
          rdm: this.#rdm.get(wireUniverse)?.responders.length ?? 0,
        };
      }),
    };
  }

  close(): void {
    this.#socket.close();
  }
}
