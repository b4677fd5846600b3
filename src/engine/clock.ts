import { ShowClock, timeAt, type ClockLine } from '../core/clock.ts';

/**
 * Milliseconds of a clock that never goes back and is the same in every thread of this process: `performance.now()` of a
 * thread counts from its own beginning. Reading it allocates nothing.
 */
const mono: () => number = (() => {
  let offset = -Infinity;
  // What comes between the two readings makes the second one later and the difference smaller: the largest is the truest.
  for (let i = 0; i < 50; i++) {
    const [s, ns] = process.hrtime();
    offset = Math.max(offset, s * 1000 + ns / 1e6 - performance.now());
  }
  const start = offset;
  return () => start + performance.now();
})();

/** Where a clock line lies in shared memory: a count that is odd while it is written, then time, moment and rate. */
export class ClockMemory {
  static readonly bytes = 8 + 3 * 8;
  readonly #version: Int32Array;
  readonly #line: Float64Array;
  readonly #read = { time: 0, mono: 0, rate: 1 };

  constructor(memory: SharedArrayBuffer) {
    this.#version = new Int32Array(memory, 0, 1);
    this.#line = new Float64Array(memory, 8, 3);
  }

  write({ time, mono: at, rate }: ClockLine): void {
    Atomics.add(this.#version, 0, 1);
    this.#line[0] = time;
    this.#line[1] = at;
    this.#line[2] = rate;
    Atomics.add(this.#version, 0, 1);
  }

  /** The show's time now. Allocates nothing. */
  now(): number {
    const read = this.#read;
    for (;;) {
      const before = Atomics.load(this.#version, 0);
      read.time = this.#line[0]!;
      read.mono = this.#line[1]!;
      read.rate = this.#line[2]!;
      if (before % 2 === 0 && Atomics.load(this.#version, 0) === before) return timeAt(read, mono());
    }
  }
}

/** How often the wall clock is looked at. */
const LOOK_MS = 1000;

/**
 * The one clock of an engine: milliseconds since 1970 that follow the wall clock smoothly and never jump. The frame thread
 * reads it in shared memory.
 */
export class EngineClock {
  readonly memory = new SharedArrayBuffer(ClockMemory.bytes);
  readonly #shared = new ClockMemory(this.memory);
  readonly #clock: ShowClock;
  readonly #timer: NodeJS.Timeout;

  /** `ahead`: of the wall clock, as it was kept. `onAhead` hears how far it is, a look at a time. */
  constructor(ahead = 0, onAhead: (ms: number) => void = () => undefined) {
    this.#clock = new ShowClock(Date.now(), mono(), ahead);
    this.#shared.write(this.#clock.line);
    this.#timer = setInterval(() => {
      onAhead(this.#clock.follow(Date.now(), mono()));
      this.#shared.write(this.#clock.line);
    }, LOOK_MS).unref();
  }

  readonly now = (): number => this.#shared.now();

  close(): void {
    clearInterval(this.#timer);
  }
}

/** Steady milliseconds since 1970 from now on, for a tool that runs for a while and follows nobody. */
export function makeClock(): () => number {
  const start = Date.now() - mono();
  return () => start + mono();
}
