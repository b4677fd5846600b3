/**
 * The engine process. Its frame thread begins at once with what was kept of the last time: receivers of sACN give a
 * source up after 2.5 s (ANSI E1.31 6.7.1), and loading all the rest takes a while on a busy machine.
 */
import { FaultError } from '../core/faults.ts';
import { required } from '../process.ts';
import { EngineClock } from './clock.ts';
import { Frames } from './frames.ts';
import { encoded, KeptState } from './kept-state.ts';
import { ownershipFrom, type Ownership } from './ownership.ts';

let keptAhead = 0;
const ownership = ownershipOrEnd();
const kept = new KeptState(required('AMBER_DATA_DIR'));
keptAhead = kept.readAhead();
const clock = new EngineClock(keptAhead, keepAhead);
const { now } = clock;
const sourceName = process.env['AMBER_SOURCE_NAME'] ?? 'Amber Kite';
const frames = new Frames({ kept, sourceName, now, clock: clock.memory });
if (kept.hasCid) frames.begin();
const { run } = await import('./run.ts');
await run({ frames, kept, sourceName, now, ownership });

/** Keeps how far the clock is ahead of the wall clock, where that became another second. */
function keepAhead(ms: number): void {
  if (Math.abs(ms - keptAhead) < 500) return;
  keptAhead = ms;
  // Without it the next start takes the wall clock as it is.
  kept.clock.write(encoded({ ahead: ms })).catch(() => undefined);
}

/** What this engine sends; where that cannot be read nothing is sent, and it is said. */
function ownershipOrEnd(): Ownership {
  try {
    return ownershipFrom(process.env);
  } catch (error) {
    if (!(error instanceof FaultError)) throw error;
    for (const { path, message, received, remedy } of error.faults)
      process.stderr.write(`${path}: ${message} (${JSON.stringify(received)}). ${remedy ?? ''}\n`);
    process.exit(1);
  }
}
