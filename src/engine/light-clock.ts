import type { SongId } from '../core/ids.ts';
import { lanesOf, LIGHT_AGAIN_MS } from '../core/timeline/light.ts';
import { Wake, type LiveHost } from './wake.ts';

/** Blocks of a song that plays are told to the frame thread some seconds before they begin. */
export class LightClock {
  readonly #host: LiveHost;
  readonly #tell: () => void;
  readonly #wake = new Wake();
  #waits = false;

  constructor(host: LiveHost, tell: () => void) {
    this.#host = host;
    this.#tell = tell;
  }

  /** Looks whether there is anything to tell; what is waited for already is not put off, however often it looks. */
  look(): void {
    const { song } = this.#host.live();
    const hasLight = (songId: SongId): boolean => lanesOf(this.#host.document(), songId).length > 0;
    const wanted = song?.playing && (hasLight(song.songId) || (song.over !== null && hasLight(song.over.songId)));
    if (!wanted) this.end();
    else if (!this.#waits) {
      this.#waits = true;
      this.#wake.set(LIGHT_AGAIN_MS, () => {
        this.#waits = false;
        this.#tell();
        this.look();
      });
    }
  }

  end(): void {
    this.#waits = false;
    this.#wake.clear();
  }
}
