import type { KeptFile } from './kept-file.ts';
import { Repeat } from './repeat.ts';

/** Making the bytes may take one part in so many of the time. */
const SPARING = 20;

interface KeepingOptions {
  /** The newest, as bytes. */
  readonly make: () => Uint8Array;
  /** Never more often than this, ms. */
  readonly everyMs: number;
  readonly onError: (error: unknown) => void;
}

/** Keeps the newest of something in its file: soon after it changed, but only as often as that costs little. */
export class Keeping {
  readonly #repeat: Repeat;

  constructor(file: KeptFile, { make, everyMs, onError }: KeepingOptions) {
    this.#repeat = new Repeat(async () => {
      const start = performance.now();
      try {
        const bytes = make();
        this.#repeat.notBefore(start + Math.max(everyMs, (performance.now() - start) * SPARING));
        await file.write(bytes);
      } catch (error) {
        onError(error);
      }
    });
  }

  /** It changed. */
  ask(): void {
    this.#repeat.ask();
  }

  /** Writes what is not written yet. */
  end(): Promise<void> {
    return this.#repeat.end();
  }
}
