import dgram from 'node:dgram';
import { fillSacn, makeSacnPacket, SACN_PORT } from '../core/protocol/sacn.ts';
import { makeSacnDiscovery } from '../core/protocol/sacn-extended.ts';
import type { Standin, StandinOrder } from '../core/protocol/standin.ts';
import { blankReport, type StandinDevice } from './device.ts';
import { UnreliablePath } from './misbehave.ts';

export interface ConsoleOptions {
  readonly id: string;
  readonly name: string;
  /** Own address, and who it sends to. */
  readonly address: string;
  readonly destinations: readonly string[];
  readonly random: () => number;
}

const FRAME_MS = 25;
const DISCOVERY_MS = 5000;
/** Slots in a step of its pattern, and how long a step lasts. */
const STEP_SLOTS = 8;
const STEP_MS = 400;

/** A second desk: sends a running pattern in one universe at a chosen priority. */
export class Console implements StandinDevice {
  readonly #options: ConsoleOptions;
  readonly #now: () => number;
  readonly #socket = dgram.createSocket('udp4');
  readonly #path: UnreliablePath;
  readonly #cid = Uint8Array.from({ length: 16 }, (_, i) => 0xc0 + i);
  #sends = { on: false, universe: 1, priority: 120, level: 0.6 };
  #packet: Uint8Array;
  #sequence = 0;
  #timers: NodeJS.Timeout[] = [];

  constructor(options: ConsoleOptions, now: () => number) {
    this.#options = options;
    this.#now = now;
    this.#path = new UnreliablePath(options.random);
    this.#packet = this.#make();
  }

  get id(): string {
    return this.#options.id;
  }

  #make(): Uint8Array {
    const { universe, priority } = this.#sends;
    return makeSacnPacket({ cid: this.#cid, name: this.#options.name }, universe, priority);
  }

  start(): Promise<void> {
    return new Promise((resolve, reject) => {
      this.#socket.once('error', reject);
      this.#socket.bind(0, this.#options.address, () => {
        this.#socket.removeListener('error', reject);
        this.#socket.on('error', () => undefined);
        this.#timers = [setInterval(() => this.#frame(), FRAME_MS), setInterval(() => this.#announce(), DISCOVERY_MS)];
        resolve();
      });
    });
  }

  #send(packet: Uint8Array): void {
    for (const destination of this.#options.destinations)
      this.#path.pass(packet, (sent) => {
        try {
          this.#socket.send(sent, SACN_PORT, destination, () => undefined);
        } catch {
          // Closed meanwhile.
        }
      });
  }

  /** Every slot at half the level, but for eight that run at the level: easy to tell from what others send. */
  #frame(terminated = false): void {
    if (!this.#sends.on && !terminated) return;
    const full = Math.round(this.#sends.level * 255);
    const slots = new Uint8Array(512).fill(full >> 1);
    const at = (Math.floor(this.#now() / STEP_MS) * STEP_SLOTS) % 512;
    slots.fill(full, at, at + STEP_SLOTS);
    fillSacn(this.#packet, ++this.#sequence, slots, terminated);
    this.#send(this.#packet);
  }

  #announce(): void {
    if (!this.#sends.on) return;
    const source = { cid: this.#cid, name: this.#options.name };
    for (const packet of makeSacnDiscovery(source, [this.#sends.universe])) this.#send(packet);
  }

  order({ misbehave, sends }: StandinOrder): void {
    if (misbehave) this.#path.behaviour = misbehave;
    if (!sends) return;
    if (this.#sends.on) for (let i = 0; i < 3; i++) this.#frame(true);
    this.#sends = sends;
    this.#packet = this.#make();
    this.#announce();
  }

  report(): Standin {
    const { id, name, address } = this.#options;
    return {
      ...blankReport({ id, kind: 'console', name, address, misbehaviour: this.#path.behaviour }),
      sends: this.#sends,
    };
  }

  close(): void {
    for (const timer of this.#timers) clearInterval(timer);
    this.#socket.close();
  }
}
