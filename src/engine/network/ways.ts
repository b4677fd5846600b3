import { existsSync, readFileSync } from 'node:fs';
import { networkInterfaces } from 'node:os';
import type { OwnInterface } from '../../core/protocol/network.ts';

/** One own network interface as the system knows it. */
export interface Link extends OwnInterface {
  /** Changes when a card is pulled and put back under the same name; 0 where the system does not say. */
  readonly index: number;
  /** False while the interface is switched off, or nothing is at the other end of its cable. */
  readonly on: boolean;
  readonly cable: boolean;
}

/** A line of the system's routing table. Addresses are 32-bit numbers, the first part of `10.2.3.4` highest. */
export interface RouteLine {
  readonly name: string;
  readonly to: number;
  readonly mask: number;
  readonly metric: number;
}

/** The own network at one moment: interfaces, and which of them packets leave by. */
export interface Ways {
  readonly links: readonly Link[];
  readonly routes: readonly RouteLine[];
}

const SYS = '/sys/class/net';

/** Reads what the system says now: a few small files. */
export function readWays(): Ways {
  const routes = parseRoutes(read('/proc/net/route') ?? '');
  const running = Object.entries(networkInterfaces()).flatMap(([name, list]) =>
    (list ?? [])
      .filter((i) => i.family === 'IPv4')
      .map(({ address, netmask, internal }): OwnInterface => ({ name, address, netmask, internal })),
  );
  // Node leaves out interfaces without a cable; their addresses still stand in the kernel's table.
  const idle = idleLinks(parseOwn(read('/proc/net/fib_trie') ?? ''), running, routes);
  return { links: [...running, ...idle].map((link) => ({ ...link, ...stateOf(link.name) })), routes };
}

/** Own addresses in the kernel's table of routes (`/proc/net/fib_trie`). */
export function parseOwn(text: string): string[] {
  const found = new Set<string>();
  let address = '';
  for (const line of text.split('\n')) {
    const leaf = /^\s*\|--\s+(\d+\.\d+\.\d+\.\d+)\s*$/.exec(line);
    if (leaf) address = leaf[1]!;
    else if (address !== '' && /^\s*\/32 host LOCAL\s*$/.test(line)) found.add(address);
  }
  return [...found];
}

/** Interfaces of own addresses that are not among those that run: found by the network their address is on. */
export function idleLinks(
  own: readonly string[],
  running: readonly OwnInterface[],
  routes: readonly RouteLine[],
): OwnInterface[] {
  return own.flatMap((address) => {
    if (isLoopback(address) || running.some((l) => l.address === address)) return [];
    const at = numberOf(address);
    const near = routes.filter((r) => r.mask !== 0 && (at & r.mask) >>> 0 === r.to).sort((a, b) => b.mask - a.mask)[0];
    return near ? [{ name: near.name, address, netmask: textOf(near.mask), internal: false }] : [];
  });
}

function stateOf(name: string): Pick<Link, 'index' | 'on' | 'cable'> {
  // Where there is no such folder nobody can say, and all is taken to be well.
  if (!existsSync(`${SYS}/${name}`)) return { index: 0, on: true, cable: true };
  const flags = Number(read(`${SYS}/${name}/flags`) ?? '1');
  const carrier = read(`${SYS}/${name}/carrier`);
  const on = (flags & 1) === 1;
  return { index: Number(read(`${SYS}/${name}/ifindex`) ?? '0'), on, cable: !on || carrier?.trim() !== '0' };
}

function read(path: string): string | null {
  try {
    return readFileSync(path, 'utf8');
  } catch {
    return null;
  }
}

/** The table as `/proc/net/route` has it: hexadecimal, little-endian. Lines that are not sound are left out. */
export function parseRoutes(text: string): RouteLine[] {
  return text
    .split('\n')
    .slice(1)
    .flatMap((line) => {
      const [name, to, , flags, , , metric, mask] = line.trim().split(/\s+/);
      if (!name || !/^[0-9A-F]{8}$/i.test(to ?? '') || !/^[0-9A-F]{8}$/i.test(mask ?? '')) return [];
      if ((Number.parseInt(flags ?? '0', 16) & 1) === 0) return [];
      return [{ name, to: littleEndian(to!), mask: littleEndian(mask!), metric: Number(metric) || 0 }];
    });
}

const littleEndian = (hex: string): number => {
  const v = Number.parseInt(hex, 16);
  return ((v & 0xff) * 0x1000000 + ((v >>> 8) & 0xff) * 0x10000 + ((v >>> 16) & 0xff) * 0x100 + (v >>> 24)) >>> 0;
};
const numberOf = (ip: string): number => ip.split('.').reduce((sum, part) => sum * 256 + Number(part), 0) >>> 0;
const textOf = (ip: number): string => [24, 16, 8, 0].map((bits) => (ip >>> bits) & 255).join('.');
const isLoopback = (ip: string): boolean => ip.startsWith('127.');

/** Where packets go: an address, from which own one (null: the system chooses), and whether to a multicast group. */
export interface Way {
  readonly host: string;
  readonly interfaceAddress: string | null;
  readonly multicast: boolean;
}

/** The interface that packets leave by; `lo` for the machine itself; null where there is no way. */
export function linkFor({ links, routes }: Ways, way: Way): Link | 'lo' | null {
  if (isLoopback(way.host) || links.some((l) => l.address === way.host)) return 'lo';
  const own = way.interfaceAddress === null ? undefined : links.find((l) => l.address === way.interfaceAddress);
  if (way.interfaceAddress !== null && isLoopback(way.interfaceAddress)) return 'lo';
  // Multicast leaves by the interface it is told to; everything else as the routing table says.
  if (way.multicast && way.interfaceAddress !== null) return own ?? null;
  const to = numberOf(way.host);
  let best: RouteLine | null = null;
  for (const route of routes) {
    if ((to & route.mask) >>> 0 !== route.to) continue;
    if (!best || route.mask > best.mask || (route.mask === best.mask && route.metric < best.metric)) best = route;
  }
  if (!best) return null;
  return links.find((l) => l.name === best.name) ?? null;
}

/** Why packets do not leave this way, in words; null while they do, as far as the system knows. */
export function wayTrouble(ways: Ways, way: Way): string | null {
  const { interfaceAddress, host } = way;
  if (
    interfaceAddress !== null &&
    !isLoopback(interfaceAddress) &&
    !ways.links.some((l) => l.address === interfaceAddress)
  )
    return `packets do not leave: this machine has no network interface ${interfaceAddress} now`;
  const link = linkFor(ways, way);
  if (link === 'lo') return null;
  if (!link) return `packets do not leave: there is no way to ${host} from this machine`;
  if (!link.on) return `packets do not leave: ${link.name} is switched off`;
  return link.cable ? null : `packets do not leave: nothing is at the other end of ${link.name}; is the cable out?`;
}

/** Directed broadcast address of an interface: 192.168.1.20/255.255.255.0 gives 192.168.1.255. */
export function broadcastOf(address: string, netmask: string): string {
  const mask = netmask.split('.').map(Number);
  return address
    .split('.')
    .map((part, i) => (Number(part) | (~mask[i]! & 255)) & 255)
    .join('.');
}

/** Own address that a device is reached from, as the routing table says; null where there is no way. */
export function ownAddressFor(ways: Ways, host: string): string | null {
  const link = linkFor(ways, { host, interfaceAddress: null, multicast: false });
  if (link === 'lo') return isLoopback(host) ? host : (ways.links.find((l) => l.address === host)?.address ?? null);
  if (!link) return null;
  // An interface may have several addresses: the one on the device's own network.
  const own = ways.links.filter((l) => l.name === link.name);
  const near = own.find(
    (l) => (numberOf(l.address) & numberOf(l.netmask)) >>> 0 === (numberOf(host) & numberOf(l.netmask)) >>> 0,
  );
  return (near ?? own[0])?.address ?? null;
}

/** Changes whenever sockets have to be opened anew: an address, a card or a way is another. */
export const signatureOf = ({ links, routes }: Ways): string =>
  [
    ...links.map((l) => `${l.name}/${l.index}/${l.address}/${l.netmask}/${l.on ? 1 : 0}`),
    ...routes.map((r) => `${r.name}>${r.to}/${r.mask}`),
  ]
    .sort()
    .join(' ');
