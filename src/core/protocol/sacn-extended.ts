import { bad, good, type Result } from '../faults.ts';
import { ACN_ID, hex, textUntilZero, utf8Truncated, type SacnSource } from './sacn.ts';

/** Universe on which every source tells which universes it sends (ANSI E1.31 8). */
export const DISCOVERY_UNIVERSE = 64_214;
/** A source tells it this often (ANSI E1.31 8.1: E131_UNIVERSE_DISCOVERY_INTERVAL). */
export const DISCOVERY_MS = 10_000;
const ROOT_EXTENDED = 0x00000008;
const FRAMING_SYNC = 0x00000001;
const FRAMING_DISCOVERY = 0x00000002;
const SYNC_LENGTH = 49;
const LIST_AT = 120;
const LIST_LIMIT = 512;

function extended(length: number, cid: Uint8Array, vector: number): Uint8Array {
  const packet = new Uint8Array(length);
  const view = new DataView(packet.buffer);
  view.setUint16(0, 0x0010);
  packet.set(ACN_ID, 4);
  view.setUint16(16, 0x7000 | (length - 16));
  view.setUint32(18, ROOT_EXTENDED);
  packet.set(cid.subarray(0, 16), 22);
  view.setUint16(38, 0x7000 | (length - 38));
  view.setUint32(40, vector);
  return packet;
}

/** A synchronisation packet of 49 bytes (ANSI E1.31 6.3), to be reused: `fillSacnSync` counts it on. */
export function makeSacnSync(cid: Uint8Array, syncAddress: number): Uint8Array {
  const packet = extended(SYNC_LENGTH, cid, FRAMING_SYNC);
  new DataView(packet.buffer).setUint16(45, syncAddress);
  return packet;
}

export function fillSacnSync(packet: Uint8Array, sequence: number): void {
  packet[44] = sequence & 255;
}

/**
 * Universe discovery packets (ANSI E1.31 8): the universes a source sends, ascending, 512 a page. One empty page for
 * a source that sends none.
 */
export function makeSacnDiscovery(source: SacnSource, universes: readonly number[]): Uint8Array[] {
  const sorted = [...new Set(universes)].sort((a, b) => a - b);
  const last = Math.max(0, Math.ceil(sorted.length / LIST_LIMIT) - 1);
  return Array.from({ length: last + 1 }, (_, page) => {
    const list = sorted.slice(page * LIST_LIMIT, (page + 1) * LIST_LIMIT);
    const packet = extended(LIST_AT + list.length * 2, source.cid, FRAMING_DISCOVERY);
    const view = new DataView(packet.buffer);
    packet.set(utf8Truncated(source.name, 63), 44);
    view.setUint16(112, 0x7000 | (packet.length - 112));
    view.setUint32(114, 0x00000001);
    packet[118] = page;
    packet[119] = last;
    list.forEach((universe, i) => view.setUint16(LIST_AT + i * 2, universe));
    return packet;
  });
}

export type SacnExtended =
  | { readonly type: 'sync'; readonly cid: string; readonly sequence: number; readonly syncAddress: number }
  | {
      readonly type: 'discovery';
      readonly cid: string;
      readonly sourceName: string;
      readonly page: number;
      readonly lastPage: number;
      readonly universes: readonly number[];
    };

const refuse = (message: string, received: number): Result<never> =>
  bad({
    code: 'SACN_EXTENDED',
    path: 'sacn',
    message,
    received,
    remedy: 'Not a sync or discovery packet of ANSI E1.31; it is ignored.',
  });

/** Decodes a sync or discovery packet; anything else is a fault, never an exception. */
export function decodeSacnExtended(packet: Uint8Array): Result<SacnExtended> {
  if (packet.length < SYNC_LENGTH) return refuse(`only ${packet.length} bytes`, packet.length);
  const view = new DataView(packet.buffer, packet.byteOffset, packet.byteLength);
  if (view.getUint16(0) !== 0x0010 || !ACN_ID.every((v, i) => packet[4 + i] === v))
    return refuse('no ACN preamble', view.getUint16(0));
  if (view.getUint32(18) !== ROOT_EXTENDED) return refuse('not an extended root vector', view.getUint32(18));
  const cid = hex(packet.subarray(22, 38));
  const vector = view.getUint32(40);
  if (vector === FRAMING_SYNC)
    return good({ type: 'sync', cid, sequence: packet[44]!, syncAddress: view.getUint16(45) });
  if (vector !== FRAMING_DISCOVERY) return refuse(`framing vector ${vector}`, vector);
  if (packet.length < LIST_AT || view.getUint32(114) !== 1) return refuse('no universe list', packet.length);
  const length = (view.getUint16(112) & 0x0fff) + 112;
  if (length > packet.length || length < LIST_AT) return refuse('a list longer than its packet', length);
  const universes: number[] = [];
  for (let at = LIST_AT; at + 1 < length && universes.length < LIST_LIMIT; at += 2) {
    const universe = view.getUint16(at);
    if (universe >= 1 && universe <= 63_999) universes.push(universe);
  }
  return good({
    type: 'discovery',
    cid,
    sourceName: textUntilZero(packet.subarray(44, 108)),
    page: packet[118]!,
    lastPage: packet[119]!,
    universes,
  });
}
