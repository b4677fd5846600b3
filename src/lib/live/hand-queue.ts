import type { LiveCommand } from '$core/show/index.ts';

type Set = Record<string, Record<string, unknown>>;

/** Hand values, gathered over one animation frame: a dragged fader sends at most one message a frame. */
export class HandQueue {
  readonly #send: (command: Extract<LiveCommand, { do: 'hand' }>) => void;
  #queued: Set | null = null;
  #light = false;

  constructor(send: (command: Extract<LiveCommand, { do: 'hand' }>) => void) {
    this.#send = send;
  }

  /** `light`: what nothing lights gets light with its colour, aim or picture. */
  add(set: Set, light: boolean): void {
    if (light) this.#light = true;
    if (!this.#queued) {
      this.#queued = {};
      requestAnimationFrame(() => this.#flush());
    }
    for (const [unit, values] of Object.entries(set)) this.#queued[unit] = { ...this.#queued[unit], ...values };
  }

  #flush(): void {
    const set = this.#queued as Extract<LiveCommand, { do: 'hand' }>['set'];
    const light = this.#light;
    this.#queued = null;
    this.#light = false;
    this.#send({ do: 'hand', set, ...(light ? { light: true } : {}) });
  }
}
