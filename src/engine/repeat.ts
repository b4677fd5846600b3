/**
 * Does a job on request, once at a time and not more often than every so many ms: however often it is asked for
 * meanwhile, it is done once more after.
 */
export class Repeat {
  readonly #job: () => Promise<void>;
  readonly #everyMs: number;
  #running: Promise<void> | null = null;
  #asked = false;
  #timer: NodeJS.Timeout | undefined;
  #nextMs = -Infinity;

  /** The job must not fail. */
  constructor(job: () => Promise<void>, everyMs = 0) {
    this.#job = job;
    this.#everyMs = everyMs;
  }

  ask(): void {
    this.#asked = true;
    if (this.#running || this.#timer) return;
    const wait = this.#nextMs - performance.now();
    if (wait <= 0) this.#begin();
    else this.#timer = setTimeout(() => this.#begin(), wait);
  }

  #begin(): void {
    clearTimeout(this.#timer);
    this.#timer = undefined;
    this.#asked = false;
    this.#nextMs = performance.now() + this.#everyMs;
    this.#running = this.#job().finally(() => {
      this.#running = null;
      if (this.#asked) this.ask();
    });
  }

  /** Puts the next time off until a moment of `performance.now()`. */
  notBefore(ms: number): void {
    this.#nextMs = ms;
  }

  /** Does what was asked for and is not done yet. */
  async end(): Promise<void> {
    await this.#running;
    if (!this.#asked) return;
    this.#begin();
    await this.#running;
  }
}
