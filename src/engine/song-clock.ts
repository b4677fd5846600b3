import type { Document } from '../core/document/change.ts';
import type { LiveState } from '../core/show/index.ts';
import { nextSongMs, songAfter, songAt, withSong } from '../core/show/live/songs.ts';

/** A loop is laid out anew when so little of it is left, ms. */
const LAY_OUT_MS = 60_000;
const LONGEST_WAIT_MS = 3_600_000;

interface SongHost {
  now(): number;
  live(): LiveState;
  document(): Document;
  take(live: LiveState): void;
}

/** Goes on to the next song when one has ended, and lays loops out anew: whoever plays the sound or not. */
export class SongClock {
  readonly #host: SongHost;
  #timer: NodeJS.Timeout | null = null;

  constructor(host: SongHost) {
    this.#host = host;
  }

  /** Looks what comes next after what plays was changed. */
  look(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    const { song, tempo } = this.#host.live();
    if (!song?.playing) return;
    const ends = nextSongMs(this.#host.document(), song);
    const due = ends ?? (song.loop ? tempo.points.at(-1)!.ms - LAY_OUT_MS : null);
    if (due === null) return;
    const wait = Math.min(Math.max(due - this.#host.now(), 5), LONGEST_WAIT_MS);
    this.#timer = setTimeout(() => this.#goOn(due), wait);
    this.#timer.unref();
  }

  #goOn(due: number): void {
    const [live, document, now] = [this.#host.live(), this.#host.document(), this.#host.now()];
    if (!live.song || now < due) return this.look();
    const after = songAfter(document, live.song, now);
    const next = after === live.song && live.song.loop ? { ...live.song, at: songAt(live.song, now), ms: now } : after;
    if (next === live.song) return this.look();
    this.#host.take(withSong(live, next, document, now));
  }

  end(): void {
    if (this.#timer) clearTimeout(this.#timer);
  }
}
