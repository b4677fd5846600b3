import http from 'node:http';
import type { MappedString } from '../core/protocol/network.ts';
import type { Standin, StandinOrder } from '../core/protocol/standin.ts';
import type { StandinDevice } from './device.ts';
import { Gateway } from './gateway.ts';

export interface MappedStringOptions {
  readonly id: string;
  readonly name: string;
  readonly host: string;
  readonly port: number;
  readonly cells: number;
  readonly universe: number;
  readonly random: () => number;
}

/** A string wound up a small tree: cells on a spiral that narrows towards the top, as fractions of its size. */
export function spiralCells(count: number): [number, number, number][] {
  const TURNS = 6;
  return Array.from({ length: count }, (_, i) => {
    const up = count > 1 ? i / (count - 1) : 0;
    const radius = 0.5 * (1 - 0.85 * up);
    const angle = up * TURNS * 2 * Math.PI;
    const round = (value: number): number => Math.round(Math.min(1, Math.max(0, value)) * 10_000) / 10_000;
    return [round(0.5 + radius * Math.cos(angle)), round(0.5 + radius * Math.sin(angle)), round(up)];
  });
}

/** A simulated string that was mapped with a camera: tells where its cells are, and takes sACN. */
export class MappedStringDevice implements StandinDevice {
  readonly #options: MappedStringOptions;
  readonly #server: http.Server;
  readonly #gateway: Gateway;
  #vanished = false;
  #rubbish = 0;

  constructor(options: MappedStringOptions, now: () => number) {
    this.#options = options;
    this.#gateway = new Gateway(
      {
        id: options.id,
        kind: 'pixels',
        name: options.name,
        address: options.host,
        wireUniverses: [options.universe],
        random: options.random,
      },
      now,
    );
    this.#server = http.createServer((request, response) => {
      if (this.#vanished) return void request.socket.destroy();
      const json = this.#answer(`${request.method} ${request.url}`);
      const rubbish = options.random() * 100 < this.#rubbish;
      response.writeHead(json ? 200 : 404, { 'content-type': 'application/json' });
      response.end(rubbish ? '{"cells":[[2,"x"]]}' : JSON.stringify(json ?? { code: 'NOT_FOUND' }));
    });
  }

  get id(): string {
    return this.#options.id;
  }

  #answer(route: string): unknown {
    const { name, cells, universe } = this.#options;
    if (route === 'GET /hello') return { kind: 'mapped-string', name, count: cells };
    if (route !== 'GET /cells') return null;
    return {
      name,
      cells: spiralCells(cells),
      sizeM: [0.9, 0.9, 1.6],
      strings: [{ first: 0, count: cells, universe, address: 1 }],
    } satisfies MappedString;
  }

  async start(): Promise<void> {
    await this.#gateway.start();
    await new Promise<void>((resolve, reject) => {
      this.#server.once('error', reject);
      this.#server.listen(this.#options.port, this.#options.host, () => resolve());
    });
  }

  order(order: StandinOrder): void {
    this.#gateway.order(order);
    if (!order.misbehave) return;
    this.#vanished = order.misbehave.vanished;
    this.#rubbish = order.misbehave.rubbishPercent;
  }

  report(): Standin {
    const { host, port } = this.#options;
    return { ...this.#gateway.report(), kind: 'string', address: `${host}:${port}` };
  }

  close(): void {
    this.#gateway.close();
    this.#server.close();
    this.#server.closeAllConnections();
  }
}
