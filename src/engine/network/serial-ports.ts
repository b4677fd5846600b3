import { existsSync, realpathSync, statSync } from 'node:fs';
import { readdir } from 'node:fs/promises';
import { basename } from 'node:path';
import { SerialPort } from 'serialport';
import type { FoundPort } from '../../core/protocol/network.ts';

/** Major numbers of serial drivers on Linux: ttyS (from minor 64), ttyACM, ttyUSB, ttyAMA and their like, rfcomm. */
const MAJORS: ReadonlySet<number> = new Set([166, 188, 204, 216]);
const TTY_MAJOR = 4;
const FIRST_TTYS = 64;

/**
 * Why a path must not be opened, or null where it is a serial port of this machine (or in `allowed`). A show comes from
 * anywhere: it must not make the engine open files, pipes or other devices.
 */
export function portFault(path: string, allowed: readonly string[]): string | null {
  if (allowed.includes(path)) return null;
  try {
    const real = realpathSync(path);
    const { rdev, isCharacterDevice } = stat(real);
    const major = ((rdev >>> 8) & 0xfff) as number;
    const minor = (rdev & 0xff) | ((rdev >>> 12) & ~0xff);
    const known = MAJORS.has(major) || (major === TTY_MAJOR && minor >= FIRST_TTYS);
    const backed = existsSync(`/sys/class/tty/${basename(real)}/device`);
    if (real.startsWith('/dev/') && isCharacterDevice && (known || backed)) return null;
    return `${path} is not a serial port of this machine: choose one from the list`;
  } catch {
    return `there is no port ${path}: is it plugged in?`;
  }
}

function stat(path: string): { rdev: number; isCharacterDevice: boolean } {
  const found = statSync(path);
  return { rdev: found.rdev, isCharacterDevice: found.isCharacterDevice() };
}

const DEVICE_NAME = /^(ttyUSB|ttyACM|ttyAMA|cu\.)/;

/** Serial ports of the machine; `standins` are simulated ones that exist beside them. */
export async function listPorts(standins: readonly string[]): Promise<FoundPort[]> {
  const simulated = standins.map((path) => ({
    path,
    maker: 'Stand-in of Amber Kite',
    serialNumber: '',
    standin: true,
  }));
  try {
    const ports = await SerialPort.list();
    return [
      ...simulated,
      ...ports
        .filter((p) => p.vendorId !== undefined || DEVICE_NAME.test(p.path.replace('/dev/', '')))
        .map((p) => ({
          path: p.path,
          maker: p.manufacturer ?? '',
          serialNumber: p.serialNumber ?? '',
          standin: false,
        })),
    ];
  } catch {
    // Without udev's tools the names in /dev are what there is.
    const names = await readdir('/dev').catch(() => []);
    return [
      ...simulated,
      ...names
        .filter((name) => DEVICE_NAME.test(name))
        .map((name) => ({ path: `/dev/${name}`, maker: '', serialNumber: '', standin: false })),
    ];
  }
}
