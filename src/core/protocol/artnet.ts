import { bad, good, shorten, type Result } from '../faults.ts';
import { textUntilZero, utf8Truncated } from './sacn.ts';

/** Art-Net 4: UDP port 6454 (0x1936). */
export const ARTNET_PORT = 6454;
const ID = [0x41, 0x72, 0x74, 0x2d, 0x4e, 0x65, 0x74, 0x00];
const PROTOCOL_VERSION = 14;
export const OP_POLL = 0x2000;
export const OP_POLL_REPLY = 0x2100;
export const OP_DMX = 0x5000;
export const OP_SYNC = 0x5200;
/** OEM code of who has none (Art-Net 4, "OemUnknown"), and the first of ESTA's identifiers for prototypes. */
const OEM_UNKNOWN = 0x00ff;
export const ESTA_PROTOTYPE = 0x7ff0;
const DMX_HEADER = 18;
const POLL_LENGTH = 14;
const SYNC_LENGTH = 14;
const REPLY_LENGTH = 239;

/** Net (0-127), sub-net (0-15) and universe (0-15) of a 15-bit port-address, as devices show them. */
export const splitPortAddress = (portAddress: number): { net: number; subNet: number; universe: number } => ({
  net: (portAddress >> 8) & 127,
  subNet: (portAddress >> 4) & 15,
  universe: portAddress & 15,
});

function artHeader(length: number, opcode: number): Uint8Array {
  const packet = new Uint8Array(length);
  packet.set(ID, 0);
  packet[8] = opcode & 255;
  packet[9] = opcode >> 8;
  return packet;
}

/** The beginning of every packet but a poll reply: id, opcode, protocol version. */
export function versionedHeader(length: number, opcode: number): Uint8Array {
  const packet = artHeader(length, opcode);
  packet[11] = PROTOCOL_VERSION;
  return packet;
}

export const hasArtNetId = (packet: Uint8Array): boolean => ID.every((v, i) => packet[i] === v);

/** An ArtDmx packet with all slots at 0, to be reused; the length is made even as the protocol asks. */
export function makeArtDmx(portAddress: number, slotCount = 512): Uint8Array {
  const even = Math.min(512, Math.max(2, slotCount + (slotCount & 1)));
  const packet = versionedHeader(DMX_HEADER + even, OP_DMX);
  packet[14] = portAddress & 255;
  packet[15] = (portAddress >> 8) & 127;
  packet[16] = even >> 8;
  packet[17] = even & 255;
  return packet;
}

/** Art-Net counts from 1 to 255, and from the start again. */
export const nextArtSequence = (sequence: number): number => (sequence % 255) + 1;

/** Writes sequence (1-255; 0 says that nothing is counted) and slots into a packet of `makeArtDmx`. */
export function fillArtDmx(packet: Uint8Array, sequence: number, slots: Uint8Array): void {
  packet[12] = sequence;
  packet.set(slots.subarray(0, packet.length - DMX_HEADER), DMX_HEADER);
}

/** An ArtPoll that asks for replies only (flags 0, lowest diagnostics priority). */
export const makeArtPoll = (): Uint8Array => versionedHeader(POLL_LENGTH, OP_POLL);

/** An ArtSync: devices that hold back their slots put all of them out at once. */
export const makeArtSync = (): Uint8Array => versionedHeader(SYNC_LENGTH, OP_SYNC);

/** What a device says of itself in an ArtPollReply. A device of more than four ports sends several, by bind index. */
export interface ArtNode {
  readonly ip: string;
  /** 1 for the first four ports, 2 for the next ...; 0 where the device does not count. */
  readonly bindIndex: number;
  readonly shortName: string;
  readonly longName: string;
  readonly firmware: number;
  readonly style: number;
  readonly mac: string;
  /** True where it passes RDM on. */
  readonly rdm: boolean;
  /** What it says about itself in words (the node report); empty where it says nothing. */
  readonly report: string;
  /** Port-addresses of DMX it takes in and puts on the network. */
  readonly inputs: readonly { readonly portAddress: number; readonly receiving: boolean }[];
  /** Port-addresses of its outputs. */
  readonly outputs: readonly {
    readonly portAddress: number;
    readonly transmitting: boolean;
    readonly merging: boolean;
  }[];
}

/** An ArtPollReply of a node with up to four outputs and inputs in one net and sub-net. */
export function makeArtPollReply(node: ArtNode): Uint8Array {
  const packet = artHeader(REPLY_LENGTH, OP_POLL_REPLY);
  const first = splitPortAddress(node.outputs[0]?.portAddress ?? node.inputs[0]?.portAddress ?? 0);
  packet.set(node.ip.split('.').map(Number), 10);
  packet[14] = ARTNET_PORT & 255;
  packet[15] = ARTNET_PORT >> 8;
  packet[16] = node.firmware >> 8;
  packet[17] = node.firmware & 255;
  packet[18] = first.net;
  packet[19] = first.subNet;
  packet[20] = OEM_UNKNOWN >> 8;
  packet[21] = OEM_UNKNOWN & 255;
  packet[23] = 0xd0 | (node.rdm ? 0x02 : 0);
  packet[24] = ESTA_PROTOTYPE & 255;
  packet[25] = ESTA_PROTOTYPE >> 8;
  packet.set(utf8Truncated(node.shortName, 17), 26);
  packet.set(utf8Truncated(node.longName, 63), 44);
  packet.set(utf8Truncated(node.report, 63), 108);
  packet[173] = Math.min(4, Math.max(node.outputs.length, node.inputs.length));
  node.outputs.slice(0, 4).forEach((port, i) => {
    packet[174 + i]! |= 0x80;
    packet[182 + i] = (port.transmitting ? 0x80 : 0) | (port.merging ? 0x08 : 0);
    packet[190 + i] = port.portAddress & 15;
  });
  node.inputs.slice(0, 4).forEach((port, i) => {
    packet[174 + i]! |= 0x40;
    packet[178 + i] = port.receiving ? 0x80 : 0;
    packet[186 + i] = port.portAddress & 15;
  });
  packet[200] = node.style;
  packet.set(
    node.mac.split(':').map((part) => Number.parseInt(part, 16)),
    201,
  );
  packet.set(node.ip.split('.').map(Number), 207);
  packet[211] = node.bindIndex;
  packet[212] = 0x08;
  return packet;
}

export type ArtPacket =
  | { readonly op: 'poll' }
  | { readonly op: 'reply'; readonly node: ArtNode }
  | { readonly op: 'sync' }
  | { readonly op: 'dmx'; readonly portAddress: number; readonly sequence: number; readonly slots: Uint8Array }
  | { readonly op: 'other'; readonly opcode: number };

const refuse = (code: string, message: string, received: unknown): Result<never> =>
  bad({
    code,
    message,
    path: 'artnet',
    received: shorten(received),
    remedy: 'Not a sound Art-Net packet; it is ignored.',
  });

/** Decodes what we understand of Art-Net; anything broken is a fault, never an exception. `slots` is a view. */
export function decodeArtNet(packet: Uint8Array): Result<ArtPacket> {
  if (packet.length < 10 || !hasArtNetId(packet)) return refuse('ARTNET_ID', 'no Art-Net id', packet.length);
  const opcode = packet[8]! | (packet[9]! << 8);
  if (opcode === OP_POLL_REPLY) return decodeReply(packet);
  if (opcode === OP_POLL)
    return packet.length >= 12 ? good({ op: 'poll' }) : refuse('ARTNET_SHORT', 'short ArtPoll', packet.length);
  if (opcode === OP_SYNC) return good({ op: 'sync' });
  if (opcode !== OP_DMX) return good({ op: 'other', opcode });
  if (packet.length < DMX_HEADER + 1) return refuse('ARTNET_SHORT', 'short ArtDmx', packet.length);
  if (packet[11]! < PROTOCOL_VERSION) return refuse('ARTNET_VERSION', `protocol version ${packet[11]}`, packet[11]);
  const length = (packet[16]! << 8) | packet[17]!;
  if (length < 1 || length > 512) return refuse('ARTNET_LENGTH', `length ${length}`, length);
  if (DMX_HEADER + length > packet.length)
    return refuse('ARTNET_TRUNCATED', `${length} slots announced, ${packet.length - DMX_HEADER} there`, length);
  const portAddress = packet[14]! | ((packet[15]! & 127) << 8);
  return good({
    op: 'dmx',
    portAddress,
    sequence: packet[12]!,
    slots: packet.subarray(DMX_HEADER, DMX_HEADER + length),
  });
}

function decodeReply(packet: Uint8Array): Result<ArtPacket> {
  if (packet.length < 207) return refuse('ARTNET_SHORT', `short ArtPollReply (${packet.length} bytes)`, packet.length);
  const count = Math.min(4, packet[173]!);
  const base = ((packet[18]! & 127) << 8) | ((packet[19]! & 15) << 4);
  const outputs: ArtNode['outputs'][number][] = [];
  const inputs: ArtNode['inputs'][number][] = [];
  for (let i = 0; i < count; i++) {
    if ((packet[174 + i]! & 0x40) !== 0)
      inputs.push({ portAddress: base | (packet[186 + i]! & 15), receiving: (packet[178 + i]! & 0x80) !== 0 });
    if ((packet[174 + i]! & 0x80) === 0) continue;
    const state = packet[182 + i]!;
    outputs.push({
      portAddress: base | (packet[190 + i]! & 15),
      transmitting: (state & 0x80) !== 0,
      merging: (state & 0x08) !== 0,
    });
  }
  return good({
    op: 'reply',
    node: {
      ip: packet.subarray(10, 14).join('.'),
      bindIndex: packet.length > 211 ? packet[211]! : 0,
      shortName: textUntilZero(packet.subarray(26, 44)),
      longName: textUntilZero(packet.subarray(44, 108)),
      firmware: (packet[16]! << 8) | packet[17]!,
      style: packet[200]!,
      mac: Array.from(packet.subarray(201, 207), (b) => b.toString(16).padStart(2, '0')).join(':'),
      rdm: (packet[23]! & 0x02) !== 0,
      report: textUntilZero(packet.subarray(108, 172)),
      inputs,
      outputs,
    },
  });
}
