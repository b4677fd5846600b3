/** Does a job on request, once at a time: however often it is asked for while it runs, it is done once more after. */
export class Repeat {
  readonly #job: () => Promise<void>;
  #running: Promise<void> | null = null;
  #again = false;

  /** The job must not fail. */
  constructor(job: () => Promise<void>) {
    this.#job = job;
  }

  ask(): void {
    if (this.#running) {
      this.#again = true;
      return;
    }
    this.#again = false;
    this.#running = this.#job().finally(() => {
      this.#running = null;
      if (this.#again) this.ask();
    });
  }

  /** Resolves when what runs now is done. */
  get done(): Promise<void> {
    return this.#running ?? Promise.resolve();
  }
}
