import { randomBytes } from 'node:crypto';
import http from 'node:http';
import { z } from 'zod';
import { WELL_BEHAVED, type Misbehaviour, type Standin, type StandinOrder } from '../core/protocol/standin.ts';
import { HUB_UPDATES_A_SECOND } from '../core/protocol/lamp-pacer.ts';
import { blankReport, type StandinDevice } from './device.ts';

export interface LampHubOptions {
  readonly id: string;
  readonly name: string;
  readonly host: string;
  readonly port: number;
  readonly lamps: readonly string[];
  readonly random: () => number;
}

const BUTTON_MS = 30_000;
/** A little more than what it says it takes: a hub is patient for a moment. */
const MOST_A_SECOND = HUB_UPDATES_A_SECOND + 10;
const MOST_BODY = 4096;
const fraction = z.number().min(0).max(1);
const colourSchema = z.object({
  red: fraction,
  green: fraction,
  blue: fraction,
  transitionMs: z.number().min(0).max(60_000),
});

/** A simulated hub of smart lamps with a virtual button. It forgets its keys when it starts again, as after a reset. */
export class LampHub implements StandinDevice {
  readonly #options: LampHubOptions;
  readonly #now: () => number;
  readonly #server: http.Server;
  readonly #keys = new Set<string>();
  readonly #lamps: { id: string; name: string; colour: string; updates: number }[];
  #misbehaviour: Misbehaviour = WELL_BEHAVED;
  #buttonUntil = -Infinity;
  #arrivals: number[] = [];
  #refused = 0;

  constructor(options: LampHubOptions, now: () => number) {
    this.#options = options;
    this.#now = now;
    this.#lamps = options.lamps.map((name, i) => ({ id: String(i + 1), name, colour: '#000000', updates: 0 }));
    this.#server = http.createServer((request, response) => this.#serve(request, response));
  }

  get id(): string {
    return this.#options.id;
  }

  start(): Promise<void> {
    return new Promise((resolve, reject) => {
      this.#server.once('error', reject);
      this.#server.listen(this.#options.port, this.#options.host, () => resolve());
    });
  }

  order({ misbehave, press }: StandinOrder): void {
    if (misbehave) this.#misbehaviour = misbehave;
    if (press) this.#buttonUntil = this.#now() + BUTTON_MS;
  }

  #serve(request: http.IncomingMessage, response: http.ServerResponse): void {
    const { vanished, lossPercent, rubbishPercent, delayMs, jitterMs } = this.#misbehaviour;
    const random = this.#options.random;
    if (vanished || random() * 100 < lossPercent) return void request.socket.destroy();
    const answer = (status: number, json: unknown): void => {
      const text = random() * 100 < rubbishPercent ? '<html>busy</html>' : JSON.stringify(json);
      setTimeout(
        () => {
          response.writeHead(status, { 'content-type': 'application/json' });
          response.end(text);
        },
        delayMs + jitterMs * random(),
      );
    };
    const pieces: Buffer[] = [];
    let size = 0;
    request.on('data', (piece: Buffer) => {
      size += piece.length;
      if (size > MOST_BODY) request.destroy();
      else pieces.push(piece);
    });
    request.on('end', () => {
      const [status, json] = this.#answer(request, Buffer.concat(pieces).toString('utf8'));
      if (status >= 400) this.#refused++;
      answer(status, json);
    });
  }

  #answer(request: http.IncomingMessage, body: string): [status: number, json: unknown] {
    const route = `${request.method} ${request.url}`;
    if (route === 'GET /hello') return [200, { kind: 'lamp-hub', name: this.#options.name, count: this.#lamps.length }];
    if (route === 'POST /pair') return this.#pair();
    if (!this.#keys.has(String(request.headers['x-hub-key']))) return [403, { code: 'NOT_PAIRED' }];
    if (route === 'GET /lamps')
      return [200, { lamps: this.#lamps.map(({ id, name }) => ({ id, name, colour: true })) }];
    const lamp = /^PUT \/lamps\/(\w+)$/.exec(route);
    return lamp ? this.#set(lamp[1]!, body) : [404, { code: 'NOT_FOUND' }];
  }

  #pair(): [number, unknown] {
    if (this.#now() > this.#buttonUntil) return [403, { code: 'PRESS_BUTTON' }];
    this.#buttonUntil = -Infinity;
    const key = randomBytes(16).toString('hex');
    this.#keys.add(key);
    return [200, { key }];
  }

  #set(id: string, body: string): [number, unknown] {
    const now = this.#now();
    this.#arrivals = this.#arrivals.filter((at) => at > now - 1000);
    if (this.#arrivals.length >= MOST_A_SECOND) return [429, { code: 'TOO_OFTEN' }];
    const lamp = this.#lamps.find((l) => l.id === id);
    if (!lamp) return [404, { code: 'NO_LAMP' }];
    const parsed = colourSchema.safeParse(jsonOf(body));
    if (!parsed.success) return [400, { code: 'BAD_COLOUR' }];
    this.#arrivals.push(now);
    const part = (value: number): string =>
      Math.round(value * 255)
        .toString(16)
        .padStart(2, '0');
    lamp.colour = `#${part(parsed.data.red)}${part(parsed.data.green)}${part(parsed.data.blue)}`;
    lamp.updates++;
    return [200, {}];
  }

  report(): Standin {
    const { id, name, host, port } = this.#options;
    return {
      ...blankReport({ id, kind: 'hub', name, address: `${host}:${port}`, misbehaviour: this.#misbehaviour }),
      refused: this.#refused,
      lamps: this.#lamps.map((l) => ({ ...l })),
      buttonUntilMs: this.#now() < this.#buttonUntil ? this.#buttonUntil : null,
    };
  }

  close(): void {
    this.#server.close();
    this.#server.closeAllConnections();
  }
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return null;
  }
}
