import { spawn, type ChildProcess } from 'node:child_process';
import dgram from 'node:dgram';
import { once } from 'node:events';
import { chmodSync, existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { z } from 'zod';
import { freePort, wait } from '../../scripts/lib.mjs';
import { preparedFolder, type Lent } from './prepared-folder.ts';
import { decodeSacn, type SacnData } from '../../src/core/protocol/sacn.ts';
import type { EngineHealth } from '../../src/core/protocol/link.ts';
import type { StandinReport } from '../../src/core/protocol/standin.ts';
import type { LiveState } from '../../src/core/show/index.ts';
import type { AnyRecord } from '../../src/core/records/index.ts';
import type { changeSetSchema } from '../../src/core/protocol/live.ts';

/** The whole program, started as people start it, on a data folder and ports of its own. */

export interface Health {
  readonly ok: boolean;
  readonly database: 'up' | 'down';
  readonly disk: 'full' | 'low' | 'fine' | null;
  readonly engine: EngineHealth | null;
  readonly standins: StandinReport | null;
  readonly processes: { readonly web: number; readonly engine: number | null; readonly standins: number | null };
  readonly pages: number;
}

export interface Reply<T = Record<string, unknown>> {
  readonly status: number;
  readonly body: T;
}

export const temporaryFolder = (): string => {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'amber-test-'));
  // PostgreSQL runs as a user of its own and has to walk through it.
  chmodSync(folder, 0o711);
  return folder;
};

/** Waits until `look` gives something; looks again every 20 ms. */
export async function until<T>(
  what: string,
  look: () => Promise<T | null | false | undefined> | T | null | false | undefined,
  seconds = 15,
): Promise<T> {
  const end = Date.now() + seconds * 1000;
  let last: unknown;
  while (Date.now() < end) {
    try {
      const found = await look();
      if (found) return found;
    } catch (error) {
      last = error;
    }
    await wait(20);
  }
  throw new Error(`waited ${seconds} s in vain for: ${what}${last ? ` (${String(last)})` : ''}`);
}

interface Starting {
  dataDir?: string;
  port?: number;
  env?: Record<string, string>;
  /** A demo show is left playing as it comes; mostly a test begins in the dark. */
  playing?: boolean;
}

const closedIdle = (error: unknown): boolean =>
  (error as { cause?: { code?: string } }).cause?.code === 'UND_ERR_SOCKET';

export class App {
  readonly dataDir: string;
  readonly port: number;
  readonly #process: ChildProcess;
  readonly #gone: Promise<number | null>;
  log = '';
  out = '';

  private constructor(
    dataDir: string,
    port: number,
    child: ChildProcess,
    /** The demo shows have just been made: one of them plays. */
    readonly firstSight: boolean,
    readonly lent: Lent | null,
  ) {
    this.dataDir = dataDir;
    this.port = port;
    this.#process = child;
    this.#gone = once(child, 'exit').then(([code]) => code as number | null);
    child.stdout!.on('data', (text: Buffer) => (this.out += text.toString()));
    child.stderr!.on('data', (text: Buffer) => (this.log += text.toString()));
  }

  /** Spawns the start command without waiting for it. */
  static async spawn(options: Starting = {}): Promise<App> {
    const demo = options.env?.['AMBER_DEMO'] !== '0';
    const lent = options.dataDir === undefined && demo ? await preparedFolder() : null;
    const dataDir = options.dataDir ?? lent?.dataDir ?? temporaryFolder();
    const fresh = lent !== null || !existsSync(dataDir) || readdirSync(dataDir).length === 0;
    const port = options.port ?? (await freePort());
    const child = spawn(process.execPath, ['scripts/start.mjs'], {
      env: { ...process.env, AMBER_DATA_DIR: dataDir, AMBER_PORT: String(port), NODE_OPTIONS: '', ...options.env },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    return new App(dataDir, port, child, fresh && demo, lent);
  }

  /** Starts and waits for the line that says it is ready. */
  static async start(options: Starting = {}): Promise<App> {
    const app = await App.spawn(options);
    await until('the ready line', () => app.out.includes('is ready at') || app.ended(), 90);
    if (app.out.includes('is ready at')) {
      if (app.firstSight && !options.playing) await app.rest();
      return app;
    }
    // A free port may be taken by somebody else before it is listened on: then another is asked for.
    const taken = options.port === undefined && app.log.includes('EADDRINUSE');
    if (taken) return App.start({ ...options, dataDir: app.dataDir });
    throw new Error(`it did not start:\n${app.log}`);
  }

  /** Ends what plays, at once. */
  async rest(): Promise<void> {
    await until('the engine', async () => (await this.command({ do: 'releaseAll', fadeOutMs: 0 })).status === 200);
    await this.command({ do: 'auto', on: false, fadeMs: 0 });
    await this.command({ do: 'ear', source: null });
    await until('nothing playing', async () => {
      const { playing, auto, ear } = await this.live();
      return playing.length === 0 && auto === null && ear === null;
    });
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }
  get pid(): number {
    return this.#process.pid!;
  }
  ended(): boolean {
    return this.#process.exitCode !== null || this.#process.signalCode !== null;
  }
  /** Exit code, once it has ended. */
  exit(): Promise<number | null> {
    return this.#gone;
  }

  async stop(signal: NodeJS.Signals = 'SIGTERM'): Promise<number | null> {
    if (!this.ended()) this.#process.kill(signal);
    return this.#gone;
  }
  /** Stops and takes the data folder away. */
  async end(): Promise<void> {
    await this.stop();
    if (this.lent) this.lent.back();
    else rmSync(this.dataDir, { recursive: true, force: true });
  }

  async call<T = Record<string, unknown>>(
    method: string,
    route: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Reply<T>> {
    const raw = body instanceof Uint8Array || typeof body === 'string';
    const ask = (): Promise<Response> =>
      fetch(this.url + route, {
        method,
        headers: {
          ...(body === undefined ? {} : { 'content-type': raw ? 'application/octet-stream' : 'application/json' }),
          ...headers,
        },
        ...(body === undefined ? {} : { body: (raw ? body : JSON.stringify(body)) as BodyInit }),
      });
    // A connection that lay idle may be closed just as it is used: what only asks is asked again (RFC 9112, 9.3.1).
    const response = await ask().catch((error: unknown) => {
      if (method === 'GET' && closedIdle(error)) return ask();
      throw error;
    });
    const text = await response.text();
    return { status: response.status, body: (text === '' ? null : JSON.parse(text)) as T };
  }
  async health(): Promise<Health> {
    return (await this.call<Health>('GET', '/api/health')).body;
  }
  async slots(universe: number): Promise<number[]> {
    return (await this.call<{ slots: number[] }>('GET', `/api/universes/${universe}`)).body.slots;
  }
  async live(): Promise<LiveState> {
    return (await this.call<{ live: LiveState }>('GET', '/api/live')).body.live;
  }
  command(command: Record<string, unknown>): Promise<Reply> {
    return this.call('POST', '/api/live', command);
  }
  async openShow(): Promise<{ id: string; revision: number; records: AnyRecord[] }> {
    const { shows } = (await this.call<{ shows: { id: string; open: boolean }[] }>('GET', '/api/shows')).body;
    const id = shows.find((s) => s.open)!.id;
    const { body } = await this.call<{ revision: number; records: AnyRecord[] }>('GET', `/api/shows/${id}`);
    return { id, ...body };
  }
  edit(
    showId: string,
    change: Partial<z.input<typeof changeSetSchema>>,
    more: Record<string, unknown> = {},
  ): Promise<Reply> {
    return this.call('POST', `/api/shows/${showId}/changes`, { ...change, ...more });
  }
  /** Slots that a port of a stand-in gateway holds. */
  async received(gateway: 'gateway-sacn' | 'gateway-artnet', wireUniverse: number): Promise<Uint8Array> {
    const { standins } = await this.health();
    const port = standins?.gateways.find((g) => g.id === gateway)?.ports.find((p) => p.wireUniverse === wireUniverse);
    if (!port) throw new Error(`no port ${wireUniverse} at ${gateway}`);
    return Buffer.from(port.slots, 'base64');
  }
}

export interface Heard extends SacnData {
  readonly at: number;
}

/** Listens to sACN on loopback: what a device there would get, with the time of arrival in ms. */
export async function hearSacn(address: string, port: number): Promise<{ packets: Heard[]; close(): void }> {
  const socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
  const packets: Heard[] = [];
  socket.on('message', (message) => {
    const at = performance.timeOrigin + performance.now();
    const decoded = decodeSacn(message);
    if (decoded.ok) packets.push({ ...decoded.value, slots: decoded.value.slots.slice(), at });
  });
  socket.bind(port, address);
  await once(socket, 'listening');
  socket.setRecvBufferSize(4 << 20);
  return { packets, close: () => socket.close() };
}
