import type { OutputHealth } from '../../protocol/link.ts';
import type { OutputRecord, RouteRecord } from '../../records/index.ts';
import { link, wireWords, type LinkState, type PathInput, type PathLink } from './path-link.ts';
import { advise } from './remedies.ts';

/** A device of an output and the port of it that puts the universe out. */
export interface PathDevice {
  readonly device: PathLink;
  readonly port: PathLink;
}

const ago = (now: number, at: number | null): string => {
  if (at === null) return 'never seen';
  const s = (now - at) / 1000;
  return s < 3 ? 'seen now' : s < 120 ? `seen ${Math.round(s)} s ago` : `seen ${Math.round(s / 60)} min ago`;
};

/** The devices an output sends a universe to, with what is known of them. */
export function devicesOf(
  input: PathInput,
  key: string,
  output: OutputRecord,
  route: RouteRecord,
  health: OutputHealth | undefined,
): PathDevice[] {
  if (output.protocol === 'serial') {
    const works = health !== undefined && health.lastError === null && health.packetsPerSecond > 0;
    const device = link(`${key} device`, 'USB interface', health?.says ?? '', works ? 'live' : 'dead', []);
    return [{ device, port: link(`${key} port`, `port ${route.wireUniverse}`, '', works ? 'live' : 'dead', []) }];
  }
  if (output.multicast || (output.protocol === 'artnet' && output.delivery === 'broadcast')) {
    const device = link(`${key} device`, 'whoever listens', 'nobody answers to multicast or broadcast', 'unproved', [
      advise('NO_PROOF'),
    ]);
    return [{ device, port: link(`${key} port`, wireWords(output, route), '', 'unproved', []) }];
  }
  const ips =
    output.protocol === 'artnet' && output.delivery === 'found'
      ? (health?.gateways ?? []).map((g) => g.ip)
      : output.destinations;
  return ips.map((ip) => deviceAt(input, key, output, route, ip));
}

function deviceAt(input: PathInput, key: string, output: OutputRecord, route: RouteRecord, ip: string): PathDevice {
  const { network, standins, now } = input;
  const standin = standins?.gateways.find((g) => g.address === ip);
  const nodes = network.nodes.filter((n) => n.ip === ip);
  const own = standin?.ports.find((p) => p.wireUniverse === route.wireUniverse);
  const received = own ? `${own.packetsPerSecond}/s, lost ${own.lost}` : '';
  const portKey = `${key} port ${ip}`;
  const deviceKey = `${key} device ${ip}`;
  const portTitle = own ? `port ${own.port}` : wireWords(output, route);
  if (output.protocol === 'sacn') {
    // sACN devices don't answer; only a stand-in says what it gets.
    const arrives = own !== undefined && own.packetsPerSecond > 0;
    const state: LinkState = !standin ? 'unproved' : arrives ? 'live' : 'dead';
    const name = standin?.name ?? ip;
    const advice = standin
      ? own === undefined
        ? [advise('NO_SUCH_PORT', `${ip} has universes ${rangeWords(standin.ports.map((p) => p.wireUniverse))}`)]
        : arrives
          ? []
          : [advise('NOT_ARRIVING')]
      : [advise('NO_PROOF')];
    return {
      device: link(deviceKey, name, `${ip}${own ? `, ${ago(now, own.lastSeenMs)}` : ''}`, state, advice),
      port: link(portKey, portTitle, received, state, own && own.sources > 1 ? [advise('MERGING')] : []),
    };
  }
  const node = nodes[0];
  if (!node)
    return {
      device: link(deviceKey, ip, 'has not answered the poll yet', 'dead', [advise('SILENT', ip)]),
      port: link(portKey, portTitle, '', 'dead', []),
    };
  const lost = nodes.every((n) => n.state === 'lost');
  const seen = lost ? ago(now, Math.max(...nodes.map((n) => n.lastSeenMs))) : 'answers';
  const ports = nodes.flatMap((n) => n.outputs);
  const port = ports.find((p) => p.portAddress === route.wireUniverse);
  const deviceState: LinkState = lost ? 'dead' : port ? 'live' : 'doubt';
  const portState: LinkState = lost
    ? 'dead'
    : !port
      ? 'dead'
      : port.merging
        ? 'doubt'
        : port.transmitting
          ? 'live'
          : 'idle';
  const wrong = `${node.name} has port-addresses ${rangeWords(ports.map((p) => p.portAddress))}, this goes to ${route.wireUniverse}`;
  return {
    device: link(deviceKey, node.name || ip, `${ip}, ${seen}`, deviceState, [
      ...(lost ? [advise('LOST', ip)] : []),
      ...(!lost && !port ? [advise('NO_SUCH_PORT', wrong)] : []),
    ]),
    port: link(portKey, portTitle, received, portState, port?.merging ? [advise('MERGING')] : []),
  };
}

/** 0, 1, 2, 3, 7 as `0-3, 7`. */
export function rangeWords(values: readonly number[]): string {
  const sorted = [...new Set(values)].sort((a, b) => a - b);
  const ranges: [number, number][] = [];
  for (const value of sorted) {
    const last = ranges.at(-1);
    if (last && value === last[1] + 1) last[1] = value;
    else ranges.push([value, value]);
  }
  return ranges.map(([a, b]) => (a === b ? String(a) : `${a}-${b}`)).join(', ');
}
