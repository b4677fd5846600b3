import { spawn, type ChildProcess } from 'node:child_process';
import { rmSync } from 'node:fs';
import { UniverseReceiver } from '../core/protocol/receiver.ts';
import { encodeFramed, FramedReader, LABEL_PARAMETERS, LABEL_SEND_DMX, LABEL_SERIAL } from '../core/protocol/serial.ts';
import type { Standin, StandinOrder } from '../core/protocol/standin.ts';
import { blankReport, type StandinDevice } from './device.ts';
import { UnreliablePath } from './misbehave.ts';

export interface UsbInterfaceOptions {
  readonly id: string;
  readonly name: string;
  /** Where its serial port appears. */
  readonly path: string;
  readonly random: () => number;
}

/** What frames for its second port are labelled. */
export const SECOND_PORT_LABEL = 7;
const AGAIN_MS = 500;
const PARAMETERS = Uint8Array.of(4, 1, 9, 1, 40);
const SERIAL_NUMBER = Uint8Array.of(0x42, 0x17, 0x00, 0x60);

/**
 * A framed USB-serial DMX interface of two ports on a pseudo-serial port, which the `socat` tool makes. Unplugging ends the tool,
 * and with it the port; plugging in starts it anew.
 */
export class UsbInterface implements StandinDevice {
  readonly #options: UsbInterfaceOptions;
  readonly #now: () => number;
  readonly #receivers = [new UniverseReceiver('artnet'), new UniverseReceiver('artnet')];
  readonly #path: UnreliablePath;
  #process: ChildProcess | null = null;
  #reader = this.#makeReader();
  #skippedBefore = 0;
  #closed = false;

  constructor(options: UsbInterfaceOptions, now: () => number) {
    this.#options = options;
    this.#now = now;
    this.#path = new UnreliablePath(options.random);
  }

  get id(): string {
    return this.#options.id;
  }

  #makeReader(): FramedReader {
    return new FramedReader((label, data) => this.#take(label, data));
  }

  /** Resolves also where there is no socat: then there is no such stand-in. */
  start(): Promise<void> {
    rmSync(this.#options.path, { force: true });
    const child = spawn('socat', [`PTY,link=${this.#options.path},rawer,echo=0,mode=600`, 'STDIO'], {
      stdio: ['pipe', 'pipe', 'ignore'],
    });
    this.#process = child;
    // The tool may be killed by anybody: the interface is plugged in again.
    child.once('exit', () => {
      if (this.#process !== child) return;
      this.#process = null;
      if (!this.#closed && !this.#path.behaviour.vanished) setTimeout(() => void this.#again(), AGAIN_MS);
    });
    this.#skippedBefore += this.#reader.skipped;
    this.#reader = this.#makeReader();
    child.stdin.on('error', () => undefined);
    child.stdout.on('data', (piece: Buffer) => {
      if (!this.#path.behaviour.vanished) this.#reader.push(piece);
    });
    return new Promise((resolve) => {
      child.once('spawn', () => setTimeout(resolve, 100));
      child.once('error', () => {
        this.#process = null;
        resolve();
      });
    });
  }

  async #again(): Promise<void> {
    if (!this.#closed && !this.#process && !this.#path.behaviour.vanished) await this.start();
  }

  #take(label: number, data: Uint8Array): void {
    const port = [LABEL_SEND_DMX, SECOND_PORT_LABEL].indexOf(label);
    if (port >= 0)
      this.#receivers[port]!.receive(
        { sourceId: 'serial', sourceName: 'serial port', priority: 100, sequence: 0, slots: data.subarray(1) },
        this.#now(),
      );
    else if (label === LABEL_SERIAL) this.#answer(encodeFramed(LABEL_SERIAL, SERIAL_NUMBER));
    else if (label === LABEL_PARAMETERS) this.#answer(encodeFramed(LABEL_PARAMETERS, PARAMETERS));
  }

  #answer(message: Uint8Array): void {
    this.#path.pass(message, (bytes) => this.#process?.stdin?.write(bytes));
  }

  order({ misbehave }: StandinOrder): void {
    if (!misbehave) return;
    const before = this.#path.behaviour.vanished;
    this.#path.behaviour = misbehave;
    if (misbehave.vanished === before) return;
    if (misbehave.vanished) this.#unplug();
    else if (!this.#closed) void this.start();
  }

  #unplug(): void {
    const child = this.#process;
    this.#process = null;
    child?.kill();
    rmSync(this.#options.path, { force: true });
  }

  report(): Standin {
    const now = this.#now();
    const { id, name, path } = this.#options;
    return {
      ...blankReport({ id, kind: 'usb', name, address: path, misbehaviour: this.#path.behaviour }),
      refused: this.#skippedBefore + this.#reader.skipped,
      ports: this.#receivers.map((receiver, i) => ({
        port: i + 1,
        wireUniverse: i + 1,
        lastSeenMs: receiver.lastSeenMs,
        packetsPerSecond: receiver.rate(now),
        packets: receiver.packets,
        lost: 0,
        source: receiver.sources(now)[0]?.name ?? null,
        sources: receiver.sources(now).length,
        slots: Buffer.from(receiver.slots).toString('base64'),
        rdm: 0,
      })),
    };
  }

  close(): void {
    this.#closed = true;
    this.#unplug();
  }
}
