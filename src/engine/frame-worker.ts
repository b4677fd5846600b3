/**
 * The frame thread: its own clock, rendering and sending, nothing else. It sleeps on Atomics.wait, which keeps time
 * better than timers do, and gives the event loop one turn after each frame so that sockets can work.
 */
import { parentPort, receiveMessageOnPort, workerData } from 'node:worker_threads';
import { ClockMemory } from './clock.ts';
import { FrameLoop } from './frame-loop.ts';
import { Senders } from './senders.ts';
import { FrameStats, type FrameThreadStart, type FromFrameThread, type ToFrameThread } from './shared.ts';

const port = parentPort!;
const start = workerData as FrameThreadStart;
const clock = new ClockMemory(start.clock);
const sleeper = new Int32Array(new SharedArrayBuffer(4));
const senders = new Senders({ cid: start.cid, name: start.sourceName }, start.sequences);
const tell = (message: FromFrameThread): void => port.postMessage(message);
const loop = new FrameLoop({
  now: () => clock.now(),
  sleep: (ms) => void Atomics.wait(sleeper, 0, 0, ms),
  receive: () => (receiveMessageOnPort(port)?.message as ToFrameThread | undefined) ?? null,
  tell,
  senders,
  stats: new FrameStats(start.stats),
  suspect: start.suspect,
});

function stop(): void {
  // The system may still have to send the last packets.
  setTimeout(() => {
    senders.close();
    tell({ type: 'stopped' });
    port.close();
  }, 20);
}

function tick(): void {
  if (loop.turn()) setImmediate(tick);
  else stop();
}

if (start.first) loop.take(start.first);
tick();
