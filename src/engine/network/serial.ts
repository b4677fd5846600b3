import { SerialPort } from 'serialport';
import {
  decodeSerialNumber,
  decodeUsbParameters,
  encodeFramed,
  fillFramedDmx,
  FramedReader,
  LABEL_PARAMETERS,
  LABEL_SERIAL,
  makeFramedDmx,
} from '../../core/protocol/serial.ts';
import type { OutputRecord } from '../../core/records/index.ts';
import { portFault } from './serial-ports.ts';

const RETRY_MS = 2000;
/** Framed interfaces look like a serial port of any speed; the bare line is DMX itself (ANSI E1.11). */
const FRAMED_BAUD = 115_200;
const DMX_BAUD = 250_000;
const BREAK_MS = 1;
const RAW_FRAMES_A_SECOND = 30;
/** A write that is not done after this long: the device does not take what it is given. */
const STUCK_MS = 1000;
const NOTHING = new Uint8Array(512);

export interface SerialHealth {
  readonly packets: number;
  readonly errors: number;
  readonly lastError: string | null;
  readonly open: boolean;
  /** What the device says of itself: serial number and firmware. */
  readonly says: string | null;
}

/** One USB-serial DMX interface. Opens itself again when it was pulled out; never queues frames. */
class SerialOut {
  readonly output: OutputRecord;
  #port: SerialPort | null = null;
  #writing = false;
  #writeAt = 0;
  #dueAt = 0;
  #retryAt = 0;
  #closed = false;
  #serialNumber: string | null = null;
  #firmware: string | null = null;
  /** A message for each port. */
  readonly #messages: readonly Uint8Array[];
  readonly #allowed: readonly string[];
  packets = 0;
  errors = 0;
  lastError: string | null = null;

  constructor(output: OutputRecord, allowed: readonly string[]) {
    this.output = output;
    this.#allowed = allowed;
    const { serialKind, serialLabel2, slotsPerUniverse } = output;
    const framed = (label?: number): Uint8Array => makeFramedDmx(slotsPerUniverse, label);
    this.#messages =
      serialKind === 'raw'
        ? [new Uint8Array(1 + slotsPerUniverse)]
        : serialLabel2 === null
          ? [framed()]
          : [framed(), framed(serialLabel2)];
  }

  #note(error: Error | string): void {
    this.errors++;
    this.lastError = typeof error === 'string' ? error : explain(error, this.output.serialPath);
  }

  #open(now: number): void {
    this.#retryAt = now + RETRY_MS;
    const { serialPath: path, serialKind } = this.output;
    const fault = path === '' ? 'no serial port is chosen' : portFault(path, this.#allowed);
    if (fault !== null) {
      this.lastError = fault;
      return;
    }
    const framed = serialKind === 'framed';
    const port = new SerialPort({
      path,
      baudRate: framed ? FRAMED_BAUD : DMX_BAUD,
      dataBits: 8,
      stopBits: framed ? 1 : 2,
      parity: 'none',
      autoOpen: false,
    });
    this.#port = port;
    port.on('error', (error) => this.#note(error));
    port.on('close', (error: Error | null) => {
      if (this.#port === port) this.#port = null;
      this.#writing = false;
      if (!this.#closed) this.#note(error ? `${path} was unplugged` : `${path} closed`);
    });
    const reader = new FramedReader((label, data) => this.#heard(label, data));
    port.on('data', (piece: Buffer) => reader.push(piece));
    port.open((error) => {
      if (error) {
        this.#note(error);
        if (this.#port === port) this.#port = null;
        return;
      }
      if (this.#closed) return port.close();
      this.lastError = null;
      if (!framed) return;
      port.write(encodeFramed(LABEL_SERIAL, new Uint8Array(0)));
      port.write(encodeFramed(LABEL_PARAMETERS, new Uint8Array(2)));
    });
  }

  #heard(label: number, data: Uint8Array): void {
    if (label === LABEL_SERIAL) this.#serialNumber = decodeSerialNumber(data);
    if (label === LABEL_PARAMETERS) this.#firmware = decodeUsbParameters(data)?.firmware ?? null;
  }

  /** `ports`: slots of each port in order, null for one that carries nothing. */
  send(ports: readonly (Uint8Array | null)[], now: number): void {
    if (!this.#port) {
      if (now >= this.#retryAt) this.#open(now);
      return;
    }
    if (!this.#port.isOpen || now < this.#dueAt) return;
    if (this.#writing) {
      if (now - this.#writeAt > STUCK_MS) {
        this.#note('the device does not take what it is given');
        this.#writing = false;
        this.#port.flush();
      }
      return;
    }
    const framed = this.output.serialKind === 'framed';
    const rate = this.output.frameRateCap ?? (framed ? 40 : RAW_FRAMES_A_SECOND);
    this.#dueAt = now + 1000 / rate - 2;
    this.#writing = true;
    this.#writeAt = now;
    if (!framed) return void this.#sendRaw(ports[0] ?? NOTHING);
    const wanted = this.#messages.filter((_, i) => ports[i]);
    this.#messages.forEach((message, i) => {
      const slots = ports[i];
      if (slots) fillFramedDmx(message, slots);
    });
    this.#write(wanted.length === 1 ? wanted[0]! : Buffer.concat(wanted));
  }

  #write(bytes: Uint8Array): void {
    const port = this.#port;
    port?.write(bytes, (error) => {
      if (error) this.#note(error);
      // Not the next frame until this one has left the system's buffer.
      port.drain(() => {
        this.#writing = false;
        if (!error) this.packets++;
      });
    });
  }

  /** Break, mark after break, start code and slots (ANSI E1.11 8): break and mark are made on the line itself. */
  async #sendRaw(slots: Uint8Array): Promise<void> {
    const message = this.#messages[0]!;
    message[0] = 0;
    message.set(slots.subarray(0, message.length - 1), 1);
    try {
      await this.#breakLine(true);
      await new Promise((resolve) => setTimeout(resolve, BREAK_MS));
      await this.#breakLine(false);
      this.#write(message);
    } catch (error) {
      this.#writing = false;
      this.#dueAt = this.#writeAt + RETRY_MS;
      this.#note(
        `${this.output.serialPath} cannot make a break (${(error as Error).message.slice(0, 60)}): use a framed interface`,
      );
    }
  }

  #breakLine(brk: boolean): Promise<void> {
    return new Promise((resolve, reject) => {
      if (!this.#port) return resolve();
      this.#port.set({ brk }, (error) => (error ? reject(error) : resolve()));
    });
  }

  get health(): SerialHealth {
    const { packets, errors, lastError } = this;
    const says = [
      this.#serialNumber && `serial number ${this.#serialNumber}`,
      this.#firmware && `firmware ${this.#firmware}`,
    ]
      .filter(Boolean)
      .join(', ');
    return { packets, errors, lastError, open: this.#port?.isOpen ?? false, says: says || null };
  }

  close(): void {
    this.#closed = true;
    const port = this.#port;
    this.#port = null;
    if (port?.isOpen) port.close(() => undefined);
  }
}

function explain(error: Error, path: string): string {
  const text = error.message;
  if (/ENOENT|No such file|cannot find/i.test(text)) return `there is no port ${path}: is it plugged in?`;
  if (/EACCES|Permission denied|Access denied/i.test(text))
    return `no right to use ${path}: the user of this program has to belong to the group of serial ports`;
  if (/EBUSY|lock|in use/i.test(text)) return `${path} is in use by another program`;
  return `${path}: ${text.replace(/^Error:?\s*/, '').slice(0, 100)}`;
}

/** All serial outputs. Changing one leaves the others alone. */
export class SerialOutputs {
  readonly #outs = new Map<string, SerialOut>();
  readonly #allowed: readonly string[];

  /** `allowed`: paths that may be opened besides real serial ports. */
  constructor(allowed: readonly string[]) {
    this.#allowed = allowed;
  }

  setOutputs(outputs: readonly OutputRecord[]): void {
    const wanted = new Map(outputs.filter((o) => o.protocol === 'serial' && o.enabled).map((o) => [o.id as string, o]));
    for (const [id, out] of this.#outs) {
      const output = wanted.get(id);
      if (output && alike(output, out.output)) continue;
      out.close();
      this.#outs.delete(id);
    }
    for (const [id, output] of wanted)
      if (!this.#outs.has(id)) this.#outs.set(id, new SerialOut(output, this.#allowed));
  }

  get size(): number {
    return this.#outs.size;
  }

  /** `slotsOf` gives the slots that a port (from 1) of an output carries, or null for none. */
  send(slotsOf: (outputId: string, port: number) => Uint8Array | null, now: number): void {
    for (const [id, out] of this.#outs) {
      const ports = [slotsOf(id, 1), slotsOf(id, 2)];
      if (ports.some((slots) => slots !== null)) out.send(ports, now);
    }
  }

  healthOf(outputId: string): SerialHealth | null {
    return this.#outs.get(outputId)?.health ?? null;
  }

  close(): void {
    for (const out of this.#outs.values()) out.close();
    this.#outs.clear();
  }
}

const alike = (a: OutputRecord, b: OutputRecord): boolean =>
  a.serialPath === b.serialPath &&
  a.serialKind === b.serialKind &&
  a.serialLabel2 === b.serialLabel2 &&
  a.slotsPerUniverse === b.slotsPerUniverse &&
  a.frameRateCap === b.frameRateCap;
