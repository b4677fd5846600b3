/**
 * The frame thread: its own clock, rendering and sending, nothing else. It sleeps on Atomics.wait, which keeps time
 * better than timers do, and gives the event loop one turn after each frame so that sockets can work.
 */
import { parentPort, receiveMessageOnPort, workerData } from 'node:worker_threads';
import type { Program } from '../core/show/play/program.ts';
import { makeFrame, render, type Frame, type PreparedLive } from '../core/show/play/render.ts';
import { layDesks, type Desks } from '../core/show/play/desks.ts';
import type { RigArrays } from '../core/show/rig/rig.ts';
import { FlashGuard, type Safety } from '../core/show/guard/safety.ts';
import { ClockMemory } from './clock.ts';
import { Senders } from './senders.ts';
import {
  FrameStats,
  InputMemory,
  refsOf,
  unwired,
  type FrameThreadStart,
  type FromFrameThread,
  type ToFrameThread,
  type WireLive,
} from './shared.ts';

const port = parentPort!;
const start = workerData as FrameThreadStart;
const stats = new FrameStats(start.stats);
const clock = new ClockMemory(start.clock);
const now = (): number => clock.now();
const sleeper = new Int32Array(new SharedArrayBuffer(4));
const senders = new Senders({ cid: start.cid, name: start.sourceName }, start.sequences);
const REPORT_MS = 500;
/** Below this it is not worth going to sleep. */
const SHORTEST_SLEEP_MS = 0.2;

let rig: RigArrays | null = null;
let frame: Frame | null = null;
let views: Uint8Array[] = [];
/** What the other thread reads: a whole frame at a time, never one that is being made. */
let published: Uint8Array = new Uint8Array(0);
let desks: Desks | null = null;
let live: PreparedLive | null = null;
let programs = new Map<number, Program>();
let safety: Safety | null = null;
let guard: FlashGuard | null = null;
let told = '';
let periodMs = 25;
let stopping = false;
let lastFault = '';
let next = now();
let reportAt = next + REPORT_MS;

const tell = (message: FromFrameThread): void => port.postMessage(message);

function take(message: ToFrameThread): void {
  if (message.frameRate) periodMs = 1000 / message.frameRate;
  if (message.rig && message.bytes) {
    rig = message.rig;
    const made = makeFrame(rig);
    frame = made;
    published = new Uint8Array(message.bytes);
    views = Array.from(rig.universes, (_, i) => made.bytes.subarray(i * 512, i * 512 + 512));
  }
  if (message.inputs) desks = { entries: message.inputs.entries, incoming: new InputMemory(message.inputs.memory) };
  if (message.safety) safety = message.safety;
  if (message.rig || message.safety) guardRig();
  if (message.live) takeLive(message.live, message.programs ?? []);
  if (message.routes && rig) senders.setRoutes(message.routes, rig.universes, now());
  if (message.blocked) senders.setBlocked(message.blocked);
  if (message.reopen) senders.reopen();
  if (message.stop) stopping = true;
}

/** What the guard knows of the lamps outlives edits and other limits. */
function guardRig(): void {
  if (!rig || !safety) return;
  if (guard) return guard.follow(rig, safety);
  guard = new FlashGuard(rig, safety);
  if (start.suspect) guard.suspect(now());
}

function takeLive(wire: WireLive, sent: NonNullable<ToFrameThread['programs']>): void {
  for (const [ref, program] of sent) programs.set(ref, program);
  const failed = new Map(live?.layers.map((layer) => [layer.program, layer.failed]));
  live = unwired(
    wire,
    (ref) => programs.get(ref)!,
    (program) => failed.get(program) ?? null,
  );
  programs = new Map(Array.from(refsOf(wire), (ref) => [ref, programs.get(ref)!]));
}

/** Says which layers were taken out and whether flashes are held back, where that changed. */
function tellLayers(): void {
  const failed: Record<string, string> = {};
  for (const layer of live?.layers ?? []) if (layer.failed !== null) failed[layer.play.id] = layer.failed;
  const flashesHeld = guard?.holding ?? false;
  const text = `${flashesHeld} ${Object.keys(failed).join()}`;
  if (text === told) return;
  told = text;
  tell({ type: 'layers', failed, flashesHeld });
}

function draw(timeMs: number): void {
  if (!rig || !frame || !live) return;
  try {
    render(rig, live, timeMs, frame, guard, desks);
  } catch (error) {
    // The last good frame is still in memory and is what goes out; the fault is said once.
    const message = String((error as Error).stack ?? error);
    if (message !== lastFault) tell({ type: 'fault', message });
    lastFault = message;
    if (desks) layDesks(rig.universes, frame.bytes, desks);
  }
  senders.send(frame.bytes, views, timeMs);
  published.set(frame.bytes);
}

function stop(): void {
  senders.terminateAll(now());
  setTimeout(() => {
    senders.close();
    tell({ type: 'stopped' });
    port.close();
  }, 20);
}

function tick(): void {
  const wait = next - now();
  if (wait > SHORTEST_SLEEP_MS) Atomics.wait(sleeper, 0, 0, wait);
  for (let got = receiveMessageOnPort(port); got; got = receiveMessageOnPort(port)) take(got.message as ToFrameThread);
  if (stopping) return stop();
  const timeMs = now();
  draw(timeMs);
  stats.record(timeMs, timeMs - next, periodMs / 2, now() - timeMs);
  next += periodMs;
  const behind = now() - next;
  if (behind > 0) {
    // Late frames are left out, never replayed: the next one shows the present.
    const missed = Math.ceil(behind / periodMs);
    stats.skip(missed);
    next += missed * periodMs;
  }
  if (timeMs >= reportAt) {
    reportAt = timeMs + REPORT_MS;
    tell({ type: 'routes', stats: senders.stats(timeMs), sequences: senders.sequences(), ports: senders.localPorts() });
    tellLayers();
  }
  setImmediate(tick);
}

if (start.first) take(start.first);
tick();
