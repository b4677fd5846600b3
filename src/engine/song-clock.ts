import { layOutMs, nextSongMs, songAfter, songAt, withSong } from '../core/show/live/songs.ts';
import { Wake, type LiveHost } from './wake.ts';

/** What is due already is done in a moment: it is not looked at without end. */
const LEAST_WAIT_MS = 20;

/** Goes on to the next song when one has ended, and lays loops out anew: whoever plays the sound or not. */
export class SongClock {
  readonly #host: LiveHost;
  readonly #wake = new Wake();

  constructor(host: LiveHost) {
    this.#host = host;
  }

  /** Looks what comes next after what plays was changed. */
  look(): void {
    this.#wake.clear();
    const { song, tempo } = this.#host.live();
    if (!song?.playing) return;
    const document = this.#host.document();
    const dues = [nextSongMs(document, song), layOutMs(document, song, tempo)].filter((ms) => ms !== null);
    if (dues.length === 0) return;
    const due = Math.min(...dues);
    this.#wake.set(Math.max(due - this.#host.now(), LEAST_WAIT_MS), () => this.#goOn(due));
  }

  #goOn(due: number): void {
    const [live, document, now] = [this.#host.live(), this.#host.document(), this.#host.now()];
    if (!live.song || now < due) return this.look();
    const after = songAfter(document, live.song, now);
    // The same song: its beats are laid out anew from here, in a loop from where it is in that.
    const same = live.song.loop ? { ...live.song, at: songAt(live.song, now), ms: now } : { ...live.song };
    this.#host.take(withSong(live, after === live.song ? same : after, document, now));
  }

  end(): void {
    this.#wake.clear();
  }
}
