import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import type { EngineHealth, OutputHealth } from '../../protocol/link.ts';
import { EMPTY_NETWORK, type FoundNode, type FoundSource, type NetworkState } from '../../protocol/network.ts';
import { make, type AnyRecord } from '../../records/index.ts';
import { initialLive, newPlay, type LiveState } from '../../show/index.ts';
import { engine as engineOf, output } from '../../../../tests/support/health.ts';
import { scene, showWith, units } from '../../../../tests/support/rig.ts';
import { rangeWords, signalPath, type PathLink } from '../index.ts';
import { sameNetwork, worstOf } from './path.ts';

const health = (over: Partial<OutputHealth> = {}): OutputHealth =>
  output({ id: 'output:o', name: 'Gate', universes: 1, packetsPerSecond: 40, ...over });
const engine = (of: OutputHealth, over: Partial<EngineHealth> = {}): EngineHealth =>
  engineOf({ showId: 'show:test', universes: 1, realtime: false, outputs: [of], ...over });
const node = (over: Partial<FoundNode> = {}): FoundNode => ({
  ip: '192.168.1.20',
  bindIndex: 1,
  name: 'Node',
  longName: 'Node',
  firmware: 1,
  mac: '',
  rdm: false,
  report: '',
  inputs: [],
  outputs: [0, 1, 2, 3].map((portAddress) => ({ portAddress, transmitting: true, merging: false })),
  state: 'found',
  lastSeenMs: 9_000,
  ...over,
});
const source = (over: Partial<FoundSource> = {}): FoundSource => ({
  protocol: 'sacn',
  id: 'c0',
  name: 'Guest',
  ip: '192.168.1.50',
  priority: 120,
  universes: [1],
  packetsPerSecond: 40,
  lost: 0,
  state: 'found',
  lastSeenMs: 9_000,
  ...over,
});
const own = [{ name: 'eth0', address: '192.168.1.5', netmask: '255.255.255.0', internal: false }];

function look(given: {
  output?: Partial<Parameters<typeof make<'output'>>[1]>;
  wire?: number;
  route?: boolean;
  network?: Partial<NetworkState>;
  health?: Partial<OutputHealth>;
  engine?: Partial<EngineHealth> | null;
  live?: Partial<LiveState>;
  more?: AnyRecord[];
}) {
  const output = make('output', {
    id: 'output:o',
    name: 'Gate',
    protocol: 'artnet',
    destinations: ['192.168.1.20'],
    ...given.output,
  });
  const route = make('route', { id: 'route:r', universe: 1, outputId: 'output:o', wireUniverse: given.wire ?? 0 });
  const document = showWith(
    ...units({ slug: 'a', profile: 'generic-dimmer', mode: '1ch', address: 1 }),
    scene('s', { a: { Dimmer: 1 } }),
    output,
    ...(given.route === false ? [] : [route]),
    ...(given.more ?? []),
  );
  const path = signalPath({
    document,
    live: { ...initialLive(0), ...given.live },
    engine: given.engine === null ? null : engine(health(given.health), given.engine),
    network: { ...EMPTY_NETWORK, now: 10_000, interfaces: own, nodes: [node()], ...given.network },
    standins: null,
    now: 10_000,
  });
  const leg = path.universes[0]!.legs[0];
  return { path, universe: path.universes[0]!.link, leg, device: leg?.devices[0]?.device, port: leg?.devices[0]?.port };
}
const titles = (link: PathLink | undefined): string => (link?.advice ?? []).map((a) => a.title).join(' | ');

describe('the signal path', () => {
  test('lives from end to end when the device answers and has the port', () => {
    const { universe, leg, device, port } = look({});
    assert.deepEqual(
      [universe, leg!.output, leg!.network, device!, port!].map((l) => l.state),
      ['live', 'live', 'live', 'live', 'live'],
    );
    assert.match(device!.detail, /192\.168\.1\.20, answers/);
  });
  test('a universe without a way is dead and says where to go', () => {
    const { universe } = look({ route: false });
    assert.equal(universe.state, 'dead');
    assert.match(titles(universe), /goes nowhere/);
  });
  test('an output that is off, has no address, or reports an error', () => {
    assert.equal(look({ output: { enabled: false } }).leg!.output.state, 'off');
    const empty = look({ output: { destinations: [] } }).leg!.output;
    assert.deepEqual([empty.state, /no address/.test(titles(empty))], ['dead', true]);
    const failed = look({ health: { lastError: 'nobody listens at 192.168.1.20:6454', errors: 9 } }).leg!.output;
    assert.match(titles(failed), /nobody listens/);
  });
  test('numbers from 0: a device that lacks the port-address says which it has', () => {
    const { device, port } = look({ wire: 4 });
    assert.deepEqual([device!.state, port!.state], ['doubt', 'dead']);
    assert.match(titles(device), /port-addresses 0-3, this goes to 4/);
  });
  test('a device that never answered, one that is lost, one that merges', () => {
    assert.match(titles(look({ network: { nodes: [] } }).device), /never answered/);
    const lost = look({ network: { nodes: [node({ state: 'lost', lastSeenMs: -50_000 })] } }).device!;
    assert.deepEqual([lost.state, /60 s ago/.test(lost.detail)], ['dead', true]);
    const merging = node({ outputs: [{ portAddress: 0, transmitting: true, merging: true }] });
    assert.match(titles(look({ network: { nodes: [merging] } }).port), /Two sources/);
  });
  test('a wrong subnet is told with the address', () => {
    const { leg } = look({ output: { destinations: ['192.168.2.20'] } });
    assert.deepEqual(
      [leg!.network.state, titles(leg!.network)],
      ['doubt', 'The device is on another network: 192.168.2.20'],
    );
  });
  test('an interface that is gone', () => {
    assert.match(titles(look({ output: { interfaceAddress: '192.168.9.9' } }).leg!.output), /192\.168\.9\.9/);
  });
  test('another source: a higher priority wins, the same merges, a lower waits', () => {
    const sacn = { protocol: 'sacn' as const, priority: 100 };
    const with_ = (priority: number) =>
      look({ output: sacn, wire: 1, network: { sources: [source({ priority })] } }).universe;
    assert.deepEqual(
      [with_(120).state, /wins: its priority is 120, ours 100/.test(titles(with_(120)))],
      ['doubt', true],
    );
    assert.deepEqual([with_(100).state, /same priority 100/.test(titles(with_(100)))], ['doubt', true]);
    assert.deepEqual([with_(90).state, /priority 90, ours 100 wins/.test(titles(with_(90)))], ['live', true]);
    const elsewhere = look({ output: sacn, wire: 1, network: { sources: [source({ universes: [9] })] } });
    assert.equal(elsewhere.universe.advice.length, 0);
  });
  test('sACN to a real device proves nothing, and says so', () => {
    const { device } = look({ output: { protocol: 'sacn' }, wire: 1 });
    assert.deepEqual([device!.state, /Nobody can tell/.test(titles(device))], ['unproved', true]);
    const multicast = look({ output: { protocol: 'sacn', multicast: true }, wire: 1 });
    assert.equal(multicast.device!.state, 'unproved');
  });
  test('a line with a broken cable is dead in the picture', () => {
    const line = make('line', {
      id: 'line:l',
      number: 1,
      name: 'Run',
      outputId: 'output:o',
      connector: 'rj45',
      cables: { 'unit:a': { connector: 'rj45-45' } } as never,
      unitIds: ['unit:a'],
    });
    const { leg } = look({ more: [line] });
    assert.equal(leg!.lines[0]!.link.state, 'dead');
    assert.match(titles(leg!.lines[0]!.link), /pins/);
  });
  test('what plays: nothing, a scene, by hand, and in the dark', () => {
    const play = newPlay({ id: 'p', target: 'scene:s', startedAt: 0 });
    assert.equal(look({}).path.playing.state, 'idle');
    assert.deepEqual(
      [look({ live: { playing: [play] } }).path.playing.title, look({ live: { playing: [play] } }).path.playing.state],
      ['s', 'live'],
    );
    assert.equal(look({ live: { raw: { '1.1': 5 } } }).path.playing.title, '1 raw slots');
    const dark = look({ live: { playing: [play], dark: { on: true, at: 0, from: 1 } } }).path.playing;
    assert.deepEqual([dark.state, titles(dark)], ['doubt', 'The masters are down']);
  });
  test('an engine that is away or does not keep up', () => {
    assert.equal(look({ engine: null }).path.engine.state, 'dead');
    assert.match(titles(look({ engine: { frameRateMeasured: 20 } }).path.engine), /does not keep up/);
  });
});

test('networks, ranges and the worst of states', () => {
  assert.equal(sameNetwork('10.1.2.3', '10.1.9.9', '255.255.0.0'), true);
  assert.equal(sameNetwork('10.1.2.3', '10.2.2.3', '255.255.0.0'), false);
  assert.equal(rangeWords([3, 0, 1, 2, 7, 7]), '0-3, 7');
  assert.equal(worstOf(['live', 'doubt', 'off']), 'doubt');
});

test('a source that meets two outputs under one number is told once', () => {
  const second = make('output', { id: 'output:p', name: 'Two', protocol: 'sacn', multicast: true });
  const route = make('route', { id: 'route:p', universe: 1, outputId: 'output:p', wireUniverse: 1 });
  const { universe } = look({
    output: { protocol: 'sacn', destinations: ['192.168.1.20'] },
    wire: 1,
    network: { sources: [source()] },
    more: [second, route],
  });
  assert.equal(universe.advice.length, 1);
});

test('a hub shows units of a universe that no route carries: it has a leg of its own', () => {
  const lamps = [{ lampId: '1', name: 'Door', unitId: 'unit:a' as const }];
  const hub = make('output', { id: 'output:h', name: 'Hut', protocol: 'hub', hubAddress: '10.0.0.9:80', lamps });
  const { universe, leg } = look({ route: false, more: [hub] });
  assert.equal(universe.state, 'live');
  assert.deepEqual([leg!.output.title, leg!.routeId, leg!.devices[0]!.port.title], ['Hut', null, '1 lamps']);
  assert.equal(look({ route: false, more: [{ ...hub, enabled: false }] }).leg!.output.state, 'off');
});
