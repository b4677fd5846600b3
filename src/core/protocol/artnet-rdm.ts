import { bad, good, shorten, type Result } from '../faults.ts';
import { hasArtNetId, versionedHeader } from './artnet.ts';
import { RDM_START_CODE, uidFromBytes, uidToBytes, type Uid } from './rdm.ts';

/** RDM through Art-Net 4 gateways: table of devices (Tod) and carried messages. */
export const OP_TOD_REQUEST = 0x8000;
export const OP_TOD_DATA = 0x8100;
export const OP_TOD_CONTROL = 0x8200;
export const OP_RDM = 0x8300;
/** ArtTodControl: find all devices anew. */
export const TOD_FLUSH = 1;
const RDM_VERSION = 1;
const UIDS_A_PACKET = 200;

/** True for the opcodes of RDM, whatever else is right or wrong with the packet. */
export const isArtRdm = (packet: Uint8Array): boolean => packet.length > 9 && packet[9]! >= OP_TOD_REQUEST >> 8;

/** Asks for the table of devices behind one port-address. */
export function makeTodRequest(portAddress: number): Uint8Array {
  const packet = versionedHeader(24 + 32, OP_TOD_REQUEST);
  packet[21] = portAddress >> 8;
  packet[23] = 1;
  packet[24] = portAddress & 255;
  return packet;
}

/** Tells a gateway to find the devices behind a port-address anew. */
export function makeTodControl(portAddress: number, command: number = TOD_FLUSH): Uint8Array {
  const packet = versionedHeader(24, OP_TOD_CONTROL);
  packet[21] = portAddress >> 8;
  packet[22] = command;
  packet[23] = portAddress & 255;
  return packet;
}

/** The table of devices of one port (1-4), in as many packets as it takes; one empty packet for an empty table. */
export function makeTodData(portAddress: number, port: number, bindIndex: number, uids: readonly Uid[]): Uint8Array[] {
  const blocks = Math.max(1, Math.ceil(uids.length / UIDS_A_PACKET));
  return Array.from({ length: blocks }, (_, block) => {
    const list = uids.slice(block * UIDS_A_PACKET, (block + 1) * UIDS_A_PACKET);
    const packet = versionedHeader(28 + list.length * 6, OP_TOD_DATA);
    packet[12] = RDM_VERSION;
    packet[13] = port;
    packet[20] = bindIndex;
    packet[21] = portAddress >> 8;
    packet[23] = portAddress & 255;
    packet[24] = uids.length >> 8;
    packet[25] = uids.length & 255;
    packet[26] = block;
    packet[27] = list.length;
    list.forEach((uid, i) => packet.set(uidToBytes(uid), 28 + i * 6));
    return packet;
  });
}

/** Carries an RDM message (with its start code, as `encodeRdm` makes it) to or from a port-address. */
export function makeArtRdm(portAddress: number, rdm: Uint8Array): Uint8Array {
  const packet = versionedHeader(24 + rdm.length - 1, OP_RDM);
  packet[12] = RDM_VERSION;
  packet[21] = portAddress >> 8;
  packet[23] = portAddress & 255;
  packet.set(rdm.subarray(1), 24);
  return packet;
}

export type ArtRdmPacket =
  | { readonly op: 'todRequest'; readonly portAddresses: readonly number[] }
  | { readonly op: 'todControl'; readonly portAddress: number; readonly flush: boolean }
  | {
      readonly op: 'todData';
      readonly portAddress: number;
      readonly port: number;
      readonly block: number;
      readonly total: number;
      readonly uids: readonly Uid[];
    }
  | { readonly op: 'rdm'; readonly portAddress: number; readonly message: Uint8Array };

const refuse = (message: string, received: unknown): Result<never> =>
  bad({
    code: 'ARTNET_RDM',
    path: 'artnet',
    message,
    received: shorten(received),
    remedy: 'Not a sound Art-Net RDM packet; it is ignored.',
  });

/** Decodes the four RDM packets of Art-Net; anything else is a fault, never an exception. */
export function decodeArtRdm(packet: Uint8Array): Result<ArtRdmPacket> {
  if (packet.length < 24) return refuse(`only ${packet.length} bytes`, packet.length);
  if (!hasArtNetId(packet)) return refuse('no Art-Net id', packet[0]);
  const opcode = packet[8]! | (packet[9]! << 8);
  const net = (packet[21]! & 127) << 8;
  const portAddress = net | packet[23]!;
  if (opcode === OP_TOD_REQUEST) {
    const count = packet[23]!;
    if (count > 32 || packet.length < 24 + count) return refuse(`${count} ports asked for`, count);
    return good({ op: 'todRequest', portAddresses: Array.from(packet.subarray(24, 24 + count), (low) => net | low) });
  }
  if (opcode === OP_TOD_CONTROL) return good({ op: 'todControl', portAddress, flush: packet[22] === TOD_FLUSH });
  if (opcode === OP_TOD_DATA) {
    if (packet.length < 28) return refuse('a short table of devices', packet.length);
    const count = packet[27]!;
    if (packet.length < 28 + count * 6)
      return refuse(`${count} devices announced, ${Math.floor((packet.length - 28) / 6)} there`, count);
    const uids = Array.from({ length: count }, (_, i) => uidFromBytes(packet, 28 + i * 6));
    const total = (packet[24]! << 8) | packet[25]!;
    return good({ op: 'todData', portAddress, port: packet[13]!, block: packet[26]!, total, uids });
  }
  if (opcode !== OP_RDM) return refuse(`opcode 0x${opcode.toString(16)}`, opcode);
  const message = new Uint8Array(packet.length - 23);
  message[0] = RDM_START_CODE;
  message.set(packet.subarray(24), 1);
  return good({ op: 'rdm', portAddress, message });
}
