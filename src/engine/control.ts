import { timingSafeEqual } from 'node:crypto';
import net from 'node:net';
import { z } from 'zod';
import { FaultError, faultsFromZod, internalFault, type Fault } from '../core/faults.ts';
import {
  encodeFrameMessage,
  encodeJson,
  type FrameKind,
  MESSAGE_JSON,
  MessageReader,
} from '../core/protocol/framing.ts';
import type { FromEngine, ToEngine } from '../core/protocol/link.ts';
import { networkAskSchema, type NetworkAnswer, type NetworkAsk } from '../core/protocol/network.ts';
import { mustBeAllowed, principalSchema, type Principal } from '../core/protocol/principal.ts';
import { actionSchema, type Action } from '../core/records/action.ts';
import { liveCommandSchema, signalSchema, type LiveCommand, type Signal } from '../core/show/index.ts';

/** What is wrong with a command that names what the open show has not. */
export const UNKNOWN_ID = 'UNKNOWN_ID';

const actSchema = z.strictObject({ action: actionSchema, signal: signalSchema });

interface Client {
  readonly socket: net.Socket;
  trusted: boolean;
  /** What this client has of each universe, to send only what changed. */
  readonly known: Record<FrameKind, Map<number, Uint8Array>>;
  /** Memory that frames are written in. */
  room: Uint8Array;
}

interface ControlOptions {
  readonly port: number;
  readonly token: string;
  /** Throws FaultError when the command cannot be carried out. */
  readonly onCommand: (command: LiveCommand) => void;
  /** Throws FaultError like a command. */
  readonly onAct: (by: Principal, action: Action, signal: Signal) => void;
  /** Somebody names what is not known here; over when all that was edited until now is. */
  readonly onUnknown: () => Promise<void>;
  readonly onBug: (error: unknown) => void;
  /** Rejects with FaultError when it cannot be carried out. */
  readonly onAsk: (ask: NetworkAsk) => Promise<NetworkAnswer>;
  readonly greet: () => readonly FromEngine[];
  readonly onEmpty: () => void;
}

/** A client that is this far behind gets no frames until it has caught up. */
const BEHIND_BYTES = 1 << 20;
const NO_ROOM = new Uint8Array(0);
/** One that is this far behind is cut off: it is greeted afresh when it comes back. */
const LOST_BYTES = 64 << 20;
/** Connections that have not said who they are: so many at most, and so long. */
const STRANGERS = 16;
const HELLO_MS = 5000;

/** The control socket: live commands in; state, health and frames out. Loopback only, and only with the token. */
export class ControlServer {
  readonly #clients = new Set<Client>();
  readonly #server: net.Server;
  readonly #options: ControlOptions;

  constructor(options: ControlOptions) {
    this.#options = options;
    this.#server = net.createServer((socket) => this.#accept(socket));
  }

  listen(): Promise<void> {
    return new Promise((resolve, reject) => {
      this.#server.once('error', reject);
      this.#server.listen(this.#options.port, '127.0.0.1', () => resolve());
    });
  }

  #accept(socket: net.Socket): void {
    const strangers = [...this.#clients].filter((c) => !c.trusted);
    // Whoever has been silent for longest makes room.
    if (strangers.length >= STRANGERS) strangers[0]!.socket.destroy();
    socket.setNoDelay(true);
    const client: Client = { socket, trusted: false, known: { sent: new Map(), received: new Map() }, room: NO_ROOM };
    this.#clients.add(client);
    const reader = new MessageReader((kind, payload) => this.#take(client, kind, payload));
    socket.on('data', (piece) => {
      try {
        reader.push(piece);
      } catch {
        socket.destroy();
      }
    });
    socket.on('error', () => socket.destroy());
    const hello = setTimeout(() => !client.trusted && socket.destroy(), HELLO_MS);
    socket.on('close', () => {
      clearTimeout(hello);
      this.#clients.delete(client);
      if (![...this.#clients].some((c) => c.trusted)) this.#options.onEmpty();
    });
  }

  #take(client: Client, kind: number, payload: Uint8Array): void {
    if (kind !== MESSAGE_JSON) throw new RangeError('only JSON is taken');
    const message = JSON.parse(new TextDecoder().decode(payload)) as ToEngine;
    if (message.type === 'hello') {
      if (!sameSecret(message.token, this.#options.token)) throw new RangeError('wrong token');
      client.trusted = true;
      for (const greeting of this.#options.greet()) this.#write(client, encodeJson(greeting));
    } else if (!client.trusted) throw new RangeError('hello first');
    else if (message.type === 'command') {
      this.#reply(client, message, 'command', liveCommandSchema, message.command, (command) =>
        this.#options.onCommand(command),
      );
    } else if (message.type === 'act') {
      const { action, signal } = message;
      this.#reply(client, message, 'act', actSchema, { action, signal }, (act, by) =>
        this.#options.onAct(by, act.action, act.signal),
      );
    } else if (message.type === 'ask') void this.#answer(client, message);
  }

  async #answer(client: Client, { id, by, ask: input }: Extract<ToEngine, { type: 'ask' }>): Promise<void> {
    const parsed = networkAskSchema.safeParse(input);
    const reply = (answer: NetworkAnswer | null, fault: Fault | null): void => {
      this.#write(client, encodeJson({ type: 'answer', id, answer, fault } satisfies FromEngine));
    };
    if (!parsed.success) return reply(null, faultsFromZod(parsed.error, input, 'ask')[0]!);
    try {
      mustBeAllowed(principalSchema.parse(by), 'network');
      reply(await this.#options.onAsk(parsed.data), null);
    } catch (error) {
      if (error instanceof FaultError) return reply(null, error.faults[0]!);
      // A bug in asking the network must not end the engine: it is reported, and the frames go on.
      this.#options.onBug(error);
      reply(null, internalFault('network'));
    }
  }

  /** Carries out what somebody asks for, where they may, and says what came of it. */
  #reply<T>(
    client: Client,
    { id, by }: { readonly id: number; readonly by: unknown },
    right: 'command' | 'act',
    schema: z.ZodType<T>,
    input: unknown,
    run: (asked: T, by: Principal) => void,
  ): void {
    const answer = (fault: Fault | null): void =>
      this.#write(client, encodeJson({ type: 'reply', id, fault } satisfies FromEngine));
    const fault = this.#carryOut(by, right, schema, input, run);
    if (fault?.code !== UNKNOWN_ID) return answer(fault);
    // It may have been made a moment ago, and the news of it is still on its way here.
    void this.#options.onUnknown().then(
      () => answer(this.#carryOut(by, right, schema, input, run)),
      () => answer(fault),
    );
  }

  #carryOut<T>(
    who: unknown,
    right: 'command' | 'act',
    schema: z.ZodType<T>,
    input: unknown,
    run: (asked: T, by: Principal) => void,
  ): Fault | null {
    const by = principalSchema.safeParse(who);
    if (!by.success) return faultsFromZod(by.error, who, 'by')[0]!;
    const parsed = schema.safeParse(input);
    if (!parsed.success) return faultsFromZod(parsed.error, input, 'command')[0]!;
    try {
      mustBeAllowed(by.data, right);
      run(parsed.data, by.data);
      return null;
    } catch (error) {
      if (error instanceof FaultError) return error.faults[0]!;
      // A bug in one command costs neither the others theirs nor anybody the connection.
      this.#options.onBug(error);
      return internalFault('command');
    }
  }

  /** Nobody is queued for without end. */
  #write(client: Client, bytes: Uint8Array): void {
    if (client.socket.writableLength > LOST_BYTES) client.socket.destroy();
    else client.socket.write(bytes);
  }

  broadcast(message: FromEngine): void {
    const bytes = encodeJson(message);
    for (const client of this.#clients) if (client.trusted) this.#write(client, bytes);
  }

  /** Sends each client the universes that changed for it; a client that is behind is passed over, never queued for. */
  sendFrame(
    timeMs: number,
    frameNumber: number,
    frames: ReadonlyMap<number, Uint8Array>,
    kind: FrameKind = 'sent',
  ): void {
    if (frames.size === 0) return;
    for (const client of this.#clients) {
      if (!client.trusted || client.socket.writableLength > BEHIND_BYTES) continue;
      const changed: [number, Uint8Array][] = [];
      for (const [universe, slots] of frames) {
        const known = client.known[kind].get(universe);
        if (known && Buffer.compare(known, slots) === 0) continue;
        // Copied first: what is told is what is known, whatever the frame thread writes meanwhile.
        const copy = known?.length === slots.length ? known : new Uint8Array(slots.length);
        copy.set(slots);
        client.known[kind].set(universe, copy);
        changed.push([universe, copy]);
      }
      if (changed.length === 0) continue;
      // What was written before is gone: its room is free again.
      const room = client.socket.writableLength === 0 ? client.room : NO_ROOM;
      const message = encodeFrameMessage(room, timeMs, frameNumber, changed, kind);
      if (message.length > client.room.length) client.room = message;
      client.socket.write(message);
    }
  }

  close(): void {
    for (const { socket } of this.#clients) socket.destroy();
    this.#server.close();
  }
}

function sameSecret(given: unknown, wanted: string): boolean {
  if (typeof given !== 'string') return false;
  const [a, b] = [Buffer.from(given), Buffer.from(wanted)];
  return a.length === b.length && timingSafeEqual(a, b);
}
