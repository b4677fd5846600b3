import { clamp } from '$core/units.ts';
import { saysOf } from '$core/show/live/ear.ts';
import type { LiveClient } from '../../live/client.svelte.ts';
import { click, type Click } from './click.ts';
import type { FromEar, ToEar } from './ear.worker.ts';
import { listeningBarred, openInput, tapOf } from './sound-in.ts';
import EarWorker from './ear.worker.ts?worker';

/** A microphone or line input of this browser. */
export interface Microphone {
  readonly id: string;
  readonly name: string;
}

/** Clicks that measure how late the sound is, and how long they are waited for. */
const [CLICKS, CLICK_EVERY_S] = [5, 0.4];
/** High and short: told from music by its edge. */
const CLICK: Click = { hz: 2800, level: 0.6, long: 0.02 };

/** The ear of this page: listens to a microphone or line input and tells the engine of beats that come. */
export class PageEar {
  readonly #live: LiveClient;
  readonly source: string;
  /** Listens now. */
  on = $state(false);
  /** Why it cannot listen, with the remedy; null while all is well. */
  trouble = $state<string | null>(null);
  microphones = $state.raw<readonly Microphone[]>([]);
  chosen = $state(localStorage.getItem('amber-microphone') ?? '');
  /** The sound comes in so late, ms. */
  delayMs = $state(Number(localStorage.getItem('amber-listen-delay') ?? 0) || 0);
  measuring = $state(false);
  #context: AudioContext | null = null;
  #stream: MediaStream | null = null;
  #worker: Worker | null = null;
  #tap: AudioWorkletNode | null = null;

  constructor(live: LiveClient, key: string) {
    this.#live = live;
    this.source = `page:${key}`;
  }

  /** What stands in the way of listening here at all, in words; null for nothing. */
  get barred(): string | null {
    return listeningBarred();
  }

  setDelay(ms: number): void {
    this.delayMs = clamp(Math.round(ms), -200, 1000);
    localStorage.setItem('amber-listen-delay', String(this.delayMs));
  }
  async choose(id: string): Promise<void> {
    this.chosen = id;
    localStorage.setItem('amber-microphone', id);
    if (this.on) {
      this.#close();
      await this.start();
    }
  }

  /** Listens from now on; the tempo of the show follows. Called from a press. */
  async start(): Promise<void> {
    try {
      this.#stream = await openInput(this.chosen);
    } catch (error) {
      this.trouble = (error as Error).message;
      return;
    }
    await this.#listen(this.#stream);
    await this.#look();
  }

  async #listen(stream: MediaStream): Promise<void> {
    const { context, tap } = await tapOf(stream);
    this.#context = context;
    this.#tap = tap;
    const worker = new EarWorker();
    this.#worker = worker;
    worker.onmessage = ({ data }: MessageEvent<FromEar>) => this.#take(data);
    const { port1, port2 } = new MessageChannel();
    tap.port.onmessage = ({ data }: MessageEvent<Float32Array>) => port1.postMessage(data, [data.buffer]);
    worker.postMessage({ rate: context.sampleRate, port: port2 } satisfies ToEar, [port2]);
    for (const track of stream.getTracks())
      track.onended = () => {
        this.stop();
        this.trouble = 'The microphone is gone. Plug it in again, and press Listen.';
      };
    this.on = true;
    this.trouble = null;
    await context.resume();
    await this.#live.command({ do: 'ear', source: this.source });
  }

  #take(data: FromEar): void {
    if ('listening' in data) {
      this.#live.heard(this.source, data.listening);
      const says = this.measuring ? null : saysOf(this.source, data.listening, this.#live.real?.ear ?? null);
      if (says) void this.#live.command(says);
      return;
    }
    if (this.measuring) return;
    const now = this.#live.now();
    for (const { at, beat, bpm, confidence } of data.said)
      void this.#live.command({
        do: 'heardBeat',
        source: this.source,
        at: now + (at - data.at) * 1000 - this.delayMs,
        beat,
        bpm,
        confidence,
      });
  }

  /** Names of microphones are told only once somebody has let the page listen. */
  async #look(): Promise<void> {
    const devices = await navigator.mediaDevices.enumerateDevices();
    this.microphones = devices
      .filter(({ kind }) => kind === 'audioinput')
      .map(({ deviceId, label }, i) => ({ id: deviceId, name: label || `Input ${i + 1}` }));
  }

  /**
   * Plays clicks and listens for them: what the way out and in takes together, less what the browser knows of the way
   * out, is how late it hears. Leaves it as it was where it hears none.
   */
  async measure(): Promise<void> {
    const [context, tap] = [this.#context, this.#tap];
    if (!context || !tap || this.measuring) return;
    this.measuring = true;
    const heard: number[] = [];
    const before = tap.port.onmessage;
    let [square, since] = [1e-6, -Infinity];
    tap.port.onmessage = (event: MessageEvent<Float32Array>) => {
      const block = event.data;
      const begins = context.currentTime - block.length / context.sampleRate;
      for (let i = 0; i < block.length; i++) {
        const x = block[i]! ** 2;
        const at = begins + i / context.sampleRate;
        if (x > 40 * square && x > 1e-4 && at - since > CLICK_EVERY_S / 2) {
          heard.push(at);
          since = at;
        }
        square += (x - square) * 0.0005;
      }
      before?.call(tap.port, event);
    };
    const first = context.currentTime + 0.3;
    for (let k = 0; k < CLICKS; k++) click(context, first + k * CLICK_EVERY_S, CLICK);
    await new Promise((resolve) => setTimeout(resolve, (0.3 + CLICKS * CLICK_EVERY_S + 0.6) * 1000));
    tap.port.onmessage = before;
    this.measuring = false;
    const late = heard.map((at) => {
      const k = Math.floor((at - first) / CLICK_EVERY_S + 1e-6);
      return at - (first + k * CLICK_EVERY_S);
    });
    late.sort((a, b) => a - b);
    const middle = late[late.length >> 1];
    if (middle === undefined || late.length < CLICKS - 1 || late.at(-1)! - late[0]! > 0.03) {
      this.#live.tell('note', 'The clicks were not heard well', 'Turn the loudspeakers up, or set the delay by hand.');
      return;
    }
    this.setDelay((middle - (context.outputLatency || 0)) * 1000);
    this.#live.tell('note', `Sound comes in ${this.delayMs} ms late`, 'That is taken off from now on.');
  }

  /** Listens no more; the tempo goes on as it is. */
  stop(): void {
    if (!this.on) return;
    this.#close();
    this.#live.heard(this.source, null);
    if (this.#live.real?.ear?.source === this.source) void this.#live.command({ do: 'ear', source: null });
  }

  #close(): void {
    this.on = false;
    this.#worker?.terminate();
    this.#worker = null;
    this.#tap = null;
    for (const track of this.#stream?.getTracks() ?? []) {
      track.onended = null;
      track.stop();
    }
    this.#stream = null;
    void this.#context?.close();
    this.#context = null;
  }
}
