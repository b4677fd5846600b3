import { networkInterfaces } from 'node:os';

const LOOPBACK = /^(localhost|127\.|::1$)/;

/**
 * Addresses of the web page for other devices, as the process was told to listen: its own where it has one, those of
 * all networks of this machine where it listens everywhere, none on loopback.
 */
export function reachable(
  host = process.env['AMBER_HOST'] ?? '127.0.0.1',
  port = process.env['AMBER_PORT'] ?? '',
  interfaces: ReturnType<typeof networkInterfaces> = networkInterfaces(),
): string[] {
  if (LOOPBACK.test(host)) return [];
  const page = (name: string): string => `http://${name.includes(':') ? `[${name}]` : name}:${port}`;
  if (host !== '0.0.0.0' && host !== '::') return [page(host)];
  return Object.values(interfaces)
    .flatMap((list) => list ?? [])
    .filter((i) => i.family === 'IPv4' && !i.internal)
    .map((i) => page(i.address));
}
