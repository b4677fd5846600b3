import { createHash } from 'node:crypto';

export interface StandinAddresses {
  readonly sacn: string;
  readonly artnet: string;
  /** Where the engine sends Art-Net from, so that two copies on one machine do not take each other's answers. */
  readonly engine: string;
}

/**
 * Loopback addresses of the stand-ins, made from the data folder: the same at every start, and different for two
 * copies of Amber Kite side by side (all of 127.0.0.0/8 is this machine).
 */
export function standinAddresses(dataDir: string): StandinAddresses {
  const digest = createHash('sha256').update(dataDir).digest();
  const net = `127.${64 + (digest[0]! % 128)}.${digest[1]!}`;
  return { sacn: `${net}.10`, artnet: `${net}.20`, engine: `${net}.1` };
}
