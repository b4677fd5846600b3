import type { AnyRecord } from '$core/records/index.ts';
import type { Document } from '$core/document/change.ts';
import type { Id } from '$core/ids.ts';
import type { LiveState } from '$core/show/index.ts';
import type { FromPreview, Peek, PreviewAnswers, PreviewAsk, ToPreview } from './messages.ts';

/** What the preview needs of the page; read when it is asked something. */
export interface PreviewSource {
  readonly document: Document;
  readonly real: LiveState | null;
  readonly blind: LiveState | null;
  readonly peek: Peek | null;
  /** The show's time less the machine's, milliseconds. */
  readonly clockOffset: number;
}

/** As near as the worker's clock is kept. */
const CLOCK_MS = 5;

/**
 * The page's end of the preview worker. The worker is started when it is first needed; the show goes to it as what has
 * changed since the last time.
 */
export class Preview {
  readonly #source: PreviewSource;
  readonly #onFrame: (universes: readonly number[], bytes: Uint8Array) => void;
  #worker: Worker | null = null;
  #sent: Document | null = null;
  #sentLive: Extract<ToPreview, { type: 'live' }> | null = null;
  #nextId = 1;
  readonly #waiting = new Map<number, { done(answer: unknown): void; failed(error: Error): void }>();

  constructor(source: PreviewSource, onFrame: (universes: readonly number[], bytes: Uint8Array) => void) {
    this.#source = source;
    this.#onFrame = onFrame;
  }

  ask<W extends PreviewAsk['what']>(ask: Extract<PreviewAsk, { what: W }>): Promise<PreviewAnswers[W]> {
    this.sync();
    const id = this.#nextId++;
    return new Promise((resolve, reject) => {
      this.#waiting.set(id, { done: (answer) => resolve(answer as PreviewAnswers[W]), failed: reject });
      this.#post({ type: 'ask', id, ask });
    });
  }

  /** Brings the worker up to date; it is started where it is not yet. */
  sync(): void {
    const { document, real, blind, peek, clockOffset: clock } = this.#source;
    if (this.#sent !== document) this.#sendDocument(document);
    const last = this.#sentLive;
    // A clock that is heard a little better every time is no news.
    const same = last?.real === real && last.blind === blind && last.peek === peek;
    if (same && Math.abs(last.clock - clock) < CLOCK_MS) return;
    this.#sentLive = { type: 'live', real, blind, peek, clock };
    this.#post(this.#sentLive);
  }

  /** Called when something changed; does nothing while no worker runs. */
  changed(): void {
    if (this.#worker) this.sync();
  }

  close(): void {
    this.#worker?.terminate();
    this.#worker = null;
    this.#sent = null;
    this.#sentLive = null;
  }

  #sendDocument(document: Document): void {
    const before = this.#sent;
    const put: AnyRecord[] = [];
    const remove: Id[] = [];
    for (const [id, record] of document) if (before?.get(id) !== record) put.push(record);
    for (const id of before?.keys() ?? []) if (!document.has(id)) remove.push(id);
    this.#sent = document;
    this.#post({ type: 'document', fresh: before === null, change: { put, remove } });
  }

  #post(message: ToPreview): void {
    this.#worker ??= this.#start();
    this.#worker.postMessage(message);
  }

  #start(): Worker {
    const worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = (event: MessageEvent<FromPreview>) => this.#take(event.data);
    return worker;
  }

  #take(message: FromPreview): void {
    if (message.type === 'frame') return this.#onFrame(message.universes, message.bytes);
    const waiting = message.id === null ? undefined : this.#waiting.get(message.id);
    if (!waiting) return;
    this.#waiting.delete(message.id!);
    if (message.type === 'answer') waiting.done(message.answer);
    else waiting.failed(new Error(message.message));
  }
}
