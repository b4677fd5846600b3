import { createHash } from 'node:crypto';
import { join } from 'node:path';

/** The simulated network of the demonstration, on loopback. */
export interface StandinAddresses {
  readonly sacn: string;
  readonly artnet: string;
  readonly pixels: string;
  /** Second console. */
  readonly console: string;
  /** HTTP faces of the lamp hub and of the mapped string, `host:port`. */
  readonly hub: string;
  readonly string: string;
  /** Path of the serial port of the USB interface. */
  readonly usb: string;
  /** Reaches all simulated Art-Net devices, as the broadcast address of a network would. */
  readonly broadcast: string;
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
  return {
    sacn: `${net}.10`,
    artnet: `${net}.20`,
    pixels: `${net}.25`,
    console: `${net}.50`,
    hub: `${net}.30:8430`,
    string: `${net}.40:8440`,
    usb: join(dataDir, 'usb-port'),
    broadcast: `${net}.255`,
    engine: `${net}.1`,
  };
}
