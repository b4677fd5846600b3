import assert from 'node:assert/strict';
import { once } from 'node:events';
import { test } from 'node:test';
import { Worker } from 'node:worker_threads';
import { ClockMemory, EngineClock } from './clock.ts';

test('the clock of an engine is that of its frame thread too, and goes on over a restart', async () => {
  const clock = new EngineClock(5000);
  let worker: Worker | undefined;
  try {
    assert.ok(Math.abs(clock.now() - Date.now() - 5000) < 100);
    let last = 0;
    for (let i = 0; i < 1000; i++) assert.ok(clock.now() >= last && (last = clock.now()));
    // Another thread counts from another beginning; it asks at once, and is asked back.
    worker = new Worker(
      `import { parentPort, workerData } from 'node:worker_threads';
       import { tsImport } from 'tsx/esm/api';
       const { ClockMemory } = await tsImport(${JSON.stringify(new URL('./clock.ts', import.meta.url).href)}, 'file:///');
       const memory = new ClockMemory(workerData);
       parentPort.on('message', () => parentPort.postMessage(memory.now()));
       parentPort.postMessage(0);`,
      { eval: true, workerData: clock.memory, execArgv: ['--input-type=module'] },
    );
    await once(worker, 'message');
    for (let i = 0; i < 20; i++) {
      const before = clock.now();
      worker.postMessage('now');
      const [there] = (await once(worker, 'message')) as [number];
      assert.ok(there >= before - 1 && there <= clock.now() + 1, `${there} is not in ${before} to ${clock.now()}`);
    }
  } finally {
    await worker?.terminate();
    clock.close();
  }
});

test('a line that is written while it is read is never read by halves', () => {
  const memory = new ClockMemory(new SharedArrayBuffer(ClockMemory.bytes));
  memory.write({ time: 1000, mono: 0, rate: 0 });
  assert.equal(memory.now(), 1000);
  memory.write({ time: 2000, mono: 0, rate: 0 });
  assert.equal(memory.now(), 2000);
});
