import net from 'node:net';
import type { FieldDifference } from '../../core/document/difference.ts';
import { HeardClock } from '../../core/clock.ts';
import type { Fault } from '../../core/faults.ts';
import { decodeFrame, encodeJson, MESSAGE_FRAME, MessageReader, type FrameKind } from '../../core/protocol/framing.ts';
import type { EngineHealth, FromEngine, ToEngine } from '../../core/protocol/link.ts';
import { EMPTY_NETWORK, type NetworkAnswer, type NetworkAsk, type NetworkState } from '../../core/protocol/network.ts';
import { applyNetwork, type NetworkDelta } from '../../core/protocol/network-diff.ts';
import { stepped, type ToldLive } from '../../core/protocol/live-step.ts';
import type { Principal } from '../../core/protocol/principal.ts';
import type { Action } from '../../core/records/action.ts';
import type { LiveCommand, LiveState, Signal } from '../../core/show/index.ts';

const RETRY_MS = 150;
const REPLY_MS = 2000;
/** RDM devices behind a slow gateway, each asked three times. */
const ASK_MS = 20_000;
/** Older health than this says that the engine is not answering. */
const HEALTH_STALE_MS = 3000;

export interface EngineEvents {
  onState(live: LiveState | null, universes: readonly number[]): void;
  /** What changed of the live state; it is in `live` already. */
  onLive(difference: FieldDifference): void;
  onHealth(): void;
  /** A frame message as it came, and the universes in it. */
  onFrame(
    universes: readonly (readonly [number, Uint8Array])[],
    timeMs: number,
    frameNumber: number,
    kind: FrameKind,
  ): void;
  onNetwork(delta: NetworkDelta, whole: boolean): void;
}

const away: Fault = {
  code: 'ENGINE_AWAY',
  path: 'engine',
  message: 'the engine is not answering',
  remedy: 'It restarts by itself within two seconds: try again.',
};

const slow: Fault = {
  code: 'NO_ANSWER',
  path: 'network',
  message: 'the device does not answer',
  remedy: 'Check its power and its cable, then look for devices anew.',
};

/** The web process's end of the control socket. Reconnects by itself; holds the newest state, health and frame. */
export class EngineLink {
  #socket: net.Socket | null = null;
  #closed = false;
  #nextId = 1;
  readonly #waiting = new Map<number, (fault: Fault | null, answer?: NetworkAnswer | null) => void>();
  readonly #port: number;
  readonly #token: string;
  readonly #events: EngineEvents;
  #health: EngineHealth | null = null;
  #healthAt = 0;
  #playing: (ToldLive & { readonly showId: string | null }) | null = null;
  /** The live state; null while no show is open. */
  get live(): LiveState | null {
    return this.#playing && this.#playing.showId !== null ? this.#playing.live : null;
  }
  /** Number of `live`. */
  get seq(): number {
    return this.#playing?.seq ?? 0;
  }
  universes: readonly number[] = [];
  readonly frame = new Map<number, Uint8Array>();
  /** What other desks send us, by our universe. */
  readonly received = new Map<number, Uint8Array>();
  network: NetworkState = EMPTY_NETWORK;

  constructor(port: number, token: string, events: EngineEvents) {
    this.#port = port;
    this.#token = token;
    this.#events = events;
    this.#connect();
  }

  readonly #clock = new HeardClock();
  /** The clock of the show; this machine's own while no engine has said what it is. */
  now(): number {
    return this.#clock.at(performance.now()) ?? Date.now();
  }

  get health(): EngineHealth | null {
    return performance.now() - this.#healthAt < HEALTH_STALE_MS ? this.#health : null;
  }

  #connect(): void {
    const socket = net.connect(this.#port, '127.0.0.1');
    const reader = new MessageReader((kind, payload) => this.#take(kind, payload));
    socket.setNoDelay(true);
    socket.on('connect', () => {
      this.#socket = socket;
      this.#send({ type: 'hello', token: this.#token });
    });
    socket.on('data', (piece) => {
      try {
        reader.push(piece);
      } catch {
        socket.destroy();
      }
    });
    socket.on('error', () => socket.destroy());
    socket.on('close', () => {
      this.#socket = null;
      for (const reply of this.#waiting.values()) reply(away);
      this.#waiting.clear();
      this.#health = null;
      if (this.#closed) return;
      this.#events.onHealth();
      setTimeout(() => this.#connect(), RETRY_MS);
    });
  }

  #send(message: ToEngine): void {
    this.#socket?.write(encodeJson(message));
  }

  #take(kind: number, payload: Uint8Array): void {
    if (kind === MESSAGE_FRAME) {
      const frame = decodeFrame(payload);
      if (!frame) return;
      const kept = frame.kind === 'sent' ? this.frame : this.received;
      for (const [universe, slots] of frame.universes) kept.set(universe, slots.slice());
      this.#events.onFrame(frame.universes, frame.timeMs, frame.frameNumber, frame.kind);
      return;
    }
    const message = JSON.parse(new TextDecoder().decode(payload)) as FromEngine;
    switch (message.type) {
      case 'state':
        this.#playing = message;
        this.universes = message.universes;
        for (const universe of this.frame.keys())
          if (!message.universes.includes(universe)) this.frame.delete(universe);
        return this.#events.onState(this.live, message.universes);
      case 'live':
        return this.#takeLive(message);
      case 'health':
        this.#clock.hear(message.health.now, performance.now());
        this.#health = message.health;
        this.#healthAt = performance.now();
        return this.#events.onHealth();
      case 'network':
        this.network = applyNetwork(message.whole ? EMPTY_NETWORK : this.network, message.delta);
        return this.#events.onNetwork(message.delta, message.whole);
      case 'answer':
        this.#waiting.get(message.id)?.(message.fault, message.answer);
        this.#waiting.delete(message.id);
        return;
      case 'reply':
        this.#waiting.get(message.id)?.(message.fault);
        this.#waiting.delete(message.id);
    }
  }

  /** Follows the live state; where something was missed the engine greets anew. */
  #takeLive(message: Extract<FromEngine, { type: 'live' }>): void {
    const before = this.#playing;
    const now = stepped(before, message);
    if (!before || !now) return void this.#socket?.destroy();
    if (now === before) return;
    this.#playing = { showId: before.showId, ...now };
    if (this.live) this.#events.onLive(message.difference);
  }

  /** Sends a live command; resolves with null, or with what was wrong. */
  command(by: Principal, command: LiveCommand): Promise<Fault | null> {
    return this.#ordered((id) => ({ type: 'command', id, by, command }));
  }

  /** Does what an action says; resolves with null, or with what was wrong. */
  act(by: Principal, action: Action, signal: Signal): Promise<Fault | null> {
    return this.#ordered((id) => ({ type: 'act', id, by, action, signal }));
  }

  #ordered(message: (id: number) => ToEngine): Promise<Fault | null> {
    if (!this.#socket) return Promise.resolve(away);
    const id = this.#nextId++;
    return new Promise((resolve) => {
      const timer = setTimeout(() => {
        this.#waiting.delete(id);
        resolve(away);
      }, REPLY_MS);
      this.#waiting.set(id, (fault) => {
        clearTimeout(timer);
        resolve(fault);
      });
      this.#send(message(id));
    });
  }

  /** Asks something of the network; devices may take their time. */
  ask(by: Principal, ask: NetworkAsk): Promise<{ fault: Fault | null; answer: NetworkAnswer | null }> {
    if (!this.#socket) return Promise.resolve({ fault: away, answer: null });
    const id = this.#nextId++;
    return new Promise((resolve) => {
      const timer = setTimeout(() => {
        this.#waiting.delete(id);
        resolve({ fault: slow, answer: null });
      }, ASK_MS);
      this.#waiting.set(id, (fault, answer = null) => {
        clearTimeout(timer);
        resolve({ fault, answer });
      });
      this.#send({ type: 'ask', id, by, ask });
    });
  }

  close(): void {
    this.#closed = true;
    this.#socket?.destroy();
  }
}
