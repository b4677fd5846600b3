/**
 * Clocks that follow another one smoothly. All times are milliseconds; `mono` is a clock that never goes back and never
 * jumps, `wall` one that people and the network set.
 */

/** How much faster or slower than it should a clock may go to catch up: 2 ms in a second, which nobody hears. */
const SLEW = 0.002;
/** A clock that is this near is right: the wall clock itself is read to a millisecond. */
const QUIET_MS = 2;
/** A small error is worked off over this long. */
const GENTLE_MS = 20_000;

/** Time that goes on from a moment at a rate. */
export interface ClockLine {
  readonly time: number;
  readonly mono: number;
  readonly rate: number;
}
export const timeAt = ({ time, mono, rate }: ClockLine, at: number): number => time + (at - mono) * rate;

/** The line that goes on from here and turns towards where the clock should be. */
function towards(line: ClockLine, error: number, mono: number, slew: number): ClockLine {
  const rate = Math.abs(error) < QUIET_MS ? 1 : 1 + Math.max(-slew, Math.min(slew, error / GENTLE_MS));
  return { time: timeAt(line, mono), mono, rate };
}

/**
 * The clock of a show: it follows the wall clock, but never jumps and never goes back, so that what plays does not
 * either, whatever happens to the wall clock. A wall clock that was set is caught up with at 2 ms a second.
 */
export class ShowClock {
  #line: ClockLine;

  /** `ahead` is how far it was ahead of the wall clock when it was kept: a restart does not jump either. */
  constructor(wall: number, mono: number, ahead = 0) {
    this.#line = { time: wall + ahead, mono, rate: 1 };
  }

  get line(): ClockLine {
    return this.#line;
  }
  at(mono: number): number {
    return timeAt(this.#line, mono);
  }

  /** Looks at the wall clock; gives how far this one is ahead of it. */
  follow(wall: number, mono: number): number {
    const ahead = this.at(mono) - wall;
    this.#line = towards(this.#line, -ahead, mono, SLEW);
    return ahead;
  }
}

/** What is heard over a network is late, and mostly by about as much: the least late of so many counts. */
const HEARD = 8;
/** A clock that is this far away is another one: it is taken over at once. */
const OTHER_MS = 1000;
/** Somebody who looks on may be a little quicker about it. */
const QUICK_SLEW = 0.05;

/** Another clock, as it is heard from time to time by messages that say what it is. */
export class HeardClock {
  #line: ClockLine | null = null;
  /** The newest differences, remote less local. */
  #heard: number[] = [];

  /** A message said `remote`, and came at `mono`. */
  hear(remote: number, mono: number): void {
    const difference = remote - mono;
    const line = this.#line;
    if (!line || Math.abs(timeAt(line, mono) - remote) > OTHER_MS) {
      this.#heard = [difference];
      this.#line = { time: remote, mono, rate: 1 };
      return;
    }
    this.#heard = [...this.#heard.slice(1 - HEARD), difference];
    const error = Math.max(...this.#heard) + mono - timeAt(line, mono);
    this.#line = towards(line, error, mono, QUICK_SLEW);
  }

  /** Null until something was heard. */
  at(mono: number): number | null {
    return this.#line && timeAt(this.#line, mono);
  }
}
