import { readFileSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import { crc32 } from 'node:zlib';
import { Keeping } from './keeping.ts';
import { encoded, type KeptFrames, type KeptState } from './kept-state.ts';
import { FrameStats, refsOf, type FrameThreadStart, type FromFrameThread, type ToFrameThread } from './shared.ts';

const KEEP_MS = 500;
const WORKER = new URL(import.meta.url.endsWith('.ts') ? './frame-worker.ts' : './frame-worker.js', import.meta.url);
/** Tells builds apart: the frame thread names the pieces it is made of by what is in them. */
const PROGRAM = crc32(readFileSync(WORKER));

interface FramesOptions {
  readonly kept: KeptState;
  readonly sourceName: string;
  /** Milliseconds since 1970, steady. */
  readonly now: () => number;
  /** The clock it reads, in shared memory (`ClockMemory`). */
  readonly clock: SharedArrayBuffer;
}

/**
 * The frame thread as the main thread sees it. It begins with what was kept, before anything is loaded; what it is told
 * afterwards is kept for the next time.
 */
export class Frames {
  readonly #options: FramesOptions;
  readonly #memory = new SharedArrayBuffer(FrameStats.bytes);
  readonly stats = new FrameStats(this.#memory);
  #worker: Worker | null = null;
  /** Everything it was told, the newest of each. */
  #told: ToFrameThread = {};
  readonly #programs = new Map<number, NonNullable<ToFrameThread['programs']>[number]>();
  readonly #keeping: Keeping;
  onMessage: (message: FromFrameThread) => void = () => undefined;
  onError: (error: Error) => void = (error) => {
    throw error;
  };
  onKeepError: (error: unknown) => void = () => undefined;

  constructor(options: FramesOptions) {
    this.#options = options;
    this.#keeping = new Keeping(options.kept.frames, {
      make: () => encoded(this.#toKeep()),
      everyMs: KEEP_MS,
      onError: (error) => this.onKeepError(error),
    });
  }

  get begun(): boolean {
    return this.#worker !== null;
  }

  /** Starts the thread, with what was kept where something was. */
  begin(): void {
    const { kept, now, sourceName } = this.#options;
    const { numbers, crashed } = kept.readSequences(now());
    const before = kept.readFrames(PROGRAM);
    const start: FrameThreadStart = {
      stats: this.#memory,
      clock: this.#options.clock,
      cid: kept.cid(),
      sourceName,
      sequences: numbers,
      first: before && { ...before.message, bytes: new SharedArrayBuffer(before.universes * 512) },
      suspect: crashed,
    };
    this.#worker = new Worker(WORKER, { workerData: start });
    this.#worker.on('message', (message: FromFrameThread) => this.onMessage(message));
    this.#worker.on('error', (error) => this.onError(error));
  }

  tell(message: ToFrameThread): void {
    this.#worker?.postMessage(message);
    const { stop: _, reopen: __, programs = [], ...rest } = message;
    this.#told = { ...this.#told, ...rest };
    for (const program of programs) this.#programs.set(program[0], program);
    if (!message.live) return;
    const used = refsOf(message.live);
    for (const ref of this.#programs.keys()) if (!used.has(ref)) this.#programs.delete(ref);
    this.#keeping.ask();
  }

  #toKeep(): KeptFrames {
    const { bytes, inputs: _, ...message } = this.#told;
    return {
      program: PROGRAM,
      atMs: this.#options.now(),
      universes: (bytes?.byteLength ?? 0) / 512,
      message: { ...message, programs: [...this.#programs.values()] },
    };
  }

  /** Ends the streams in good order, and the thread. */
  async stop(): Promise<void> {
    await this.#keeping.end();
    const worker = this.#worker;
    if (!worker) return;
    const stopped = new Promise<void>((resolve) => worker.once('exit', () => resolve()));
    worker.postMessage({ stop: true } satisfies ToFrameThread);
    await Promise.race([stopped, new Promise((resolve) => setTimeout(resolve, 1000))]);
    await worker.terminate();
  }
}
