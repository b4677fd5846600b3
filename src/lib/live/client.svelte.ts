import type { SongFault } from '$core/records/song.ts';
import {
  applyChange,
  documentOf,
  isEmptyChange,
  reverseOf,
  type ChangeSet,
  type Document,
} from '$core/document/change.ts';
import { HeardClock } from '$core/clock.ts';
import { localMs } from './local-clock.ts';
import { stepped } from '$core/protocol/live-step.ts';
import type { Listening } from '$core/music/listening.ts';
import type { Fault } from '$core/faults.ts';
import type { LitId, UnitId } from '$core/ids.ts';
import { decodeFrame } from '$core/protocol/framing.ts';
import type { ClientMessage, ServerMessage, SystemState, UndoInfo, Walker } from '$core/protocol/live.ts';
import { EMPTY_NETWORK, type NetworkAnswer, type NetworkAsk, type NetworkState } from '$core/protocol/network.ts';
import { applyNetwork } from '$core/protocol/network-diff.ts';
import { applyLive, mergedTry, type LiveCommand, type LiveState, type Probe } from '$core/show/index.ts';
import type { TestRequest } from '$core/signal/index.ts';
import { changeFaults } from '$core/rules/faults.ts';
import type { Peek } from '../preview/messages.ts';
import { Preview } from '../preview/preview.ts';
import { BLIND_COMMANDS, triedFrom } from './blind.ts';
import { browserName } from './browser-name.ts';
import { HandQueue } from './hand-queue.ts';
import { AWAY_ANSWER, AWAY_REPLY, type Answered, type Reply } from './replies.ts';
import { rebased, sameChange, type PendingEdit } from './pending.ts';
import { sentence } from '../state/words.ts';

type Body = ClientMessage extends infer M ? (M extends { id: number } ? Omit<M, 'id'> : never) : never;
/** A page says this often that it is still there while its test runs. */
const TEST_ALIVE_MS = 1500;

/** What a person can do about what they are told, with one press. */
export interface TellAction {
  readonly text: string;
  readonly act: () => void;
}

/** Faults that pass by themselves: an edit waits for that. */
const LATER: ReadonlySet<string> = new Set(['DATABASE_AWAY', 'DISK_FULL']);
const SAVE_AGAIN_MS = 1000;

const RETRY_MS = [200, 500, 1000, 2000];
/**
 * The page's end of `/live`: the show as this person sees it (what the server confirmed, and their own edits on top),
 * the live state, and frames. Edits go out one at a time and are laid again over whatever arrives meanwhile.
 */
export class LiveClient {
  connection = $state<'connecting' | 'open' | 'lost'>('connecting');
  /** The build of the server's pages; null while it does not say. */
  pages = $state<string | null>(null);
  /** False until the server has said whether a show is open. */
  welcomed = $state(false);
  clientId = $state('');
  showId = $state<string | null>(null);
  document = $state.raw<Document>(new Map());
  revision = $state(0);
  history = $state.raw<UndoInfo>({ undo: null, redo: null });
  /** What the engine plays. */
  real = $state.raw<LiveState | null>(null);
  /** What is tried here without being sent; null while this page is live. */
  blind = $state.raw<LiveState | null>(null);
  /** A moment that is looked at here, and not sent; null mostly. */
  peek = $state.raw<Peek | null>(null);
  /** What was live when this page went blind: what others do meanwhile stays when it goes live. */
  #liveBefore: LiveState | null = null;
  /** What this page shows and changes: blind where it is blind. */
  get live(): LiveState | null {
    return this.blind ?? this.real;
  }
  universes = $state.raw<readonly number[]>([]);
  system = $state.raw<SystemState>({ engine: null, standins: null, database: 'up', disk: null });
  /** What the engine knows of devices, ports and other sources. */
  network = $state.raw<NetworkState>(EMPTY_NETWORK);
  /** Everybody who is on the address walk now, this page included. */
  walkers = $state.raw<readonly Walker[]>([]);
  /** How far each song is that is heard now, 0-1. */
  hearing = $state.raw<Readonly<Record<string, number>>>({});
  /** The page that plays the sound, as it was heard of last, and when (ms of this page). */
  sound = $state.raw<{
    readonly key: string;
    readonly offMs: number | null;
    readonly at: number;
    readonly trouble: SongFault | null;
  } | null>(null);
  /** What an ear said last; null where none has. */
  ear = $state.raw<Extract<ServerMessage, { type: 'ear' }> | null>(null);
  /** Edits not yet confirmed by the server. */
  unsaved = $state(0);
  /** Why the server cannot save now, in its words; they wait here and are sent again. Null while it can. */
  notSaved = $state.raw<Fault | null>(null);

  /** Newest slots by universe as they are sent. Not reactive: subscribe with `onFrame`. */
  readonly sent = new Map<number, Uint8Array>();
  /** Newest slots of what is tried blind. */
  readonly #tried = new Map<number, Uint8Array>();
  /** What is to be seen here: what is sent, or what is tried blind. Not reactive either. */
  get frames(): ReadonlyMap<number, Uint8Array> {
    return this.blind || this.peek ? this.#tried : this.sent;
  }
  /** Newest slots that other desks send us, by our universe. Not reactive either. */
  readonly received = new Map<number, Uint8Array>();
  #frameListeners = new Set<() => void>();
  /** The clock of the show as it is heard here. */
  readonly #clock = new HeardClock();
  #confirmed: Document = new Map();
  #pending: PendingEdit[] = [];
  #sending = false;
  #socket: WebSocket | null = null;
  #attempt = 0;
  #nextId = 1;
  #waiting = new Map<number, (reply: Reply) => void>();
  #asking = new Map<number, (answer: Answered) => void>();
  #closed = false;
  /** What a person does here is theirs to undo, also after a reload. */
  readonly browser = browserName();
  /** How to tell the person something: set by the shell. */
  tell: (kind: 'error' | 'note', text: string, detail?: string, action?: TellAction) => void = () => undefined;

  connect(): void {
    if (this.#closed) return;
    const url = `${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/live?browser=${this.browser}`;
    const socket = new WebSocket(url);
    socket.binaryType = 'arraybuffer';
    this.#socket = socket;
    socket.onmessage = (event) =>
      typeof event.data === 'string'
        ? this.#take(JSON.parse(event.data) as ServerMessage)
        : this.#takeFrame(event.data as ArrayBuffer);
    socket.onclose = () => {
      if (this.#socket !== socket) return;
      this.connection = 'lost';
      this.#socket = null;
      for (const done of this.#waiting.values()) done(AWAY_REPLY);
      this.#waiting.clear();
      for (const done of this.#asking.values()) done(AWAY_ANSWER);
      this.#asking.clear();
      if (!this.#closed) setTimeout(() => this.connect(), RETRY_MS[Math.min(this.#attempt++, RETRY_MS.length - 1)]);
    };
  }

  close(): void {
    this.#closed = true;
    this.preview.close();
    this.#socket?.close();
  }

  /** Milliseconds of the clock of the show: what plays is timed by it. */
  now(): number {
    const local = localMs();
    return this.#clock.at(local) ?? local;
  }
  /** That clock less this page's, milliseconds. */
  get clockOffset(): number {
    return this.now() - localMs();
  }

  onFrame(listener: () => void): () => void {
    this.#frameListeners.add(listener);
    return () => this.#frameListeners.delete(listener);
  }

  #takeFrame(data: ArrayBuffer): void {
    const frame = decodeFrame(new Uint8Array(data));
    if (!frame) return;
    const kept = frame.kind === 'sent' ? this.sent : this.received;
    for (const [universe, slots] of frame.universes) kept.set(universe, slots);
    for (const listener of this.#frameListeners) listener();
  }

  #take(message: ServerMessage): void {
    switch (message.type) {
      case 'welcome':
        return this.#welcome(message);
      case 'change':
        return this.#changed(message);
      case 'reply':
        this.#waiting.get(message.id)?.(message);
        this.#waiting.delete(message.id);
        return;
      case 'live':
        this.#clock.hear(message.now, localMs());
        this.#liveSeq = message.seq;
        this.#takeLive(message.live);
        this.universes = message.universes;
        for (const universe of this.sent.keys()) if (!message.universes.includes(universe)) this.sent.delete(universe);
        return;
      case 'liveChange':
        return this.#liveChanged(message);
      case 'system':
        this.system = message.system;
        this.#clock.hear(message.now, localMs());
        return;
      case 'network':
        this.network = applyNetwork(message.whole ? EMPTY_NETWORK : this.network, message.delta);
        return;
      case 'answer':
        this.#asking.get(message.id)?.(message);
        this.#asking.delete(message.id);
        return;
      case 'sound':
        {
          const { key, offMs, trouble = null } = message;
          this.sound = { key, offMs, trouble, at: performance.now() };
        }
        return;
      case 'ear':
        this.ear = message;
        return;
      case 'hearing':
        this.hearing = message.shares;
        return;
      case 'walkers':
        this.walkers = message.walkers;
        return;
      case 'overwritten':
        return this.tell(
          'note',
          'Somebody changed the same field after you',
          `${message.label}: ${message.fields.join(', ')}`,
        );
      case 'fault':
        // Before it is welcomed a page tries again by itself, and says once why.
        if (!this.welcomed) this.notSaved = message.faults[0] ?? null;
        else this.#complain(message.faults);
        return;
    }
  }

  #welcome(message: Extract<ServerMessage, { type: 'welcome' }>): void {
    this.connection = 'open';
    this.pages = message.pages;
    this.notSaved = null;
    this.#attempt = 0;
    this.clientId = message.clientId;
    const sameShow = message.show?.showId === this.showId;
    this.showId = message.show?.showId ?? null;
    this.#confirmed = documentOf(message.show?.records ?? []);
    this.revision = message.show?.revision ?? 0;
    this.history = message.history;
    if (!sameShow) this.blind = this.peek = null;
    this.#liveSeq = message.liveSeq;
    this.#takeLive(message.live);
    this.#clock.hear(message.now, localMs());
    this.universes = message.universes;
    this.system = message.system;
    this.hearing = message.hearing;
    if (!sameShow) {
      this.#pending = [];
      this.sent.clear();
    }
    this.#rebase();
    this.welcomed = true;
    void this.#request({ type: 'watch', frames: true });
    void this.#sendNext();
  }

  #changed(message: Extract<ServerMessage, { type: 'change' }>): void {
    if (message.revision <= this.revision) return;
    // Something was missed: start afresh from the server's word.
    if (message.revision !== this.revision + 1) return this.#socket?.close();
    this.revision = message.revision;
    if (message.author === this.browser) this.history = message.history;
    // Our own edit comes back this way before its reply: it is confirmed now.
    this.notSaved = null;
    const own = message.origin === this.clientId && message.action === 'edit' && this.#sending;
    const edit = own ? this.#pending.shift() : undefined;
    if (edit && this.#pending.length === 0 && sameChange(edit.change, message.change)) {
      // It was taken as it was made: what is shown already is what the server has, and nothing is drawn anew.
      this.#confirmed = this.document;
      this.unsaved = 0;
      return;
    }
    this.#confirmed = applyChange(this.#confirmed, message.change);
    this.#rebase();
    if (message.author !== this.browser && message.action !== 'edit')
      this.tell('note', `${message.action === 'undo' ? 'Undone' : 'Redone'} elsewhere: ${message.label}`);
  }

  /** Lays the edits that are still on their way over what the server confirmed. */
  #rebase(): void {
    this.document = rebased(this.#confirmed, this.#pending);
    this.preview.changed();
    this.unsaved = this.#pending.length;
  }

  /**
   * Makes an edit: seen at once, sent, and taken back with an explanation if the server refuses it. `label` says what
   * was done, for undo ("Move 3 units"); `done` hears when the server has it, or has refused it. False when it breaks a rule; then nothing changed and the person was told.
   */
  edit(label: string, change: ChangeSet, done?: (saved: boolean) => void): boolean {
    if (isEmptyChange(change)) {
      done?.(true);
      return true;
    }
    const faults = changeFaults(this.document, change);
    if (faults.length > 0) {
      this.#complain(faults);
      return false;
    }
    const before = new Map(reverseOf(this.document, change).put.map((r) => [r.id, r] as const));
    this.#pending.push({ label, change, before, blind: this.blind !== null, done });
    this.document = applyChange(this.document, change);
    this.preview.changed();
    this.unsaved = this.#pending.length;
    void this.#sendNext();
    return true;
  }

  async #sendNext(): Promise<void> {
    const edit = this.#pending[0];
    if (this.#sending || !edit || this.connection !== 'open') return;
    this.#sending = true;
    const reply = await this.#request({
      type: 'edit',
      base: this.revision,
      label: edit.label,
      change: { put: [...edit.change.put], remove: [...edit.change.remove] },
      ...(edit.blind ? { blind: true } : {}),
    });
    this.#sending = false;
    // Cut off: it stays and is sent again after the next welcome.
    const why = reply.faults?.[0];
    if (why?.code === 'OFFLINE') return;
    if (why && LATER.has(why.code)) {
      this.notSaved = why;
      setTimeout(() => void this.#sendNext(), SAVE_AGAIN_MS);
      return;
    }
    this.notSaved = null;
    const index = this.#pending.indexOf(edit);
    if (index >= 0) {
      this.#pending.splice(index, 1);
      this.#rebase();
    }
    if (reply.faults) this.#complain(reply.faults);
    edit.done?.(!reply.faults);
    void this.#sendNext();
  }

  undo = (): Promise<void> => this.#turnBack({ type: 'undo' }, 'Undone');
  redo = (): Promise<void> => this.#turnBack({ type: 'redo' }, 'Redone');
  /** Takes back one edit of the history, whoever made it. */
  takeBack = (revision: number): Promise<void> => this.#turnBack({ type: 'undo', revision }, 'Taken back');

  async #turnBack(what: { type: 'undo'; revision?: number } | { type: 'redo' }, done: string): Promise<void> {
    const reply = await this.#request({ ...what, blind: this.blind !== null });
    if (reply.faults) this.#complain(reply.faults);
    else this.tell('note', `${done}: ${reply.label}`);
  }

  #liveSeq = 0;
  #liveChanged(message: Extract<ServerMessage, { type: 'liveChange' }>): void {
    this.#clock.hear(message.now, localMs());
    const next = stepped(this.real && { live: this.real, seq: this.#liveSeq }, message);
    // Something was missed: start afresh from the server's word.
    if (!next) return this.#socket?.close();
    if (next.seq === this.#liveSeq) return;
    this.#liveSeq = next.seq;
    this.#takeLive(next.live);
  }

  #takeLive(real: LiveState | null): void {
    this.real = real;
    // What is tried blind follows the same tempo.
    if (this.blind && real && this.blind.tempo !== real.tempo) this.blind = { ...this.blind, tempo: real.tempo };
    this.preview.changed();
  }

  /** The worker that draws what is blind, explains, and makes thumbnails. */
  readonly preview = new Preview(this, (universes, bytes) => {
    if (!this.blind && !this.peek) return;
    this.#tried.clear();
    universes.forEach((u, i) => this.#tried.set(u, bytes.subarray(i * 512, i * 512 + 512)));
    for (const listener of this.#frameListeners) listener();
  });

  /** Looks at a moment of something that does not play, in place of what is sent; null: at what is sent again. */
  lookAt(peek: Peek | null): void {
    if ((peek === null) !== (this.peek === null)) this.#tried.clear();
    this.peek = peek;
    if (peek) this.preview.sync();
    else this.preview.changed();
    for (const listener of this.#frameListeners) listener();
  }

  /** From now on this page tries without sending; `from` what plays now, or nothing at all. */
  goBlind(from: 'playing' | 'nothing'): void {
    const { real } = this;
    if (!real || this.blind) return;
    this.#tried.clear();
    this.blind = triedFrom(real, from, this.now());
    this.#liveBefore = real;
    this.preview.sync();
  }

  /** Ends being blind: what was tried is sent, fading in, or forgotten. */
  async endBlind(how: 'live' | 'forget', fadeMs = 0): Promise<void> {
    const { blind, real } = this;
    if (!blind) return;
    if (how === 'live') {
      const tried = mergedTry(this.#liveBefore ?? blind, blind, real ?? blind);
      const { faults } = await this.#request({ type: 'command', command: { do: 'goLive', ...tried, fadeMs } });
      if (faults) return this.#complain(faults);
    }
    this.blind = null;
    this.preview.changed();
    for (const listener of this.#frameListeners) listener();
  }

  async command(command: LiveCommand): Promise<void> {
    if (this.blind && BLIND_COMMANDS.has(command.do)) {
      this.blind = applyLive(this.blind, command, this.now(), crypto.randomUUID(), this.document);
      this.preview.changed();
      return;
    }
    const reply = await this.#request({ type: 'command', command });
    if (reply.faults) this.#complain(reply.faults);
  }

  readonly #hand = new HandQueue((command) => void this.command(command));
  /** Sets values by hand, at most once an animation frame; `light` brings light along. */
  setHand(set: Record<string, Record<string, unknown>>, light = false): void {
    this.#hand.add(set, light);
  }

  #probing = false;
  /** Bytes that lie over a universe while a profile is tried; null ends it. */
  probe(probe: Probe | null): void {
    if (probe === null && !this.#probing) return;
    this.#probing = probe !== null;
    void this.#request({ type: 'probe', probe }).then(({ faults }) => {
      if (faults) this.#complain(faults);
    });
  }

  #testTimer: ReturnType<typeof setInterval> | undefined;
  /** Runs a test signal for as long as this page is there; null ends it. False when it was refused. */
  async test(test: TestRequest | null): Promise<boolean> {
    clearInterval(this.#testTimer);
    this.#testTimer = test ? setInterval(() => void this.#request({ type: 'testAlive' }), TEST_ALIVE_MS) : undefined;
    const { faults } = await this.#request({ type: 'test', test });
    if (faults) this.#complain(faults);
    return !faults;
  }

  /** Asks something of the network; null when it failed, and the person was told unless `quiet`. */
  async ask(ask: NetworkAsk, quiet = false): Promise<NetworkAnswer | null> {
    const socket = this.#socket;
    const id = this.#nextId++;
    const { answer, faults } = await new Promise<Answered>((resolve) => {
      if (!socket || socket.readyState !== WebSocket.OPEN) return resolve(AWAY_ANSWER);
      this.#asking.set(id, resolve);
      socket.send(JSON.stringify({ type: 'ask', id, ask }));
    });
    if (faults && !quiet) this.#complain(faults);
    return answer;
  }

  identify(units: readonly LitId[]): void {
    if (this.blind) return void this.command({ do: 'identify', units: [...units] });
    void this.#request({ type: 'identify', units: [...units] });
  }

  /** Tells the others that the sound comes from this page. */
  sounds(key: string, offMs: number | null): void {
    void this.#request({ type: 'sound', key, offMs });
  }

  /** Tells the others what the ear of this page hears; null: it listens no more. */
  heard(source: string, listening: Listening | null): void {
    if (listening) this.ear = { type: 'ear', source, listening };
    void this.#request({ type: 'ear', source, listening });
  }

  /** Tells everybody who walks here and at which unit; null when the walk is over. */
  walk(walk: { name: string; unitId: UnitId | null } | null): void {
    void this.#request({ type: 'walk', walk });
  }

  #request(body: Body): Promise<Reply> {
    const socket = this.#socket;
    if (!socket || socket.readyState !== WebSocket.OPEN) return Promise.resolve(AWAY_REPLY);
    const id = this.#nextId++;
    return new Promise((resolve) => {
      this.#waiting.set(id, resolve);
      socket.send(JSON.stringify({ id, ...body }));
    });
  }

  #complain(faults: readonly Fault[]): void {
    const [first, ...more] = faults;
    if (!first) return;
    const detail = [first.remedy, more.length > 0 ? `(and ${more.length} more)` : ''].filter(Boolean).join(' ');
    this.tell('error', sentence(first.message), detail);
  }
}
