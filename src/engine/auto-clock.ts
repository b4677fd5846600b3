import { autoDueMs, stepAuto } from '../core/auto/step.ts';
import { Wake, type LiveHost } from './wake.ts';

/** What is due is done at once; what was due and did not change anything is looked at again in a while. */
const [LEAST_WAIT_MS, AGAIN_MS] = [5, 500];

/** Light that runs by itself goes on from phrase to phrase. */
export class AutoClock {
  readonly #host: LiveHost;
  readonly #wake = new Wake();

  constructor(host: LiveHost) {
    this.#host = host;
  }

  /** Looks what it plays after the live state or the show was changed. */
  look(): void {
    this.#wake.clear();
    const [live, now] = [this.#host.live(), this.#host.now()];
    if (!live.auto) return;
    const next = stepAuto(this.#host.document(), live, now);
    // It is looked at again when it is taken.
    if (next !== live) return this.#host.take(next);
    const due = autoDueMs(live, now);
    if (due === null) return;
    const wait = due < now - LEAST_WAIT_MS ? AGAIN_MS : Math.max(due - now, LEAST_WAIT_MS);
    this.#wake.set(wait, () => this.look());
  }

  end(): void {
    this.#wake.clear();
  }
}
