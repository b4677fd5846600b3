import type { Document } from '../core/document/change.ts';
import type { LiveState } from '../core/show/index.ts';

/** What goes on by itself with the live state. */
export interface LiveHost {
  now(): number;
  live(): LiveState;
  document(): Document;
  take(live: LiveState): void;
}

const LONGEST_WAIT_MS = 3_600_000;

/** One moment at which something is looked at again. */
export class Wake {
  #timer: NodeJS.Timeout | null = null;

  /** In so long, ms, in place of what was set before; later than in an hour it comes in an hour. */
  set(waitMs: number, look: () => void): void {
    this.clear();
    this.#timer = setTimeout(look, Math.min(waitMs, LONGEST_WAIT_MS));
    this.#timer.unref();
  }
  clear(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
  }
}
