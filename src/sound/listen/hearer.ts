import type { SongFault } from '../../core/records/song.ts';
import { Listener } from '../../core/music/listen.ts';
import type { ListenSaid } from './messages.ts';

const REPORT_MS = 200;

/** Hears blocks of a source and says what it hears. A source that begins anew is heard anew. */
export class Hearer {
  readonly #say: (said: ListenSaid) => void;
  #listener: Listener | null = null;
  readonly #timer: NodeJS.Timeout;

  constructor(say: (said: ListenSaid) => void) {
    this.#say = say;
    this.#timer = setInterval(() => {
      if (this.#listener) this.#say({ listening: this.#listener.report() });
    }, REPORT_MS);
  }

  /** One channel at a rate, as it comes. */
  hear(block: Float32Array, rate: number): void {
    this.#listener ??= new Listener(rate);
    const beats = this.#listener.feed(block).map(({ at, beat, bpm, confidence }) => ({
      inMs: (at - this.#listener!.at) * 1000,
      beat,
      bpm,
      confidence,
    }));
    if (beats.length > 0) this.#say({ beats });
  }

  trouble(trouble: SongFault): void {
    this.#listener = null;
    this.#say({ trouble });
  }

  end(): void {
    clearInterval(this.#timer);
  }
}
