import { getRecord, recordsOf, type Document } from '../../document/change.ts';
import type { Id, LineId, OutputId, RouteId, UnitId } from '../../ids.ts';
import { patchOf } from '../../patch/of-document.ts';
import type { OutputHealth } from '../../protocol/link.ts';
import type { OutputRecord, RouteRecord } from '../../records/index.ts';
import { isPacketProtocol } from '../../records/output.ts';
import { recordIdOf } from '../../show/index.ts';
import { lineFaults } from '../cables/faults.ts';
import { devicesOf, type PathDevice } from './path-devices.ts';
import { link, wireWords, type LinkState, type PathInput, type PathLink } from './path-link.ts';
import { advise, type Advice } from './remedies.ts';

/** Where a universe goes: one output, the device behind it, and the lines that hang there. */
export interface PathLeg {
  /** Unique in the universe. */
  readonly key: string;
  /** Null for a hub, which shows units and carries no universe. */
  readonly routeId: RouteId | null;
  readonly outputId: OutputId;
  readonly output: PathLink;
  readonly network: PathLink;
  readonly devices: readonly PathDevice[];
  readonly lines: readonly { readonly lineId: LineId; readonly link: PathLink; readonly unitIds: readonly UnitId[] }[];
}

export interface PathUniverse {
  readonly universe: number;
  readonly link: PathLink;
  readonly unitIds: readonly UnitId[];
  readonly legs: readonly PathLeg[];
}

export interface SignalPath {
  readonly playing: PathLink;
  readonly engine: PathLink;
  readonly universes: readonly PathUniverse[];
}

/** The worst of several states, in the order of what a person has to look at first. */
const RANK: readonly LinkState[] = ['dead', 'doubt', 'unproved', 'live', 'idle', 'off'];
export const worstOf = (states: readonly LinkState[]): LinkState =>
  RANK.find((state) => states.includes(state)) ?? 'idle';

/** From what plays to the units, with the state of every link. Linear in units, routes and lines. */
export function signalPath(input: PathInput): SignalPath {
  const { document } = input;
  const byUniverse = new Map<number, UnitId[]>();
  for (const unit of patchOf(document).units)
    for (const { universe } of unit.spans) {
      const list = byUniverse.get(universe) ?? [];
      if (list.at(-1) !== unit.id) list.push(unit.id);
      byUniverse.set(universe, list);
    }
  for (const route of recordsOf(document, 'route'))
    if (!byUniverse.has(route.universe)) byUniverse.set(route.universe, []);
  const universes = [...byUniverse]
    .sort((a, b) => a[0] - b[0])
    .map(([universe, unitIds]) => pathUniverse(input, universe, unitIds));
  return { playing: playingLink(input), engine: engineLink(input), universes };
}

function playingLink({ live, document }: PathInput): PathLink {
  if (!live) return link('playing', 'Nothing is open', '', 'idle', []);
  const names = live.playing
    .filter((p) => p.releasedAt === null)
    .map((p) => {
      const record = document.get((recordIdOf(p.target) ?? '') as Id);
      return record && 'name' in record ? record.name : (p.target ?? '');
    });
  const hand = Object.keys(live.hand).length;
  const raw = Object.keys(live.raw).length;
  const parts = [
    ...(hand > 0 ? [`${hand} by hand`] : []),
    ...(raw > 0 ? [`${raw} raw slots`] : []),
    ...(live.test ? ['a test signal'] : []),
  ];
  const title =
    names.length === 0 ? (parts.length > 0 ? parts.join(', ') : 'Nothing plays') : names.slice(0, 3).join(', ');
  const more = names.length > 3 ? `and ${names.length - 3} more` : '';
  const master = live.dark.on
    ? 'Dark is on'
    : live.grand < 1
      ? `grand master at ${Math.round(live.grand * 100)} %`
      : '';
  const detail = [more, names.length > 0 ? parts.join(', ') : '', master].filter(Boolean).join(', ');
  const dark = live.dark.on || live.grand === 0;
  const nothing = names.length === 0 && parts.length === 0;
  return link('playing', title, detail, dark ? 'doubt' : nothing ? 'idle' : 'live', [
    ...(dark ? [advise('MASTER')] : []),
    ...(nothing ? [advise('NOTHING_PLAYS')] : []),
  ]);
}

function engineLink({ engine }: PathInput): PathLink {
  if (!engine) return link('engine', 'Engine', 'does not answer; it restarts by itself', 'dead', [advise('ENGINE')]);
  const slow = engine.frameRateMeasured > 0 && engine.frameRateMeasured < engine.frameRateAsked * 0.9;
  const rate = `${engine.frameRateMeasured.toFixed(0)} of ${engine.frameRateAsked} frames/s, p99 ${engine.latenessP99Ms.toFixed(1)} ms late`;
  const failed = engine.showFaults.length > 0;
  return link('engine', 'Engine', rate, failed || slow ? 'doubt' : 'live', [
    ...(failed ? [advise('SHOW_FAULTS')] : []),
    ...(slow ? [advise('SLOW')] : []),
  ]);
}

function pathUniverse(input: PathInput, universe: number, unitIds: readonly UnitId[]): PathUniverse {
  const { document } = input;
  const legs = recordsOf(document, 'route')
    .filter((r) => r.universe === universe)
    .flatMap((route) => {
      const output = getRecord(document, 'output', route.outputId);
      return output ? [pathLeg(input, route, output, unitIds)] : [];
    });
  const here = new Set(unitIds);
  for (const output of recordsOf(document, 'output'))
    if (output.protocol === 'hub' && output.lamps.some((l) => l.unitId && here.has(l.unitId)))
      legs.push(hubLeg(input, output, universe));
  const nowhere = legs.length === 0;
  // Two outputs may carry the universe under one number: the same source is told once.
  const others = [...new Map(legs.flatMap((leg) => othersOn(input, leg)).map((o) => [o.words, o])).values()];
  const detail = `${unitIds.length} ${unitIds.length === 1 ? 'unit' : 'units'}${nowhere ? ', goes nowhere' : ''}${others.length > 0 ? `; also sent by ${others.map((o) => o.words).join(', ')}` : ''}`;
  const state: LinkState = nowhere
    ? 'dead'
    : others.some((o) => o.beatsUs)
      ? 'doubt'
      : legs.length > 0
        ? worstLeg(legs)
        : 'live';
  return {
    universe,
    unitIds,
    legs,
    link: link(`universe ${universe}`, `Universe ${universe}`, detail, state, [
      ...(nowhere ? [advise('NO_ROUTE')] : []),
      ...others.map((o) => advise(o.beatsUs ? 'OTHER_WINS' : 'OTHER_SOURCE', o.words)),
    ]),
  };
}

const worstLeg = (legs: readonly PathLeg[]): LinkState => (legs.some((l) => l.output.state !== 'off') ? 'live' : 'off');

/** Other sources on the same universe of the wire, and whether they win over us. */
function othersOn(input: PathInput, leg: PathLeg): { words: string; beatsUs: boolean }[] {
  const route = leg.routeId && getRecord(input.document, 'route', leg.routeId);
  if (!route) return [];
  const output = getRecord(input.document, 'output', leg.outputId)!;
  if (!output.enabled || !isPacketProtocol(output.protocol)) return [];
  return input.network.sources
    .filter((s) => s.state === 'found' && s.protocol === output.protocol && s.universes.includes(route.wireUniverse))
    .map((s) => {
      const wins = s.priority !== null && s.priority >= output.priority;
      const verdict =
        s.priority === null
          ? 'the device merges or drops one'
          : s.priority > output.priority
            ? `wins: its priority is ${s.priority}, ours ${output.priority}`
            : s.priority === output.priority
              ? `same priority ${s.priority}: the higher level of each slot wins`
              : `priority ${s.priority}, ours ${output.priority} wins`;
      return { words: `${s.name || s.ip} at ${s.ip} (${verdict})`, beatsUs: s.priority === null || wins };
    });
}

function pathLeg(input: PathInput, route: RouteRecord, output: OutputRecord, unitIds: readonly UnitId[]): PathLeg {
  const health = input.engine?.outputs.find((o) => o.id === output.id);
  const key = `${route.id}`;
  const off = !output.enabled || !route.enabled;
  const sending = (health?.packetsPerSecond ?? 0) > 0;
  const devices = off ? [] : devicesOf(input, key, output, route, health);
  const outputAdvice = off ? [advise('OFF')] : outputTroubles(input, output, health);
  return {
    key,
    routeId: route.id,
    outputId: output.id,
    output: link(
      `${key} output`,
      output.name,
      off
        ? 'switched off'
        : `${health?.packetsPerSecond ?? 0} packets/s${health && health.errors > 0 ? `, ${health.errors} errors` : ''}`,
      off ? 'off' : outputAdvice.length > 0 ? 'dead' : sending ? 'live' : 'idle',
      outputAdvice,
    ),
    network: networkLink(input, key, output, route, off),
    devices,
    lines: linesOf(input.document, output, route, unitIds),
  };
}

/** A hub of smart lamps: what its lamps show, whatever their universe. */
function hubLeg(input: PathInput, output: OutputRecord, universe: number): PathLeg {
  const health = input.engine?.outputs.find((o) => o.id === output.id);
  const key = `${output.id} ${universe}`;
  const off = !output.enabled;
  const advice = off ? [advise('OFF')] : outputTroubles(input, output, health);
  const state: LinkState = off ? 'off' : advice.length > 0 ? 'dead' : 'live';
  const mapped = output.lamps.filter((l) => l.unitId).length;
  const rate = `${health?.packetsPerSecond ?? 0} colours/s`;
  return {
    key,
    routeId: null,
    outputId: output.id,
    output: link(`${key} output`, output.name, off ? 'switched off' : rate, state, advice),
    network: link(`${key} network`, 'home network', output.hubAddress ?? '', state, []),
    devices: [
      {
        device: link(`${key} device`, 'Hub', output.hubAddress ?? '', state, []),
        port: link(`${key} port`, `${mapped} lamps`, 'at most 25 colours/s in all', state, []),
      },
    ],
    lines: [],
  };
}

function outputTroubles(input: PathInput, output: OutputRecord, health: OutputHealth | undefined): Advice[] {
  const troubles: Advice[] = [];
  const nowhere =
    isPacketProtocol(output.protocol) &&
    !output.multicast &&
    output.delivery === 'listed' &&
    output.destinations.length === 0;
  if (nowhere) troubles.push(advise('NO_ADDRESS'));
  if (health?.lastError) {
    const answers = (health.gateways ?? []).some((g) => g.state === 'found');
    if (!answers) troubles.push(advise(errorAdvice(output), health.lastError));
  }
  const { interfaceAddress } = output;
  const { interfaces } = input.network;
  if (interfaceAddress && interfaces.length > 0 && !isOwn(input, interfaceAddress))
    troubles.push(advise('NO_INTERFACE', interfaceAddress));
  return troubles;
}

const errorAdvice = (output: OutputRecord): Parameters<typeof advise>[0] =>
  output.protocol === 'serial' ? 'SERIAL' : output.protocol === 'hub' ? 'HUB' : 'SEND_ERROR';

const isOwn = (input: PathInput, address: string): boolean =>
  address.startsWith('127.') || input.network.interfaces.some((i) => i.address === address);

function networkLink(input: PathInput, key: string, output: OutputRecord, route: RouteRecord, off: boolean): PathLink {
  const from = output.interfaceAddress ? `, from ${output.interfaceAddress}` : '';
  const words = wireWords(output, route);
  const broadcast = output.protocol === 'artnet' && output.delivery === 'broadcast';
  const title =
    output.protocol === 'serial' ? 'USB' : output.multicast ? 'multicast' : broadcast ? 'broadcast' : 'unicast';
  const detail = output.protocol === 'serial' ? output.serialPath : `${words}${from}`;
  if (off) return link(`${key} network`, title, detail, 'off', []);
  const strangers = isPacketProtocol(output.protocol) && !output.multicast ? offNetwork(input, output) : [];
  return link(
    `${key} network`,
    title,
    detail,
    strangers.length > 0 ? 'doubt' : 'live',
    strangers.map((s) => advise('SUBNET', s)),
  );
}

/** Destinations that no own interface shares a network with. */
function offNetwork({ network }: PathInput, output: OutputRecord): string[] {
  const own = network.interfaces.filter((i) => !i.internal);
  return output.destinations.filter(
    (ip) => !ip.startsWith('127.') && own.length > 0 && !own.some((i) => sameNetwork(ip, i.address, i.netmask)),
  );
}

export function sameNetwork(a: string, b: string, netmask: string): boolean {
  const [x, y, mask] = [a, b, netmask].map((text) => text.split('.').map(Number)) as [number[], number[], number[]];
  return mask.every((m, i) => (x[i]! & m) === (y[i]! & m));
}

function linesOf(
  document: Document,
  output: OutputRecord,
  route: RouteRecord,
  unitIds: readonly UnitId[],
): PathLeg['lines'] {
  const here = new Set(unitIds);
  const faults = lineFaults(document);
  return recordsOf(document, 'line')
    .filter((line) => line.outputId === output.id && line.unitIds.some((id) => here.has(id)))
    .sort((a, b) => a.number - b.number)
    .map((line) => {
      const own = faults.filter((f) => f.lineId === line.id);
      const units = line.unitIds.filter((id) => here.has(id));
      const off = !output.enabled || !route.enabled;
      const state: LinkState = off ? 'off' : own.some((f) => f.severe) ? 'dead' : own.length > 0 ? 'doubt' : 'live';
      return {
        lineId: line.id,
        unitIds: units,
        link: link(
          `${route.id} ${line.id}`,
          line.name,
          `${units.length} ${units.length === 1 ? 'unit' : 'units'}${line.port === '' ? '' : `, port ${line.port}`}`,
          state,
          own.map((f) => ({ title: f.message, words: f.remedy })),
        ),
      };
    });
}
