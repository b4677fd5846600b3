import { randomBytes } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type WebSocket } from 'ws';
import { faultsFromZod, type Fault } from '../../core/faults.ts';
import type { LitId } from '../../core/ids.ts';
import { encodeFrame, type FrameKind } from '../../core/protocol/framing.ts';
import { clientMessageSchema, type ClientMessage, type ServerMessage, type Walker } from '../../core/protocol/live.ts';
import { refusal, type Principal, type Right } from '../../core/protocol/principal.ts';
import { wholeNetwork } from '../../core/protocol/network-diff.ts';
import type { LiveCommand } from '../../core/show/index.ts';
import type { NetworkAnswer, NetworkAsk, NetworkState } from '../../core/protocol/network.ts';
import { sameOrigin } from './origin.ts';
import type { Applied } from './show-service.ts';
import { faultsOf } from './trouble.ts';

/** A page, the browser it belongs to (what a person does there is theirs to undo), and what that person may do. */
export interface PageOf {
  readonly clientId: string;
  readonly author: string;
  readonly by: Principal;
}

/** What the hub needs of the rest of the server. */
export interface HubHost {
  welcome(page: PageOf): Promise<ServerMessage>;
  edit(page: PageOf, message: Extract<ClientMessage, { type: 'edit' }>): Promise<Applied | null>;
  turnBack(page: PageOf, message: Extract<ClientMessage, { type: 'undo' | 'redo' }>): Promise<Applied | null>;
  command(by: Principal, command: LiveCommand): Promise<Fault | null>;
  ask(by: Principal, ask: NetworkAsk): Promise<{ fault: Fault | null; answer: NetworkAnswer | null }>;
  frame(kind: FrameKind): ReadonlyMap<number, Uint8Array>;
  network(): NetworkState;
  report(error: unknown): void;
}

interface Client {
  readonly id: string;
  readonly page: PageOf;
  readonly socket: WebSocket;
  frames: boolean;
  /** Universes that changed since the last frame this page took. */
  readonly pending: Record<FrameKind, Set<number>>;
  /** RDM devices this page holds identifying. */
  readonly rdm: Set<Extract<NetworkAsk, { ask: 'rdmIdentify' }>['uid']>;
  identify: readonly LitId[];
  probing: boolean;
  /** The ear of this page that listens; null for none. */
  ear: string | null;
  /** Set while this page is on the address walk. */
  walk: Omit<Walker, 'clientId'> | null;
  /** False from a ping until something answers it. */
  alive: boolean;
  /** Requests are answered in the order they came. */
  queue: Promise<void>;
  /** Faulty messages so far; a page that sends nothing else is cut off. */
  faulty: number;
}

/** What a page must be allowed to do for each message. */
const RIGHT_FOR: Readonly<Record<ClientMessage['type'], Right>> = {
  edit: 'edit',
  undo: 'edit',
  redo: 'edit',
  command: 'command',
  identify: 'command',
  probe: 'command',
  test: 'command',
  testAlive: 'command',
  ask: 'network',
  walk: 'see',
  watch: 'see',
  ear: 'command',
  sound: 'command',
};
/** What all pages together hold is the server's own. */
const ALL_PAGES: Principal = { role: 'owner', name: 'pages' };

const MESSAGE_BYTES = 16 * 1024 * 1024;
const FAULTY_LIMIT = 50;
const LOST_BYTES = 64 * 1024 * 1024;
const ALIVE_MS = 15_000;

/** Which browser asks: a name it made up and keeps, so that undo finds its edits again; null for none. */
function browserOf(request: IncomingMessage): string | null {
  const name = new URL(request.url ?? '/', 'http://page').searchParams.get('browser');
  return name !== null && /^[a-z0-9]{8,40}$/.test(name) ? name : null;
}

/** The one WebSocket of every page: edits and commands in; changes, state and frames out. */
export class LiveHub {
  readonly #server = new WebSocketServer({ noServer: true, maxPayload: MESSAGE_BYTES, perMessageDeflate: false });
  readonly #clients = new Set<Client>();
  readonly #host: HubHost;
  readonly #timer: NodeJS.Timeout;
  /** The page whose test signal runs: the last that started one. */
  #tester: Client | null = null;

  constructor(host: HubHost) {
    this.#host = host;
    this.#timer = setInterval(() => {
      for (const client of this.#clients) {
        // A phone that fell asleep says no goodbye: what it held alight must not stay alight.
        if (!client.alive) client.socket.terminate();
        client.alive = false;
        client.socket.ping();
      }
    }, ALIVE_MS);
  }

  get clients(): number {
    return this.#clients.size;
  }

  /** Takes over an HTTP upgrade of `/live`. Pages of another origin are refused. */
  upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    if (!sameOrigin(request.headers.origin, request.headers.host)) {
      socket.end('HTTP/1.1 403 Forbidden\r\nConnection: close\r\n\r\n');
      return;
    }
    this.#server.handleUpgrade(request, socket, head, (ws) => void this.#join(ws, browserOf(request)));
  }

  async #join(socket: WebSocket, browser: string | null): Promise<void> {
    const id = randomBytes(6).toString('hex');
    const author = browser ?? id;
    const client: Client = {
      id,
      // Whoever reaches the program owns it: links and roles give other principals here.
      page: { clientId: id, author, by: { role: 'owner', name: author } },
      socket,
      frames: false,
      pending: { sent: new Set(), received: new Set() },
      rdm: new Set(),
      identify: [],
      probing: false,
      ear: null,
      walk: null,
      alive: true,
      queue: Promise.resolve(),
      faulty: 0,
    };
    socket.on('error', () => socket.terminate());
    socket.on('close', () => this.#leave(client));
    socket.on('pong', () => (client.alive = true));
    socket.on('message', (data, binary) => {
      client.queue = client.queue
        .then(() => this.#take(client, data as Buffer, binary))
        .catch((error: unknown) => this.#host.report(error));
    });
    try {
      const welcome = await this.#host.welcome(client.page);
      this.#clients.add(client);
      this.#send(client, welcome);
      this.#send(client, { type: 'walkers', walkers: this.#walkers() });
      this.#send(client, { type: 'network', delta: wholeNetwork(this.#host.network()), whole: true });
    } catch (error) {
      this.#send(client, { type: 'fault', faults: faultsOf(error, (bug) => this.#host.report(bug)) });
      socket.close(1013, 'try again');
    }
  }

  #leave(client: Client): void {
    this.#clients.delete(client);
    if (client.identify.length > 0) {
      client.identify = [];
      void this.#identify();
    }
    if (client.probing) void this.#host.command(client.page.by, { do: 'probe', probe: null });
    if (this.#tester === client) void this.#test(client, null);
    for (const uid of client.rdm) void this.#host.ask(client.page.by, { ask: 'rdmIdentify', uid, on: false });
    if (client.ear) this.#earOf(client, { type: 'ear', id: 0, source: client.ear, listening: null });
    if (client.walk) this.broadcast({ type: 'walkers', walkers: this.#walkers() });
  }

  #walkers(): Walker[] {
    return [...this.#clients].flatMap((c) => (c.walk ? [{ clientId: c.id, ...c.walk }] : []));
  }

  async #take(client: Client, data: Buffer, binary: boolean): Promise<void> {
    const parsed = this.#parse(data, binary);
    if ('faults' in parsed) {
      this.#send(
        client,
        parsed.id === null
          ? { type: 'fault', faults: parsed.faults }
          : { type: 'reply', id: parsed.id, faults: parsed.faults, revision: null, label: null },
      );
      if (++client.faulty > FAULTY_LIMIT) client.socket.close(1008, 'too many faulty messages');
      return;
    }
    const { message } = parsed;
    // Devices take their time: what else the page says does not wait for them.
    const refused = refusal(client.page.by, RIGHT_FOR[message.type]);
    if (refused) return this.#refuse(client, message.id, refused);
    if (message.type === 'ask') return void this.#ask(client, message);
    try {
      const applied = await this.#carryOut(client, message);
      const fault = applied && 'code' in applied ? applied : null;
      const done = applied && 'entry' in applied ? applied : null;
      this.#send(client, {
        type: 'reply',
        id: message.id,
        faults: fault ? [fault] : null,
        revision: done?.entry.revision ?? null,
        label: done?.entry.label ?? null,
      });
    } catch (error) {
      const faults = faultsOf(error, (bug) => this.#host.report(bug));
      this.#send(client, { type: 'reply', id: message.id, faults, revision: null, label: null });
    }
  }

  #refuse(client: Client, id: number, fault: Fault): void {
    this.#send(client, { type: 'reply', id, faults: [fault], revision: null, label: null });
  }

  async #ask(client: Client, { id, ask }: Extract<ClientMessage, { type: 'ask' }>): Promise<void> {
    if (ask.ask === 'rdmIdentify') {
      if (ask.on) client.rdm.add(ask.uid);
      else client.rdm.delete(ask.uid);
    }
    const { answer, fault } = await this.#host.ask(client.page.by, ask);
    this.#send(client, { type: 'answer', id, answer, faults: fault ? [fault] : null });
  }

  #test(client: Client, test: Extract<ClientMessage, { type: 'test' }>['test']): Promise<Fault | null> {
    if (test) this.#tester = client;
    else if (this.#tester !== client) return Promise.resolve(null);
    else this.#tester = null;
    return this.#host.command(client.page.by, { do: 'test', test });
  }

  #parse(data: Buffer, binary: boolean): { message: ClientMessage } | { id: number | null; faults: Fault[] } {
    if (binary)
      return {
        id: null,
        faults: [{ code: 'BINARY', path: 'message', message: 'binary messages are not taken', remedy: 'Send JSON.' }],
      };
    let json: unknown;
    try {
      json = JSON.parse(data.toString('utf8'));
    } catch (error) {
      return {
        id: null,
        faults: [
          {
            code: 'NOT_JSON',
            path: 'message',
            message: `not JSON: ${(error as Error).message.slice(0, 120)}`,
            remedy: 'Send one JSON object a message.',
          },
        ],
      };
    }
    const parsed = clientMessageSchema.safeParse(json);
    if (parsed.success) return { message: parsed.data };
    const id = (json as { id?: unknown } | null)?.id;
    return {
      id: typeof id === 'number' && Number.isSafeInteger(id) ? id : null,
      faults: faultsFromZod(parsed.error, json).slice(0, 20),
    };
  }

  async #carryOut(client: Client, message: Exclude<ClientMessage, { type: 'ask' }>): Promise<Applied | Fault | null> {
    switch (message.type) {
      case 'edit':
        return this.#host.edit(client.page, message);
      case 'undo':
      case 'redo':
        return this.#host.turnBack(client.page, message);
      case 'command':
        return this.#host.command(client.page.by, message.command);
      case 'identify':
        client.identify = message.units;
        return this.#identify();
      case 'probe':
        client.probing = message.probe !== null;
        return this.#host.command(client.page.by, { do: 'probe', probe: message.probe });
      case 'test':
        return this.#test(client, message.test);
      case 'testAlive':
        return this.#tester === client ? this.#host.command(client.page.by, { do: 'testAlive' }) : null;
      case 'walk':
        client.walk = message.walk;
        this.broadcast({ type: 'walkers', walkers: this.#walkers() });
        return null;
      case 'sound':
        this.#toOthers(client, { type: 'sound', key: message.key, offMs: message.offMs });
        return null;
      case 'ear':
        client.ear = message.listening ? message.source : null;
        this.#earOf(client, message);
        return null;
      case 'watch':
        client.frames = message.frames;
        for (const kind of ['sent', 'received'] as const) {
          client.pending[kind].clear();
          if (message.frames) for (const universe of this.#host.frame(kind).keys()) client.pending[kind].add(universe);
          this.#flush(client, 0, 0, kind);
        }
        return null;
    }
  }

  /** What a page hears, told to the others. */
  #earOf(from: Client, { source, listening }: Extract<ClientMessage, { type: 'ear' }>): void {
    const gone = { message: 'the page that listened is gone', remedy: 'Listen there again, or choose another source.' };
    this.#toOthers(from, listening ? { type: 'ear', source, listening } : { type: 'ear', source, trouble: gone });
  }

  #toOthers(from: Client, message: ServerMessage): void {
    const text = JSON.stringify(message);
    for (const client of this.#clients) if (client !== from) this.#sendText(client, text);
  }

  /** What all pages together hold alight. */
  #identify(): Promise<Fault | null> {
    const units = new Set<LitId>();
    for (const client of this.#clients) for (const unit of client.identify) units.add(unit);
    return this.#host.command(ALL_PAGES, { do: 'identify', units: [...units] });
  }

  #send(client: Client, message: ServerMessage): void {
    this.#sendText(client, JSON.stringify(message));
  }

  /** Nobody is queued for without end: a page that does not read is cut off, and is welcomed anew when it comes back. */
  #sendText({ socket }: Client, text: string): void {
    if (socket.readyState !== socket.OPEN) return;
    if (socket.bufferedAmount > LOST_BYTES) socket.terminate();
    else socket.send(text);
  }

  broadcast(message: ServerMessage): void {
    const text = JSON.stringify(message);
    for (const client of this.#clients) this.#sendText(client, text);
  }

  /** To all pages of an author. */
  tell(author: string, message: ServerMessage): void {
    for (const client of this.#clients) if (client.page.author === author) this.#send(client, message);
  }

  /** Another show was opened: everybody starts afresh. */
  async welcomeAll(): Promise<void> {
    for (const client of this.#clients) {
      client.identify = [];
      this.#send(client, await this.#host.welcome(client.page));
    }
  }

  /** Frames: only what changed, and nothing while a page has not taken the last one. */
  frame(
    universes: readonly (readonly [number, Uint8Array])[],
    timeMs: number,
    frameNumber: number,
    kind: FrameKind,
  ): void {
    for (const client of this.#clients) {
      if (!client.frames) continue;
      for (const [universe] of universes) client.pending[kind].add(universe);
      this.#flush(client, timeMs, frameNumber, kind);
    }
  }

  #flush(client: Client, timeMs: number, frameNumber: number, kind: FrameKind): void {
    const pending = client.pending[kind];
    if (pending.size === 0 || client.socket.bufferedAmount > 0 || client.socket.readyState !== client.socket.OPEN)
      return;
    const frame = this.#host.frame(kind);
    const changed: [number, Uint8Array][] = [];
    for (const universe of pending) {
      const slots = frame.get(universe);
      if (slots) changed.push([universe, slots]);
    }
    pending.clear();
    if (changed.length > 0) client.socket.send(encodeFrame(timeMs, frameNumber, changed, kind));
  }

  close(): void {
    clearInterval(this.#timer);
    for (const { socket } of this.#clients) socket.close(1001, 'going away');
    this.#server.close();
  }
}
