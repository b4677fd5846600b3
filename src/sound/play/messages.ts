import type { SongOn } from '../../core/show/live/songs.ts';
import type { SongFault } from '../../core/records/song.ts';

/** A song that is on from a moment of the show, and its file. */
export interface PlaySong {
  readonly on: SongOn;
  readonly fromMs: number;
  readonly path: string;
  readonly name: string;
}

/** What is to sound; said again whenever it changes, and now and then. */
export interface PlayOrder {
  /** As ALSA names it. The first order decides; for another card there is another process. */
  readonly device: string;
  /** The clock of the show less the clock of the machine since it was started, ms. */
  readonly clockMs: number;
  /** The sound takes so much longer to the ear, ms; below 0 less. */
  readonly delayMs: number;
  readonly level: number;
  /** A click at every whole second of the show, for trimming. */
  readonly clicks: boolean;
  /** One or two: what is on, and what comes after it. */
  readonly songs: readonly PlaySong[];
}

export type PlaySaid =
  | { readonly offMs: number | null }
  /** The card, or a song. */
  | { readonly trouble: SongFault };
