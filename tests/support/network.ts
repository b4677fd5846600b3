import dgram from 'node:dgram';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { pino } from 'pino';
import { documentOf } from '../../src/core/document/change.ts';
import { make, type AnyRecord } from '../../src/core/records/index.ts';
import { seeded } from '../../src/core/random.ts';
import { Actor, initialLive, type LiveCommand } from '../../src/core/show/index.ts';
import { Network, type NetworkOptions } from '../../src/engine/network/network.ts';
import { makeClock } from '../../src/engine/clock.ts';
import type { StandinDevice } from '../../src/standins/device.ts';
import { StandinHost } from '../../src/standins/host.ts';
import { until } from './app.ts';

/** A simulated network of its own on loopback: stand-ins at `NET.n`, ours at `NET.1`, everybody at `NET.255`. */
export class TestNetwork {
  readonly net: string;
  readonly now = makeClock();
  readonly random = seeded(9);
  readonly commands: LiveCommand[] = [];
  readonly slots = new Map<number, Uint8Array>();
  #hosts: StandinHost[] = [];
  #network: Network | null = null;
  hostsChanged = 0;

  /** What desks ask for comes to these. */
  readonly #actor = new Actor({
    document: () => new Map(),
    live: () => initialLive(0),
    command: (command) => this.commands.push(command),
  });

  constructor(index: number) {
    this.net = `127.${210 + index}.${process.pid & 255}`;
  }

  at(last: number): string {
    return `${this.net}.${last}`;
  }

  async stand(...devices: StandinDevice[]): Promise<void> {
    const host = new StandinHost(devices, this.now);
    this.#hosts.push(host);
    await host.start(0, this.#hosts.length === 1 ? this.at(255) : null);
  }

  /** The engine's network part, on a show of these records. */
  start(records: readonly AnyRecord[] = [], over: Partial<NetworkOptions> & { serialPaths?: string[] } = {}): Network {
    const network = new Network({
      now: this.now,
      source: { cid: new Uint8Array(16).fill(3), name: 'Test engine' },
      simulated: { own: this.at(1), broadcast: this.at(255), serialPaths: over.serialPaths ?? [], devices: [] },
      hubKeys: {},
      saveHubKeys: async () => undefined,
      act: (desk, action, signal) => void this.#actor.act(action, signal, this.now(), desk),
      slotsOf: (universe) => this.slots.get(universe) ?? null,
      onHosts: () => this.hostsChanged++,
      onNetwork: () => undefined,
      log: pino({ enabled: false }),
      ...over,
    });
    this.#network = network;
    this.show(records);
    return network;
  }

  show(records: readonly AnyRecord[]): ReturnType<Network['setDocument']> {
    return this.#network!.setDocument(documentOf([make('show', { id: 'show:test', name: 'Test' }), ...records]));
  }

  end(): void {
    this.#network?.close();
    for (const host of this.#hosts) host.close();
  }
}

/** Waits until somebody of this machine listens at an address of IPv4, by the kernel's own word. */
export async function listening(address: string, port: number): Promise<void> {
  const bytes = address.split('.').map((part) => Number(part).toString(16).padStart(2, '0'));
  const wanted = `${bytes.reverse().join('')}:${port.toString(16).padStart(4, '0')}`.toUpperCase();
  await until(`${address}:${port} to be listened at`, () => readFileSync('/proc/net/udp', 'utf8').includes(wanted));
}

/** A socket that sends what it is told. */
export async function mouth(
  address: string,
): Promise<{ say(packet: Uint8Array, port: number, to: string): Promise<void>; close(): void }> {
  const socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
  socket.bind(0, address);
  await once(socket, 'listening');
  return {
    say: (packet, port, to) => new Promise((resolve) => socket.send(packet, port, to, () => resolve())),
    close: () => socket.close(),
  };
}
