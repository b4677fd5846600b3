import type { Program } from '../core/show/play/program.ts';
import { makeFrame, render, type Frame, type PreparedLive } from '../core/show/play/render.ts';
import { layDesks, type Desks } from '../core/show/play/desks.ts';
import type { RigArrays } from '../core/show/rig/rig.ts';
import { carryMotion } from '../core/show/guard/movement.ts';
import { FlashGuard, type Safety } from '../core/show/guard/safety.ts';
import type { Senders } from './senders.ts';
import {
  InputMemory,
  refsOf,
  unwired,
  type FrameStats,
  type FromFrameThread,
  type ToFrameThread,
  type WireLive,
} from './shared.ts';

const REPORT_MS = 500;
/** Below this it is not worth going to sleep. */
const SHORTEST_SLEEP_MS = 0.2;

/** What a frame loop lives in: the thread around it, or a test with time of its own. */
export interface Surroundings {
  /** The show's time, in ms. */
  readonly now: () => number;
  readonly sleep: (ms: number) => void;
  /** The next message that is there, or nothing. */
  readonly receive: () => ToFrameThread | null;
  readonly tell: (message: FromFrameThread) => void;
  readonly senders: Omit<Senders, 'close'>;
  readonly stats: FrameStats;
  /** True where whoever sent before died a moment ago: see `FlashGuard.suspect`. */
  readonly suspect: boolean;
}

/** Frame after frame at an even pace: what has changed is taken, the frame is rendered, sent and shown to the other thread. */
export class FrameLoop {
  readonly #at: Surroundings;
  #rig: RigArrays | null = null;
  #frame: Frame | null = null;
  #views: Uint8Array[] = [];
  /** What the other thread reads: a whole frame at a time, never one that is being made. */
  #published: Uint8Array = new Uint8Array(0);
  #desks: Desks | null = null;
  #live: PreparedLive | null = null;
  #programs = new Map<number, Program>();
  #safety: Safety | null = null;
  #guard: FlashGuard | null = null;
  #told = '';
  #periodMs = 25;
  #stopping = false;
  #lastFault = '';
  #next: number;
  #reportAt: number;

  constructor(at: Surroundings) {
    this.#at = at;
    this.#next = at.now();
    this.#reportAt = this.#next + REPORT_MS;
  }

  take(message: ToFrameThread): void {
    const { senders, now } = this.#at;
    if (message.frameRate) this.#periodMs = 1000 / message.frameRate;
    if (message.rig && message.bytes) this.#takeRig(message.rig, message.bytes);
    if (message.inputs)
      this.#desks = { entries: message.inputs.entries, incoming: new InputMemory(message.inputs.memory) };
    if (message.safety) this.#safety = message.safety;
    if (message.rig || message.safety) this.#guardRig();
    if (message.live) this.#takeLive(message.live, message.programs ?? []);
    if (message.routes && this.#rig) senders.setRoutes(message.routes, this.#rig.universes, now());
    if (message.blocked) senders.setBlocked(message.blocked);
    if (message.reopen) senders.reopen();
    if (message.stop) this.#stopping = true;
  }

  /** Waits for the moment of the next frame and makes it; false when it was told to stop, with the last packets sent. */
  turn(): boolean {
    const { now, sleep, receive, senders, stats, tell } = this.#at;
    const wait = this.#next - now();
    if (wait > SHORTEST_SLEEP_MS) sleep(wait);
    for (let message = receive(); message; message = receive()) this.take(message);
    if (this.#stopping) {
      senders.terminateAll(now());
      return false;
    }
    const timeMs = now();
    this.#draw(timeMs);
    stats.record(timeMs, timeMs - this.#next, this.#periodMs / 2, now() - timeMs);
    this.#next += this.#periodMs;
    const behind = now() - this.#next;
    if (behind > 0) {
      // Late frames are left out, never replayed: the next one shows the present.
      const missed = Math.ceil(behind / this.#periodMs);
      stats.skip(missed);
      this.#next += missed * this.#periodMs;
    }
    if (timeMs >= this.#reportAt) {
      this.#reportAt = timeMs + REPORT_MS;
      tell({
        type: 'routes',
        stats: senders.stats(timeMs),
        sequences: senders.sequences(),
        ports: senders.localPorts(),
      });
      this.#tellLayers();
    }
    return true;
  }

  #takeRig(rig: RigArrays, bytes: SharedArrayBuffer): void {
    const frame = makeFrame(rig);
    if (this.#rig && this.#frame)
      frame.motion = carryMotion({ movers: this.#rig.movers, motion: this.#frame.motion }, rig.movers);
    this.#rig = rig;
    this.#frame = frame;
    this.#published = new Uint8Array(bytes);
    this.#views = Array.from(rig.universes, (_, i) => frame.bytes.subarray(i * 512, i * 512 + 512));
  }

  /** What the guard knows of the lamps outlives edits and other limits. */
  #guardRig(): void {
    if (!this.#rig || !this.#safety) return;
    if (this.#guard) return this.#guard.follow(this.#rig, this.#safety);
    this.#guard = new FlashGuard(this.#rig, this.#safety);
    if (this.#at.suspect) this.#guard.suspect(this.#at.now());
  }

  #takeLive(wire: WireLive, sent: NonNullable<ToFrameThread['programs']>): void {
    for (const [ref, program] of sent) this.#programs.set(ref, program);
    const failed = new Map(this.#live?.layers.map((layer) => [layer.program, layer.failed]));
    this.#live = unwired(
      wire,
      (ref) => this.#programs.get(ref)!,
      (program) => failed.get(program) ?? null,
    );
    this.#programs = new Map(Array.from(refsOf(wire), (ref) => [ref, this.#programs.get(ref)!]));
  }

  #draw(timeMs: number): void {
    const [rig, frame] = [this.#rig, this.#frame];
    if (!rig || !frame || !this.#live) return;
    try {
      render(rig, this.#live, timeMs, frame, this.#guard, this.#desks);
    } catch (error) {
      // The last good frame is still in memory and is what goes out; the fault is said once.
      const message = String((error as Error).stack ?? error);
      if (message !== this.#lastFault) this.#at.tell({ type: 'fault', message });
      this.#lastFault = message;
      if (this.#desks) layDesks(rig.universes, frame.bytes, this.#desks);
    }
    this.#at.senders.send(frame.bytes, this.#views, timeMs);
    this.#published.set(frame.bytes);
  }

  /** Says which layers were taken out and whether flashes are held back, where that changed. */
  #tellLayers(): void {
    const failed: Record<string, string> = {};
    for (const layer of this.#live?.layers ?? []) if (layer.failed !== null) failed[layer.play.id] = layer.failed;
    const flashesHeld = this.#guard?.holding ?? false;
    const text = `${flashesHeld} ${Object.keys(failed).join()}`;
    if (text === this.#told) return;
    this.#told = text;
    this.#at.tell({ type: 'layers', failed, flashesHeld });
  }
}
