import { bad, good, shorten, type Result } from '../faults.ts';

/** RDM messages (ANSI E1.20). A UID is written `mmmm:dddddddd` in hexadecimal: maker, then device. */
export type Uid = `${string}:${string}`;
export const RDM_START_CODE = 0xcc;
const SUB_START_CODE = 0x01;
const HEADER = 24;
export const BROADCAST: Uid = 'ffff:ffffffff';

export const DISCOVERY = 0x10;
export const GET = 0x20;
export const SET = 0x30;
/** A response has the command class of its request plus one. */
export const RESPONSE = 1;
/** Response types (6.2.6). */
export const ACK = 0;
export const ACK_TIMER = 1;
export const NACK = 2;
export const ACK_OVERFLOW = 3;

/** Parameter ids (Appendix A). */
export const PID = {
  DISC_UNIQUE_BRANCH: 0x0001,
  DISC_MUTE: 0x0002,
  DISC_UN_MUTE: 0x0003,
  SUPPORTED_PARAMETERS: 0x0050,
  DEVICE_INFO: 0x0060,
  DEVICE_MODEL_DESCRIPTION: 0x0080,
  MANUFACTURER_LABEL: 0x0081,
  DEVICE_LABEL: 0x0082,
  SOFTWARE_VERSION_LABEL: 0x00c0,
  DMX_PERSONALITY: 0x00e0,
  DMX_PERSONALITY_DESCRIPTION: 0x00e1,
  DMX_START_ADDRESS: 0x00f0,
  SENSOR_DEFINITION: 0x0200,
  SENSOR_VALUE: 0x0201,
  IDENTIFY_DEVICE: 0x1000,
} as const;

/** Why a responder refuses (NACK reasons, Table A-17), in words. */
const NACK_WORDS: Readonly<Record<number, string>> = {
  0: 'it does not know this parameter',
  1: 'the request has a wrong format',
  2: 'it cannot do this because of a fault in its hardware',
  3: 'a proxy refuses it',
  4: 'its settings are locked on the device itself',
  5: 'it does not know this kind of command for the parameter',
  6: 'the value is out of its range',
  7: 'its buffer is full',
  8: 'the message is too long for it',
  9: 'it has no such sub-device',
  10: 'a proxy’s buffer is full',
};
export const nackWords = (reason: number): string => NACK_WORDS[reason] ?? `reason ${reason}`;

export interface RdmMessage {
  readonly to: Uid;
  readonly from: Uid;
  /** Transaction number 0-255: the response carries that of its request. */
  readonly transaction: number;
  /** Request: port 1-255. Response: response type. */
  readonly portOrType: number;
  readonly subDevice: number;
  readonly commandClass: number;
  readonly pid: number;
  /** 0-231 bytes. */
  readonly data: Uint8Array;
}

export const uidToBytes = (uid: Uid): Uint8Array => {
  const digits = uid.replace(':', '');
  return Uint8Array.from({ length: 6 }, (_, i) => Number.parseInt(digits.slice(i * 2, i * 2 + 2), 16));
};
export const uidFromBytes = (bytes: Uint8Array, at = 0): Uid => uidOfNumber(numberAt(bytes, at));
/** The UID as a whole number below 2^48, for comparing and halving. */
export const uidToNumber = (uid: Uid): number => Number.parseInt(uid.replace(':', ''), 16);
export function uidOfNumber(value: number): Uid {
  const digits = value.toString(16).padStart(12, '0');
  return `${digits.slice(0, 4)}:${digits.slice(4)}`;
}
export const isUid = (text: string): text is Uid => /^[0-9a-f]{4}:[0-9a-f]{8}$/.test(text);

function numberAt(bytes: Uint8Array, at: number): number {
  let value = 0;
  for (let i = 0; i < 6; i++) value = value * 256 + bytes[at + i]!;
  return value;
}

const sumOf = (bytes: Uint8Array, from: number, to: number): number => {
  let sum = 0;
  for (let i = from; i < to; i++) sum += bytes[i]!;
  return sum & 0xffff;
};

/** A message with start code and checksum (6.1, 6.2): 26-257 bytes. */
export function encodeRdm(message: RdmMessage): Uint8Array {
  const { data } = message;
  const length = HEADER + data.length;
  const bytes = new Uint8Array(length + 2);
  const view = new DataView(bytes.buffer);
  bytes[0] = RDM_START_CODE;
  bytes[1] = SUB_START_CODE;
  bytes[2] = length;
  bytes.set(uidToBytes(message.to), 3);
  bytes.set(uidToBytes(message.from), 9);
  bytes[15] = message.transaction & 255;
  bytes[16] = message.portOrType;
  view.setUint16(18, message.subDevice);
  bytes[20] = message.commandClass;
  view.setUint16(21, message.pid);
  bytes[23] = data.length;
  bytes.set(data, HEADER);
  view.setUint16(length, sumOf(bytes, 0, length));
  return bytes;
}

const refuse = (code: string, message: string, received: unknown): Result<never> =>
  bad({ code, path: 'rdm', message, received: shorten(received), remedy: 'Not a sound RDM message; it is ignored.' });

/** Decodes and checks a message with its start code; anything broken is a fault, never an exception. */
export function decodeRdm(bytes: Uint8Array): Result<RdmMessage> {
  if (bytes.length < HEADER + 2) return refuse('RDM_SHORT', `only ${bytes.length} bytes`, bytes.length);
  if (bytes[0] !== RDM_START_CODE || bytes[1] !== SUB_START_CODE)
    return refuse('RDM_START', 'no RDM start code', bytes[0]);
  const length = bytes[2]!;
  if (length < HEADER || bytes.length < length + 2)
    return refuse('RDM_LENGTH', `length ${length} in ${bytes.length} bytes`, length);
  const dataLength = bytes[23]!;
  if (HEADER + dataLength !== length) return refuse('RDM_DATA_LENGTH', `data length ${dataLength}`, dataLength);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (view.getUint16(length) !== sumOf(bytes, 0, length))
    return refuse('RDM_CHECKSUM', 'the checksum is wrong', view.getUint16(length));
  return good({
    to: uidFromBytes(bytes, 3),
    from: uidFromBytes(bytes, 9),
    transaction: bytes[15]!,
    portOrType: bytes[16]!,
    subDevice: view.getUint16(18),
    commandClass: bytes[20]!,
    pid: view.getUint16(21),
    data: bytes.slice(HEADER, length),
  });
}

const BRANCH_PREAMBLE = 0xfe;
const BRANCH_SEPARATOR = 0xaa;

/** The answer to DISC_UNIQUE_BRANCH (7.5): no message but an encoding that collisions spoil. 24 bytes. */
export function encodeBranchResponse(uid: Uid): Uint8Array {
  const bytes = new Uint8Array(24).fill(BRANCH_PREAMBLE, 0, 7);
  bytes[7] = BRANCH_SEPARATOR;
  uidToBytes(uid).forEach((value, i) => {
    bytes[8 + i * 2] = value | 0xaa;
    bytes[9 + i * 2] = value | 0x55;
  });
  const sum = sumOf(bytes, 8, 20);
  bytes.set([(sum >> 8) | 0xaa, (sum >> 8) | 0x55, (sum & 255) | 0xaa, (sum & 255) | 0x55], 20);
  return bytes;
}

/** The UID of a branch answer, or null when several answered at once or the bytes are spoilt. */
export function decodeBranchResponse(bytes: Uint8Array): Uid | null {
  const separator = bytes.indexOf(BRANCH_SEPARATOR);
  if (separator < 0 || separator > 7 || bytes.length < separator + 17) return null;
  for (let i = 0; i < separator; i++) if (bytes[i] !== BRANCH_PREAMBLE) return null;
  const at = separator + 1;
  const pair = (i: number): number => bytes[at + i]! & bytes[at + i + 1]!;
  if (((pair(12) << 8) | pair(14)) !== sumOf(bytes, at, at + 12)) return null;
  return uidFromBytes(Uint8Array.from({ length: 6 }, (_, i) => pair(i * 2)));
}
