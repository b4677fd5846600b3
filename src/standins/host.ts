import dgram from 'node:dgram';
import http from 'node:http';
import { faultsFromZod } from '../core/faults.ts';
import { ARTNET_PORT } from '../core/protocol/artnet.ts';
import { standinOrderSchema, type StandinReport } from '../core/protocol/standin.ts';
import type { StandinDevice } from './device.ts';
import { Gateway } from './gateway.ts';

const MOST_BODY = 64 * 1024;

/** Runs stand-ins: a broadcast address that reaches all of them, and an HTTP face to look at them and give orders. */
export class StandinHost {
  readonly #devices: readonly StandinDevice[];
  readonly #broadcast = dgram.createSocket({ type: 'udp4', reuseAddr: true });
  readonly #now: () => number;
  readonly #server = http.createServer((request, response) => this.#serve(request, response));

  constructor(devices: readonly StandinDevice[], now: () => number) {
    this.#devices = devices;
    this.#now = now;
  }

  /** `broadcast`: loopback address that stands for "everybody"; null for none. Port 0 for no HTTP face. */
  async start(httpPort: number, broadcast: string | null): Promise<void> {
    for (const device of this.#devices) await device.start();
    if (broadcast) {
      const gateways = this.#devices.filter((d): d is Gateway => d instanceof Gateway && d.isArtNet);
      this.#broadcast.on('message', (packet, from) => gateways.forEach((gateway) => gateway.take(packet, from)));
      await new Promise<void>((resolve, reject) => {
        this.#broadcast.once('error', reject);
        this.#broadcast.bind(ARTNET_PORT, broadcast, () => resolve());
      });
    }
    if (httpPort > 0) await new Promise<void>((resolve) => this.#server.listen(httpPort, '127.0.0.1', () => resolve()));
  }

  report(): StandinReport {
    return { pid: process.pid, now: this.#now(), gateways: this.#devices.map((d) => d.report()) };
  }

  #serve(request: http.IncomingMessage, response: http.ServerResponse): void {
    const answer = (status: number, json: unknown): void => {
      response.writeHead(status, { 'content-type': 'application/json' });
      response.end(JSON.stringify(json));
    };
    const route = `${request.method} ${request.url}`;
    if (route === 'GET /report') return answer(200, this.report());
    if (route !== 'POST /order') return answer(404, { code: 'NOT_FOUND' });
    let body = '';
    request.on('data', (piece: Buffer) => {
      body += piece.toString('utf8');
      if (body.length > MOST_BODY) request.destroy();
    });
    request.on('end', () => answer(...this.#order(body)));
  }

  #order(body: string): [number, unknown] {
    let json: unknown;
    try {
      json = JSON.parse(body);
    } catch {
      return [400, { code: 'NOT_JSON' }];
    }
    const parsed = standinOrderSchema.safeParse(json);
    if (!parsed.success) return [400, faultsFromZod(parsed.error, json)[0]];
    const device = this.#devices.find((d) => d.id === parsed.data.id);
    if (!device) return [404, { code: 'NO_STANDIN' }];
    device.order(parsed.data);
    return [200, this.report()];
  }

  close(): void {
    for (const device of this.#devices) device.close();
    this.#broadcast.close();
    this.#server.close();
    this.#server.closeAllConnections();
  }
}
