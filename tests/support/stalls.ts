import { Worker, type MessagePort } from 'node:worker_threads';

/**
 * A bare timer beside the program: how long the machine itself stood still. Virtual machines do for 100 ms and more; a
 * gap in packets counts as the program's only where it is longer than that.
 */
const CODE = `
const { parentPort } = require('node:worker_threads');
const sleeper = new Int32Array(new SharedArrayBuffer(4));
const { port } = require('node:worker_threads').workerData;
let last = performance.now();
const stalls = [];
(function tick() {
  Atomics.wait(sleeper, 0, 0, 5);
  const now = performance.now();
  if (now - last > 10) stalls.push([last, now - last - 5]);
  last = now;
  const got = require('node:worker_threads').receiveMessageOnPort(port);
  if (got) {
    // One gap may have several standstills in it.
    const within = stalls.map(([from]) => stalls.reduce((sum, [at, ms]) => sum + (at >= from && at < from + 250 ? ms : 0), 0));
    return port.postMessage(Math.max(0, ...within));
  }
  setImmediate(tick);
})();
`;

/** Begins to watch; the returned function ends it and gives the most ms it stood still in any quarter of a second. */
export function watchStalls(): () => Promise<number> {
  const { port1, port2 } = new MessageChannel();
  const worker = new Worker(CODE, {
    eval: true,
    workerData: { port: port2 },
    transferList: [port2 as unknown as MessagePort],
  });
  return () =>
    new Promise((resolve) => {
      port1.onmessage = ({ data }) => {
        port1.close();
        void worker.terminate();
        resolve(data as number);
      };
      port1.postMessage('end');
    });
}
