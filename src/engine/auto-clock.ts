import { autoDueMs, stepAuto } from '../core/auto/step.ts';
import type { Document } from '../core/document/change.ts';
import type { LiveState } from '../core/show/index.ts';

/** What is due is done at once; what was due and did not change anything is looked at again in a while. */
const [LEAST_WAIT_MS, AGAIN_MS] = [5, 500];
const LONGEST_WAIT_MS = 3_600_000;

interface AutoHost {
  now(): number;
  live(): LiveState;
  document(): Document;
  take(live: LiveState): void;
}

/** Light that runs by itself goes on from phrase to phrase. */
export class AutoClock {
  readonly #host: AutoHost;
  #timer: NodeJS.Timeout | null = null;

  constructor(host: AutoHost) {
    this.#host = host;
  }

  /** Looks what it plays after the live state or the show was changed. */
  look(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    const [live, now] = [this.#host.live(), this.#host.now()];
    if (!live.auto) return;
    const next = stepAuto(this.#host.document(), live, now);
    // It is looked at again when it is taken.
    if (next !== live) return this.#host.take(next);
    const due = autoDueMs(live);
    if (due === null) return;
    const wait = due < now - LEAST_WAIT_MS ? AGAIN_MS : Math.min(Math.max(due - now, LEAST_WAIT_MS), LONGEST_WAIT_MS);
    this.#timer = setTimeout(() => this.look(), wait);
    this.#timer.unref();
  }

  end(): void {
    if (this.#timer) clearTimeout(this.#timer);
  }
}
