import { lanesOf, LIGHT_AGAIN_MS } from '../core/timeline/light.ts';
import { Wake, type LiveHost } from './wake.ts';

/** Blocks of a song that plays are told to the frame thread some seconds before they begin. */
export class LightClock {
  readonly #host: LiveHost;
  readonly #tell: () => void;
  readonly #wake = new Wake();

  constructor(host: LiveHost, tell: () => void) {
    this.#host = host;
    this.#tell = tell;
  }

  look(): void {
    this.#wake.clear();
    const { song } = this.#host.live();
    if (!song?.playing || lanesOf(this.#host.document(), song.songId).length === 0) return;
    this.#wake.set(LIGHT_AGAIN_MS, () => {
      this.#tell();
      this.look();
    });
  }

  end(): void {
    this.#wake.clear();
  }
}
