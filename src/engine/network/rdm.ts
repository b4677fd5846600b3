import { decodeArtRdm, isArtRdm, makeArtRdm, makeTodControl, makeTodRequest } from '../../core/protocol/artnet-rdm.ts';
import { FaultError, type Result } from '../../core/faults.ts';
import type { FoundRdm, NetworkAsk } from '../../core/protocol/network.ts';
import {
  decodeDeviceInfo,
  decodeLabel,
  decodePersonality,
  decodeSensorDefinition,
  decodeSensorValue,
  encodeLabel,
  uint16,
} from '../../core/protocol/rdm-device.ts';
import {
  ACK,
  ACK_TIMER,
  decodeRdm,
  encodeRdm,
  GET,
  NACK,
  nackWords,
  PID,
  RESPONSE,
  SET,
  type RdmMessage,
  type Uid,
} from '../../core/protocol/rdm.ts';
import type { ArtNetSockets } from './artnet-sockets.ts';
import type { NodeWatch } from './nodes.ts';

/** Our own UID as a controller: the maker id that ANSI E1.20 keeps for prototypes. */
const OWN_UID: Uid = '7ff0:a3be0001';
/** A gateway may need a while for its port: DMX goes on in between. */
const ANSWER_MS = 600;
const ATTEMPTS = 3;
const TIMER_UNIT_MS = 100;
const MOST_TIMER_MS = 5000;
const MOST_DEVICES = 2000;
/** A faulty device that has not been heard for so long makes room; a lost one is forgotten after so long. */
const SILENT_MS = 60_000;
const FORGET_MS = 600_000;
const MOST_PERSONALITIES = 32;
const MOST_SENSORS = 16;
const NO_DATA = new Uint8Array(0);

type Mutable<T> = { -readonly [K in keyof T]: T[K] };
type Device = Mutable<FoundRdm>;

/** What a request came to: data, or why there is none in words. */
type Answer = { readonly ok: true; readonly data: Uint8Array } | { readonly ok: false; readonly why: string };

interface Waiting {
  readonly pid: number;
  readonly uid: Uid;
  readonly done: (message: RdmMessage | null) => void;
}

const trouble = (code: string, uid: Uid, message: string, remedy: string): FaultError =>
  new FaultError({ code, path: `rdm ${uid}`, message, received: uid, remedy });

/**
 * RDM through Art-Net gateways (ANSI E1.20): asks them for their devices, reads what each is, and sets it. One request
 * at a time for each gateway; a device that answers wrongly is told apart and never holds up the others.
 */
export class RdmService {
  readonly #devices = new Map<Uid, Device>();
  readonly #waiting = new Map<number, Waiting>();
  readonly #queues = new Map<string, Promise<unknown>>();
  readonly #reads = new Map<string, Promise<void>>();
  readonly #sockets: ArtNetSockets;
  readonly #nodes: NodeWatch;
  readonly #now: () => number;
  #transaction = 0;
  #closed = false;
  ignored = 0;

  constructor(sockets: ArtNetSockets, nodes: NodeWatch, now: () => number) {
    this.#sockets = sockets;
    this.#nodes = nodes;
    this.#now = now;
    sockets.listen(({ bytes, from }) => this.#take(bytes, from));
  }

  devices(): FoundRdm[] {
    return [...this.#devices.values()];
  }

  /** Tells gateways (one, or all that pass RDM on) to find their devices anew and to say which there are. */
  find(gatewayIp: string | null): void {
    for (const { ip, portAddress } of this.#ports())
      if (gatewayIp === null || ip === gatewayIp) this.#send(makeTodControl(portAddress), ip);
  }

  /** Asks for the tables as they are; cheap enough to do often. */
  refresh(): void {
    this.tidy();
    for (const { ip, portAddress } of this.#ports()) this.#send(makeTodRequest(portAddress), ip);
  }

  /** Ports of gateways that are there and pass RDM on. */
  #ports(): { ip: string; portAddress: number }[] {
    return this.#nodes
      .nodes()
      .filter((node) => node.rdm && node.state === 'found')
      .flatMap(({ ip, outputs }) => outputs.map(({ portAddress }) => ({ ip, portAddress })));
  }

  #send(packet: Uint8Array, ip: string): void {
    this.#sockets.send(packet, ip, this.#nodes.ownAddressFor(ip));
  }

  #take(packet: Uint8Array, from: string): void {
    if (!isArtRdm(packet)) return;
    const decoded = decodeArtRdm(packet);
    if (!decoded.ok) return;
    const { value } = decoded;
    if (value.op === 'todData') this.#table(from, value.portAddress, value.uids, value.block, value.total);
    else if (value.op === 'rdm') this.#answered(value.message);
  }

  #table(ip: string, portAddress: number, uids: readonly Uid[], block: number, total: number): void {
    // A gateway that was not found by a poll has no business here.
    if (!this.#nodes.puts(ip, portAddress)) return;
    const now = this.#now();
    for (const uid of uids) {
      const known = this.#devices.get(uid);
      if (known) {
        const back = known.state === 'lost' || known.gatewayIp !== ip || known.portAddress !== portAddress;
        Object.assign(known, { gatewayIp: ip, portAddress, lastSeenMs: now });
        if (back) this.#readLater(known);
        continue;
      }
      if (this.#devices.size >= MOST_DEVICES && !this.#forgetOne(now)) {
        this.ignored++;
        continue;
      }
      const device: Device = {
        uid,
        gatewayIp: ip,
        portAddress,
        state: 'reading',
        fault: null,
        info: null,
        maker: '',
        model: '',
        label: '',
        software: '',
        personalities: [],
        sensors: [],
        identifying: false,
        lastSeenMs: now,
      };
      this.#devices.set(uid, device);
      this.#readLater(device);
    }
    // A whole table in one packet: who is not in it is gone.
    if (block !== 0 || total !== uids.length) return;
    const there = new Set(uids);
    for (const device of this.#devices.values())
      if (device.gatewayIp === ip && device.portAddress === portAddress && !there.has(device.uid))
        device.state = 'lost';
  }

  /** Makes room: a device that is lost, or whose gateway is gone; false where there is none. */
  #forgetOne(now: number): boolean {
    for (const { uid, state, gatewayIp, portAddress, lastSeenMs } of this.#devices.values()) {
      const gone = state === 'lost' || !this.#nodes.puts(gatewayIp, portAddress);
      if (gone || (state === 'faulty' && now - lastSeenMs > SILENT_MS)) return this.#devices.delete(uid);
    }
    return false;
  }

  /** Devices that were lost long ago are forgotten. */
  tidy(): void {
    const now = this.#now();
    for (const { uid, state, lastSeenMs } of this.#devices.values())
      if (state === 'lost' && now - lastSeenMs > FORGET_MS) this.#devices.delete(uid);
  }

  #answered(bytes: Uint8Array): void {
    const decoded = decodeRdm(bytes);
    if (!decoded.ok) return;
    const message = decoded.value;
    const waiting = this.#waiting.get(message.transaction);
    if (!waiting || waiting.uid !== message.from || waiting.pid !== message.pid) return;
    this.#waiting.delete(message.transaction);
    waiting.done(message);
  }

  /** One request and its answer, after all earlier ones of the same gateway. */
  #ask(device: Device, commandClass: number, pid: number, data: Uint8Array = NO_DATA): Promise<Answer> {
    const before = this.#queues.get(device.gatewayIp) ?? Promise.resolve();
    const next = before.then(() => this.#askNow(device, commandClass, pid, data));
    this.#queues.set(
      device.gatewayIp,
      next.catch(() => undefined),
    );
    return next;
  }

  async #askNow(device: Device, commandClass: number, pid: number, data: Uint8Array): Promise<Answer> {
    for (let attempt = 0; attempt < ATTEMPTS && !this.#closed; attempt++) {
      const reply = await this.#exchange(device, commandClass, pid, data);
      if (!reply) continue;
      if (reply.commandClass !== commandClass + RESPONSE) return { ok: false, why: 'it answers something else' };
      if (reply.portOrType === ACK) {
        device.lastSeenMs = this.#now();
        return { ok: true, data: reply.data };
      }
      if (reply.portOrType === NACK)
        return { ok: false, why: nackWords(((reply.data[0] ?? 0) << 8) | (reply.data[1] ?? 0)) };
      if (reply.portOrType === ACK_TIMER) {
        const wait = Math.min(MOST_TIMER_MS, (((reply.data[0] ?? 0) << 8) | (reply.data[1] ?? 1)) * TIMER_UNIT_MS);
        await new Promise((resolve) => setTimeout(resolve, wait));
      }
    }
    return { ok: false, why: 'no sound answer' };
  }

  #exchange(device: Device, commandClass: number, pid: number, data: Uint8Array): Promise<RdmMessage | null> {
    const transaction = (this.#transaction = (this.#transaction + 1) & 255);
    const request = encodeRdm({
      to: device.uid,
      from: OWN_UID,
      transaction,
      portOrType: 1,
      subDevice: 0,
      commandClass,
      pid,
      data,
    });
    return new Promise((resolve) => {
      const timer = setTimeout(() => {
        this.#waiting.delete(transaction);
        resolve(null);
      }, ANSWER_MS);
      this.#waiting.set(transaction, {
        pid,
        uid: device.uid,
        done: (message) => {
          clearTimeout(timer);
          resolve(message);
        },
      });
      this.#send(makeArtRdm(device.portAddress, request), device.gatewayIp);
    });
  }

  /** Devices of one gateway are read one after the other: the first are known before the last are asked. */
  #readLater(device: Device): void {
    const before = this.#reads.get(device.gatewayIp) ?? Promise.resolve();
    this.#reads.set(
      device.gatewayIp,
      before
        .then(() => (this.#closed ? undefined : this.#read(device)))
        .catch((error: unknown) => {
          device.state = 'faulty';
          device.fault = String((error as Error).message);
        }),
    );
  }

  /** Reads everything a device says of itself. */
  async #read(device: Device): Promise<void> {
    device.state = 'reading';
    device.fault = null;
    const info = await this.#get(device, PID.DEVICE_INFO, decodeDeviceInfo);
    if ('why' in info) {
      device.state = 'faulty';
      device.fault = info.why;
      return;
    }
    device.info = info.value;
    device.model = await this.#text(device, PID.DEVICE_MODEL_DESCRIPTION);
    device.maker = await this.#text(device, PID.MANUFACTURER_LABEL);
    device.label = await this.#text(device, PID.DEVICE_LABEL);
    device.software = await this.#text(device, PID.SOFTWARE_VERSION_LABEL);
    device.personalities = await this.#personalities(device);
    device.sensors = await this.#sensors(device);
    const identify = await this.#ask(device, GET, PID.IDENTIFY_DEVICE);
    device.identifying = identify.ok && identify.data[0] === 1;
    device.state = 'ready';
  }

  async #get<T>(
    device: Device,
    pid: number,
    decode: (data: Uint8Array) => Result<T>,
    data?: Uint8Array,
  ): Promise<{ value: T } | { why: string }> {
    const answer = await this.#ask(device, GET, pid, data);
    if (!answer.ok) return { why: answer.why };
    const decoded = decode(answer.data);
    return decoded.ok ? { value: decoded.value } : { why: decoded.fault.message };
  }

  async #text(device: Device, pid: number): Promise<string> {
    const answer = await this.#ask(device, GET, pid);
    return answer.ok ? decodeLabel(answer.data) : '';
  }

  async #personalities(device: Device): Promise<FoundRdm['personalities']> {
    const found: FoundRdm['personalities'][number][] = [];
    const count = Math.min(MOST_PERSONALITIES, device.info?.personalities ?? 0);
    for (let number = 1; number <= count; number++) {
      const got = await this.#get(device, PID.DMX_PERSONALITY_DESCRIPTION, decodePersonality, Uint8Array.of(number));
      if ('value' in got) found.push(got.value);
    }
    return found;
  }

  async #sensors(device: Device): Promise<FoundRdm['sensors']> {
    const found: FoundRdm['sensors'][number][] = [];
    const count = Math.min(MOST_SENSORS, device.info?.sensors ?? 0);
    for (let number = 0; number < count; number++) {
      const which = Uint8Array.of(number);
      const definition = await this.#get(device, PID.SENSOR_DEFINITION, decodeSensorDefinition, which);
      if ('why' in definition) continue;
      const decode = (data: Uint8Array) => decodeSensorValue(data, definition.value);
      const value = await this.#get(device, PID.SENSOR_VALUE, decode, which);
      if ('value' in value) found.push(value.value);
    }
    return found;
  }

  #known(uid: Uid): Device {
    const device = this.#devices.get(uid);
    if (!device) throw trouble('RDM_UNKNOWN', uid, `no device ${uid} has been found`, 'Look for devices anew.');
    return device;
  }

  async read(uid: Uid): Promise<void> {
    await this.#read(this.#known(uid));
  }

  async identify(uid: Uid, on: boolean): Promise<void> {
    const device = this.#known(uid);
    await this.#set(device, PID.IDENTIFY_DEVICE, Uint8Array.of(on ? 1 : 0), 'identify');
    device.identifying = on;
  }

  /** Nobody holds "identify" any more. */
  identifyNone(): void {
    for (const device of this.#devices.values())
      if (device.identifying) void this.identify(device.uid, false).catch(() => undefined);
  }

  /** Sets what is given, mode first (a mode may move the address), and reads it back. */
  async set(ask: Extract<NetworkAsk, { ask: 'rdmSet' }>): Promise<void> {
    const device = this.#known(ask.uid);
    const { personality, startAddress, label } = ask;
    if (personality !== undefined)
      await this.#set(device, PID.DMX_PERSONALITY, Uint8Array.of(personality), `mode ${personality}`);
    if (startAddress !== undefined)
      await this.#set(device, PID.DMX_START_ADDRESS, uint16(startAddress), `address ${startAddress}`);
    if (label !== undefined) {
      await this.#set(device, PID.DEVICE_LABEL, encodeLabel(label), 'label');
      device.label = await this.#text(device, PID.DEVICE_LABEL);
    }
    const info = await this.#get(device, PID.DEVICE_INFO, decodeDeviceInfo);
    if ('why' in info)
      throw trouble('RDM_SET', ask.uid, `${ask.uid} does not say what it is set to: ${info.why}`, 'Read it again.');
    device.info = info.value;
    if (startAddress !== undefined && info.value.startAddress !== startAddress)
      throw trouble(
        'RDM_SET',
        ask.uid,
        `${ask.uid} says it took address ${startAddress} and stands at ${info.value.startAddress}`,
        'Its address may be locked on the device itself.',
      );
  }

  async #set(device: Device, pid: number, data: Uint8Array, what: string): Promise<void> {
    const answer = await this.#ask(device, SET, pid, data);
    if (!answer.ok)
      throw trouble(
        'RDM_SET',
        device.uid,
        `${device.label || device.model || device.uid} did not take ${what}: ${answer.why}`,
        'Check the device and its cable, and try again.',
      );
  }

  close(): void {
    this.#closed = true;
    for (const { done } of this.#waiting.values()) done(null);
    this.#waiting.clear();
  }
}
