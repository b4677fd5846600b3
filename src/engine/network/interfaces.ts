import { networkInterfaces } from 'node:os';
import type { OwnInterface } from '../../core/protocol/network.ts';

/** Own IPv4 addresses as they are now: cables come and go. */
export function ownInterfaces(): OwnInterface[] {
  return Object.entries(networkInterfaces()).flatMap(([name, list]) =>
    (list ?? [])
      .filter((i) => i.family === 'IPv4')
      .map(({ address, netmask, internal }) => ({ name, address, netmask, internal })),
  );
}

/** Directed broadcast address of an interface: 192.168.1.20/255.255.255.0 gives 192.168.1.255. */
export function broadcastOf(address: string, netmask: string): string {
  const mask = netmask.split('.').map(Number);
  return address
    .split('.')
    .map((part, i) => (Number(part) | (~mask[i]! & 255)) & 255)
    .join('.');
}
