import type { OutputRecord } from '$core/records/index.ts';
import type { Protocol } from '$core/records/output.ts';

/** Protocols as people say them. */
export const PROTOCOL_WORDS: Readonly<Record<Protocol, string>> = {
  sacn: 'sACN',
  artnet: 'Art-Net',
  serial: 'USB serial',
  hub: 'lamp hub',
};

/** Where an output sends to, in a few words. */
export function whereTo(output: OutputRecord): string {
  if (output.protocol === 'serial') return output.serialPath || 'no port yet';
  if (output.protocol === 'hub') return output.hubAddress ?? 'no hub yet';
  if (output.multicast) return 'multicast';
  if (output.protocol === 'artnet' && output.delivery === 'found') return 'whatever is found';
  if (output.protocol === 'artnet' && output.delivery === 'broadcast') return 'broadcast';
  return output.destinations.join(', ') || 'no address yet';
}
