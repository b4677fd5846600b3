import {
  ACK,
  BROADCAST,
  encodeBranchResponse,
  GET,
  NACK,
  PID,
  RESPONSE,
  SET,
  uidToNumber,
  uidFromBytes,
  type RdmMessage,
  type Uid,
} from '../core/protocol/rdm.ts';
import {
  encodeDeviceInfo,
  encodeLabel,
  encodePersonality,
  encodeSensorDefinition,
  encodeSensorValue,
  uint16,
} from '../core/protocol/rdm-device.ts';

export interface ResponderOptions {
  readonly uid: Uid;
  readonly maker: string;
  readonly model: string;
  readonly label: string;
  readonly startAddress: number;
  readonly personalities: readonly { readonly name: string; readonly footprint: number }[];
  /** 1 to the number of personalities. */
  readonly personality: number;
  /** Degrees Celsius; null for a device without sensors. */
  readonly temperature: number | null;
  /** Checksums of a faulty device are wrong. */
  readonly faulty?: boolean;
}

const UNKNOWN_PID = 0;
const FORMAT = 1;
const OUT_OF_RANGE = 6;
const NOTHING = new Uint8Array(0);

/** A simulated RDM device (ANSI E1.20): what it answers to discovery, get and set. */
export class RdmResponder {
  readonly options: ResponderOptions;
  muted = false;
  identifying = false;
  label: string;
  startAddress: number;
  personality: number;

  constructor(options: ResponderOptions) {
    this.options = options;
    this.label = options.label;
    this.startAddress = options.startAddress;
    this.personality = options.personality;
  }

  get uid(): Uid {
    return this.options.uid;
  }
  get footprint(): number {
    return this.options.personalities[this.personality - 1]?.footprint ?? 0;
  }

  /** The answer to DISC_UNIQUE_BRANCH, or null when it is muted or out of the range. */
  branch(low: Uid, high: Uid): Uint8Array | null {
    const own = uidToNumber(this.uid);
    if (this.muted || own < uidToNumber(low) || own > uidToNumber(high)) return null;
    return encodeBranchResponse(this.uid);
  }

  /** Whether a message is for this device: to itself, to all, or to all of its maker. */
  isFor(to: Uid): boolean {
    return to === this.uid || to === BROADCAST || to === `${this.uid.slice(0, 4)}:ffffffff`;
  }

  /** Carries a message out; the answer, or null where none is given (broadcasts). */
  handle(message: RdmMessage): RdmMessage | null {
    if (!this.isFor(message.to)) return null;
    if (message.pid === PID.DISC_MUTE) this.muted = true;
    if (message.pid === PID.DISC_UN_MUTE) this.muted = false;
    const answer = this.#answer(message);
    if (message.to !== this.uid) return null;
    return {
      to: message.from,
      from: this.uid,
      transaction: message.transaction,
      portOrType: answer.type,
      subDevice: 0,
      commandClass: message.commandClass + RESPONSE,
      pid: message.pid,
      data: answer.data,
    };
  }

  #answer(message: RdmMessage): { type: number; data: Uint8Array } {
    const { pid, data, commandClass } = message;
    const ack = (bytes: Uint8Array = NOTHING) => ({ type: ACK, data: bytes });
    const nack = (reason: number) => ({ type: NACK, data: uint16(reason) });
    if (pid === PID.DISC_MUTE || pid === PID.DISC_UN_MUTE) return ack(uint16(0));
    if (commandClass === GET) {
      const bytes = this.#get(pid, data);
      return bytes === null ? nack(OUT_OF_RANGE) : bytes === undefined ? nack(UNKNOWN_PID) : ack(bytes);
    }
    if (commandClass !== SET) return nack(FORMAT);
    const reason = this.#set(pid, data);
    return reason === null ? ack() : nack(reason);
  }

  /** Undefined for what it does not know, null for what is out of range. */
  #get(pid: number, data: Uint8Array): Uint8Array | null | undefined {
    const { maker, model, personalities, temperature } = this.options;
    switch (pid) {
      case PID.DEVICE_INFO:
        return encodeDeviceInfo({
          model: 1,
          category: 0x0101,
          software: 0x0100,
          footprint: this.footprint,
          personality: this.personality,
          personalities: personalities.length,
          startAddress: this.startAddress,
          subDevices: 0,
          sensors: temperature === null ? 0 : 1,
        });
      case PID.DEVICE_MODEL_DESCRIPTION:
        return encodeLabel(model);
      case PID.MANUFACTURER_LABEL:
        return encodeLabel(maker);
      case PID.DEVICE_LABEL:
        return encodeLabel(this.label);
      case PID.SOFTWARE_VERSION_LABEL:
        return encodeLabel('1.4');
      case PID.DMX_PERSONALITY:
        return Uint8Array.of(this.personality, personalities.length);
      case PID.DMX_PERSONALITY_DESCRIPTION: {
        const found = personalities[(data[0] ?? 0) - 1];
        return found ? encodePersonality({ number: data[0]!, ...found }) : null;
      }
      case PID.DMX_START_ADDRESS:
        return uint16(this.startAddress);
      case PID.SENSOR_DEFINITION:
        return temperature === null || data[0] !== 0
          ? null
          : encodeSensorDefinition({ number: 0, type: 0, unit: 1, prefix: 1, name: 'LED board' });
      case PID.SENSOR_VALUE:
        return temperature === null || data[0] !== 0 ? null : encodeSensorValue(0, Math.round(temperature * 10));
      case PID.IDENTIFY_DEVICE:
        return Uint8Array.of(this.identifying ? 1 : 0);
      default:
        return undefined;
    }
  }

  /** Why it refuses, or null when it is done. */
  #set(pid: number, data: Uint8Array): number | null {
    switch (pid) {
      case PID.DMX_START_ADDRESS: {
        if (data.length !== 2) return FORMAT;
        const address = (data[0]! << 8) | data[1]!;
        if (address < 1 || address + this.footprint - 1 > 512) return OUT_OF_RANGE;
        this.startAddress = address;
        return null;
      }
      case PID.DMX_PERSONALITY:
        if (data.length !== 1) return FORMAT;
        if (data[0]! < 1 || data[0]! > this.options.personalities.length) return OUT_OF_RANGE;
        this.personality = data[0]!;
        return null;
      case PID.DEVICE_LABEL:
        this.label = String.fromCharCode(...data.subarray(0, 32));
        return null;
      case PID.IDENTIFY_DEVICE:
        if (data.length !== 1 || data[0]! > 1) return FORMAT;
        this.identifying = data[0] === 1;
        return null;
      default:
        return UNKNOWN_PID;
    }
  }
}

/** Several answers at once on one pair of wires: a bit that anybody drives is read as driven. */
export function collide(answers: readonly Uint8Array[]): Uint8Array | null {
  if (answers.length === 0) return null;
  const length = Math.max(...answers.map((a) => a.length));
  return Uint8Array.from({ length }, (_, i) => answers.reduce((bits, a) => bits | (a[i] ?? 0), 0));
}

/** The bytes of a discovery range request: lower and upper UID. */
export const branchRange = (data: Uint8Array): { low: Uid; high: Uid } => ({
  low: uidFromBytes(data, 0),
  high: uidFromBytes(data, 6),
});
