import { codeEndsMs, withoutCode } from '../core/show/live/code.ts';
import { Wake, type LiveHost } from './wake.ts';

/** A song that follows a time code stands when that has been gone for longer than it may. */
export class CodeClock {
  readonly #host: LiveHost;
  readonly #wake = new Wake();

  constructor(host: LiveHost) {
    this.#host = host;
  }

  look(): void {
    this.#wake.clear();
    const due = codeEndsMs(this.#host.live());
    if (due === null) return;
    this.#wake.set(Math.max(due - this.#host.now(), 1), () => {
      const [live, now] = [this.#host.live(), this.#host.now()];
      if ((codeEndsMs(live) ?? Infinity) > now) return this.look();
      this.#host.take(withoutCode(live, this.#host.document(), now));
    });
  }

  end(): void {
    this.#wake.clear();
  }
}
