import { bad, good, shorten, type Fault, type Result } from '../faults.ts';

/** Streaming ACN (ANSI E1.31-2018): data packets over UDP port 5568. */
export const SACN_PORT = 5568;
/** Length of a data packet with 512 slots. */
export const SACN_LENGTH = 638;
const HEADER = 126;
export const ACN_ID = [0x41, 0x53, 0x43, 0x2d, 0x45, 0x31, 0x2e, 0x31, 0x37, 0x00, 0x00, 0x00];
const OPTION_PREVIEW = 0x80;
const OPTION_TERMINATED = 0x40;
const OPTION_FORCE_SYNC = 0x20;
const SYNC_ADDRESS_AT = 109;
const SEQUENCE_AT = 111;
const OPTIONS_AT = 112;
/** Where the slots start in a packet (after the start code). */
export const SACN_SLOTS_AT = HEADER;

export interface SacnSource {
  /** Component identifier, 16 bytes, the same for every packet of this sender. */
  readonly cid: Uint8Array;
  /** Up to 63 bytes of UTF-8. */
  readonly name: string;
}

/** Multicast group of a universe: 239.255.hi.lo (ANSI E1.31 9.3.1). */
export const multicastGroup = (universe: number): string => `239.255.${universe >> 8}.${universe & 255}`;

/** What a stream says of itself besides its slots. */
export interface SacnStreamOptions {
  /** Not for the stage: receivers that light something leave such a stream alone (ANSI E1.31 6.2.6). */
  readonly preview?: boolean;
  /** Universe whose sync packets release the slots; 0 for at once (6.2.4.1). */
  readonly syncAddress?: number;
}

/**
 * A data packet with all slots at 0, to be reused frame after frame: `fillSacn` writes what changes.
 * `universe` 1-63999, `priority` 0-200, `slotCount` 1-512. Receivers of a synchronised stream go on without sync
 * packets when those stay away (force-synchronisation bit, 6.2.6).
 */
export function makeSacnPacket(
  source: SacnSource,
  universe: number,
  priority: number,
  slotCount = 512,
  options: SacnStreamOptions = {},
): Uint8Array {
  const packet = new Uint8Array(HEADER + slotCount);
  const view = new DataView(packet.buffer);
  const flags = (at: number): void => view.setUint16(at, 0x7000 | (packet.length - at));
  view.setUint16(0, 0x0010);
  packet.set(ACN_ID, 4);
  flags(16);
  view.setUint32(18, 0x00000004);
  packet.set(source.cid.subarray(0, 16), 22);
  flags(38);
  view.setUint32(40, 0x00000002);
  packet.set(utf8Truncated(source.name, 63), 44);
  packet[108] = priority;
  const { preview = false, syncAddress = 0 } = options;
  view.setUint16(SYNC_ADDRESS_AT, syncAddress);
  packet[OPTIONS_AT] = (preview ? OPTION_PREVIEW : 0) | (syncAddress > 0 ? OPTION_FORCE_SYNC : 0);
  view.setUint16(113, universe);
  flags(115);
  packet[117] = 0x02;
  packet[118] = 0xa1;
  view.setUint16(121, 0x0001);
  view.setUint16(123, slotCount + 1);
  return packet;
}

/** Writes sequence and slots into a packet of `makeSacnPacket`; `terminated` sets the stream-terminated bit (6.2.6). */
export function fillSacn(packet: Uint8Array, sequence: number, slots: Uint8Array, terminated = false): void {
  packet[SEQUENCE_AT] = sequence & 255;
  packet[OPTIONS_AT] = terminated ? packet[OPTIONS_AT]! | OPTION_TERMINATED : packet[OPTIONS_AT]! & ~OPTION_TERMINATED;
  packet.set(slots.subarray(0, packet.length - HEADER), HEADER);
}

/** UTF-8 of a text, cut before a character that would pass `max` bytes. */
export function utf8Truncated(text: string, max: number): Uint8Array {
  const bytes = new TextEncoder().encode(text);
  if (bytes.length <= max) return bytes;
  let end = max;
  while (end > 0 && (bytes[end]! & 0xc0) === 0x80) end--;
  return bytes.subarray(0, end);
}

export interface SacnData {
  readonly cid: string;
  readonly sourceName: string;
  readonly universe: number;
  readonly priority: number;
  readonly sequence: number;
  readonly preview: boolean;
  readonly terminated: boolean;
  readonly forceSync: boolean;
  /** 0 where the stream is not synchronised. */
  readonly syncAddress: number;
  readonly startCode: number;
  readonly slots: Uint8Array;
}

const refuse = (code: string, message: string, received: unknown): Result<never> =>
  bad({
    code,
    message,
    path: 'sacn',
    received: shorten(received),
    remedy: 'Not a data packet of ANSI E1.31; it is ignored.',
  } satisfies Fault);

/** Decodes and checks a data packet; anything else is a fault, never an exception. `slots` is a view, not a copy. */
export function decodeSacn(packet: Uint8Array): Result<SacnData> {
  if (packet.length < HEADER) return refuse('SACN_SHORT', `only ${packet.length} bytes`, packet.length);
  const view = new DataView(packet.buffer, packet.byteOffset, packet.byteLength);
  if (view.getUint16(0) !== 0x0010 || view.getUint16(2) !== 0 || !ACN_ID.every((v, i) => packet[4 + i] === v))
    return refuse('SACN_PREAMBLE', 'no ACN preamble', view.getUint16(0));
  if (view.getUint32(18) !== 4) return refuse('SACN_VECTOR', 'not an E1.31 data root vector', view.getUint32(18));
  if (view.getUint32(40) !== 2) return refuse('SACN_VECTOR', 'not a data framing vector', view.getUint32(40));
  if (packet[117] !== 2 || packet[118] !== 0xa1)
    return refuse('SACN_DMP', 'not a DMP set-property message', packet[117]);
  const count = view.getUint16(123);
  if (count < 1 || count > 513) return refuse('SACN_COUNT', `property count ${count}`, count);
  if (HEADER - 1 + count > packet.length)
    return refuse('SACN_TRUNCATED', `${count} values announced, ${packet.length - HEADER + 1} there`, count);
  const universe = view.getUint16(113);
  if (universe < 1 || universe > 63_999) return refuse('SACN_UNIVERSE', `universe ${universe}`, universe);
  const priority = packet[108]!;
  if (priority > 200) return refuse('SACN_PRIORITY', `priority ${priority}`, priority);
  const options = packet[OPTIONS_AT]!;
  return good({
    cid: hex(packet.subarray(22, 38)),
    sourceName: textUntilZero(packet.subarray(44, 108)),
    universe,
    priority,
    sequence: packet[SEQUENCE_AT]!,
    preview: (options & OPTION_PREVIEW) !== 0,
    terminated: (options & OPTION_TERMINATED) !== 0,
    forceSync: (options & OPTION_FORCE_SYNC) !== 0,
    syncAddress: view.getUint16(SYNC_ADDRESS_AT),
    startCode: packet[125]!,
    slots: packet.subarray(HEADER, HEADER - 1 + count),
  });
}

/** Signed distance of sequence numbers, -128..127. */
export const sequenceStep = (previous: number, next: number): number => ((next - previous + 128) & 255) - 128;

/** True for the step to a packet that is older than the last one by less than 20: it is dropped (ANSI E1.31 6.7.2). */
export const isOutOfSequence = (step: number): boolean => step <= 0 && step > -20;

export const hex = (bytes: Uint8Array): string => Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('');

export function textUntilZero(bytes: Uint8Array): string {
  const end = bytes.indexOf(0);
  const text = new TextDecoder().decode(end < 0 ? bytes : bytes.subarray(0, end));
  // eslint-disable-next-line no-control-regex
  return text.replace(/[\u0000-\u001f\u007f]/g, '');
}
